import { createContext, type ReactNode, use, useEffect, useState } from "react";
import {
  Links,
  Meta,
  Outlet,
  UNSAFE_DataRouterStateContext as RouterState,
  Scripts,
  ScrollRestoration,
  type ShouldRevalidateFunctionArgs,
  useLocation,
  useNavigation,
  useRouteLoaderData,
} from "react-router";
import type { Route } from "./+types/root";
import "@fontsource-variable/atkinson-hyperlegible-next/wght.css";
import "./style.css";
import { HIDE_WHILE_LOCKED } from "./device/lock";
import { LockScreen } from "./device/lock-screen";
import { ADDRESSES } from "./messages/compiled/addresses";
import { type Theme, themeOf } from "./theme";
import { useNonce } from "./ui/nonce";
import { statusOf, Trouble } from "./ui/trouble";
import { spoken, words } from "./words";

export const loader = ({ request }: Route.LoaderArgs) => ({ theme: themeOf(request) });

/** The theme is all that it tells: only what changes that asks again. */
export const shouldRevalidate = ({ formAction, actionResult }: ShouldRevalidateFunctionArgs) =>
  formAction?.startsWith("/settings") === true && !actionResult?.offline && !actionResult?.trouble;

export const meta: Route.MetaFunction = () => [{ title: words.product }];

/** The document, of a page, of a fault, and of the moment before either is there. */
export function Layout({ children }: { children: ReactNode }) {
  const [awake, wake] = useState(false);
  const { state } = useNavigation();
  // What is shown, which may lag behind the address by a moment.
  const { pathname } = useLocation();
  useEffect(() => {
    document.documentElement.dataset.at = pathname;
  }, [pathname]);
  const nonce = useNonce();
  const theme: Theme = useRouteLoaderData<typeof loader>("root")?.theme ?? "system";
  // Until the page answers to taps, and while the next one is on its way.
  const { locale, language } = spoken();
  const isMoving = !awake || state !== "idle";
  return (
    <html
      lang={locale}
      suppressHydrationWarning
      data-language={language}
      data-theme={theme}
      data-page={isMoving ? "moving" : "still"}
    >
      <head>
        <meta charSet="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <meta name="color-scheme" content="light dark" />
        <meta name="theme-color" content="#f6f0e0" />
        {/* Not the drawing itself: the browser draws an SVG icon anew at every change of the address. */}
        <link rel="icon" href="/icon-192.png" type="image/png" />
        <link rel="apple-touch-icon" href="/icon-192.png" />
        <link rel="modulepreload" href={ADDRESSES[language]} />
        <link rel="manifest" href="/pelagon.webmanifest" />
        <script
          nonce={nonce}
          suppressHydrationWarning
          // biome-ignore lint/security/noDangerouslySetInnerHtml: our own constant, run before anything is drawn
          dangerouslySetInnerHTML={{ __html: HIDE_WHILE_LOCKED }}
        />
        <Meta />
        <Links />
      </head>
      <body>
        <LockScreen />
        <Wake value={wake}>{children}</Wake>
        <ScrollRestoration nonce={nonce} />
        <Scripts nonce={nonce} />
      </body>
    </html>
  );
}

/** Told by whatever answers to taps; what stands there before does not. */
const Wake = createContext<(awake: true) => void>(() => {});

/**
 * Wakes the page, but not before what lies on the device has been read: until then the page shows what the
 * server told, which lacks what was not sent yet. The router tells of that moment nowhere else.
 */
function useWake(): void {
  const wake = use(Wake);
  const isRead = use(RouterState)?.initialized ?? true;
  useEffect(() => {
    if (isRead) wake(true);
  }, [wake, isRead]);
}

export default function Root() {
  useWake();
  return <Outlet />;
}

/** What stands there until what lies on the device has been read. */
export function HydrateFallback() {
  return <p className="p-6 text-soft">{words.opening}</p>;
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  useWake();
  return <Trouble status={statusOf(error)} />;
}
