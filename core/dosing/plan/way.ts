import { InputFault } from "../../fault";
import {
  addTo,
  carbonDioxide,
  carbonDioxideAtRest,
  carbonDioxideShare,
  driveOut,
  replaceWater,
} from "../../products/effects";
import { isAcid, mostAtATime } from "../../products/traits";
import { chargeAt } from "../../water/charge";
import { readingsOf, solvePh } from "../../water/equilibrium";
import { crossing } from "../../water/root";
import { activity, conditionsOf, type Sample, type Totals, totalsOf } from "../../water/sample";
import { saturation } from "../../water/saturation";
import { portionsOf } from "../portions";
import type { Amounts } from "./amounts";
import type { PlanInput, PlanProduct } from "./input";
import {
  airStep,
  doseStep,
  keptApart,
  lastRetest,
  type PlanStep,
  rankOf,
  replaceStep,
  type StepSetting,
} from "./steps";

/** A water between two hands' work: after a portion, after some air, after water was replaced. */
export interface WayWater extends Sample {
  /** Place of its step in the plan, and which portion of it. */
  step: number;
  portion: number;
  saturation: number;
}

/** The amounts of a plan as steps in a safe order, with every water on the way. */
export interface Way {
  steps: PlanStep[];
  waters: WayWater[];
  /** What can be given so; less than was asked where no order is safe. */
  given: Amounts;
  complete: boolean;
}

/**
 * Between these every water on the way stays, or no farther out than the water was to begin with:
 * metal and skin below, scale and useless chlorine above, and no chlorine that bathing cannot wait for.
 */
export const SAFE_WAY = {
  ph: { low: 6.8, high: 8.2 },
  saturation: { low: -1, high: 1 },
} as const;

/** Acid by turns with air goes down to here, and air back up to the top of the pH's range. */
const ACID_DOWN_TO = 7;
const AIR_UP_TO = 7.8;

/**
 * How fast air takes carbon dioxide out, share of what is too much of it, an hour: jets and blower in a
 * spa, returns turned up in a pool. A guess until the basin's own is known: the pH says when to stop.
 */
const AIR_RATE = { spa: 1, pool: 0.125 } as const;

/** Less than this share of a product is not worth another step. */
const CRUMB = 1e-6;
/** Less than this share of a portion is not poured while something else can go first. */
const WORTH_POURING = 0.2;
/** What is cut to fit the safe way stays this far inside it. */
const MARGIN = { ph: 0.01, saturation: 0.01, freeChlorine: 0.05 } as const;
/** No plan has more steps than this: acid and air by turns end here. */
const MOST_STEPS = 60;

interface Portioned {
  product: PlanProduct;
  /** Still to be given, and asked for, g as sold. */
  grams: number;
  whole: number;
}

interface Envelope {
  ph: { low: number; high: number };
  saturation: { low: number; high: number };
  freeChlorine: number;
}

const envelopeOf = (start: WayWater, mostChlorine: number): Envelope => ({
  ph: { low: Math.min(SAFE_WAY.ph.low, start.ph), high: Math.max(SAFE_WAY.ph.high, start.ph) },
  saturation: {
    low: Math.min(SAFE_WAY.saturation.low, start.saturation),
    high: Math.max(SAFE_WAY.saturation.high, start.saturation),
  },
  freeChlorine: Math.max(mostChlorine, start.freeChlorine),
});

/** The envelope less its margin, but for where the water stands in the margin already. */
const narrowed = ({ ph, saturation, freeChlorine }: Envelope, now: WayWater): Envelope => ({
  ph: { low: Math.min(ph.low + MARGIN.ph, now.ph), high: Math.max(ph.high - MARGIN.ph, now.ph) },
  saturation: {
    low: Math.min(saturation.low + MARGIN.saturation, now.saturation),
    high: Math.max(saturation.high - MARGIN.saturation, now.saturation),
  },
  freeChlorine: Math.max(freeChlorine - MARGIN.freeChlorine, now.freeChlorine),
});

/** The largest amount from `least` to `most` that fits; none where the least does not. */
function largest(least: number, most: number, fits: (amount: number) => boolean): number {
  if (!fits(least)) return 0;
  let low = least;
  let high = most;
  for (let halving = 0; halving < 16; halving++) {
    const middle = (low + high) / 2;
    if (fits(middle)) low = middle;
    else high = middle;
  }
  return low;
}

const EXACT = 1e-9;
const isSafe = (water: WayWater, { ph, saturation, freeChlorine }: Envelope): boolean =>
  water.ph >= ph.low - EXACT &&
  water.ph <= ph.high + EXACT &&
  // A water without calcium or carbonate has no index at all.
  (water.saturation >= saturation.low - EXACT || !Number.isFinite(water.saturation)) &&
  water.saturation <= saturation.high + EXACT &&
  water.freeChlorine <= freeChlorine + EXACT;

