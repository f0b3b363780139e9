import { ofJoi } from "../../api/json-schema";
import { bodySchemaOf } from "../../api/openapi";
import { API_ROOT, type OperationId } from "../../api/operation";
import { OPERATIONS } from "../../api/operations";
import { PROBLEMS } from "../../api/problem";
import { PlainHeader } from "../../ui/plain-header";
import { words } from "../../words";
import type { Route } from "./+types/page";

/** What an operation takes and gives, as text to be read. */
interface Told {
  id: OperationId;
  method: string;
  path: string;
  scope: keyof typeof words.api.scopes;
  query: string | null;
  body: string | null;
  answer: string;
}

const shown = (schema: object | null): string | null => schema && JSON.stringify(schema, null, 2);

/** The interface for people: whoever comes may read it. */
export const loader = () => ({
  operations: OPERATIONS.map((operation): Told => {
    const { id, method, path, scope, query, answer } = operation;
    return {
      id,
      method,
      path: `${API_ROOT}${path}`,
      scope,
      query: shown(query ? ofJoi(query) : null),
      body: shown(bodySchemaOf(operation)),
      answer: shown(answer) ?? "",
    };
  }),
  problems: Object.entries(PROBLEMS).map(([status, name]) => ({ status: Number(status), name })),
});

export const meta: Route.MetaFunction = () => [{ title: `${words.api.title} · ${words.product}` }];

export default function ApiPage({ loaderData: { operations, problems } }: Route.ComponentProps) {
  const said = words.api;
  return (
    <>
      <PlainHeader title={<p className="text-xl font-bold">{words.product}</p>} />
      <main id="page" className="mx-auto grid max-w-4xl gap-6 px-4 pt-4 pb-16">
        <header className="grid gap-2">
          <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
          <p className="max-w-prose">{said.intro}</p>
          <p className="max-w-prose text-soft">{said.pageHint}</p>
          <p>
            <a className="link" href={`${API_ROOT}/openapi.json`}>
              {said.document}
            </a>
          </p>
        </header>
        <section className="sheet grid gap-2 p-4" aria-labelledby="how">
          <h2 id="how" className="text-xl font-semibold">
            {said.howTo}
          </h2>
          <ul className="grid list-disc gap-1 pl-5">
            <li>
              {said.token} <code lang="zxx">{"Authorization: Bearer …"}</code>
            </li>
            <li>{said.pages}</li>
            <li>{said.etag}</li>
            <li>{said.once}</li>
            <li>{said.rate}</li>
            <li>{said.neverPpm}</li>
          </ul>
        </section>
        <Operations title={said.reads} operations={operations.filter(({ method }) => method === "GET")} />
        <Operations title={said.writes} operations={operations.filter(({ method }) => method !== "GET")} />
        <section className="sheet grid gap-2 p-4" aria-labelledby="problems">
          <h2 id="problems" className="text-xl font-semibold">
            {said.problemsTitle}
          </h2>
          <p>{said.problemsHint}</p>
          <ul className="divide-y divide-rule">
            {problems.map(({ status, name }) => (
              <li key={name} id={name} className="grid gap-x-4 py-2 wide:grid-cols-[4rem_10rem_1fr]">
                <span>{status}</span>
                <code lang="zxx">{name}</code>
                <span>{said.problems[name]}</span>
              </li>
            ))}
          </ul>
        </section>
      </main>
    </>
  );
}

function Operations({ title, operations }: { title: string; operations: Told[] }) {
  const said = words.api;
  return (
    <section className="sheet grid gap-2 p-4">
      <h2 className="text-xl font-semibold">{title}</h2>
      <ul className="divide-y divide-rule">
        {operations.map(({ id, method, path, scope, query, body, answer }) => (
          <li key={id} className="grid gap-1 py-3">
            <p className="font-semibold">{said.operations[id]}</p>
            <p className="break-all">
              <code lang="zxx">
                {method} {path}
              </code>
            </p>
            <p className="text-sm text-soft">{said.needs({ scope: said.scopes[scope] })}</p>
            <Schema title={said.queryOf} text={query} />
            <Schema title={said.bodyOf} text={body} />
            <Schema title={said.answerOf} text={answer} />
          </li>
        ))}
      </ul>
    </section>
  );
}

function Schema({ title, text }: { title: string; text: string | null }) {
  if (!text) return null;
  return (
    <details>
      <summary className="link min-h-[44px] w-fit cursor-pointer py-3 text-sm">{title}</summary>
      {/* Scrolls by itself: whoever has no mouse must reach it. */}
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls is reached by keyboard */}
      <pre lang="zxx" tabIndex={0} className="max-h-96 overflow-auto border border-rule p-3 text-sm">
        {text}
      </pre>
    </details>
  );
}
