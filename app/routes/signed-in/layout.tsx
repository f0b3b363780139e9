import { lazy, memo, Suspense, useEffect } from "react";
import { Link, NavLink, Outlet, redirect, type ShouldRevalidateFunctionArgs } from "react-router";
import { inFirm, inTurn, markedWritten, renewed, whoIs } from "../../context";
import { useNewBuild } from "../../device/install";
import { onAnotherHere } from "../../device/member";
import { homeOnDevice } from "../../device/seam";
import { homePage } from "../../pages/home.server";
import { KeysHelp } from "../../ui/keys-help";
import { Mark } from "../../ui/mark";
import { stayWhenOffline } from "../../ui/offline";
import { Palette } from "../../ui/palette";
import { SignOut } from "../../ui/sign-out";
import { statusOf, Trouble } from "../../ui/trouble";
import { UnitsContext } from "../../ui/units";
import { words } from "../../words";
import type { Route } from "./+types/layout";

/** Everything below needs somebody signed in; where they wanted to go is kept. */
export const middleware: Route.MiddlewareFunction[] = [
  async ({ request, context }, next) => {
    const member = await whoIs(request, context);
    if (!member) {
      const { pathname, search } = new URL(request.url);
      const back = request.method === "GET" ? pathname.replace(/\.data$/, "") + search : "/";
      throw redirect(back === "/" ? "/sign-in" : `/sign-in?to=${encodeURIComponent(back)}`);
    }
    if (member.role === "reader") keepToOwn(request);
    const answer = await inTurn(request, context, member, next);
    return markedWritten(request, context, renewed(request, context, member, answer));
  },
];

const UUID = "[0-9a-f]{8}-[0-9a-f-]{27}";
/** Pages of a reader: their basins, finished visits as customers see them, and their own settings. */
const READERS_PAGES = new RegExp(
  `^/(places|week|basins(/${UUID}(/series|/photos/${UUID})?)?|visits/${UUID}/customer(\\.pdf)?|settings(/theme|/language)?)$`,
);

/** A reader goes nowhere else and changes nothing; the database holds the same wall behind this one. */
function keepToOwn(request: Request) {
  const path = new URL(request.url).pathname.replace(/\.data$/, "").replace(/^\/_root$/, "/");
  if (request.method !== "GET" && !/^\/settings(\/theme|\/language)?$/.test(path))
    throw new Response("Readers change nothing", { status: 403 });
  if (path === "/") throw redirect("/basins");
  const visit = new RegExp(`^/visits/${UUID}$`).exec(path);
  if (visit) throw redirect(`${path}/customer`);
  if (!READERS_PAGES.test(path)) throw new Response("Not found", { status: 404 });
}

/** Going from page to page changes nothing of what it tells, nor does what is written into a visit. */
export const shouldRevalidate = (args: ShouldRevalidateFunctionArgs) => {
  const { formMethod, formAction, currentUrl, nextUrl } = args;
  if (formMethod === undefined) return currentUrl.href === nextUrl.href;
  return formAction?.startsWith("/visits/") ? false : stayWhenOffline(args);
};

export const clientLoader = ({ serverLoader }: Route.ClientLoaderArgs) =>
  homeOnDevice<Awaited<ReturnType<typeof homePage>>>(serverLoader);
clientLoader.hydrate = true as const;

export const loader = ({ context }: Route.LoaderArgs) => inFirm(context, homePage);

/** Reads the store, so it comes behind the first page and in the browser only. */
const DeviceMark = lazy(() => import("../../device/device-mark"));

const UnsentWork = lazy(() => import("../../device/unsent-work"));

const tab =
  "flex min-h-[48px] items-center border-b-[3px] border-transparent px-1 text-[0.95rem] text-soft wide:px-2 wide:text-base aria-[current=page]:border-ink aria-[current=page]:font-semibold aria-[current=page]:text-ink";

export default function SignedIn({ loaderData }: Route.ComponentProps) {
  const { role, memberId, member, firm, units, demo } = loaderData;
  // A page bears the name of whoever its writes are kept for.
  useEffect(() => onAnotherHere(() => window.location.reload()), []);
  return (
    <>
      {demo ? (
        <p className="demo-strip no-print">
          <span>
            {words.demo.strip}{" "}
            <Link to="/settings#demo" className="link">
              {words.demo.more}
            </Link>
          </span>
        </p>
      ) : null}
      <Header works={role !== "reader"} name={`${member}, ${firm}`} />
      <main id="page" className="mx-auto max-w-6xl px-4 pt-4 pb-16">
        <NewBuild />
        {role === "reader" ? (
          <Suspense>
            <UnsentWork why="reader" only={memberId} />
          </Suspense>
        ) : null}
        <UnitsContext value={units}>
          <Outlet />
        </UnitsContext>
      </main>
    </>
  );
}

/** The same on every page; a memo, so that a stop of a visit does not draw it anew. */
const Header = memo(function Header({ works, name }: { works: boolean; name: string }) {
  return (
    <>
      <a
        href="#page"
        className="sr-only focus:not-sr-only focus:absolute focus:z-30 focus:bg-sheet focus:p-3"
      >
        {words.nav.skip}
      </a>
      <header className="no-print border-b border-rule bg-paper">
        <div className="mx-auto flex max-w-6xl flex-wrap items-center px-4 wide:gap-x-5">
          {/* On a phone the Round is its place, and what waits to be sent needs the room. */}
          <NavLink to="/" aria-label={words.product} className="hidden py-2 wide:block">
            <Mark className="h-7 w-7" />
          </NavLink>
          <nav aria-label={words.nav.label} className="-ml-1 flex flex-wrap wide:ml-0 wide:gap-3">
            {works ? (
              <NavLink to="/" end className={tab}>
                {words.nav.round}
              </NavLink>
            ) : null}
            <NavLink to="/basins" className={tab}>
              {words.nav.basins}
            </NavLink>
            {works ? null : (
              <NavLink to="/week" className={tab}>
                {words.week.title}
              </NavLink>
            )}
            {works ? (
              <>
                <NavLink to="/book" className={tab}>
                  {words.nav.book}
                </NavLink>
                <NavLink to="/shelf" className={tab}>
                  {words.nav.shelf}
                </NavLink>
              </>
            ) : null}
            <NavLink to="/settings" className={tab}>
              {words.nav.settings}
            </NavLink>
          </nav>
          <div className="-mr-3 ml-auto flex items-center text-sm text-soft wide:mr-0 wide:gap-4">
            <span className="hidden wide:inline">{name}</span>
            {works ? (
              <Suspense>
                <DeviceMark />
              </Suspense>
            ) : null}
            <Palette />
            <KeysHelp />
            <SignOut className="hidden wide:block" buttonClass="link min-h-[48px] cursor-pointer" />
          </div>
        </div>
      </header>
    </>
  );
});

/** A newer build waits: nothing changes under somebody's hands until they say so. */
function NewBuild() {
  const takeOver = useNewBuild();
  if (!takeOver) return null;
  return (
    <p role="status" className="no-print mb-4 flex flex-wrap items-center gap-3 border-l-4 border-rule p-3">
      {words.store.newBuild}
      <button type="button" className="quiet-action" onClick={takeOver}>
        {words.store.takeOver}
      </button>
    </p>
  );
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  return <Trouble status={statusOf(error)} />;
}
