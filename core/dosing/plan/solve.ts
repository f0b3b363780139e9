import { InputFault } from "../../fault";
import { basinLitres } from "../../measure/units";
import { freeChlorineFor } from "../../water/chlorine";
import { readingsOf } from "../../water/equilibrium";
import { asRead, molar } from "../../water/molar";
import { activity, type Sample, type Totals, totalsOf } from "../../water/sample";
import { saturation } from "../../water/saturation";
import { CARBON_DIOXIDE_AT_REST } from "../effects";
import { effectPerGram, type MolarEffect } from "../products";
import { type Goal, STEERED, type Steered } from "./goals";
import type { PlanInput, PlanProduct } from "./input";
import {
  chargeExpression,
  chargePerPh,
  heldExpression,
  type LinearTotals,
  type Reference,
  referenceOf,
  titratedExpression,
} from "./linearise";
import { type Linear, linear, lpText, type Programme, plus, type Solver } from "./programme";

/** What a plan does to the water. */
export interface Amounts {
  /** Grams as sold, by the product's key; only what is used. */
  grams: ReadonlyMap<string, number>;
  /** Share of the water replaced first. */
  replaced: number;
  /** Carbon dioxide driven out by air, mmol/L. */
  aerated: number;
}

export interface Solved {
  amounts: Amounts;
  /** The readings after it, by the full equilibrium. */
  after: Sample;
  saturation: number;
  /** Money for what goes in. */
  cost: number;
  /** Cost with everything that is weighed against it; what the search made least. */
  score: number;
  /** Readings that end outside their limits: as near as these products can bring them. */
  missed: { quantity: Steered; limit: number; value: number }[];
  passes: number;
}

const MOST_PASSES = 8;
/** A plan is settled when its pH comes out where the last pass took it for. */
const SETTLED_PH = 1e-6;
/** Less than this much of a product, mg/L, is none. */
const NONE = 1e-5;

const CONSERVED = ["alkalinity", "inorganicCarbon", "calcium", "cyanurate", "chlorine", "borate"] as const;
type Conserved = (typeof CONSERVED)[number];

/** The water after these amounts: replaced, dosed, aerated; nothing spent. Independent of the programme. */
export function waterAfter(
  input: Pick<PlanInput, "water" | "litres" | "products" | "fill">,
  amounts: Amounts,
): Totals {
  const totals = totalsOf(input.water);
  if (amounts.replaced > 0 && input.fill) {
    const fill = totalsOf(input.fill);
    for (const key of [...CONSERVED, "totalDissolvedSolids"] as const)
      totals[key] += amounts.replaced * (fill[key] - totals[key]);
  }
  for (const product of input.products) {
    const grams = amounts.grams.get(product.key) ?? 0;
    if (grams === 0) continue;
    const effect = effectPerGram(product);
    for (const key of CONSERVED) totals[key] += (effect[key] * grams) / input.litres;
    totals.totalDissolvedSolids += (effect.dissolved * grams * 1000) / input.litres;
  }
  totals.inorganicCarbon -= amounts.aerated / 1000;
  return totals;
}

/**
 * The plan of least cost that brings every reading to its goal at once. Passes of a mixed-integer
 * linear programme, each tangent at the water that the pass before came to, until they agree; then
 * the full equilibrium says what comes of it.
 *
 * @throws InputFault for a water, a volume or a product off its limits
 */
export function solvePlan(input: PlanInput, solver: Solver): Solved {
  const litres = basinLitres("litres", input.litres);
  const start = totalsOf(input.water);
  const effects = input.products.map((product) => effectPerGram(product));
  let reference = referenceOf(
    { ...start, chlorine: Math.max(start.chlorine, molar.chlorine(input.goals.freeChlorine.aim)) },
    input.goals.ph.aim,
  );
  let best: { amounts: Amounts; after: Sample } | null = null;
  let chosen = "";
  let fixed: ReadonlyMap<string, number> | null = null;
  let passes = 0;
  while (passes < MOST_PASSES) {
    passes++;
    const programme = programmeOf(input, litres, start, effects, reference);
    // Once two passes have chosen the same products, the rest is how much of each.
    const values = solver(lpText(fixed ? withChoice(programme, fixed) : programme));
    if (!values) throw new InputFault("inconsistent", "plan", "no solution");
    const amounts = amountsOf(input.products, litres, values);
    const totals = waterAfter(input, amounts);
    const after = readingsOf(totals);
    const settled = Math.abs(after.ph - reference.ph) < SETTLED_PH;
    best = { amounts, after };
    if (settled) break;
    const choice = programme.binaries.filter((name) => (values.get(name) ?? 0) > 0.5).join(" ");
    if (!fixed && choice === chosen) fixed = values;
    chosen = choice;
    reference = referenceOf(totals, after.ph);
  }
  if (!best) throw new InputFault("inconsistent", "plan", passes);
  return { ...judged(input, best.amounts, best.after), passes };
}

