import { InputFault } from "../../fault";
import { basinLitres } from "../../measure/units";
import { freeChlorineFor } from "../../water/chlorine";
import { readingsOf } from "../../water/equilibrium";
import { asRead, molar } from "../../water/molar";
import { activity, type Sample, type Totals, totalsOf } from "../../water/sample";
import { saturation } from "../../water/saturation";
import { CONSERVED, carbonDioxideAtRest, carbonDioxideShare } from "../effects";
import { effectPerGram, type MolarEffect } from "../products";
import { TRAITS, type Use } from "../traits";
import { type Amounts, waterAfter } from "./amounts";
import { choosable } from "./choosable";
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
  /** Whether the passes agreed; the best of them is given where they did not. */
  settled: boolean;
}

const MOST_PASSES = 8;
/** A plan is settled when its pH comes out where the last pass took it for. */
const SETTLED_PH = 1e-6;
/** Less than this much of a product, mg/L, is none. */
const NONE = 1e-5;

/**
 * The plan of least cost that brings every reading to its goal at once. Passes of a mixed-integer
 * linear programme, each tangent at the water that the pass before came to, until they agree; then
 * the full equilibrium says what comes of it.
 *
 * @throws InputFault for a water, a volume or a product off its limits
 */
export function solvePlan(asked: PlanInput, solver: Solver): Solved {
  const input = heldInside({ ...asked, products: choosable(asked), mostReplaced: replaceable(asked) });
  const told = { ...input, goals: asked.goals };
  const litres = basinLitres("litres", input.litres);
  const start = totalsOf(input.water);
  const effects = input.products.map((product) => effectPerGram(product));
  let reference = referenceOf(
    { ...start, chlorine: Math.max(start.chlorine, molar.chlorine(input.goals.freeChlorine.aim)) },
    input.goals.ph.aim,
  );
  let best: Omit<Solved, "passes" | "settled"> | null = null;
  let chosen = "";
  let fixed: ReadonlyMap<string, number> | null = null;
  for (let passes = 1; ; passes++) {
    const programme = programmeOf(input, litres, start, effects, reference);
    // Once two passes have chosen the same products, the rest is how much of each.
    const values: ReadonlyMap<string, number> | null = solver(
      lpText(fixed ? withChoice(programme, fixed) : programme),
    );
    if (!values) {
      if (!fixed) throw new InputFault("inconsistent", "plan", "no solution");
      // What was chosen at the last water cannot be at this one: choose anew.
      fixed = null;
      chosen = "";
      if (passes < MOST_PASSES) continue;
    }
    if (values) {
      const amounts = amountsOf(input.products, litres, values);
      const totals = waterAfter(input, amounts);
      const after = readingsOf(totals);
      const found = judged(input, amounts, after);
      const settled = Math.abs(after.ph - reference.ph) < SETTLED_PH;
      if (settled) return { ...judged(told, amounts, after), passes, settled };
      if (!best || found.score < best.score) best = found;
      const choice = programme.binaries.filter((name) => (values.get(name) ?? 0) > 0.5).join(" ");
      if (!fixed && choice === chosen) fixed = values;
      chosen = choice;
      reference = referenceOf(totals, after.ph);
    }
    if (passes < MOST_PASSES) continue;
    if (!best) throw new InputFault("inconsistent", "plan", passes);
    return { ...judged(told, best.amounts, best.after), passes, settled: false };
  }
}

/**
 * A pH that was inside its limits ends a step of its test inside them, or where it was: what is dosed for
 * the others does not leave it at the edge.
 */
export function heldInside(input: PlanInput): PlanInput {
  const { ph } = input.goals;
  const now = input.water.ph;
  if (ph.steer || !ph.known || ph.low === null || ph.high === null) return input;
  if (ph.high - ph.low <= 2 * TEST_STEP.ph) return input;
  const low = Math.max(ph.low, Math.min(now, ph.low + TEST_STEP.ph));
  const high = Math.min(ph.high, Math.max(now, ph.high - TEST_STEP.ph));
  return { ...input, goals: { ...input.goals, ph: { ...ph, low, high } } };
}

