import { millisecondsInDay } from "date-fns/constants";
import { dosesIn } from "../dosing/horizon/between";
import { fedPrice } from "../dosing/horizon/feeders";
import { type Between, type HorizonProblem, USUAL_MINUTES } from "../dosing/horizon/problem";
import { type Goals, goalsOf } from "../dosing/plan/goals";
import { PRODUCTS, type ProductId } from "../products/products";
import { mayHoldStabiliser } from "../ranges/bathing-limits";
import type { RangeSet } from "../ranges/range-set";
import type { Figure } from "../uncertainty/figure";
import { gramsFor, LAYMAN_CHLORINE, measuredOut } from "./layman";
import { DEVICE_A_MONTH, DEVICE_MOST, type Means } from "./means";
import { evenCalls, keptAt, type Regime, regimeNow, type Walked, Walker } from "./walk";

/** What would hold a water: how much of the time chlorine and pH are right as it is kept, and by other means. */

export interface HoldOptions {
  /** Money for a call, beside what is poured; minutes of one. */
  callPrice?: number;
  callMinutes?: number;
  /** Range sets that may be chosen here instead. */
  sets?: readonly RangeSet[];
  /** What the people there may be asked to dose; all that is for laymen where nobody says, none of it with []. */
  laymen?: readonly ProductId[];
  /** A cover is there already: what the log taught has it in it. */
  covered?: boolean;
}

/** One way of keeping a basin, and what comes of it in four weeks. */
export interface Held {
  /** None: as it is. */
  means: Means[];
  /** Share of the time that chlorine stands over its floor and pH is inside, 0…1, with its central 90 %. */
  right: Figure;
  under: Figure;
  over: Figure;
  phHigh: Figure;
  phLow: Figure;
  /** Money in 30 days: calls, what is poured, devices. */
  cost: number;
  /** Minutes in 30 days: of the firm, and of the people there. */
  minutes: number;
  theirMinutes: number;
  calls: number;
}

/** Where chlorine does not last as it is kept. */
export interface Shortfall {
  /** Days after a call from which on it is likelier under its floor than not, or as likely as it gets. */
  day: number;
  /** How likely it is under its floor when the next call comes. */
  chance: number;
  /** mg/L that the mean lies under the floor then; negative above. */
  by: number;
  /** Days of that gap. */
  days: number;
  /** mg/L that would have to be left for nine in ten; null where no amount lasts. And the most that may be. */
  wanted: number | null;
  most: number | null;
}

export interface HoldAnswer {
  asItIs: Held;
  /** The cheapest of each means, and what two of them do together where none promises enough; best first. */
  ways: Held[];
  /** The cheapest that promises `PROMISED`, and of those that cost about as little the one that keeps longest; null where none does. */
  cheapest: Held | null;
  short: Shortfall | null;
}

export const PROMISED = 0.95;
/** Days that are looked ahead. */
export const HOLD_DAYS = 28;
const MONTH = 30;
/** Costs, and shares of the time, that nobody would tell apart. */
const COSTS_ALIKE = 1.05;
const KEEPS_ALIKE = 0.005;
/** Money for a call where nobody says. */
export const USUAL_CALL_PRICE = 30;
/** Minutes of the people there for a dose, and for filling a floater or rolling a cover in a day. */
const THEIR_DOSE = 3;
const THEIR_COVER = 4;

const DRAWS = 48;
/** From this chance on chlorine is said not to last. */
const SHORT_CHANCE = 0.5;

/**
 * @param problem as a plan is asked for: the water, the belief, the calls; what is poured today is not looked at
 * @example hold(problem).asItIs.right.value // 0.83
 */
