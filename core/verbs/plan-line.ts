import { PRICE_UNKNOWN } from "../dosing/plan/fetch";
import { type Goals, goalsOf, STEERED } from "../dosing/plan/goals";
import { type PlanInput, type PlanProduct, WEIGHTS } from "../dosing/plan/input";
import type { StepSetting } from "../dosing/plan/steps";
import { chlorineGoal, TEST_STEP } from "../dosing/plan/weighing";
import { InputFault, known, numberWithin } from "../fault";
import { BASIN_LITRES, basinLitres } from "../measure/units";
import { molesPerGram, PRODUCT_IDS, PRODUCTS, type ProductId } from "../products/products";
import type { RangeSet, Surface } from "../ranges/range-set";
import { RANGE_SETS } from "../ranges/sets";
import { WATER_READINGS, type WaterEstimate } from "../reading/from-readings";
import { checkedSample, SAMPLE_LIMITS, type Sample, totalsOf } from "../water/sample";
import type { Place } from "../water/stand-ins";
import { basinFrom, basinProperties } from "./basin";
import { fieldsOf, flagOf, givenOr, listOf, onlyKeys } from "./fields";
import { type Fields, isGiven } from "./verb";
import { usualWater, waterFrom, waterSchema, within } from "./water";

/** A line of `plan` and of `hold` as far as they are the same: the water, the basin, the shelf, the limits. */
export interface PlanLine {
  input: PlanInput;
  setting: StepSetting;
  set: RangeSet;
  surface: Surface;
  place: Place;
  assumed: object;
}

const DEFAULTS = { rangeSet: "outdoor-fixed-band", mostReplaced: 0.5 } as const;

/** What stands where in a line; anything else is refused. */
export const LINE_KEYS = [
  "water",
  "basin",
  "rangeSet",
  "products",
  "fill",
  "limits",
  "aims",
  "freshFill",
] as const;
const KEYS = {
  "limits.": ["mostReplaced", "aeration", "stabilisedChlorine"],
  product: ["product", "strength", "pricePerKg", "stock"],
  aim: ["low", "high", "aim"],
} as const;

/** What is asked: the water, the basin, the shelf, the limits. */
export function lineOf(line: Fields): PlanLine {
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

/** As a schema says it. */
export const lineProperties = {
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
} as const;
