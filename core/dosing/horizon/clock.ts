import { PRODUCTS, type ProductId } from "../../products/products";
import { type How, loadsOf, meetBadly, TRAITS } from "../../products/traits";
import { ACID_CHLORINE_MINUTES, type PlanStep, WAIT_MINUTES } from "../plan/steps";

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

/** Between two that do not react, with the pump on: a pool is walked along, a spa's jets turn it over. */
export const APART = { pool: 10, spa: WAIT_MINUTES.spa } as const;

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
  for (const pour of pours) {
    const begins = done.reduce(
      (latest, before) => Math.max(latest, before.ends + minutesApart(before.compound, pour.compound, kind)),
      0,
    );
    done.push({ ...pour, begins, ends: begins + pouringMinutes(pour) });
  }
  return done;
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

/** Portions of one product that fit into the minutes. @example portionsWithin(40, "pour-along-returns") // 2 */
export const portionsWithin = (minutes: number, how: How): number => {
  const one = POURING[how];
  return minutes < one ? 0 : 1 + Math.floor((minutes - one) / (one + ACID_CHLORINE_MINUTES));
};