const watered = (totals: Totals, step: number, portion: number): WayWater => {
  const readings = readingsOf(totals);
  return { ...readings, saturation: saturation(readings).full.corrected, step, portion };
};

/** Amounts far too large make no water that anybody has readings of. */
function wateredOrNone(totals: Totals): WayWater | null {
  try {
    return watered(totals, 0, 0);
  } catch (fault) {
    if (fault instanceof InputFault) return null;
    throw fault;
  }
}

/**
 * The largest share of the water that can be replaced at once without leaving the safe way.
 * @returns 0…`fraction`
 */
export function safelyReplaced(input: PlanInput, fraction: number): number {
  const { fill, water, goals } = input;
  if (!fill || fraction <= 0) return 0;
  const start = totalsOf(water);
  const envelope = envelopeOf(watered(start, 0, 0), goals.mostChlorine);
  const safe = (share: number) => isSafe(watered(replaceWater(start, totalsOf(fill), share), 0, 0), envelope);
  return safe(fraction) ? fraction : largest(0, fraction, safe);
}

/**
 * Orders amounts so that every water in between is safe: water first, then what closes the basin, then
 * the school's order, in portions; what would leave the safe way lets something else go first. Acid and
 * air go by turns, and nothing waits behind air but acid.
 */
export function wayOf(input: PlanInput, amounts: Amounts, setting: StepSetting): Way {
  const { litres, goals } = input;
  let totals = totalsOf(input.water);
  const envelope = envelopeOf(watered(totals, 0, 0), goals.mostChlorine);
  const steps: PlanStep[] = [];
  const waters: WayWater[] = [];
  const given = new Map<string, number>();
  let replaced = 0;
  let aerated = 0;

  if (amounts.replaced > 0 && input.fill) {
    const mixed = replaceWater(totals, totalsOf(input.fill), amounts.replaced);
    const water = watered(mixed, 0, 1);
    if (isSafe(water, envelope)) {
      steps.push(replaceStep(amounts.replaced, litres, setting));
      waters.push(water);
      totals = mixed;
      replaced = amounts.replaced;
    }
  }

  const left = input.products
    .filter(({ key }) => (amounts.grams.get(key) ?? 0) > 0)
    .map((product) => ({
      product,
      grams: amounts.grams.get(product.key) ?? 0,
      whole: amounts.grams.get(product.key) ?? 0,
    }))
    .sort(
      (a, b) =>
        rankOf(a.product.product, setting, input.water.ph) -
        rankOf(b.product.product, setting, input.water.ph),
    );
  let airLeft = amounts.aerated / 1000;

  /**
   * Gives as much of one product as is safe now, in portions; says whether any was. With air to come,
   * acid stops where the walls still stand it, and goes on when air has lifted the pH.
   */
  const pour = (one: Portioned, byTurns: boolean): boolean => {
    const foot = byTurns && airLeft > 0 && isAcid(one.product.product) ? ACID_DOWN_TO : 0;
    const inside = narrowed(envelope, watered(totals, 0, 0));
    const after = (grams: number) => addTo(totals, [{ ...one.product, grams }], litres).totals;
    const isFit = (grams: number, within: Envelope) => {
      const water = wateredOrNone(after(grams));
      return water !== null && isSafe(water, within) && water.ph >= foot;
    };
    const worth = Math.min(one.grams, WORTH_POURING * mostAtATime(one.product, litres));
    const grams = isFit(one.grams, envelope)
      ? one.grams
      : largest(worth, one.grams, (some) => isFit(some, inside));
    if (grams === 0) return false;
    const portions = portionsOf(one.product, grams, litres);
    const passed = Array.from({ length: portions.count }, (_, index) =>
      watered(after(portions.grams * (index + 1)), steps.length, index + 1),
    );
    // Neither end says anything of the middle where a dose moves a reading there and back.
    if (!passed.every((water) => isSafe(water, envelope))) return false;
    totals = after(grams);
    waters.push(...passed);
    one.grams -= grams;
    given.set(one.product.key, (given.get(one.product.key) ?? 0) + grams);
    steps.push(doseStep(one.product, grams, litres, setting));
    return true;
  };

  /** Air until the pH is up where it stops, or all of it is driven out; says whether any was. */
  const air = (): boolean => {
    const acidLeft = left.some(
      ({ product, grams, whole }) => grams > CRUMB * whole && isAcid(product.product),
    );
    const before = watered(totals, steps.length, 1);
    const stop = acidLeft ? Math.max(AIR_UP_TO, before.ph) : envelope.ph.high;
    const wanted = Math.min(airLeft, carbonToPh(totals, stop), carbonToRest(totals));
    if (wanted <= 1e-9) return false;
    const next = driveOut(totals, wanted);
    const water = watered(next, steps.length, 1);
    if (!isSafe(water, envelope) || water.ph <= before.ph) return false;
    steps.push(airStep(wanted * 1000, water.ph, minutesOfAir(totals, wanted, AIR_RATE[setting.kind])));
    waters.push(water);
    totals = next;
    airLeft = wanted >= airLeft * (1 - 1e-6) ? 0 : airLeft - wanted;
    aerated += wanted;
    return true;
  };

  while (steps.length < MOST_STEPS) {
    const open = left.filter(({ grams, whole }) => grams > CRUMB * whole);
    if (open.some((one) => pour(one, true))) continue;
    if (airLeft > 0 && air()) continue;
    if (open.some((one) => pour(one, false))) continue;
    break;
  }
  const complete =
    airLeft === 0 &&
    replaced === amounts.replaced &&
    left.every(({ grams, whole }) => grams <= CRUMB * whole);
  if (steps.length > 0)
    steps.push(
      lastRetest(
        left.filter(({ product }) => given.has(product.key)).map(({ product }) => product),
        replaced > 0,
      ),
    );
  return {
    steps: keptApart(steps),
    waters,
    given: { grams: given, replaced, aerated: aerated * 1000 },
    complete,
  };
}

