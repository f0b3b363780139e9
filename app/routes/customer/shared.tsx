import { goOnIn } from "../../language.server";
import { Paper, told } from "../../ui/paper";
import { words } from "../../words";
import type { Route } from "./+types/shared";
import { sharedSheet } from "./shared.server";

/** The whole page is the customer's, and in their language where the firm knows it. */
export async function loader({ params, context }: Route.LoaderArgs) {
  const sheet = await sharedSheet(params.token, context);
  goOnIn(sheet.language);
  return { text: told(sheet) };
}

/** Not to be kept on the way. */
export const headers = () => ({ "Cache-Control": "private, no-store" });

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: words.customer.title({ basin: loaderData?.text.title ?? "" }) },
  { name: "robots", content: "noindex, nofollow" },
];

/** One visit's sheet, for whoever has its link. */
export default function Shared({ params, loaderData: { text } }: Route.ComponentProps) {
  return (
    <main className="grid gap-4 p-4">
      <p className="no-print mx-auto w-full max-w-3xl">
        <a href={`/s/${params.token}/sheet.pdf`} className="quiet-action">
          {words.customer.pdf}
        </a>
      </p>
      <Paper text={text} photoAt={(id) => `/s/${params.token}/photos/${id}`} />
    </main>
  );
}
