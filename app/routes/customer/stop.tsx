import { Form } from "react-router";
import { firmOf } from "#server/db/firms";
import { optOut, siteMailOf } from "#server/db/mail";
import { attempt, byMailLink, notFound } from "../../context";
import { goOnIn } from "../../language.server";
import { anyBody, fieldsOf } from "../../request";
import { Button } from "../../ui/button";
import { words } from "../../words";
import type { Route } from "./+types/stop";

/** Whose letters these are; opening the page stops nothing: programs that look through mail open every link. */
export async function loader({ params, context }: Route.LoaderArgs) {
  const { language, ...told } = await byMailLink(context, params.token, async (scope, siteId) => {
    const site = await scope
      .selectFrom("site")
      .select(["name", "language"])
      .where("id", "=", siteId)
      .executeTakeFirst();
    const mail = await siteMailOf(scope, siteId);
    if (!site || !mail) return notFound();
    const firm = await firmOf(scope);
    return {
      firm: firm.name,
      site: site.name,
      language: site.language,
      isStopped: mail.optedOutAt !== null,
    };
  });
  goOnIn(language);
  return told;
}

export const action = ({ params, request, context }: Route.ActionArgs) =>
  attempt(async () => {
    const { again } = fieldsOf(await anyBody(request));
    await byMailLink(context, params.token, (scope, siteId, now) =>
      optOut(scope, siteId, again === undefined ? now : null),
    );
    return { saved: true as const };
  });

/** Not to be kept on the way. */
export const headers = () => ({ "Cache-Control": "private, no-store" });

export const meta: Route.MetaFunction = () => [
  { title: words.mail.stop.title },
  { name: "robots", content: "noindex, nofollow" },
];

/** The customer stops the letters, or takes them up again. */
export default function Stop({ loaderData: { firm, site, isStopped } }: Route.ComponentProps) {
  const said = words.mail.stop;
  return (
    <main className="mx-auto grid w-full max-w-xl gap-4 p-4">
      <h1 className="text-2xl font-bold tracking-tight">{said.title}</h1>
      <Form method="post" className="sheet grid justify-items-start gap-3 p-4">
        <p role="status" className="text-lg">
          {isStopped ? said.stopped : said.ask({ firm, site })}
        </p>
        {isStopped ? (
          <Button name="again" value="yes" quiet>
            {said.again}
          </Button>
        ) : (
          <Button>{said.stop}</Button>
        )}
      </Form>
    </main>
  );
}
