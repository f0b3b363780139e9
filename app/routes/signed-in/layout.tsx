import { Form, isRouteErrorResponse, NavLink, Outlet, redirect } from "react-router";
import { firmOf } from "#server/db/firms";
import { inFirm, memberContext, whoIs } from "../../context";
import { KeysHelp } from "../../ui/keys-help";
import { Mark } from "../../ui/mark";
import { Trouble } from "../../ui/trouble";
import { words } from "../../words";
import type { Route } from "./+types/layout";

/** Everything below needs somebody signed in; where they wanted to go is kept. */
export const middleware: Route.MiddlewareFunction[] = [
  async ({ request, context }) => {
    const member = await whoIs(request, context);
    if (!member) {
      const { pathname, search } = new URL(request.url);
      const back = request.method === "GET" ? pathname.replace(/\.data$/, "") + search : "/";
      throw redirect(back === "/" ? "/sign-in" : `/sign-in?to=${encodeURIComponent(back)}`);
    }
    context.set(memberContext, member);
  },
];

export { stayWhenOffline as shouldRevalidate } from "../../ui/offline";

export const loader = ({ context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, member) => {
    const firm = await firmOf(scope);
    return { firm: firm.name, member: member.name, units: firm.units, timeZone: firm.timeZone };
  });

const tab =
  "flex min-h-[48px] items-center border-b-[3px] border-transparent px-2 text-soft aria-[current=page]:border-ink aria-[current=page]:font-semibold aria-[current=page]:text-ink";

export default function SignedIn({ loaderData }: Route.ComponentProps) {
  return (
    <>
      <a
        href="#page"
        className="sr-only focus:not-sr-only focus:absolute focus:z-30 focus:bg-sheet focus:p-3"
      >
        {words.nav.skip}
      </a>
      <header className="no-print border-b border-rule bg-paper">
        <div className="mx-auto flex max-w-6xl flex-wrap items-center gap-x-5 px-4">
          <NavLink to="/" aria-label={words.product} className="py-2">
            <Mark className="h-7 w-7" />
          </NavLink>
          <nav aria-label={words.nav.label} className="flex gap-3">
            <NavLink to="/" end className={tab}>
              {words.nav.round}
            </NavLink>
            <NavLink to="/basins" className={tab}>
              {words.nav.basins}
            </NavLink>
            <NavLink to="/settings" className={tab}>
              {words.nav.settings}
            </NavLink>
          </nav>
          <div className="ml-auto flex items-center gap-4 text-sm text-soft">
            <span className="hidden wide:inline">
              {loaderData.member}, {loaderData.firm}
            </span>
            <KeysHelp />
            <Form method="post" action="/sign-out" className="hidden wide:block">
              <button type="submit" className="link min-h-[48px] cursor-pointer">
                {words.nav.signOut}
              </button>
            </Form>
          </div>
        </div>
      </header>
      <main id="page" className="mx-auto max-w-6xl px-4 pt-4 pb-16">
        <Outlet />
      </main>
    </>
  );
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  return <Trouble status={isRouteErrorResponse(error) ? error.status : 0} />;
}
