import type { StraightDrift } from "../../learning/straight-drift";
import { MILLI, TOTALS, UNKNOWNS } from "../../learning/unknowns";
import { carbonDioxideAtRest, carbonDioxideShare } from "../../products/effects";
import type { MolarEffect, ProductId } from "../../products/products";
import { mostAtATime, TRAITS, type Use } from "../../products/traits";
import { molar } from "../../water/molar";
import { activity } from "../../water/sample";
import type { Goal, Steered } from "../plan/goals";
import type { PlanInput } from "../plan/input";
import {
  chargeExpression,
  chargePerPh,
  type LinearTotals,
  type Reference,
  titratedExpression,
} from "../plan/linearise";
import { type Linear, linear, type Programme, plus } from "../plan/programme";
import { ACID_CHLORINE_MINUTES } from "../plan/steps";
import { halfWidth, MOLES, TEST_STEP } from "../plan/weighing";
import { type Ahead, FEEDER, LEAST_FED } from "./ahead";
import { type Allowed, movedBy } from "./allowed";
import { APART, portionsWithin, pouringMinutes } from "./clock";
import { RAISED } from "./raised";

/**
 * The programme of a plan over several calls. At each call five totals are found and five stand after what is
 * given; between calls they drift, straight about the course of the pass before. What each reading must hold
 * is linear at its limits, as for one still water.
 */

/** What one pass hands to the next. */
export interface Tangent {
  /** Of the water at each call, as it is found and after what is given. */
  found: Reference[];
  after: Reference[];
  aired: Reference[];
  /** One for each gap. */
  drifts: StraightDrift[];
  fed: number;
}

/** How far inside its limits a reading is to stand, so that it holds nine times in ten: at each call, as found and after. */
export type Margins = Record<Steered, { low: number; high: number }>;

/** Money, or its worth, for each cubic metre, as the still plan's; see `Weights`. */
export const HORIZON_WEIGHTS = {
  /** For opening a container today, and for setting the feeder anew. */
  product: 0.025,
  setting: 0.02,
  /** For half a range off the aim of what is steered, at each call. */
  offAim: 0.06,
  /** For a mmol/L of carbon dioxide driven out. */
  aired: 0.15,
  /** For half a range inside the limit but not surely so. */
  unsure: 0.6,
  /** The same for a pH that acid brings down today: a test would find it under, and somebody would pour the other way. */
  overshoot: 1000,
  /** The same for chlorine over its floor, which makes people ill, and for what is under it. */
  unsureFloor: 5,
  underFloor: 1000,
  outside: 8,
  outsideUnsafe: 200,
} as const;
export type HorizonWeights = { [name in keyof typeof HORIZON_WEIGHTS]: number };

export interface Asked {
  ahead: Ahead;
  input: PlanInput;
  weights: HorizonWeights;
  allowed: Allowed;
  /** Free chlorine to hold at each call, as found and after. */
  chlorine: { found: Goal[]; after: Goal[] };
  margins: { found: Margins[]; after: Margins[] };
  /** For today's pours; null for as long as it takes. */
  minutes: number | null;
  /** Most of each product today, g. */
  caps: ReadonlyMap<string, number>;
}

const LETTERS = ["a", "c", "h", "y", "f"] as const;

const airName = (call: number): string => `air${call}`;
const xName = (call: number, product: number): string => `x${call}_${product}`;
export const yName = (product: number): string => `y${product}`;

class Rows {
  readonly bounds = new Map<string, [number, number]>();
  readonly binaries: string[] = [];
  readonly rows: Programme["rows"] = [];
  private readonly prices = new Map<string, number>();
  private slacks = 0;

  variable(name: string, low: number, high: number, price = 0): Linear {
    this.bounds.set(name, [low, high]);
    if (price !== 0) this.prices.set(name, (this.prices.get(name) ?? 0) + price);
    return linear(0, { [name]: 1 });
  }

  row(expression: Linear, sense: "<=" | ">=" | "=", right = 0): void {
    this.rows.push({ expression, sense, right });
  }

  /** Holds an expression above a limit, at a price for each `scale` that it falls short. */
  above(expression: Linear, limit: Linear, scale: number, price: number): void {
    const slack = this.variable(`s${this.slacks++}`, 0, Number.POSITIVE_INFINITY, price);
    this.row(plus(plus(expression, limit, -1), slack, scale), ">=");
  }

  near(expression: Linear, aim: Linear, scale: number, price: number): void {
    this.above(expression, aim, scale, price);
    this.above(aim, expression, scale, price);
  }

