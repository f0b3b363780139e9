import { useRouteLoaderData } from "react-router";
import { visitSoFar } from "#core";
import type { loader } from "./layout";

/** The visit that this station belongs to. */
export function useVisit() {
  const found = useRouteLoaderData<typeof loader>("routes/visit/layout");
  if (!found) throw new Error("useVisit is for the stations of a visit");
  return { ...found, soFar: visitSoFar(found) };
}
