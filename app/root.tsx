import { type ReactNode, useEffect, useState } from "react";
import {
  isRouteErrorResponse,
  Links,
  Meta,
  Outlet,
  Scripts,
  ScrollRestoration,
  useNavigation,
} from "react-router";
import type { Route } from "./+types/root";
import "@fontsource-variable/atkinson-hyperlegible-next/wght.css";
import "./style.css";
import { type Theme, themeOf } from "./theme";
import { useNonce } from "./ui/nonce";
import { Trouble } from "./ui/trouble";
import { words } from "./words";

export const loader = ({ request }: Route.LoaderArgs) => ({ theme: themeOf(request) });

export { stayWhenOffline as shouldRevalidate } from "./ui/offline";

export const meta: Route.MetaFunction = () => [{ title: words.product }];

export default function Root({ loaderData }: Route.ComponentProps) {
  const [awake, wake] = useState(false);
  useEffect(() => wake(true), []);
  const { state } = useNavigation();
  return (
    <Page theme={loaderData.theme} moving={!awake || state !== "idle"}>
      <Outlet />
    </Page>
  );
}

interface PageProps {
  theme: Theme;
  /** Until the page answers to taps, and while the next one is on its way. */
  moving?: boolean;
  children: ReactNode;
}

function Page({ theme, moving = false, children }: PageProps) {
  const nonce = useNonce();
  return (
    <html lang="en" data-theme={theme} data-page={moving ? "moving" : "still"}>
      <head>
        <meta charSet="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <meta name="color-scheme" content="light dark" />
        <link rel="icon" href="/mark.svg" type="image/svg+xml" />
        <Meta />
        <Links />
      </head>
      <body>
        {children}
        <ScrollRestoration nonce={nonce} />
        <Scripts nonce={nonce} />
      </body>
    </html>
  );
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  return (
    <Page theme="system">
      <Trouble status={isRouteErrorResponse(error) ? error.status : 0} />
    </Page>
  );
}
