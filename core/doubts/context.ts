import type { Measurement, Quantity } from "../measure/quantity";
import type { ProductId } from "../products/products";
import type { ByQuantity, Dated } from "../testing/doubt";
import type { Method } from "../testing/kit";
import type { Look } from "../testing/order/look";
import type { Observation } from "../testing/result";
import type { Figure } from "../uncertainty/figure";

/** A dose that stands in the log, seen from now. */
export interface RecentDose {
  product: ProductId;
  /** 0…1; see `Product`. */
  strength: number;
  grams: number;
  litres: number;
  hoursAgo: number;
}

/** A bottle in use, seen from now. */
export interface BottleState {
  reagent: string;
  /** Days since it expired; below zero it has that long to go. Null when no date is known. */
  daysExpired: number | null;
  /** Opened before this season began. */
  lastSeason: boolean;
  /** Doses (drops, scoops …) left by the book. */
  left: number;
}

/** What the log knows when a test is judged, seen from now. */
export interface LogView {
  last: ByQuantity<Dated<Measurement>>;
  doses: RecentDose[];
  look: Look | null;
  bottles: BottleState[];
  /** At this basin, the hardness endpoint needed titrant ahead of the indicator before. */
  metalsSeen: boolean;
  /** Quantities that lately moved the same way at most basins, by which share. */
  shifts: ByQuantity<Shift>;
  /** What the basin's own habits make of each reading by now, with its central 90 %. */
  expected: ByQuantity<Figure>;
  habits: OwnHabits | null;
}

/** A bench without a basin has no log to doubt by. */
export const NO_LOG: LogView = {
  last: {},
  doses: [],
  look: null,
  bottles: [],
  metalsSeen: false,
  shifts: {},
  expected: {},
  habits: null,
};

/** What a basin's own log says that it does by itself: pH a day, the rest mg/L a month. */
export interface OwnHabits {
  phRise: Figure;
  calciumClimb: Figure;
  stabiliserClimb: Figure;
}

export interface Shift {
  share: number;
  basins: number;
}

/** One test under judgement: the log, and the other tests of this visit. */
export interface TestContext extends LogView {
  method: Method;
  /** What it came to; null while it is prepared. */
  result: Measurement | null;
  seen: Observation | null;
  today: ByQuantity<Measurement>;
  /** No titration was made yet in this visit. */
  firstTitration: boolean;
}

type Standing = Measurement & { quantity: Quantity; methodId: string; observation: Observation };

/**
 * The context of one test in a visit with these standing readings; its own earlier result is left out.
 * @example contextFor(opened.log, [], { method: alkalinity, result: null, seen: null }).firstTitration // true
 */
export function contextFor(
  log: LogView,
  readings: readonly Standing[],
  test: Pick<TestContext, "method" | "result" | "seen">,
): TestContext {
  const others = readings.filter(
    (reading) => !(reading.quantity === test.method.quantity && reading.methodId === test.method.id),
  );
  return {
    ...log,
    ...test,
    today: Object.fromEntries(others.map((reading) => [reading.quantity, reading])),
    firstTitration: !others.some((reading) => reading.observation.kind === "drops"),
  };
}