/** Less than a tenth of the water is not drained for. */
export const LEAST_REPLACED = 0.1;

/**
 * The share of the water that may be replaced: as much as brings down what nothing else does, and not
 * a litre for what a bottle of acid would mend.
 */
function replaceable({ goals, water, fill, mostReplaced }: PlanInput): number {
  if (!fill) return 0;
  const shares = (["calciumHardness", "cyanuricAcid"] as const).map((quantity) => {
    const { steer, high } = goals[quantity];
    if (!steer || high === null || water[quantity] <= high) return 0;
    // Water that is hardly better would have to be replaced whole.
    return fill[quantity] >= high ? 0 : (water[quantity] - high) / (water[quantity] - fill[quantity]);
  });
  const needed = Math.max(0, ...shares);
  return needed === 0 || mostReplaced < LEAST_REPLACED
    ? 0
    : Math.min(mostReplaced, Math.max(needed, LEAST_REPLACED));
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
  if (low !== null && high !== null) return high > low ? (high - low) / 2 : USUAL_HALF_WIDTH[quantity];
  if (low !== null || high !== null)
    return Math.max(1e-6, Math.abs((low ?? high ?? 0) - aim), 0.25 * Math.abs(aim));
  return USUAL_HALF_WIDTH[quantity];
}

/** Money and everything that is weighed against it, of amounts and the water they come to. */
export function judged(
  input: PlanInput,
  amounts: Amounts,
  after: Sample,
): Omit<Solved, "passes" | "settled"> {
  const { goals, weights, products, litres } = input;
  let cost = 0;
  let score = 0;
  for (const product of products) {
    const grams = amounts.grams.get(product.key) ?? 0;
    if (grams === 0) continue;
    cost += (grams / 1000) * product.pricePerKg;
    score += weights.product;
  }
  if (amounts.replaced > 0) score += weights.replacing + weights.replaced * amounts.replaced;
  if (amounts.aerated > 0) score += weights.aerating + weights.aeratedMillimole * amounts.aerated;
  score += (cost * 1000) / litres;
  const missed: Solved["missed"] = [];
  for (const quantity of STEERED) {
    const goal = quantity === "freeChlorine" ? chlorineGoal(input, after) : goals[quantity];
    const half = halfWidth(quantity, goal);
    const value = after[quantity];
    const under = goal.low === null ? 0 : Math.max(0, goal.low - value);
    const over = goal.high === null ? 0 : Math.max(0, value - goal.high);
    if (under + over > 1e-4 * half)
      missed.push({ quantity, limit: under > 0 ? (goal.low ?? 0) : (goal.high ?? 0), value });
    score +=
      priceOutside(weights, quantity) * (Math.max(0, under + over - slackOf(quantity, goal)) / half) +
      aimWeight(weights, goal) * (Math.abs(value - goal.aim) / half);
  }
  return { amounts, after, saturation: saturation(after).full.corrected, cost, score, missed };
}

/** pH and chlorine outside their limits hurt people: no other reading is worth either. */
const priceOutside = (weights: PlanInput["weights"], quantity: Steered): number =>
  quantity === "ph" || quantity === "freeChlorine" ? weights.outsideUnsafe : weights.outside;

/** What is steered goes to its aim; what lies inside its limits is left where it is. */
const aimWeight = ({ offAim }: PlanInput["weights"], { steer }: Goal): number => (steer ? offAim : 0);

/** A step of the usual test: a drop, half a gap of colours. */
export const TEST_STEP: Record<Steered, number> = {
  ph: 0.1,
  totalAlkalinity: 10,
  calciumHardness: 10,
  cyanuricAcid: 5,
  freeChlorine: 0.2,
};

/**
 * How far the doses for other readings may take one that was inside beyond its limit before something
 * is given against it: half a drop, which no test would see; of pH and chlorine hardly anything.
 */