export function hold(problem: HorizonProblem, options: HoldOptions = {}): HoldAnswer {
  const holder = new Holder(problem, options);
  const asItIs = holder.held([]);
  const ways = worthTelling(holder.singles().map((means) => holder.held([means])));
  const promising = [asItIs, ...ways].filter(({ right }) => right.value >= PROMISED);
  if (promising.length === 0) ways.push(...holder.together(ways));
  const best = (a: Held, b: Held) =>
    Number(b.right.value >= PROMISED) - Number(a.right.value >= PROMISED) ||
    (a.right.value >= PROMISED ? a.cost - b.cost : b.right.value - a.right.value);
  ways.sort(best);
  return { asItIs, ways, cheapest: cheapestOf([asItIs, ...ways]), short: holder.shortfall() };
}

/** The first that promises enough and costs no more than another, but for a few coins: of those the one that keeps longest. */
function cheapestOf(all: readonly Held[]): Held | null {
  const promising = all.filter(({ right }) => right.value >= PROMISED);
  const least = Math.min(...promising.map(({ cost }) => cost));
  const alike = promising.filter(({ cost }) => cost <= COSTS_ALIKE * least);
  const longest = Math.max(...alike.map(({ right }) => right.value));
  return alike.find(({ right }) => right.value >= longest - KEEPS_ALIKE) ?? null;
}

class Holder {
  readonly walker: Walker;
  readonly base: Regime;
  readonly every: number;
  /** What the feeder gives over what its setting is meant to give. */
  private readonly gives: number;
  private readonly known = new Map<string, Walked>();

  constructor(
    readonly problem: HorizonProblem,
    readonly options: HoldOptions,
  ) {
    this.walker = new Walker(problem, DRAWS);
    const lasting = throughFourWeeks(problem.from, problem.calls);
    this.gives = problem.feeder?.gives ?? 1;
    this.every = HOLD_DAYS / Math.max(1, lasting.length);
    this.base = regimeNow(problem, lasting);
  }

  regimeOf(means: readonly Means[]): Regime {
    const regime = { ...this.base };
    const { from } = this.problem;
    for (const one of means) {
      switch (one.code) {
        case "calls":
          regime.calls = evenCalls(from, WEEK / one.aWeek, HOLD_DAYS);
          break;
        case "feeder":
          regime.feeder = one.kind;
          regime.fed = one.to * this.gives;
          break;
        case "floater":
          regime.feeder = "tablets";
          regime.fed = one.to;
          break;
        case "cover":
          regime.covered = true;
          break;
        case "stabiliser":
          regime.stabiliser = one.level;
          break;
        case "range-set": {
          const set = this.options.sets?.find(({ id }) => id === one.id);
          if (set) regime.goals = goalsIn(set, this.problem);
          break;
        }
        case "between":
          regime.between = one;
      }
    }
    return regime;
  }

  walk(means: readonly Means[]): Walked {
    const key = JSON.stringify(means);
    let walked = this.known.get(key);
    if (!walked) {
      walked = this.walker.walk(this.regimeOf(means));
      this.known.set(key, walked);
    }
    return walked;
  }

  held(means: Means[]): Held {
    const { callPrice = USUAL_CALL_PRICE, callMinutes = USUAL_MINUTES } = this.options;
    const regime = this.regimeOf(means);
    const walked = this.walk(means);
    const { litres } = this.problem.still.input;
    const calls = (regime.calls.length * MONTH) / HOLD_DAYS;
    const between = regime.between;
    const doses = between ? dosesOver(regime, this.problem.from, between.everyDays) : 0;
    const device = means.reduce((sum, one) => sum + deviceOf(one), 0);
    const price = regime.feeder === "none" ? 0 : this.pricePerKg(regime.feeder);
    const fed = ((regime.fed * MONTH * litres) / 1e6) * price;
    const theirs = between ? ((doses * between.grams) / 1000) * this.priceOf(between) : 0;
    return {
      means,
      right: shareOf(walked.right),
      under: shareOf(walked.under),
      over: shareOf(walked.over),
      phHigh: shareOf(walked.phHigh),
      phLow: shareOf(walked.phLow),
      cost: calls * callPrice + (mean(walked.money) * MONTH) / HOLD_DAYS + fed + theirs + device,
      minutes: calls * callMinutes,
      theirMinutes:
        doses * THEIR_DOSE + (means.some(({ code }) => code === "cover") ? THEIR_COVER * MONTH : 0),
      calls,
    };
  }

