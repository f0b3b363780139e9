import type { RouterContextProvider } from "react-router";
import { cardPage, openedCard } from "#server/db/cards";
import { type CardToday, cardToday } from "#server/visits/card-sheet";
import { byCard, notFound, openedByLink } from "../../context";
import { goOnIn } from "../../language.server";

type Context = Readonly<RouterContextProvider>;

/** The card that a link opens; 404 for one that opens nothing. */
export const openedByCard = (token: string, context: Context) =>
  openedByLink(context, (db) => openedCard(db, token));

export async function cardNow(token: string, context: Context): Promise<CardToday> {
  const card = await openedByCard(token, context);
  const today = await byCard(context, card, async (scope, now) => {
    const page = await cardPage(scope, card.cardId);
    return page && cardToday(page, now);
  });
  if (!today) return notFound();
  goOnIn(today.language);
  return today;
}
