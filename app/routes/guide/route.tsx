import { Link, NavLink, redirect } from "react-router";
import { notFound } from "../../context";
import { PlainHeader } from "../../ui/plain-header";
import { spoken, words } from "../../words";
import type { Route } from "./+types/route";
import { guideIn } from "./pages.server";

/** A page of the guide; whoever comes may read it. */
export function loader({ params }: Route.LoaderArgs) {
  const guide = guideIn(spoken().language);
  const [first] = guide;
  if (!params.page) throw redirect(`/guide/${first?.name}`);
  const at = guide.findIndex(({ name }) => name === params.page);
  const page = guide[at];
  if (!page) return notFound();
  return {
    page,
    next: guide[at + 1] ?? null,
    pages: guide.map(({ name, title }) => ({ name, title })),
  };
}

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.page.title ?? words.guide.title} · ${words.product}` },
];

export default function Guide({ loaderData: { page, next, pages } }: Route.ComponentProps) {
  const said = words.guide;
  return (
    <>
      <PlainHeader title={<p className="text-xl font-bold">{said.title}</p>} />
      <main
        id="page"
        className="mx-auto grid max-w-6xl items-start gap-x-8 gap-y-4 px-4 pt-4 pb-16 wide:grid-cols-[15rem_1fr]"
      >
        <nav aria-label={said.title} className="no-print flex flex-wrap gap-x-5 wide:grid wide:gap-0">
          {pages.map(({ name, title }) => (
            <NavLink
              key={name}
              to={`/guide/${name}`}
              className="min-h-[44px] content-center aria-[current=page]:font-bold"
            >
              {title}
            </NavLink>
          ))}
        </nav>
        <div className="grid gap-4">
          {/* Our own text, made into a page when the server was built. */}
          {/* biome-ignore lint/security/noDangerouslySetInnerHtml: it comes from docs/guide and nobody else */}
          <article className="guide max-w-prose" dangerouslySetInnerHTML={{ __html: page.html }} />
          {next ? (
            <Link to={`/guide/${next.name}`} className="quiet-action no-print justify-self-start">
              {next.title}
            </Link>
          ) : null}
        </div>
      </main>
    </>
  );
}
