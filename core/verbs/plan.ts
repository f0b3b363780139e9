import { goalsOf } from "../dosing/plan/goals";
import { type PlanInput, type PlanProduct, WEIGHTS } from "../dosing/plan/input";
import { type Plan, plansFor } from "../dosing/plan/plan";
import { predicted } from "../dosing/plan/predict";
import type { Solver } from "../dosing/plan/programme";
import { molesPerGram, PRODUCT_IDS, PRODUCTS, type ProductId } from "../dosing/products";
import { InputFault, known, numberWithin } from "../fault";
import { SURFACES, type Surface } from "../judging/range-set";
import { RANGE_SETS } from "../judging/sets";
import { BASIN_LITRES, basinLitres } from "../measure/units";
import { checkedSample, totalsOf } from "../water/sample";
import { type Fields, isGiven } from "./verb";
import { numberOf, waterFrom, waterSchema, within } from "./water";

const KINDS = ["pool", "spa"] as const;
const DEFAULTS = {
  rangeSet: "outdoor-fixed-band",
  surface: "plaster",
  kind: "pool",
  mostReplaced: 0.5,
} as const;
/** Where no price is given, a kilogram costs this: the plan then weighs by amount. */
const PRICE = 3;

/**
 * The verb `plan`: one safe plan for all readings at once, with alternatives; deterministic.
 * @param solver who solves the programme; loading it is the caller's
 */
export function plan(input: Fields, solver: Solver): object {
  const { sample, assumed } = waterFrom(input.water, "water.");
  within("water.", () => totalsOf(checkedSample(sample)));
  const basin = fieldsOf("basin", input.basin);
  const litres = basinLitres("basin.litres", basin.litres);
  const kind = oneOf("basin.kind", basin.kind ?? DEFAULTS.kind, KINDS);
  const surface: Surface = oneOf("basin.surface", basin.surface ?? DEFAULTS.surface, SURFACES);
  const set = known("rangeSet", input.rangeSet ?? DEFAULTS.rangeSet, RANGE_SETS);
  const limits = isGiven(input, "limits") ? fieldsOf("limits", input.limits) : {};
  const fill = isGiven(input, "fill") ? waterFrom(input.fill, "fill.").sample : null;
  if (fill) within("fill.", () => totalsOf(checkedSample(fill)));
  const mostReplaced = isGiven(limits, "mostReplaced")
    ? numberWithin("limits.mostReplaced", limits.mostReplaced, 0, 0.95)
    : DEFAULTS.mostReplaced;
  const aeration = limits.aeration ?? true;
  if (typeof aeration !== "boolean")
    throw new InputFault("malformed", "limits.aeration", String(aeration), ["true", "false"]);
  const problem: PlanInput = {
    water: sample,
    litres,
    goals: goalsOf(set, surface, sample),
    products: productsFrom(input.products),
    fill,
    mostReplaced: fill ? mostReplaced : 0,
    aeration,
    weights: WEIGHTS,
  };
  const floor = problem.goals.freeChlorine.low;
  const plans = plansFor(
    problem,
    {
      kind,
      freshFill: input.freshFill === true,
      surface: surface === "vinyl" ? "vinyl" : "other",
      sanitiserFirst: floor !== null && sample.freeChlorine < floor,
    },
    solver,
  );
  return { plans: plans.map((one) => answered(problem, one)), rangeSet: set.id, assumed };
}

function answered(problem: PlanInput, { name, solved, steps, missed }: Plan): object {
  const { amounts, after, saturation, cost } = solved;
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
    warnings: missed,
  };
}

function productsFrom(list: unknown): PlanProduct[] {
  if (list === undefined || list === null) throw new InputFault("missing", "products", list);
  if (!Array.isArray(list)) throw new InputFault("malformed", "products", typeof list, "list");
  const keys = new Map<string, number>();
  return list.map((entry: unknown, index): PlanProduct => {
    const at = `products.${index}`;
    const fields = typeof entry === "string" ? { product: entry } : fieldsOf(at, entry);
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
        : PRICE,
      stock: isGiven(fields, "stock") ? numberWithin(`${at}.stock`, fields.stock, 0, 1e8) : null,
    };
  });
}

function fieldsOf(field: string, value: unknown): Fields {
  if (value === undefined || value === null) throw new InputFault("missing", field, value);
  if (typeof value !== "object" || Array.isArray(value))
    throw new InputFault("malformed", field, String(value), "object");
  return value as Fields;
}

function oneOf<T extends string>(field: string, value: unknown, list: readonly T[]): T {
  const found = list.find((one) => one === value);
  if (!found) throw new InputFault("unknown", field, value, list);
  return found;
}

const number = (description: string, more: object = {}) => ({ type: "number", description, ...more });

export const planSchema = {
  input: {
    type: "object",
    properties: {
      water: waterSchema,
      basin: {
        type: "object",
        properties: {
          litres: number("L", { minimum: BASIN_LITRES.low, maximum: BASIN_LITRES.high }),
          kind: { enum: KINDS, default: DEFAULTS.kind },
          surface: { enum: SURFACES, default: DEFAULTS.surface },
        },
        required: ["litres"],
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
                  default: PRICE,
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
        },
      },
      freshFill: { type: "boolean", default: false, description: "calcium goes in first" },
    },
    required: ["water", "basin", "products"],
  },
  output: {
    type: "object",
    properties: {
      plans: {
        type: "array",
        description: "the first is the one proposed",
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
            warnings: {
              type: "array",
              description: "readings that stay outside, and what stands in the way",
            },
          },
        },
      },
      rangeSet: { type: "string" },
      assumed: { type: "object" },
    },
  },
} as const;
