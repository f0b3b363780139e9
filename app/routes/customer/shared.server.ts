import type { RouterContextProvider } from "react-router";
import { sharedVisit } from "#server/db/shares";
import { type CustomerSheet, customerSheet } from "#server/visits/customer-sheet";
import { byLink, notFound, openedByLink } from "../../context";

/** The sheet that a link opens. */
export async function sharedSheet(
  token: string,
  context: Readonly<RouterContextProvider>,
): Promise<CustomerSheet> {
  const found = await openedByLink(context, (db, now) => sharedVisit(db, token, now));
  const sheet = await byLink(context, found.firmId, (scope) => customerSheet(scope, found.visitId));
  return sheet ?? notFound();
}