  programme(): Programme {
    return {
      cost: linear(0, Object.fromEntries(this.prices)),
      rows: this.rows,
      bounds: this.bounds,
      binaries: this.binaries,
    };
  }
}

/** The readings that are held at every call but for pH and chlorine. */
const SLOW = ["totalAlkalinity", "calciumHardness", "cyanuricAcid"] as const;

export function horizonProgramme(asked: Asked, tangent: Tangent): Programme {
  const { ahead, input, weights, allowed } = asked;
  const { products, litres } = input;
  const calls = ahead.gaps.length + 1;
  const rows = new Rows();
  const node = (name: string): LinearTotals => ({
    alkalinity: linear(0, { [`${name}a`]: 1 }),
    inorganicCarbon: linear(0, { [`${name}c`]: 1 }),
    calcium: linear(0, { [`${name}h`]: 1 }),
    cyanurate: linear(0, { [`${name}y`]: 1 }),
    chlorine: linear(0, { [`${name}f`]: 1 }),
    borate: linear(MILLI * ahead.start.borate),
  });
  const declare = (name: string) => {
    for (const letter of LETTERS)
      rows.variable(name + letter, Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY);
  };
  const fed = ahead.problem.feeder;
  if (fed) {
    const now = ahead.problem.rates.feeder;
    const most = Math.max(now, fed.most);
    const days = ahead.days.reduce((sum, one) => sum + one, 0);
    rows.variable("u", 0, most, (fed.pricePerKg / 1000) * days);
    rows.variable("yu", 0, 1, weights.setting);
    rows.binaries.push("yu");
    // What gives enough is left as it is set.
    rows.row(linear(-now, { u: 1, yu: allowed.feeder.up ? -most : 0 }), "<=");
    rows.row(linear(now, { u: -1, yu: allowed.feeder.down ? -most : 0 }), "<=");
  }

  for (let call = 0; call < calls; call++) {
    const found = `p${call}`;
    const after = `q${call}`;
    declare(found);
    declare(after);
    TOTALS.forEach((name, row) => {
      const letter = LETTERS[row] as string;
      if (call === 0) rows.row(linear(-MILLI * ahead.start[name], { [found + letter]: 1 }), "=");
      else {
        // What the gap before makes of the water that was left, and of what it is fed.
        const { map, constant } = tangent.drifts[call - 1] as StraightDrift;
        const terms: Record<string, number> = { [found + letter]: 1 };
        TOTALS.forEach((_, column) => {
          const weight = map[row * UNKNOWNS + column] as number;
          if (weight !== 0) terms[`q${call - 1}${LETTERS[column]}`] = -weight;
          if (weight !== 0 && LETTERS[column] === "c" && rows.bounds.has(airName(call - 1)))
            terms[airName(call - 1)] = weight;
        });
        let rest = constant[row] as number;
        const along = map[row * UNKNOWNS + FEEDER] as number;
        if (fed && along !== 0) {
          // Straight in the logarithm there, straight in the amount here.
          const fedThen = Math.max(LEAST_FED, tangent.fed);
          terms.u = -along / fedThen;
          rest += along * Math.log(fedThen) - along;
        }
        rows.row(linear(-rest, terms), "=");
      }
      const terms: Record<string, number> = { [after + letter]: 1, [found + letter]: -1 };
      products.forEach((_, index) => {
        const effect = ahead.effects[index]?.[name] ?? 0;
        if (effect !== 0 && mayPour(asked, call, index)) terms[xName(call, index)] = -effect;
      });
      rows.row(linear(0, terms), "=");
    });
    pours(rows, asked, call);
    hold(rows, asked, node(found), node(after), tangent, call);
    if (allowed.air && call < ahead.gaps.length) air(rows, asked, node(after), tangent.aired[call], call);
  }
  products.forEach(({ stock }, index) => {
    if (stock === null) return;
    const poured = Array.from({ length: calls }, (_, call) => xName(call, index)).filter((name) =>
      rows.bounds.has(name),
    );
    if (poured.length > 0)
      rows.row(
        linear(0, Object.fromEntries(poured.map((name) => [name, 1]))),
        "<=",
        (stock * MILLI) / litres,
      );
  });
  together(rows, asked, calls);
  return rows.programme();
}