/** What is poured on a safe way: see `safeWalk`. */
export type SafeWalk = (grams: ReadonlyMap<string, number>) => boolean;

/**
 * Whether a water with so much of each product in it, in whatever order it went in, is one of a safe way.
 * @example safeWalk(input)(new Map()) // true
 */
export function safeWalk({ products, litres, water, goals }: PlanInput): SafeWalk {
  const start = totalsOf(water);
  const envelope = envelopeOf(watered(start, 0, 0), goals.mostChlorine);
  const known = new Map<string, boolean>();
  return (grams) => {
    const key = JSON.stringify([...grams].sort());
    let safe = known.get(key);
    if (safe === undefined) {
      const doses = products.flatMap((product) => {
        const some = grams.get(product.key) ?? 0;
        return some > 0 ? [{ ...product, grams: some }] : [];
      });
      const mixed = wateredOrNone(addTo(start, doses, litres).totals);
      safe = mixed !== null && isSafe(mixed, envelope);
      known.set(key, safe);
    }
    return safe;
  };
}

/** The steps of amounts; see `wayOf`. */
export const stepsOf = (...of: Parameters<typeof wayOf>): PlanStep[] => wayOf(...of).steps;

/** Hours of air until the pH is at `ph`, by jets in a spa or returns turned up in a pool; see `AIR_RATE`. */
export const hoursOfAir = (totals: Totals, ph: number, kind: "spa" | "pool"): number =>
  minutesOfAir(totals, Math.min(carbonToPh(totals, ph), carbonToRest(totals)), AIR_RATE[kind]) / 60;

/** Inorganic carbon that has to go until the pH is at `ph`, mol/L; none where it is there already. */
function carbonToPh(totals: Totals, ph: number): number {
  const conditions = conditionsOf(totals);
  const h = activity(ph);
  const without = chargeAt(conditions, { ...totals, inorganicCarbon: 0 }, h).charge;
  const one = chargeAt(conditions, { ...totals, inorganicCarbon: 1e-3 }, h).charge - without;
  return Math.max(0, totals.inorganicCarbon - ((totals.alkalinity - without) / one) * 1e-3);
}

/** Inorganic carbon that has to go until air takes no more, mol/L. */
function carbonToRest(totals: Totals): number {
  const rest = carbonDioxideAtRest(totals.temperature);
  if (carbonDioxide(totals) <= rest) return 0;
  const most = totals.inorganicCarbon;
  const root = crossing(
    (gone) => carbonDioxide({ ...totals, inorganicCarbon: most - gone }) - rest,
    0,
    most * 0.999,
    1e-10,
  );
  return root ?? 0;
}

/** Minutes until so much carbon dioxide (mol/L) has gone: the rate falls with what is too much of it. */
function minutesOfAir(totals: Totals, amount: number, ratePerHour: number): number {
  const conditions = conditionsOf(totals);
  const rest = carbonDioxideAtRest(totals.temperature);
  const parts = 24;
  let minutes = 0;
  for (let part = 0; part < parts; part++) {
    const inorganicCarbon = totals.inorganicCarbon - (amount * (part + 0.5)) / parts;
    const { ph } = solvePh(conditions, { ...totals, inorganicCarbon }, totals.alkalinity);
    const excess = inorganicCarbon * carbonDioxideShare(conditions, activity(ph)) - rest;
    // Near rest the last of it goes ever more slowly: told up to a hundredth of an excess.
    minutes += ((amount / parts) * 60) / (ratePerHour * Math.max(excess, 0.01 * rest));
  }
  return minutes;
}