const slackOf = (quantity: Steered, { steer }: Goal): number => {
  if (steer || quantity === "freeChlorine") return 0;
  return quantity === "ph" ? TEST_STEP.ph / 10 : TEST_STEP[quantity] / 2;
};

/**
 * Where free chlorine is to end, mg/L, in a water of this pH and stabiliser: its band, or what holds
 * the acid that kills. Chlorine that is over already falls by itself: it is kept from rising.
 */
export function chlorineGoal(
  { goals, water }: Pick<PlanInput, "goals" | "water">,
  holding: Pick<Sample, "ph" | "cyanuricAcid" | "temperature" | "totalDissolvedSolids">,
): Goal {
  const acid = goals.hypochlorousAcid;
  const most = goals.mostChlorine;
  const capped = (limit: number | null) => (limit === null ? null : Math.min(most, limit));
  const free = (limit: number | null) => (limit === null ? null : freeChlorineFor(limit, holding));
  const { steer, known, ...band } = goals.freeChlorine;
  const told = acid ? { low: free(acid.low), high: free(acid.high), aim: free(acid.aim) ?? band.aim } : band;
  const over = band.high !== null && water.freeChlorine > band.high;
  return over
    ? { low: capped(told.low), high: water.freeChlorine, aim: water.freeChlorine, steer: false, known }
    : { low: capped(told.low), high: capped(told.high), aim: Math.min(most, told.aim), steer, known };
}

/** The most of a product that any plan needs: it moves no total by more than this, mmol/L. */
const MOST_MOVED = 12;

/** The reading that a use raises. */
const RAISES: Partial<Record<Use, Exclude<Steered, "ph">>> = {
  alkalinity: "totalAlkalinity",
  calcium: "calciumHardness",
  stabiliser: "cyanuricAcid",
  chlorine: "freeChlorine",
};

