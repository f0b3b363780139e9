import type { Figure } from "../uncertainty/figure";
import { bestRhythm, type RegularBasin, type RegularProblem, type RhythmFigures } from "./regular";
import type { CallWorth } from "./worth";

/** What a new customer would take: days and a person, minutes, products and a price, by the basins here that are like theirs. */

/** A basin of the firm, as far as a new one may be like it. */
export interface LikeBasin {
  litres: number;
  /** At the water. */
  minutes: number;
  /** Money for products in 30 days. */
  products: number;
  worth: CallWorth;
}

export interface QuoteAsked {
  litres: number;
  /** Of its site among the ways of the week; any key where nobody said where it lies. */
  site: string;
  allowed: readonly number[] | null;
  /** Calls a week; null for what the water asks for. */
  calls: number | null;
}

export interface QuoteOption extends RhythmFigures {
  person: string;
}

export interface Quote {
  /** Days and people, the best first. */
  options: QuoteOption[];
  /** In 30 days, each with what four of five like basins lie between. */
  minutes: Figure;
  products: Figure;
  price: Figure;
  /** Basins that this is told by. */
  like: number;
}

/** So many of those that are like it tell of it, the nearest in volume. */
const MOST_LIKE = 8;
const DAYS_A_MONTH = 30;
/** A spread of one or two is none: then it is told as this much up and down, as a share. */
const FEW = 3;
const UNSURE = 0.5;
const MOST_OPTIONS = 3;

/**
 * @param like basins of its kind, indoors or out as it is
 * @param callPrice money for a call
 * @returns null where the firm has no basin of which anything is known
 * @example quoteOf({ litres: 40_000, site: "new", allowed: null, calls: null }, [], problem, 30) // null
 */
export function quoteOf(
  asked: QuoteAsked,
  like: readonly LikeBasin[],
  week: RegularProblem,
  callPrice: number,
): Quote | null {
  const near = [...like].sort((a, b) => distance(a, asked) - distance(b, asked)).slice(0, MOST_LIKE);
  if (near.length === 0) return null;
  const minutes = figureOf(near.map((one) => one.minutes));
  const perLitre = figureOf(near.map(({ products, litres }) => products / litres));
  const basin: Omit<RegularBasin, "person"> = {
    id: NEW,
    site: asked.site,
    minutes: minutes.value,
    worth: meanWorth(near.map(({ worth }) => worth)),
    allowed: asked.allowed,
    fixed: [],
    daily: false,
    least: 1,
    most: null,
    now: { days: [], everyWeeks: 1 },
  };
  const options = week.people
    .flatMap(({ id }): (QuoteOption & { worth: number })[] => {
      const best = bestRhythm(week, { ...basin, person: id }, asked.calls);
      return best ? [{ ...best, person: id }] : [];
    })
    .sort((a, b) => b.worth - a.worth)
    .slice(0, MOST_OPTIONS)
    .map(({ worth: _, ...option }) => option);
  const [best] = options;
  const calls = ((best?.calls ?? asked.calls ?? 1) * DAYS_A_MONTH) / 7;
  const way = best ? Math.max(0, best.minutes / best.calls - minutes.value) : 0;
  const scaled = ({ value, low, high }: Figure, by: number, more = 0): Figure => ({
    value: by * (value + more),
    low: by * (low + more),
    high: by * (high + more),
  });
  const products = scaled(perLitre, asked.litres);
  return {
    options,
    minutes: scaled(minutes, calls, way),
    products,
    price: scaled(products, 1, calls * callPrice),
    like: near.length,
  };
}

const NEW = "new";
const distance = (a: { litres: number }, b: { litres: number }): number =>
  Math.abs(Math.log(a.litres / b.litres));

/** The median, and what four of five lie between. */
function figureOf(values: readonly number[]): Figure {
  const sorted = [...values].sort((a, b) => a - b);
  const at = (share: number) => {
    const place = share * (sorted.length - 1);
    const low = sorted[Math.floor(place)] as number;
    return low + (place % 1) * ((sorted[Math.ceil(place)] as number) - low);
  };
  const value = at(0.5);
  if (sorted.length < FEW) return { value, low: (1 - UNSURE) * value, high: (1 + UNSURE) * value };
  return { value, low: at(0.1), high: at(0.9) };
}

const meanOf = (curves: readonly (readonly number[])[]): number[] =>
  (curves[0] ?? []).map(
    (_, day) => curves.reduce((sum, curve) => sum + (curve[day] ?? 0), 0) / curves.length,
  );

const meanWorth = (worths: readonly CallWorth[]): CallWorth => ({
  alone: meanOf(worths.map(({ alone }) => alone)),
  after: (worths[0]?.after ?? []).map((_, gap) => meanOf(worths.map(({ after }) => after[gap] ?? []))),
});
