import { millisecondsInDay } from "date-fns/constants";
import type { ProductId } from "../products/products";
import { normal, seeded } from "../random";
import { FIRST_DAY } from "./hidden-basin.fixtures";

/** Bottles of titrant and deliveries of products: none quite what its label says, some far off. */
export interface Shelf {
  bottle(quantity: string, at: number): { lot: string; worth: number };
  delivery(product: ProductId, at: number): { lot: string; worth: number };
  /** What each lot was worth over its label when it was last used, and when that was. */
  readonly worths: Map<string, { worth: number; at: number }>;
}

/** A titrant of alkalinity that loses so much of its strength a day from a moment on. */
export interface Weakening {
  aDay: number;
  from: number;
}

export function shelfOf(seed: number, weakening: Weakening | null = null): Shelf {
  const random = seeded(seed * 31 + 977);
  const between = (low: number, high: number) => low + (high - low) * random();
  const held = new Map<string, { lot: string; worth: number; came: number; until: number }>();
  const worths: Shelf["worths"] = new Map();
  let number = 0;
  const of = (key: string, at: number, worth: () => number, days: [number, number]) => {
    let one = held.get(key);
    if (!one || at > one.until) {
      one = {
        lot: `${key}-${++number}`,
        worth: worth(),
        came: at,
        until: at + between(...days) * millisecondsInDay,
      };
      held.set(key, one);
    }
    return one;
  };
  const used = (lot: string, worth: number, at: number) => {
    worths.set(lot, { worth, at });
    return { lot, worth };
  };
  return {
    worths,
    bottle(quantity, at) {
      const one = of(quantity, at, () => Math.exp(0.025 * normal(random)), [34, 50]);
      const isBad = weakening && quantity === "totalAlkalinity" && at >= weakening.from;
      // Nobody notices, so it is not changed.
      if (isBad) one.until = Number.POSITIVE_INFINITY;
      const days = isBad ? (at - Math.max(one.came, weakening.from)) / millisecondsInDay : 0;
      return used(one.lot, one.worth * Math.exp(-(weakening?.aDay ?? 0) * days), at);
    },
    delivery(product, at) {
      const isWeak = product === "sodium-hypochlorite" && random() < 0.15;
      const { lot, worth, came } = of(
        product,
        at,
        () => (isWeak ? between(0.6, 0.75) : Math.exp(0.035 * normal(random))),
        [21, 36],
      );
      const months = (at - came) / millisecondsInDay / 30;
      return used(lot, product === "sodium-hypochlorite" ? worth * Math.exp(-0.06 * months) : worth, at);
    },
  };
}

/** So many weeks after the first day. */
export const weeksIn = (weeks: number): number => FIRST_DAY + weeks * 7 * millisecondsInDay;