  /** Every means that may be had here, each in the amount that this basin's own loss asks for. */
  singles(): Means[] {
    const { still, outdoors, feeder } = this.problem;
    const { kind } = still.setting;
    const { goals, water } = still.input;
    const { place } = goals.chlorineCloses;
    const found: Means[] = this.moreCalls();
    const kept = keptAt(goals);
    const to = kept * this.walker.lossOf(this.base, kept);
    if (feeder) {
      if (Math.abs(to / this.base.fed - 1) > WORTH_SETTING)
        found.push({
          code: "feeder",
          kind: feeder.kind,
          from: this.base.fed / this.gives,
          to: Math.min(feeder.most, to) / this.gives,
        });
    } else
      for (const one of kind === "pool" ? (["saltCell", "pump"] as const) : (["pump"] as const))
        found.push({ code: "feeder", kind: one, from: null, to: Math.min(DEVICE_MOST[one], to) });
    if (!feeder && mayHoldStabiliser(place))
      found.push({ code: "floater", to: Math.min(DEVICE_MOST.floater, to) });
    if (outdoors && kind === "pool" && !this.options.covered) found.push({ code: "cover" });
    if (mayHoldStabiliser(place) && goals.cyanuricAcid.known) {
      const { high } = goals.cyanuricAcid;
      for (const level of STABILISER_LEVELS)
        if (
          level > Math.max(water.cyanuricAcid, this.base.stabiliser ?? 0) + 5 &&
          (high === null || level <= high)
        )
          found.push({ code: "stabiliser", level });
    }
    for (const { id } of this.options.sets ?? [])
      if (id !== still.set.id) found.push({ code: "range-set", id });
    found.push(...this.betweens(this.walker.lossOf(this.base)));
    return found.filter((one) => !this.bringsTooMuch(one));
  }

  /** As many calls as there are at even distances, where they are not, and more of them. */
  private moreCalls(): Means[] {
    const now = WEEK / this.every;
    const isEven = longestGap(this.base.calls, this.problem.from) < EVEN * this.every;
    return [1, 2, 3, 4, 5, 6, 7]
      .filter((aWeek) => aWeek > now + 0.25 || (!isEven && Math.abs(aWeek - now) <= 0.25))
      .map((aWeek) => ({ code: "calls", aWeek }));
  }

  /** Doses that carry chlorine from a little over its floor to the next, as far as they stay where people bathe. */
  private betweens(loss: number): Means[] {
    const { still } = this.problem;
    const { litres, goals, products } = still.input;
    const floor = goals.freeChlorine.low ?? goals.freeChlorine.aim;
    const allowed = LAYMAN_CHLORINE.filter((product) => this.options.laymen?.includes(product) ?? true);
    const own = allowed.filter((product) => products.some((one) => one.product === product));
    const longest = longestGap(this.base.calls, this.problem.from);
    return (own.length > 0 ? own : allowed).flatMap((product): Means[] => {
      const strength =
        this.walker.products.find((one) => one.product === product)?.strength ?? PRODUCTS[product].strength;
      return (still.setting.kind === "spa" ? [0.5, 1] : [1, 2, 3]).flatMap((everyDays): Means[] => {
        const least = Math.max(floor + TROUGH_OVER, floor * TROUGH_TIMES);
        const peak = least * Math.exp(loss * everyDays);
        if (everyDays >= longest || peak > Math.min(goals.mostChlorine, PEAK_MOST)) return [];
        const wanted = gramsFor({ product, strength }, peak - least, litres);
        const { grams } = measuredOut(product, wanted);
        // Half as much again as is wanted is no measure for it.
        return grams > MEASURE_OFF * wanted ? [] : [{ code: "between", product, strength, everyDays, grams }];
      });
    });
  }

