import type { RouterContextProvider } from "react-router";
import { asFirm } from "#server/db/connection";
import { sharedVisit } from "#server/db/shares";
import { type CustomerSheet, customerSheet } from "#server/visits/customer-sheet";
import { addressContext, notFound, servicesContext } from "../../context";

/** The sheet that a link opens. Guessing is braked by address; a token has 256 bits anyway. */
export async function sharedSheet(
  token: string,
  context: Readonly<RouterContextProvider>,
): Promise<CustomerSheet> {
  const { db, limits, now } = context.get(servicesContext);
  const found = await sharedVisit(db, token, now());
  if (!found) {
    const wait = await limits.guessed(context.get(addressContext));
    if (wait !== null)
      throw new Response("Too many tries", { status: 429, headers: { "Retry-After": `${wait}` } });
    return notFound();
  }
  const sheet = await asFirm(db, found.firmId, (scope) => customerSheet(scope, found.visitId));
  return sheet ?? notFound();
}
