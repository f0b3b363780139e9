import { Outlet } from "react-router";
import { statusOf, Trouble } from "../../ui/trouble";
import type { Route } from "./+types/pages";

/** The pages of whoever is signed in: where one cannot be shown, the way to the others stays. */
export default function Pages() {
  return <Outlet />;
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  return <Trouble status={statusOf(error)} within />;
}