/** The programme with its yes and no taken as settled: what is left is linear, and quickly solved. */
function withChoice(programme: Programme, values: ReadonlyMap<string, number>): Programme {
  const bounds = new Map(programme.bounds);
  for (const name of programme.binaries) {
    const is = (values.get(name) ?? 0) > 0.5 ? 1 : 0;
    bounds.set(name, [is, is]);
  }
  return { ...programme, bounds, binaries: [] };
}

function amountsOf(
  products: readonly PlanProduct[],
  litres: number,
  values: ReadonlyMap<string, number>,
): Amounts {
  const grams = new Map<string, number>();
  products.forEach((product, index) => {
    const perLitre = values.get(`x${index}`) ?? 0;
    if (perLitre > NONE) grams.set(product.key, (perLitre * litres) / 1000);
  });
  const some = (name: string) => {
    const value = values.get(name) ?? 0;
    return value > 1e-7 ? value : 0;
  };
  return { grams, replaced: some("f"), aerated: some("a") };
}

const USUAL_HALF_WIDTH: Record<Steered, number> = {
  ph: 0.3,
  totalAlkalinity: 20,
  calciumHardness: 75,
  cyanuricAcid: 10,
  freeChlorine: 1.5,
};

/** Half the width of a goal, by which distances are measured. */
export function halfWidth(quantity: Steered, { low, high, aim }: Goal): number {
  if (low !== null && high !== null) return (high - low) / 2;
  if (low !== null || high !== null)
    return Math.max(1e-6, Math.abs((low ?? high ?? 0) - aim), 0.25 * Math.abs(aim));
  return USUAL_HALF_WIDTH[quantity];
}

/** Money and everything that is weighed against it, of amounts and the water they come to. */
export function judged(input: PlanInput, amounts: Amounts, after: Sample): Omit<Solved, "passes"> {
  const { goals, weights, products, litres, water } = input;
  let cost = 0;
  let score = 0;
  for (const product of products) {
    const grams = amounts.grams.get(product.key) ?? 0;
    if (grams === 0) continue;
    cost += (grams / 1000) * product.pricePerKg;
    score += weights.product;
  }
  if (amounts.replaced > 0)
    score += weights.replacing + (weights.replacedCubicMetre * amounts.replaced * litres) / 1000;
  if (amounts.aerated > 0) score += weights.aerating + weights.aeratedMillimole * amounts.aerated;
  score += cost;
  const missed: Solved["missed"] = [];
  for (const quantity of STEERED) {
    const goal = quantity === "freeChlorine" ? chlorineGoal(input, after) : goals[quantity];
    const half = halfWidth(quantity, goal);
    const value = after[quantity];
    const under = goal.low === null ? 0 : Math.max(0, goal.low - value);
    const over = goal.high === null ? 0 : Math.max(0, value - goal.high);
    const off = under + over;
    if (off > 1e-4 * half)
      missed.push({ quantity, limit: under > 0 ? (goal.low ?? 0) : (goal.high ?? 0), value });
    score +=
      priceOutside(weights, quantity) * (off / half) +
      aimWeight(input, quantity, goal, water[quantity]) * (Math.abs(value - goal.aim) / half);
  }
  return { amounts, after, saturation: saturation(after).full.corrected, cost, score, missed };
}

/** pH and chlorine outside their limits hurt people: no other reading is worth either. */
const priceOutside = (weights: PlanInput["weights"], quantity: Steered): number =>
  quantity === "ph" || quantity === "freeChlorine" ? weights.outsideUnsafe : weights.outside;

