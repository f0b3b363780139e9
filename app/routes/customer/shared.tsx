import { Paper } from "../../ui/paper";
import { words } from "../../words";
import type { Route } from "./+types/shared";
import { sharedSheet } from "./shared.server";

export const loader = async ({ params, context }: Route.LoaderArgs) => ({
  sheet: await sharedSheet(params.token, context),
});

/** Not to be kept on the way. */
export const headers = () => ({ "Cache-Control": "private, no-store" });

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: words.customer.title({ basin: loaderData?.sheet.basin.name ?? "" }) },
  { name: "robots", content: "noindex, nofollow" },
];

/** One visit's sheet, for whoever has its link. */
export default function Shared({ params, loaderData: { sheet } }: Route.ComponentProps) {
  return (
    <main className="grid gap-4 p-4">
      <p className="no-print mx-auto w-full max-w-3xl">
        <a href={`/s/${params.token}/sheet.pdf`} className="quiet-action">
          {words.customer.pdf}
        </a>
      </p>
      <Paper sheet={sheet} />
    </main>
  );
}
