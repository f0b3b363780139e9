import type { RouterContextProvider } from "react-router";
import type { FirmScope } from "#server/db/connection";
import { shownPhotosOf } from "#server/db/photos";
import { sharedVisit } from "#server/db/shares";
import { type CustomerSheet, customerSheet } from "#server/visits/customer-sheet";
import { byLink, notFound, openedByLink } from "../../context";
import type { Paper } from "./pdf-response.server";

/** What a link opens, for whatever is asked of the visit that it is of. */
async function shared<T>(
  token: string,
  context: Readonly<RouterContextProvider>,
  read: (scope: FirmScope, visitId: string) => Promise<T>,
): Promise<T> {
  const found = await openedByLink(context, (db, now) => sharedVisit(db, token, now));
  return byLink(context, found.firmId, (scope) => read(scope, found.visitId));
}

/** The sheet that a link opens. */
export const sharedSheet = async (
  token: string,
  context: Readonly<RouterContextProvider>,
): Promise<CustomerSheet> => (await shared(token, context, customerSheet)) ?? notFound();

/** The sheet that a link opens, with its pictures for the paper. */
export const sharedPaper = (token: string, context: Readonly<RouterContextProvider>): Promise<Paper> =>
  shared(token, context, async (scope, visitId) => ({
    sheet: (await customerSheet(scope, visitId)) ?? notFound(),
    photos: await shownPhotosOf(scope, visitId),
  }));