/** Air after a call: carbon dioxide out until the pH is up, and no further than what air holds itself. */
function air(
  rows: Rows,
  { input, weights }: Asked,
  after: LinearTotals,
  at: Reference | undefined,
  call: number,
): void {
  if (!at) return;
  const blown = rows.variable(airName(call), 0, MOST_AIR, weights.aired);
  const totals = { ...after, inorganicCarbon: plus(after.inorganicCarbon, blown, -1) };
  const { ph } = input.goals;
  // A water that stands there already is only not aired.
  if (ph.high !== null) {
    const top = ph.high - AIR_SHORT;
    const scale = Math.abs(halfWidth("ph", ph) * chargePerPh(at, top));
    rows.above(chargeExpression(at, totals, top), totals.alkalinity, scale, weights.outside);
  }
  const share = carbonDioxideShare(at.conditions, activity(at.ph));
  const rest = linear(MILLI * carbonDioxideAtRest(at.totals.temperature));
  rows.above(plus(linear(0), totals.inorganicCarbon, share), rest, AIR_SCALE, weights.outside);
}

/** Carbon dioxide by which what air cannot take is measured. mmol/L */
const AIR_SCALE = 0.01;
/** A night of air drives out no more. mmol/L */
const MOST_AIR = 0.6;
/** Air stops so far short of the pH's limit. */
const AIR_SHORT = 0.05;

/** What all calls together may move a total by. */
function together(rows: Rows, { ahead, input, allowed }: Asked, calls: number): void {
  for (const [use, limit] of allowed.most) {
    if (!Number.isFinite(limit.together)) continue;
    const terms: Record<string, number> = {};
    input.products.forEach(({ product }, index) => {
      const effect = ahead.effects[index];
      if (TRAITS[product].use !== use || !effect) return;
      for (let call = 0; call < calls; call++)
        if (rows.bounds.has(xName(call, index))) terms[xName(call, index)] = movedBy(use, effect);
    });
    if (Object.keys(terms).length > 0) rows.row(linear(0, terms), "<=", limit.together);
  }
}

const mayPour = ({ allowed }: Asked, call: number, index: number): boolean =>
  (call === 0 ? allowed.now : allowed.later).has(index);

/** Variables of what is poured at one call, and the rules that hold for it whatever the water. */
function pours(rows: Rows, asked: Asked, call: number): void {
  const { ahead, input, weights, allowed, caps, minutes } = asked;
  const times: PourTime[] = [];
  const { products, litres } = input;
  const byUse = new Map<Use, string[]>();
  // What the last of the calls would give serves what comes after it: nothing that is looked at.
  const isLast = call === ahead.gaps.length && call > 0;
  products.forEach(({ key, product, pricePerKg }, index) => {
    const { use } = TRAITS[product];
    const effect = ahead.effects[index];
    const limit = use && allowed.most.get(use);
    if (!use || !effect || !limit || !(call === 0 ? allowed.now : allowed.later).has(index)) return;
    const moved = movedBy(use, effect);
    const cap = call === 0 ? (caps.get(key) ?? Number.POSITIVE_INFINITY) : Number.POSITIVE_INFINITY;
    const most = Math.max(0, Math.min(limit.aCall / moved, (cap * MILLI) / litres));
    const name = xName(call, index);
    rows.variable(name, 0, isLast ? 0 : most, pricePerKg / MILLI);
    if (call > 0) return;
    const chosen = yName(index);
    rows.variable(chosen, 0, 1, weights.product);
    rows.binaries.push(chosen);
    rows.row(linear(0, { [name]: 1, [chosen]: -Math.max(most, 1e-5) }), "<=");
    rows.row(linear(0, { [name]: 1, [chosen]: -leastOf(use, effect, allowed.phStep) }), ">=");
    byUse.set(use, [...(byUse.get(use) ?? []), chosen]);
    if (minutes !== null) times.push(portionsIn(rows, input, index, { name, chosen, most, minutes }));
  });
  if (minutes !== null && call === 0)
    withinTheMinutes(rows, times, minutes, ahead.problem.still.setting.kind);
  for (const names of [...byUse.values(), [...(byUse.get("acid") ?? []), ...(byUse.get("base") ?? [])]])
    if (names.length > 1) rows.row(linear(0, Object.fromEntries(names.map((name) => [name, 1]))), "<=", 1);
}

/** How many portions of a product are poured, as a sum of yes and no, and how long each takes. */
interface PourTime {
  portions: string[];
  takes: number;
  product: ProductId;
}

/** No call has more portions of one product than these. */
const MOST_PORTIONS = 4;