function programmeOf(
  input: PlanInput,
  litres: number,
  start: Totals,
  effects: readonly MolarEffect[],
  reference: Reference,
): Programme {
  const { goals, weights, products, fill, water } = input;
  const bounds = new Map<string, [number, number]>();
  const binaries: string[] = [];
  const rows: Programme["rows"] = [];
  let cost = linear(0);
  const add = (name: string, price: number) => {
    cost = plus(cost, linear(0, { [name]: price }));
  };
  const fillTotals = fill ? totalsOf(fill) : null;
  const mayReplace = fillTotals !== null && input.mostReplaced > 0;

  const total = (key: (typeof CONSERVED)[number]): Linear => {
    const terms: Record<string, number> = {};
    effects.forEach((effect, index) => {
      if (effect[key] !== 0) terms[`x${index}`] = effect[key];
    });
    if (mayReplace) terms.f = 1000 * (fillTotals[key] - start[key]);
    if (key === "inorganicCarbon" && input.aeration) terms.a = -1;
    return linear(1000 * start[key], terms);
  };
  const totals = Object.fromEntries(CONSERVED.map((key) => [key, total(key)])) as unknown as LinearTotals;
  const titrated = titratedExpression(reference, totals);
  const expressions: Record<Exclude<Steered, "ph">, Linear> = {
    totalAlkalinity: titrated,
    calciumHardness: totals.calcium,
    cyanuricAcid: totals.cyanurate,
    freeChlorine: totals.chlorine,
  };
  const chlorine = chlorineAt(input, totals, reference);
  /** Charge for a step of the pH, mmol/L: less acid or base than this no test would see. */
  const phStep = Math.abs(TEST_STEP.ph * chargePerPh(reference, reference.ph + TEST_STEP.ph));

  const byUse = new Map<Use, string[]>();
  products.forEach((product, index) => {
    const effect = effects[index] as MolarEffect;
    const use = TRAITS[product.product].use;
    if (!use) return;
    const raised = RAISES[use];
    const goal = raised ? goals[raised] : null;
    const wanted = raised && goal?.steer && water[raised] < goal.aim;
    // What is not low is at most brought back to where it was, after other doses or other water took some.
    if (raised && raised !== "totalAlkalinity" && !wanted && !mayReplace) {
      bounds.set(`x${index}`, [0, 0]);
      return;
    }
    const moved = raised ? Math.abs(effect[MOVED_BY[raised]]) : Math.abs(effect.alkalinity);
    const least = (raised ? 1000 * MOLES[raised](TEST_STEP[raised]) : phStep) / moved;
    const up = raised && goal ? Math.max(water[raised], goal.aim, goal.low ?? 0) : 0;
    const reach =
      raised === "freeChlorine"
        ? 1000 * molar.chlorine(goals.mostChlorine + TEST_STEP.freeChlorine)
        : raised
          ? 1000 * MOLES[raised](up + TEST_STEP[raised])
          : MOST_MOVED;
    const most = Math.max(
      0,
      Math.min(reach / moved, product.stock === null ? Infinity : (product.stock * 1000) / litres),
    );
    const [x, y] = [`x${index}`, `y${index}`];
    byUse.set(use, [...(byUse.get(use) ?? []), y]);
    bounds.set(x, [0, most]);
    binaries.push(y);
    rows.push({ expression: linear(0, { [x]: 1, [y]: -Math.max(most, NONE) }), sense: "<=", right: 0 });
    rows.push({ expression: linear(0, { [x]: 1, [y]: -least }), sense: ">=", right: 0 });
    add(x, product.pricePerKg / 1000);
    add(y, weights.product);
    if (!raised) return;
    // Nothing is raised that was not low: at most back to where it was, or to its aim.
    const top =
      raised === "freeChlorine"
        ? wanted
          ? chlorine.aim
          : linear(1000 * start.chlorine)
        : linear(1000 * MOLES[raised](wanted ? up : water[raised]));
    const leastMoved = linear(moved * least + 1e-6);
    rows.push({
      // Room for the least dose that a test sees, where less would have done.
      expression: plus(
        plus(plus(expressions[raised], top, -1), leastMoved, -1),
        linear(0, { [y]: reach + BY_OTHERS }),
      ),
      sense: "<=",
      right: reach + BY_OTHERS,
    });
  });
  for (const names of [...byUse.values(), [...(byUse.get("acid") ?? []), ...(byUse.get("base") ?? [])]])
    if (names.length > 1)
      rows.push({
        expression: linear(0, Object.fromEntries(names.map((name) => [name, 1]))),
        sense: "<=",
        right: 1,
      });

  if (mayReplace) {
    bounds.set("f", [0, input.mostReplaced]);
    binaries.push("yf");
    rows.push({ expression: linear(0, { f: 1, yf: -input.mostReplaced }), sense: "<=", right: 0 });
    rows.push({
      expression: linear(0, { f: 1, yf: -Math.min(LEAST_REPLACED, input.mostReplaced) }),
      sense: ">=",
      right: 0,
    });
    add("f", weights.replaced);
    add("yf", weights.replacing);
  }
  if (input.aeration) {
    bounds.set("a", [0, MOST_MOVED]);
    binaries.push("ya");
    rows.push({ expression: linear(0, { a: 1, ya: -MOST_MOVED }), sense: "<=", right: 0 });
    rows.push({ expression: linear(0, { a: 1, ya: -phStep }), sense: ">=", right: 0 });
    add("a", weights.aeratedMillimole);
    add("ya", weights.aerating);
    // Air takes carbon dioxide down to what it holds itself, and no further.
    const share = carbonDioxideShare(reference.conditions, activity(reference.ph));
    const rest = 1000 * carbonDioxideAtRest(reference.totals.temperature);
    rows.push({
      expression: plus(plus(linear(-rest), totals.inorganicCarbon, share), linear(0, { ya: -MOST_MOVED })),
      sense: ">=",
      right: -MOST_MOVED,
    });
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
  const near = (expression: Linear, aim: Linear, scale: number, name: string, goal: Goal) => {
    if (!goal.steer) return;
    for (const side of ["u", "o"]) {
      bounds.set(name + side, [0, Infinity]);
      add(name + side, aimWeight(weights, goal));
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
  const phSlack = slackOf("ph", ph);
  if (ph.low !== null) {
    const foot = ph.low - phSlack;
    above(totals.alkalinity, chargeTo(foot), phScale(foot), "phLow", weights.outsideUnsafe);
  }
  if (ph.high !== null) {
    const top = ph.high + phSlack;
    above(chargeTo(top), totals.alkalinity, phScale(top), "phHigh", weights.outsideUnsafe);
  }
  near(totals.alkalinity, chargeTo(ph.aim), phScale(ph.aim), "phAim", ph);

  for (const quantity of ["totalAlkalinity", "calciumHardness", "cyanuricAcid"] as const) {
    const goal = goals[quantity];
    const moles = MOLES[quantity];
    const scale = 1000 * moles(halfWidth(quantity, goal));
    const slack = slackOf(quantity, goal);
    const at = (value: number) => linear(1000 * moles(value));
    const expression = expressions[quantity];
    if (goal.low !== null) above(expression, at(goal.low - slack), scale, `${quantity}Low`);
    if (goal.high !== null) above(at(goal.high + slack), expression, scale, `${quantity}High`);
    near(expression, at(goal.aim), scale, `${quantity}Aim`, goal);
  }
  const { goal, scale } = chlorine;
  const unsafe = weights.outsideUnsafe;
  if (chlorine.low) above(totals.chlorine, chlorine.low, scale, "freeChlorineLow", unsafe);
  if (chlorine.high) above(chlorine.high, totals.chlorine, scale, "freeChlorineHigh", unsafe);
  near(totals.chlorine, chlorine.aim, scale, "freeChlorineAim", goal);
  return { cost, rows, bounds, binaries };
}

/** The total that stands for a reading. */
export const MOVED_BY = {
  ph: "alkalinity",
  totalAlkalinity: "alkalinity",
  calciumHardness: "calcium",
  cyanuricAcid: "cyanurate",
  freeChlorine: "chlorine",
} as const satisfies Record<Steered, keyof MolarEffect>;

/** mg/L of a reading → mol/L. */
export const MOLES = {
  totalAlkalinity: molar.alkalinity,
  calciumHardness: molar.calcium,
  cyanuricAcid: molar.cyanurate,
  freeChlorine: molar.chlorine,
} as const;

/** More than other products raise a reading that they are not for, mmol/L: takes a row out of force. */
const BY_OTHERS = 6;

/** Where free chlorine is held and aimed at, as expressions: a band, or what holds the acid, linear in the cyanurate. */
function chlorineAt(input: PlanInput, totals: LinearTotals, reference: Reference) {
  const acid = input.goals.hypochlorousAcid;
  const goal = chlorineGoal(input, {
    ph: reference.ph,
    cyanuricAcid: asRead.cyanurate(reference.cyanurate),
    temperature: reference.totals.temperature,
    totalDissolvedSolids: reference.totals.totalDissolvedSolids,
  });
  const capped = (value: number | null) => value === null || value >= input.goals.mostChlorine;
  const overAlready = goal.high === input.water.freeChlorine;
  const at = (value: number, killing: number | null | undefined): Linear =>
    acid && !overAlready && !capped(value) && killing !== null && killing !== undefined
      ? heldExpression(reference, totals, molar.chlorine(killing))
      : linear(1000 * molar.chlorine(value));
  return {
    goal,
    scale: 1000 * molar.chlorine(halfWidth("freeChlorine", goal)),
    low: goal.low === null ? null : at(goal.low, acid?.low),
    high: goal.high === null ? null : at(goal.high, acid?.high),
    aim: at(goal.aim, acid?.aim),
  };
}
