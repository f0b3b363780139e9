/** What is practised next: what was missed comes back soon, what was right later and later. */

/** Something that can be missed: a trap of a story, a slip, a drill. */
export interface Card {
  name: string;
  /** Sessions from one time to the next. */
  gap: number;
  /** The session in which it is due. */
  due: number;
}

/** What was missed comes back after so many sessions; what was right after twice as many as the last time. */
const MISSED_GAP = 1;
const GROWS = 2;
const MOST_GAP = 32;

/**
 * The card after a session in which it came up.
 * @example answered({ name: "copper", gap: 4, due: 7 }, 7, false).due // 8
 */
export function answered(card: Card, session: number, isRight: boolean): Card {
  const gap = isRight ? Math.min(MOST_GAP, Math.max(1, card.gap) * GROWS) : MISSED_GAP;
  return { ...card, gap, due: session + gap };
}

/**
 * The cards that are due in a session, the longest overdue first; new ones after those.
 * @param all names of everything there is
 * @example dueCards([], ["copper"], 1)[0].name // "copper"
 */
export function dueCards(cards: readonly Card[], all: readonly string[], session: number): Card[] {
  const due = cards.filter((card) => all.includes(card.name) && card.due <= session);
  const fresh = all
    .filter((name) => !cards.some((card) => card.name === name))
    .map((name): Card => ({ name, gap: 0, due: session }));
  return [...due.sort((a, b) => a.due - b.due), ...fresh];
}