  /** Stabiliser beyond its limit within four weeks: no way to go on. */
  private bringsTooMuch(one: Means): boolean {
    const brings =
      one.code === "floater" ||
      (one.code === "feeder" && one.kind === "tablets") ||
      (one.code === "between" && one.product === "dichlor");
    if (!brings) return false;
    const { high } = this.base.goals.cyanuricAcid;
    const { place } = this.base.goals.chlorineCloses;
    const most = high ?? (mayHoldStabiliser(place) ? Number.POSITIVE_INFINITY : 0);
    return mean(this.walk([one]).stabiliser) > most;
  }

  /** Two together, where one is not enough; and calls with the best two, where they are not. */
  together(ways: readonly Held[]): Held[] {
    const bests = new Map<string, Means>();
    for (const { means } of [...ways].sort((a, b) => b.right.value - a.right.value)) {
      const [one] = means;
      if (one && one.code !== "calls" && !bests.has(one.code)) bests.set(one.code, one);
    }
    const firsts = [...bests.values()];
    const pairs = firsts.flatMap((one, index) =>
      firsts.slice(index + 1).flatMap((other) => (goTogether(one, other) ? [this.held([one, other])] : [])),
    );
    const isPromising = (all: readonly Held[]) => all.some(({ right }) => right.value >= PROMISED);
    const calls = this.moreCalls();
    // From the widest spacing on, until it promises.
    const withCalls = (means: readonly Means[]): Held[] => {
      const found: Held[] = [];
      for (const every of calls) {
        found.push(this.held([...means, every]));
        if (isPromising(found)) break;
      }
      return found;
    };
    const found = [...pairs, ...firsts.flatMap((one) => withCalls([one]))];
    if (isPromising(found)) return found;
    const [best] = pairs.sort((a, b) => b.right.value - a.right.value);
    return best ? [...found, ...withCalls(best.means)] : found;
  }

  shortfall(): Shortfall | null {
    const { gaps, wanted } = this.walk([]);
    let worst: Shortfall | null = null;
    gaps.forEach(({ chlorine, under, hours }, index) => {
      const chance = under.at(-1) ?? 0;
      if (chance < SHORT_CHANCE || (worst && chance <= worst.chance)) return;
      const first = under.findIndex((share) => share >= SHORT_CHANCE);
      const floor = this.base.goals.freeChlorine.low ?? 0;
      worst = {
        day: ((first + 1) * hours) / 24,
        chance,
        by: floor - (chlorine.at(-1) ?? 0),
        days: (chlorine.length * hours) / 24,
        wanted: lasting(wanted[index] ?? 0),
        most: this.base.goals.freeChlorine.high,
      };
    });
    return worst;
  }

  private pricePerKg(kind: Exclude<Regime["feeder"], "none">): number {
    const { feeder, still } = this.problem;
    return feeder?.kind === kind ? feeder.pricePerKg : fedPrice(kind, still.input.products);
  }

  private priceOf({ product }: Between): number {
    return (
      this.walker.products.find((one) => one.product === product)?.pricePerKg ?? USUAL_PRICE[product] ?? 5
    );
  }
}

/** Money for a kilogram of what laymen are given, where the shelf does not say. */
const USUAL_PRICE: Partial<Record<Between["product"], number>> = {
  "sodium-hypochlorite": 1.4,
  "calcium-hypochlorite": 7.9,
  dichlor: 9.6,
};
const STABILISER_LEVELS = [30, 50, 70];
/** More calls up to the first spacing that promises enough, or the best where none does; of doses of one product the best rhythm. */
function worthTelling(ways: readonly Held[]): Held[] {
  const told: Held[] = [];
  const doses = new Map<string, Held>();
  const calls = ways.filter(({ means: [one] }) => one?.code === "calls");
  const first = calls.findIndex(({ right }) => right.value >= PROMISED);
  const [best] = [...calls].sort((a, b) => b.right.value - a.right.value);
  told.push(...(first >= 0 ? calls.slice(0, first + 1) : best ? [best] : []));
  for (const held of ways) {
    const [one] = held.means;
    if (one?.code === "between") {
      const before = doses.get(one.product);
      if (!before || isBetter(held, before)) doses.set(one.product, held);
    } else if (one?.code !== "calls") told.push(held);
  }
  return [...told, ...doses.values()];
}

