import { PRICE_UNKNOWN } from "../dosing/plan/fetch";
import { type Goals, goalsOf, STEERED } from "../dosing/plan/goals";
import { type PlanInput, type PlanProduct, WEIGHTS } from "../dosing/plan/input";
import { type Plan, plansFor } from "../dosing/plan/plan";
import { predicted } from "../dosing/plan/predict";
import type { Solver } from "../dosing/plan/programme";
import type { StepSetting } from "../dosing/plan/steps";
import { chlorineGoal, TEST_STEP } from "../dosing/plan/weighing";
import { InputFault, known, numberWithin } from "../fault";
import { BASIN_LITRES, basinLitres } from "../measure/units";
import { molesPerGram, PRODUCT_IDS, PRODUCTS, type ProductId } from "../products/products";
import { RANGE_SETS } from "../ranges/sets";
import { WATER_READINGS, type WaterEstimate } from "../reading/from-readings";
import { checkedSample, SAMPLE_LIMITS, type Sample, totalsOf } from "../water/sample";
import { basinFrom, basinProperties } from "./basin";
import { fieldsOf, flagOf, givenOr, listOf, onlyKeys } from "./fields";
import { AHEAD_KEYS, aheadOutput, aheadProperties, planAhead } from "./plan-ahead";
import type { PlanLine } from "./plan-line";
import { type Fields, isGiven } from "./verb";
import { numberOf, usualWater, waterFrom, waterSchema, within } from "./water";

const DEFAULTS = { rangeSet: "outdoor-fixed-band", mostReplaced: 0.5 } as const;

/** What stands where in a line; anything else is refused. */
const KEYS = {
  "": ["water", "basin", "rangeSet", "products", "fill", "limits", "aims", "freshFill"],
  "limits.": ["mostReplaced", "aeration", "stabilisedChlorine"],
  product: ["product", "strength", "pricePerKg", "stock"],
  aim: ["low", "high", "aim"],
} as const;

/** What is asked: the water, the basin, the shelf, the limits. */
function lineOf(line: Fields): PlanLine {
  const { place, surface, fields: basin } = basinFrom(line.basin);
  const litres = basinLitres("basin.litres", basin.litres);
  const { sample, assumed } = waterFrom(line.water, "water.", {
    standIns: without(usualWater(place), NEEDED),
    only: true,
  });
  within("water.", () => totalsOf(checkedSample(sample)));
  const standing = Object.fromEntries(
    WATER_READINGS.map((name) => [name, name in assumed ? "assumed" : "read"]),
  ) as WaterEstimate["standing"];
  const set = known("rangeSet", givenOr(line, "rangeSet", DEFAULTS.rangeSet), RANGE_SETS);
  const limits = fieldsOf("limits", givenOr(line, "limits", {}));
  onlyKeys("limits.", limits, KEYS["limits."]);
  const fill = isGiven(line, "fill") ? waterFrom(line.fill, "fill.", { only: true }).sample : null;
  if (fill) within("fill.", () => totalsOf(checkedSample(fill)));
  const mostReplaced = numberWithin(
    "limits.mostReplaced",
    givenOr(limits, "mostReplaced", DEFAULTS.mostReplaced),
    0,
    0.95,
  );
  const input: PlanInput = {
    water: sample,
    litres,
    goals: withAims(goalsOf(set, surface, sample, { standing }, place), line.aims, sample),
    products: productsFrom(line.products),
    fill,
    mostReplaced: fill ? mostReplaced : 0,
    aeration: flagOf("limits.aeration", limits.aeration, true),
    stabilisedChlorine: flagOf("limits.stabilisedChlorine", limits.stabilisedChlorine, false),
    weights: WEIGHTS,
  };
  const floor = chlorineGoal({ goals: input.goals, water: { ...sample, freeChlorine: 0 } }, sample).low;
  const setting: StepSetting = {
    kind: place.kind,
    freshFill: flagOf("freshFill", line.freshFill, false),
    surface: surface === "vinyl" ? "vinyl" : "other",
    sanitiserFirst: input.goals.freeChlorine.known && floor !== null && sample.freeChlorine < floor,
  };
  return { input, setting, set, surface, place, assumed };
}

/**
 * The verb `plan`: what to pour in the minutes of a call and what comes at the next ones; with "still": true one
 * plan for a water that does not drift, with alternatives. Deterministic. A reading that the line leaves out is
 * neither steered nor held.
 * @param solver who solves the programme; loading it is the caller's
 */