/** A reading that lies inside its limits is steered to its aim by less. */
function aimWeight({ weights, litres }: PlanInput, quantity: Steered, goal: Goal, now: number): number {
  const outside = (goal.low !== null && now < goal.low) || (goal.high !== null && now > goal.high);
  // pH moves with everything: it is always brought to its aim as far as that costs little.
  const weight = outside || quantity === "ph" ? weights.offAim : weights.offAimInside;
  return (weight * litres) / 1000;
}

/**
 * Where free chlorine is to end, mg/L, in a water of this pH and stabiliser: its band, or what holds
 * the acid that kills. Chlorine that is over already falls by itself: it is kept from rising.
 */
function chlorineGoal({ goals, water }: PlanInput, holding: Sample): Goal {
  const acid = goals.hypochlorousAcid;
  const free = (limit: number | null) => (limit === null ? null : freeChlorineFor(limit, holding));
  const told = acid
    ? { low: free(acid.low), high: free(acid.high), aim: free(acid.aim) ?? goals.freeChlorine.aim }
    : goals.freeChlorine;
  return told.high !== null && water.freeChlorine > told.high
    ? { low: told.low, high: water.freeChlorine, aim: water.freeChlorine }
    : told;
}

/** The most of a product that any plan needs: it moves no total by more than this, mmol/L. */
const MOST_MOVED = 12;

function programmeOf(
  input: PlanInput,
  litres: number,
  start: Totals,
  effects: readonly MolarEffect[],
  reference: Reference,
): Programme {
  const { goals, weights, products, fill } = input;
  const bounds = new Map<string, [number, number]>();
  const binaries: string[] = [];
  const rows: Programme["rows"] = [];
  let cost = linear(0);
  const add = (name: string, price: number) => {
    cost = plus(cost, linear(0, { [name]: price }));
  };
  const fillTotals = fill ? totalsOf(fill) : null;
  const mayReplace = fillTotals !== null && input.mostReplaced > 0;

  const total = (key: Conserved): Linear => {
    const terms: Record<string, number> = {};
    effects.forEach((effect, index) => {
      if (effect[key] !== 0) terms[`x${index}`] = effect[key];
    });
    if (mayReplace) terms.f = 1000 * (fillTotals[key] - start[key]);
    if (key === "inorganicCarbon" && input.aeration) terms.a = -1;
    return linear(1000 * start[key], terms);
  };
  const totals = Object.fromEntries(CONSERVED.map((key) => [key, total(key)])) as unknown as LinearTotals;

  products.forEach((product, index) => {
    const effect = effects[index] as MolarEffect;
    const strongest = Math.max(...CONSERVED.map((key) => Math.abs(effect[key])));
    const most = Math.min(
      MOST_MOVED / strongest,
      product.stock === null ? Infinity : (product.stock * 1000) / litres,
    );
    bounds.set(`x${index}`, [0, Math.max(0, most)]);
    binaries.push(`y${index}`);
    rows.push({
      expression: linear(0, { [`x${index}`]: 1, [`y${index}`]: -Math.max(most, NONE) }),
      sense: "<=",
      right: 0,
    });
    add(`x${index}`, (product.pricePerKg * litres) / 1e6);
    add(`y${index}`, weights.product);
  });
  if (mayReplace) {
    bounds.set("f", [0, input.mostReplaced]);
    binaries.push("yf");
    rows.push({ expression: linear(0, { f: 1, yf: -input.mostReplaced }), sense: "<=", right: 0 });
    add("f", (weights.replacedCubicMetre * litres) / 1000);
    add("yf", weights.replacing);
  }
  if (input.aeration) {
    bounds.set("a", [0, MOST_MOVED]);
    binaries.push("ya");
    rows.push({ expression: linear(0, { a: 1, ya: -MOST_MOVED }), sense: "<=", right: 0 });
    add("a", weights.aeratedMillimole);
    add("ya", weights.aerating);
    // Air takes carbon dioxide down to what it holds itself, and no further.
    const h = activity(reference.ph);
    const { k1, k2 } = reference.conditions;
    const dissolved = 1 / (1 + k1 / h + (k1 * k2) / (h * h));
    const rest = 1000 * CARBON_DIOXIDE_AT_REST;
    const gone = plus(linear(-rest), totals.inorganicCarbon, dissolved);
    // Not asked of a water that has less than that already.
    if (1000 * start.inorganicCarbon * dissolved > rest)
      rows.push({
        expression: plus(gone, linear(0, { ya: -MOST_MOVED, slackAir: 1 })),
        sense: ">=",
        right: -MOST_MOVED,
      });
    bounds.set("slackAir", [0, MOST_MOVED]);
    add("slackAir", weights.outside);
  }

  /** Holds an expression above a limit, at a price for falling short. `scale` is half the goal's width in its unit. */
  const above = (
    expression: Linear,
    limit: Linear,
    scale: number,
    name: string,
    dear: number = weights.outside,
  ) => {
    bounds.set(name, [0, Infinity]);
    add(name, dear);
    rows.push({
      expression: plus(plus(expression, limit, -1), linear(0, { [name]: scale })),
      sense: ">=",
      right: 0,
    });
  };
  /** Steers an expression to its aim. */
  const near = (expression: Linear, aim: Linear, scale: number, name: string, weight: number) => {
    for (const side of ["u", "o"]) {
      bounds.set(name + side, [0, Infinity]);
      add(name + side, weight);
    }
    rows.push({
      expression: plus(plus(expression, aim, -1), linear(0, { [`${name}u`]: scale, [`${name}o`]: -scale })),
      sense: "=",
      right: 0,
    });
  };

  // pH: at each limit the charge there must not pass, or must reach, the alkalinity.
  const { ph } = goals;
  const chargeTo = (value: number) => chargeExpression(reference, totals, value);
  const phScale = (value: number) => halfWidth("ph", ph) * chargePerPh(reference, value);
  if (ph.low !== null)
    above(totals.alkalinity, chargeTo(ph.low), phScale(ph.low), "phLow", weights.outsideUnsafe);
  if (ph.high !== null)
    above(chargeTo(ph.high), totals.alkalinity, phScale(ph.high), "phHigh", weights.outsideUnsafe);
  near(
    totals.alkalinity,
    chargeTo(ph.aim),
    phScale(ph.aim),
    "phAim",
    aimWeight(input, "ph", ph, input.water.ph),
  );

  const steer = (quantity: Steered, expression: Linear, moles: (read: number) => number) => {
    const goal = goals[quantity];
    const scale = 1000 * moles(halfWidth(quantity, goal));
    const at = (value: number) => linear(1000 * moles(value));
    if (goal.low !== null) above(expression, at(goal.low), scale, `${quantity}Low`);
    if (goal.high !== null) above(at(goal.high), expression, scale, `${quantity}High`);
    near(
      expression,
      at(goal.aim),
      scale,
      `${quantity}Aim`,
      aimWeight(input, quantity, goal, input.water[quantity]),
    );
  };
  steer("totalAlkalinity", titratedExpression(reference, totals), molar.alkalinity);
  steer("calciumHardness", totals.calcium, molar.calcium);
  steer("cyanuricAcid", totals.cyanurate, molar.cyanurate);
  steerChlorine(input, totals, reference, above, near);
  return { cost, rows, bounds, binaries };
}

