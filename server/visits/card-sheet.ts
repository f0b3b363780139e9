import {
  addDays,
  BASIN_KINDS,
  type BasinKind,
  type CardContent,
  dayIn,
  type ProductId,
  type Slot,
  type StripQuantity,
  slotsBetween,
  type UnitSystem,
} from "#core";
import type { CardPage } from "../db/cards";

/** A card as it is read by the water: what to give, on which days, and what was said of them. Nothing of the firm's own. */
export interface CardSheet {
  firm: { name: string; units: UnitSystem };
  basin: { name: string; kind: BasinKind };
  product: ProductId;
  grams: number;
  everyDays: number;
}

/** A dose that is due or was lately, and whether somebody said that it was given. */
export interface CardSlot extends Slot {
  given: boolean;
}

export interface CardToday {
  sheet: CardSheet;
  /** What the people there read; null as their browser asks. */
  language: string | null;
  today: string;
  /** Today's and those of the two days before, the newest first. */
  slots: CardSlot[];
  /** The next day with one after today; null where a call comes first or none is told. */
  next: string | null;
  /** What a strip read today. */
  strip: Partial<Record<StripQuantity, number>> | null;
}

/** Doses of so many days back may still be told of. */
const TOLD_BACK = 2;
const LOOKS_AHEAD = 14;

/** @example cardToday(page, new Date()).slots[0]?.given // false */
export function cardToday({ card, basin, firm, calls, entries }: CardPage, now: Date): CardToday {
  const today = dayIn(now, firm.timeZone);
  const asked = {
    madeOn: dayIn(card.madeAt, firm.timeZone),
    calls: calls.map((at) => dayIn(at, firm.timeZone)),
  };
  const all = slotsBetween(card.everyDays, {
    ...asked,
    from: addDays(today, -TOLD_BACK),
    to: addDays(today, LOOKS_AHEAD),
  });
  const given = new Set(entries.filter(({ kind }) => kind === "given").map(({ slot }) => slot));
  const strip = entries.find((one) => one.kind === "strip" && one.slot === today);
  return {
    sheet: cardSheet(card, basin, firm),
    language: card.language ?? null,
    today,
    slots: all
      .filter(({ day }) => day <= today)
      .map((slot) => ({ ...slot, given: given.has(slot.name) }))
      .reverse(),
    next: all.find(({ day }) => day > today)?.day ?? null,
    strip: strip?.read ?? null,
  };
}

export function cardSheet(
  { product, grams, everyDays }: Omit<CardContent, "strength">,
  basin: { name: string; kind: string },
  firm: { name: string; units: UnitSystem },
): CardSheet {
  const kind = BASIN_KINDS.find((one) => one === basin.kind) ?? "pool";
  return {
    firm: { name: firm.name, units: firm.units },
    basin: { name: basin.name, kind },
    product,
    grams,
    everyDays,
  };
}