export function plan(line: Fields, solver: Solver): object {
  const isStill = flagOf("still", line.still, false);
  onlyKeys("", line, isStill ? [...KEYS[""], "still"] : [...KEYS[""], "still", ...AHEAD_KEYS]);
  const asked = lineOf(line);
  const { input, setting, set, assumed } = asked;
  const leftAlone = STEERED.filter((quantity) => !input.goals[quantity].known);
  if (!isStill) return { ...planAhead(line, asked, solver), rangeSet: set.id, assumed, leftAlone };
  return {
    plans: plansFor(input, setting, solver).map((one) => answered(input, one)),
    rangeSet: set.id,
    assumed,
    leftAlone,
  };
}

/** Readings that every dose moves: no plan without them. */
const NEEDED = ["ph", "totalAlkalinity"] as const;

const without = <T extends object>(of: T, names: readonly (keyof T)[]): Partial<T> =>
  Object.fromEntries(Object.entries(of).filter(([name]) => !names.includes(name as keyof T))) as Partial<T>;

/** Aims of the line's own, per quantity: a number to steer to, or limits with it. */
function withAims(goals: Goals, value: unknown, now: Sample): Goals {
  if (value === undefined || value === null) return goals;
  const aims = fieldsOf("aims", value);
  onlyKeys("aims.", aims, STEERED);
  const changed = { ...goals };
  for (const quantity of STEERED) {
    if (!isGiven(aims, quantity)) continue;
    const at = `aims.${quantity}`;
    const { low, high } = SAMPLE_LIMITS[quantity];
    const asked: Fields =
      typeof aims[quantity] === "number" ? { aim: aims[quantity] } : fieldsOf(at, aims[quantity]);
    onlyKeys(`${at}.`, asked, KEYS.aim);
    const given = (name: "low" | "high" | "aim", otherwise: number | null) =>
      isGiven(asked, name) ? numberWithin(`${at}.${name}`, asked[name], low, high) : otherwise;
    const goal = goals[quantity];
    const least = given("low", goal.low);
    const most = given("high", goal.high);
    if (least !== null && most !== null && least > most)
      throw new InputFault("inconsistent", `${at}.low`, least, most);
    const aim = given("aim", Math.min(most ?? Infinity, Math.max(least ?? -Infinity, goal.aim))) ?? goal.aim;
    if ((least !== null && aim < least) || (most !== null && aim > most))
      throw new InputFault(
        least !== null && aim < least ? "too-low" : "too-high",
        `${at}.aim`,
        aim,
        aim < (least ?? aim) ? (least ?? aim) : (most ?? aim),
      );
    const off = Math.abs(now[quantity] - aim) >= TEST_STEP[quantity];
    changed[quantity] = { low: least, high: most, aim, steer: off && goal.known, known: goal.known };
    if (quantity === "freeChlorine") changed.hypochlorousAcid = null;
  }
  return changed;
}

function answered(problem: PlanInput, plan: Plan): object {
  const { name, solved, steps, way, missed, indexOutside, fetch } = plan;
  const { amounts, after, saturation, cost, settled } = solved;
  const intervals = predicted(problem, amounts);
  const readings = ["ph", "totalAlkalinity", "calciumHardness", "cyanuricAcid", "freeChlorine"] as const;
  return {
    name,
    amounts: Object.fromEntries(amounts.grams),
    replaced: { fraction: amounts.replaced, litres: amounts.replaced * problem.litres },
    aerated: amounts.aerated,
    cost,
    predicted: {
      ...Object.fromEntries(
        readings.map((quantity) => [
          quantity === "ph" ? "pH" : quantity,
          {
            value: after[quantity],
            low: intervals?.[quantity].low ?? null,
            high: intervals?.[quantity].high ?? null,
          },
        ]),
      ),
      saturation,
    },
    steps,
    way,
    warnings: missed,
    indexOutside,
    fetch,
    settled,
  };
}

function productsFrom(value: unknown): PlanProduct[] {
  const list = listOf("products", value);
  const keys = new Map<string, number>();
  return list.map((entry: unknown, index): PlanProduct => {
    const at = `products.${index}`;
    const fields: Fields = typeof entry === "string" ? { product: entry } : fieldsOf(at, entry);
    onlyKeys(`${at}.`, fields, KEYS.product);
    known(`${at}.product`, fields.product, PRODUCTS);
    const product = fields.product as ProductId;
    const strength = isGiven(fields, "strength") ? (fields.strength as number) : PRODUCTS[product].strength;
    try {
      molesPerGram({ product, strength });
    } catch (fault) {
      if (fault instanceof InputFault)
        throw new InputFault(fault.code, `${at}.${fault.field}`, fault.value, fault.limit);
      throw fault;
    }
    const times = (keys.get(product) ?? 0) + 1;
    keys.set(product, times);
    return {
      key: times === 1 ? product : `${product}-${times}`,
      product,
      strength,
      pricePerKg: isGiven(fields, "pricePerKg")
        ? numberWithin(`${at}.pricePerKg`, fields.pricePerKg, 0, 10_000)
        : PRICE_UNKNOWN,
      stock: isGiven(fields, "stock") ? numberWithin(`${at}.stock`, fields.stock, 0, 1e8) : null,
    };
  });
}