/** A product in portions: each further one only after the one before. */
function portionsIn(
  rows: Rows,
  { products, litres }: PlanInput,
  index: number,
  { name, chosen, most, minutes }: { name: string; chosen: string; most: number; minutes: number },
): PourTime {
  const product = products[index] as PlanInput["products"][number];
  const portion = (mostAtATime(product, litres) * MILLI) / litres;
  const { how } = TRAITS[product.product];
  const count = Math.min(MOST_PORTIONS, portionsWithin(minutes, how), Math.max(1, Math.ceil(most / portion)));
  const portions = [chosen];
  for (let place = 2; place <= count; place++) {
    const next = `${chosen}_${place}`;
    rows.variable(next, 0, 1);
    rows.binaries.push(next);
    rows.row(linear(0, { [next]: 1, [portions[place - 2] as string]: -1 }), "<=");
    portions.push(next);
  }
  rows.row(
    linear(0, { [name]: 1, ...Object.fromEntries(portions.map((one) => [one, -Math.max(portion, 1e-5)])) }),
    "<=",
  );
  if (count === 0) rows.row(linear(0, { [chosen]: 1 }), "<=");
  return { portions, takes: pouringMinutes({ how }), product: product.product };
}

/**
 * The minutes of a call. What must keep half an hour apart makes a chain: acid and chlorine, one portion and the
 * next, calcium and carbonate; and all of it together keeps as far apart as anything does.
 */
function withinTheMinutes(
  rows: Rows,
  times: readonly PourTime[],
  minutes: number,
  kind: "pool" | "spa",
): void {
  const chain = (members: readonly PourTime[], apart: number) => {
    if (members.length === 0) return;
    const terms: Record<string, number> = {};
    for (const { portions, takes } of members) for (const one of portions) terms[one] = takes + apart;
    rows.row(linear(0, terms), "<=", minutes + apart);
  };
  const of = (...uses: Use[]) =>
    times.filter(({ product }) => {
      const { use } = TRAITS[product];
      return use !== null && uses.includes(use);
    });
  chain(of("acid", "chlorine", "base"), ACID_CHLORINE_MINUTES);
  chain(of("calcium", "alkalinity", "base"), ACID_CHLORINE_MINUTES);
  for (const one of times) chain([one], ACID_CHLORINE_MINUTES);
  chain(
    times.filter(({ product }) => TRAITS[product].how !== "in-a-sock"),
    APART[kind],
  );
}

/** The least of a product that its test sees, mg/L as sold. */
export function leastOf(use: Use, effect: MolarEffect, phStep: number): number {
  const raised = RAISED[use];
  const step = raised ? MILLI * MOLES[raised](TEST_STEP[raised]) : Math.abs(phStep);
  return step / movedBy(use, effect);
}

/** What each reading must hold at a call: where it is found, but for the first, and where it is left. */
function hold(
  rows: Rows,
  asked: Asked,
  found: LinearTotals,
  after: LinearTotals,
  tangent: Tangent,
  call: number,
): void {
  const { input, weights, chlorine, margins, ahead } = asked;
  const { goals, water } = input;
  const isLast = call === ahead.gaps.length;
  const sides = [
    ...(call > 0
      ? [{ totals: found, at: tangent.found[call], goal: chlorine.found[call], margin: margins.found[call] }]
      : []),
    // Where the last call leaves the water nobody looks, unless it is the only one.
    ...(isLast && call > 0
      ? []
      : [
          { totals: after, at: tangent.after[call], goal: chlorine.after[call], margin: margins.after[call] },
        ]),
  ];
  for (const { totals, at, goal, margin } of sides) {
    if (!at || !goal || !margin) continue;
    holdPh(rows, weights, goals.ph, totals, at, margin.ph);
    if (totals === after && call === 0) holdAcid(rows, asked, totals, at, margin.ph.low);
    const scale = MILLI * molar.chlorine(halfWidth("freeChlorine", goal));
    const level = (value: number) => linear(MILLI * molar.chlorine(value));
    if (goal.known && goal.low !== null) {
      rows.above(totals.chlorine, level(goal.low), scale, weights.underFloor);
      rows.above(totals.chlorine, level(goal.low + margin.freeChlorine.low), scale, weights.unsureFloor);
    }
    if (goal.known && goal.high !== null) {
      rows.above(level(goal.high), totals.chlorine, scale, weights.outsideUnsafe);
      rows.above(level(goal.high - margin.freeChlorine.high), totals.chlorine, scale, weights.unsure);
    }
    if (
      totals === after &&
      call === 0 &&
      !ahead.problem.feeder &&
      goal.known &&
      goal.steer &&
      water.freeChlorine < goal.aim
    )
      rows.near(totals.chlorine, level(goal.aim), scale, weights.offAim);
  }
  // The slow ones are looked at where they are found; the first call's doses count at the second.
  const slow = call > 0 ? found : isLast ? after : null;
  const reference = call > 0 ? tangent.found[call] : tangent.after[call];
  const margin = call > 0 ? margins.found[call] : margins.after[call];
  if (!slow || !reference || !margin) return;
  const expressions = {
    totalAlkalinity: titratedExpression(reference, slow),
    calciumHardness: slow.calcium,
    cyanuricAcid: slow.cyanurate,
  };
  for (const quantity of SLOW) {
    const goal = goals[quantity];
    if (!goal.known) continue;
    const expression = expressions[quantity];
    const scale = MILLI * MOLES[quantity](halfWidth(quantity, goal));
    const level = (value: number) => linear(MILLI * MOLES[quantity](value));
    if (goal.low !== null) {
      rows.above(expression, level(goal.low), scale, weights.outside);
      if (goal.steer) rows.above(expression, level(goal.low + margin[quantity].low), scale, weights.unsure);
    }
    if (goal.high !== null) {
      rows.above(level(goal.high), expression, scale, weights.outside);
      if (goal.steer) rows.above(level(goal.high - margin[quantity].high), expression, scale, weights.unsure);
    }
    if (goal.steer) rows.near(expression, level(goal.aim), scale, weights.offAim);
  }
}

