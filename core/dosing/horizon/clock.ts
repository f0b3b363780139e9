import { PRODUCTS, type ProductId } from "../../products/products";
import { type How, loadsOf, meetBadly, TRAITS } from "../../products/traits";
import { ACID_CHLORINE_MINUTES, type PlanStep } from "../plan/steps";

/** What a call's hands do and when: one pour after another, each far enough from what it must not meet. */

/** One thing poured at one time. */
export interface Pour {
  /** Key of the product. */
  product: string;
  compound: ProductId;
  grams: number;
  how: How;
}

export interface TimedPour extends Pour {
  /** Minutes from the first one's start. */
  begins: number;
  ends: number;
}

/** Minutes that a jug or a bucket takes: along the edge, or to dissolve in first. */
const POURING: Record<How, number> = {
  "pour-along-returns": 3,
  "pour-at-return": 3,
  broadcast: 4,
  "dissolve-first": 6,
  "in-a-sock": 2,
  "in-a-feeder": 2,
};
/**
 * Minutes that an amount takes to pour, jug by jug.
 * @example pouringMinutes({ compound: "calcium-chloride", how: "dissolve-first", grams: 5000 }) // 24
 */
export const pouringMinutes = ({ compound, how, grams }: Omit<Pour, "product">): number =>
  POURING[how] * loadsOf(compound, grams);

/**
 * Between two that do not react, with the pump on: a pool is walked along; a spa's jets turn it over in five minutes
 * (a cubic metre or two at some twenty an hour). Acid and bicarbonate make nothing but carbon dioxide of each other.
 */
export const APART = { pool: 10, spa: 5 } as const;

/** Calcium and carbonate cloud the water where they meet before they are mixed in. */
const clouds = (a: ProductId, b: ProductId): boolean =>
  PRODUCTS[a].effect.calcium > 0 && PRODUCTS[b].effect.inorganicCarbon > 0;

/**
 * Minutes with circulation between the end of one pour and the start of another.
 * @example minutesApart("hydrochloric-acid", "sodium-hypochlorite", "pool") // 30
 */
export function minutesApart(first: ProductId, then: ProductId, kind: "pool" | "spa"): number {
  const isSame = first === then;
  if (isSame || meetBadly(first, then) || clouds(first, then) || clouds(then, first))
    return ACID_CHLORINE_MINUTES;
  // An acid and a base, or two chlorines, are never of one call; should they be, they keep as far apart.
  if (TRAITS[first].group === TRAITS[then].group) return ACID_CHLORINE_MINUTES;
  // A sock hangs in the stream and gives off slowly.
  if (TRAITS[first].how === "in-a-sock" || TRAITS[then].how === "in-a-sock") return 0;
  return APART[kind];
}

/**
 * Pours in their order, each as early as what went before lets it.
 * @example timed([{ product: "a", compound: "hydrochloric-acid", grams: 500, how: "pour-along-returns" }], "pool")[0].ends // 3
 */
export function timed(pours: readonly Pour[], kind: "pool" | "spa"): TimedPour[] {
  const done: TimedPour[] = [];
  for (const pour of pours) done.push(placed(done, pour, kind));
  return done;
}

/** One pour after others, as early as they let it. */
function placed(done: readonly TimedPour[], pour: Pour, kind: "pool" | "spa"): TimedPour {
  const begins = done.reduce(
    (latest, before) => Math.max(latest, before.ends + minutesApart(before.compound, pour.compound, kind)),
    0,
  );
  return { ...pour, begins, ends: begins + pouringMinutes(pour) };
}

/** With more pours than these no other order is looked for. */
const MOST_ORDERED = 8;

/**
 * The order of pours that takes the least time: what needs no half an hour between goes where others wait.
 * @param isSafe whether a water with so much of each product in it may stand on the way
 * @returns null where no order is safe
 */
export function shortestOrder(
  pours: readonly Pour[],
  kind: "pool" | "spa",
  isSafe: (grams: ReadonlyMap<string, number>) => boolean,
): TimedPour[] | null {
  if (pours.length > MOST_ORDERED) return null;
  // Portions of one product are alike: they keep their order among themselves.
  const queues = new Map<string, Pour[]>();
  for (const pour of pours) queues.set(pour.product, [...(queues.get(pour.product) ?? []), pour]);
  let best: TimedPour[] | null = null;
  const go = (done: TimedPour[], grams: Map<string, number>): void => {
    if (best && minutesOf(done) >= minutesOf(best)) return;
    if (done.length === pours.length) {
      best = done;
      return;
    }
    for (const [key, queue] of queues) {
      const next = queue[done.filter(({ product }) => product === key).length];
      if (!next) continue;
      const more = new Map(grams).set(key, (grams.get(key) ?? 0) + next.grams);
      if (isSafe(more)) go([...done, placed(done, next, kind)], more);
    }
  };
  go([], new Map());
  return best;
}

/** Minutes until the last of it is poured. @example minutesOf([]) // 0 */
export const minutesOf = (pours: readonly TimedPour[]): number =>
  Math.max(0, ...pours.map(({ ends }) => ends));

/** The portions of a plan's doses, each as a pour of its own. */
export const poursOf = (steps: readonly PlanStep[]): Pour[] =>
  steps.flatMap((step) =>
    step.kind === "dose"
      ? Array.from({ length: step.portions }, () => ({
          product: step.product,
          compound: step.compound,
          grams: step.portionGrams,
          how: step.how,
        }))
      : [],
  );

/** Jugs or buckets of one product that are poured within the minutes. @example jugsWithin(7, "pour-along-returns") // 2 */
export const jugsWithin = (minutes: number, how: How): number =>
  Math.max(0, Math.floor(minutes / POURING[how]));

/** Portions of one product that fit into the minutes. @example portionsWithin(40, "pour-along-returns") // 2 */
export const portionsWithin = (minutes: number, how: How): number => {
  const one = POURING[how];
  return minutes < one ? 0 : 1 + Math.floor((minutes - one) / (one + ACID_CHLORINE_MINUTES));
};