const number = (description: string, more: object = {}) => ({ type: "number", description, ...more });

const AROUND = {
  rangeSet: { type: "string" },
  assumed: { type: "object" },
  leftAlone: { type: "array", description: "readings that nothing is dosed for: they were not given" },
} as const;

export const planSchema = {
  input: {
    type: "object",
    properties: {
      water: {
        ...waterSchema,
        required: NEEDED,
        additionalProperties: false,
        description: "what is left out is neither steered nor held",
      },
      basin: {
        type: "object",
        properties: {
          litres: number("L", { minimum: BASIN_LITRES.low, maximum: BASIN_LITRES.high }),
          ...basinProperties,
        },
        required: ["litres"],
        additionalProperties: false,
      },
      rangeSet: { enum: Object.keys(RANGE_SETS), default: DEFAULTS.rangeSet },
      products: {
        type: "array",
        items: {
          anyOf: [
            { enum: PRODUCT_IDS },
            {
              type: "object",
              properties: {
                product: { enum: PRODUCT_IDS },
                strength: number("as in `effect`; the usual one when left out", {
                  exclusiveMinimum: 0,
                  maximum: 1.2,
                }),
                pricePerKg: number("money for a kilogram as sold", {
                  minimum: 0,
                  maximum: 10_000,
                  default: PRICE_UNKNOWN,
                }),
                stock: number("g at hand; no limit when left out", { minimum: 0 }),
              },
              required: ["product"],
            },
          ],
        },
      },
      fill: { ...waterSchema, description: "fill water; without it none is replaced" },
      limits: {
        type: "object",
        properties: {
          mostReplaced: number("largest share of the water replaced", {
            minimum: 0,
            maximum: 0.95,
            default: DEFAULTS.mostReplaced,
          }),
          aeration: { type: "boolean", default: true },
          stabilisedChlorine: {
            type: "boolean",
            default: false,
            description: "whether dichlor may be chosen, where stabiliser was read and is under its aim",
          },
        },
        additionalProperties: false,
      },
      aims: {
        type: "object",
        description: "per reading a number to steer to, or {low, high, aim}, in place of the set's",
        properties: Object.fromEntries(STEERED.map((name) => [name, { type: ["number", "object"] }])),
        additionalProperties: false,
      },
      freshFill: { type: "boolean", default: false, description: "calcium goes in first" },
      still: {
        type: "boolean",
        default: false,
        description: "one plan for a water that does not drift, with alternatives",
      },
      ...aheadProperties,
    },
    required: ["water", "basin", "products"],
    additionalProperties: false,
  },
  output: {
    type: "object",
    properties: { ...aheadOutput, ...AROUND },
    /** What is answered with "still": true. */
    still: {
      type: "object",
      properties: {
        plans: {
          type: "array",
          description: "of one still water; the first is the one proposed",
          items: {
            type: "object",
            properties: {
              name: { type: "string" },
              amounts: {
                type: "object",
                description: "g as sold, by product; a second of one compound is named product-2",
              },
              replaced: { type: "object", description: "share and litres of water replaced first" },
              aerated: numberOf("carbon dioxide driven out, mmol/L"),
              cost: numberOf("money for what goes in"),
              predicted: {
                type: "object",
                description: "value, and the interval that holds it in 95 of 100 cases",
              },
              steps: { type: "array" },
              way: {
                type: "array",
                description:
                  "every water on the way: after each portion, air and water replaced; step and portion",
              },
              indexOutside: {
                type: ["object", "null"],
                description: "the index, where it ends outside its window",
              },
              fetch: { type: "array", description: "what the shelf lacks: product, strength, g as sold" },
              settled: {
                type: "boolean",
                description: "false: the best that a search found that did not rest",
              },
              warnings: {
                type: "array",
                description: "readings that stay outside, and what stands in the way",
              },
            },
          },
        },
        ...AROUND,
      },
    },
  },
} as const;
