import { MILLI } from "../../learning/unknowns";
import type { MolarEffect, ProductId } from "../../products/products";
import { mostAtATime, TRAITS, type Use } from "../../products/traits";
import type { PlanInput } from "../plan/input";
import { linear } from "../plan/programme";
import { ACID_CHLORINE_MINUTES } from "../plan/steps";
import { MOLES, TEST_STEP } from "../plan/weighing";
import { movedBy } from "./allowed";
import type { Asked } from "./asked";
import { APART, portionsWithin, pouringMinutes } from "./clock";
import { RAISED } from "./raised";
import { type Rows, xName, yName } from "./rows";

/** What is poured: amounts, bottles, portions, and the minutes that they take. */

/** Variables of what is poured at one call, and the rules that hold for it whatever the water. */
export function pours(rows: Rows, asked: Asked, call: number): void {
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

export const mayPour = ({ allowed }: Asked, call: number, index: number): boolean =>
  (call === 0 ? allowed.now : allowed.later).has(index);

/** What all calls together may move a total by. */
export function together(rows: Rows, { ahead, input, allowed }: Asked, calls: number): void {
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

/** How many portions of a product are poured, as a sum of yes and no, and how long each takes. */
interface PourTime {
  portions: string[];
  /** Minutes of each portion that fits into one jug or bucket. */
  takes: number;
  product: ProductId;
  /** And of what is more than that, by the amount's variable. */
  amount: { name: string; minutes: number };
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
  const compound = product.product;
  const whole = mostAtATime(product, litres);
  const takes = pouringMinutes({ compound, how, grams: 0 });
  const more = pouringMinutes({ compound, how, grams: whole }) - takes;
  return { portions, takes, product: compound, amount: { name, minutes: more / Math.max(portion, 1e-5) } };
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
    for (const { portions, takes, amount } of members) {
      for (const one of portions) terms[one] = takes + apart;
      if (amount.minutes > 0) terms[amount.name] = amount.minutes;
    }
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