function holdPh(
  rows: Rows,
  weights: HorizonWeights,
  goal: Goal,
  totals: LinearTotals,
  at: Reference,
  { low, high }: { low: number; high: number },
): void {
  if (!goal.known) return;
  const chargeTo = (value: number) => chargeExpression(at, totals, value);
  const scale = (value: number) => Math.abs(halfWidth("ph", goal) * chargePerPh(at, value));
  const under = (limit: number, price: number) =>
    rows.above(chargeTo(limit), totals.alkalinity, scale(limit), price);
  const over = (limit: number, price: number) =>
    rows.above(totals.alkalinity, chargeTo(limit), scale(limit), price);
  if (goal.low !== null) {
    over(goal.low, weights.outsideUnsafe);
    over(Math.min(goal.low + low, goal.aim), weights.unsure);
  }
  if (goal.high !== null) {
    under(goal.high, weights.outsideUnsafe);
    under(Math.max(goal.high - high, goal.aim), weights.unsure);
  }
}

/** Acid goes in only as far as the pH is surely over its limit afterwards; the rest is for a later call. */
function holdAcid(
  rows: Rows,
  { weights, input, allowed }: Asked,
  after: LinearTotals,
  at: Reference,
  margin: number,
): void {
  const limit = overshootLimit(input, margin, true);
  const limitWithout = overshootLimit(input, margin, false);
  if (limit === null || limitWithout === null) return;
  const perPh = chargePerPh(at, limit);
  const opened = input.products.flatMap(({ product }, index) =>
    TRAITS[product].use === "acid" && allowed.now.has(index) ? [yName(index)] : [],
  );
  const more = linear(0, Object.fromEntries(opened.map((name) => [name, perPh * (limit - limitWithout)])));
  rows.above(
    after.alkalinity,
    plus(chargeExpression(at, after, limitWithout), more),
    Math.abs(halfWidth("ph", input.goals.ph) * perPh),
    weights.overshoot,
  );
}

/**
 * The lowest pH that today's pours may leave: so far over its limit that it holds nine times in ten. Where it
 * stands lower already no acid brings it down, and nothing else by more than its test sees.
 * @example overshootLimit(input, 0.15, true) // 7.35
 */
export function overshootLimit(
  { goals: { ph }, water }: PlanInput,
  margin: number,
  isAcidGiven: boolean,
): number | null {
  if (!ph.known || ph.low === null) return null;
  return Math.min(ph.low + margin, isAcidGiven ? water.ph : water.ph - TEST_STEP.ph);
}

/** A product's own charge on the price list. */
export const priceOf = (grams: ReadonlyMap<string, number>, { products }: PlanInput): number =>
  products.reduce((sum, { key, pricePerKg }) => sum + ((grams.get(key) ?? 0) / MILLI) * pricePerKg, 0);