/** Fewer doses are better where both promise enough; else what keeps the water right longer. */
const isBetter = (a: Held, b: Held): boolean =>
  a.right.value >= PROMISED && b.right.value >= PROMISED
    ? a.theirMinutes < b.theirMinutes
    : a.right.value > b.right.value;

const WEEK = 7;
/** The longest time between two calls over the mean of them. */
const EVEN = 1.3;
/** A setting that differs by less is as it is. */
const WORTH_SETTING = 0.1;
/** What stands when the next dose comes, over the floor, mg/L and times it: now and then one is forgotten. */
const TROUGH_OVER = 0.4;
const TROUGH_TIMES = 1.3;
/** The most that a dose may take it to, mg/L. */
const PEAK_MOST = 8;
const MEASURE_OFF = 1.6;

/** The calls of four weeks: those that are known, and then their distances over and over. */
function throughFourWeeks(from: number, calls: readonly number[]): number[] {
  const until = from + HOLD_DAYS * millisecondsInDay;
  const known = calls.filter((at) => at <= until + millisecondsInDay / 2);
  if (known.length === 0) return [until];
  const gaps = known.map((at, index) => at - (known[index - 1] ?? from));
  const all = [...known];
  for (let turn = 0; (all.at(-1) as number) < until - millisecondsInDay / 2; turn++)
    all.push((all.at(-1) as number) + (gaps[turn % gaps.length] as number));
  return all;
}

/** Chlorine that nobody would leave lasts no longer in words. mg/L */
const MOST_WANTED = 20;
const lasting = (wanted: number): number | null => (wanted > MOST_WANTED ? null : wanted);

const longestGap = (calls: readonly number[], from: number): number =>
  Math.max(...calls.map((at, index) => (at - (calls[index - 1] ?? from)) / millisecondsInDay));

function dosesOver({ calls }: Regime, from: number, everyDays: number): number {
  const all = calls.reduce(
    (sum, at, index) => sum + dosesIn((at - (calls[index - 1] ?? from)) / millisecondsInDay, everyDays),
    0,
  );
  return (all * MONTH) / HOLD_DAYS;
}

const deviceOf = (one: Means): number =>
  one.code === "feeder" && one.from === null
    ? DEVICE_A_MONTH[one.kind]
    : one.code === "floater" || one.code === "cover"
      ? DEVICE_A_MONTH[one.code]
      : 0;

const FEEDS: ReadonlySet<Means["code"]> = new Set(["feeder", "floater"]);
const goTogether = (one: Means, other: Means): boolean =>
  one.code !== other.code && !(FEEDS.has(one.code) && FEEDS.has(other.code));

function goalsIn(set: RangeSet, { still, outdoors }: HorizonProblem): Goals {
  const place = still.input.goals.chlorineCloses.place;
  return goalsOf({ ...set, place }, still.surface, still.input.water, null, {
    kind: still.setting.kind,
    outdoors,
  });
}

const mean = (values: Float64Array): number =>
  values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);

/** Mean of the draws, and the middle 90 % of them. */
function shareOf(values: Float64Array): Figure {
  const sorted = Float64Array.from(values).sort();
  const at = (share: number) => sorted[Math.round(share * (sorted.length - 1))] ?? 0;
  return { value: mean(values), low: at(0.05), high: at(0.95) };
}
