import { CONSERVED, carbonDioxideAtRest, carbonDioxideShare } from "../../products/effects";
import type { MolarEffect } from "../../products/products";
import { TRAITS, type Use } from "../../products/traits";
import { freeChlorineFor } from "../../water/chlorine";
import { asRead, molar } from "../../water/molar";
import { activity, type Totals, totalsOf } from "../../water/sample";
import type { Goal, Steered } from "./goals";
import type { PlanInput } from "./input";
import {
  chargeExpression,
  chargePerPh,
  heldExpression,
  type LinearTotals,
  type Reference,
  titratedExpression,
} from "./linearise";
import { type Linear, linear, type Programme, plus } from "./programme";
import { aimWeight, chlorineGoal, halfWidth, MOLES, MOVED_BY, slackOf, TEST_STEP } from "./weighing";

/** Less than this much of a product, mg/L, is none. */
export const NONE = 1e-5;

/** Less than a tenth of the water is not drained for. */
export const LEAST_REPLACED = 0.1;

/** The most of a product that any plan needs: it moves no total by more than this, mmol/L. */
const MOST_MOVED = 12;

/** The reading that a use raises. */
const RAISES: Partial<Record<Use, Exclude<Steered, "ph">>> = {
  alkalinity: "totalAlkalinity",
  calcium: "calciumHardness",
  stabiliser: "cyanuricAcid",
  chlorine: "freeChlorine",
};

/** The programme of a plan, tangent at the reference: its variables, what they cost, and what they must hold. */
export function programmeOf(
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

/** More than other products raise a reading that they are not for, mmol/L: takes a row out of force. */
const BY_OTHERS = 6;

/** Where free chlorine is held and aimed at, as expressions: a band, or what holds the acid, linear in the cyanurate. */
function chlorineAt(input: PlanInput, totals: LinearTotals, reference: Reference) {
  const acid = input.goals.hypochlorousAcid;
  const holding = {
    ph: reference.ph,
    cyanuricAcid: asRead.cyanurate(reference.cyanurate),
    temperature: reference.totals.temperature,
    totalDissolvedSolids: reference.totals.totalDissolvedSolids,
  };
  const goal = chlorineGoal(input, holding);
  // A limit that closes, or the most that anybody may bathe in, is a number whatever the stabiliser.
  const isHeld = (value: number, killing: number) =>
    value < input.goals.mostChlorine && Math.abs(value - freeChlorineFor(killing, holding)) < 1e-6;
  const overAlready = goal.high === input.water.freeChlorine;
  const at = (value: number, killing: number | null | undefined): Linear =>
    acid && !overAlready && killing !== null && killing !== undefined && isHeld(value, killing)
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