function steerChlorine(
  input: PlanInput,
  totals: LinearTotals,
  reference: Reference,
  above: (expression: Linear, limit: Linear, scale: number, name: string, dear: number) => void,
  near: (expression: Linear, aim: Linear, scale: number, name: string, weight: number) => void,
): void {
  const acid = input.goals.hypochlorousAcid;
  const goal = chlorineGoal(input, {
    ...input.water,
    ph: reference.ph,
    cyanuricAcid: asRead.cyanurate(reference.cyanurate),
  });
  const overAlready = goal.high === input.water.freeChlorine;
  const scale = 1000 * molar.chlorine(halfWidth("freeChlorine", goal));
  const weight = aimWeight(input, "freeChlorine", goal, input.water.freeChlorine);
  const unsafe = input.weights.outsideUnsafe;
  const at = (value: number, killing: number | null | undefined): Linear =>
    acid && !overAlready && killing !== null && killing !== undefined
      ? heldExpression(reference, totals, molar.chlorine(killing))
      : linear(1000 * molar.chlorine(value));
  if (goal.low !== null) above(totals.chlorine, at(goal.low, acid?.low), scale, "freeChlorineLow", unsafe);
  if (goal.high !== null)
    above(at(goal.high, acid?.high), totals.chlorine, scale, "freeChlorineHigh", unsafe);
  near(totals.chlorine, at(goal.aim, acid?.aim), scale, "freeChlorineAim", weight);
}
