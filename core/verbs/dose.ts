import { STEERED, type Steered } from "../dosing/plan/goals";
import { portionsOf } from "../dosing/portions";
import { gramsForChange, gramsForPh } from "../dosing/single";
import { InputFault, known, numberWithin } from "../fault";
import { everydayAmount } from "../measure/everyday";
import { BASIN_LITRES, basinLitres } from "../measure/units";
import { effectOf } from "../products/effects";
import { BALANCING_IDS } from "../products/labels";
import { densityOf, molesPerGram, PRODUCTS, type ProductId } from "../products/products";
import { SAMPLE_LIMITS, type Sample } from "../water/sample";
import { fieldsOf, givenOr, named, oneOf, onlyKeys } from "./fields";
import type { Fields } from "./verb";
import { numberOf, usualWater, waterFrom, waterSchema, within } from "./water";

/**
 * The verb `dose`: how much of one product takes one reading from here to there, and what it does to
 * the others.
 * @example dose({ product: "sodium-bicarbonate", litres: 10000, quantity: "totalAlkalinity", from: 80, to: 90 }).grams // 169.6
 */
export function dose(input: Fields): object {
  onlyKeys("", input, ["product", "strength", "litres", "quantity", "from", "to", "water"]);
  known("product", input.product, PRODUCTS);
  const id = input.product as ProductId;
  const product = { product: id, strength: givenOr(input, "strength", PRODUCTS[id].strength) as number };
  molesPerGram(product);
  const litres = basinLitres("litres", input.litres);
  const quantity = oneOf("quantity", input.quantity, STEERED);
  const { low, high } = SAMPLE_LIMITS[quantity];
  const from = numberWithin("from", input.from, low, high);
  const to = numberWithin("to", input.to, low, high);
  const { water, assumed } = waterOf(input, quantity, from);
  const names = { [quantity]: "from", targetPh: "to", change: "to" };
  const grams = named(names, () =>
    within("water.", () =>
      quantity === "ph"
        ? gramsForPh(product, water, to, litres)
        : gramsForChange(product, quantity, to - from, litres),
    ),
  );
  const after = named(names, () =>
    within("water.", () => effectOf({ water, litres, additions: [{ ...product, grams }] })),
  );
  const { form } = PRODUCTS[id];
  const density = densityOf(product);
  const everyday = (system: "metric" | "us") => {
    const { parts, cups, roundedGrams } = everydayAmount(grams, { form, density }, system);
    return { parts, cups, roundedGrams };
  };
  return {
    grams,
    everyday: { metric: everyday("metric"), us: everyday("us") },
    portions: portionsOf(product, grams, litres),
    after,
    sideEffects: Object.fromEntries(
      STEERED.filter((name) => name !== quantity).map((name) => [name, after[name] - water[name]]),
    ),
    assumed,
  };
}

/** The water of a dose: as given, with usual values for the rest; the reading itself is where it starts from. */
function waterOf(
  input: Fields,
  quantity: Steered,
  from: number,
): { water: Sample; assumed: Partial<Sample> } {
  const given = input.water === undefined || input.water === null ? {} : fieldsOf("water", input.water);
  if (given[quantity] !== undefined && given[quantity] !== null && given[quantity] !== from)
    throw new InputFault("inconsistent", `water.${quantity}`, given[quantity], "from");
  const { sample, assumed } = waterFrom({ ...given, [quantity]: from }, "water.", {
    standIns: usualWater({ kind: "pool", outdoors: true }),
    only: true,
  });
  return { water: sample, assumed };
}

const number = (description: string, more: object = {}) => ({ type: "number", description, ...more });

export const doseSchema = {
  input: {
    type: "object",
    properties: {
      product: { enum: BALANCING_IDS },
      strength: number("as in `effect`; the usual one when left out", { exclusiveMinimum: 0, maximum: 1.2 }),
      litres: number("L", { minimum: BASIN_LITRES.low, maximum: BASIN_LITRES.high }),
      quantity: { enum: STEERED },
      from: number("the reading now"),
      to: number("where it is to be"),
      water: { ...waterSchema, required: [], description: "the other readings; usual ones when left out" },
    },
    required: ["product", "litres", "quantity", "from", "to"],
    additionalProperties: false,
  },
  output: {
    type: "object",
    properties: {
      grams: numberOf("as sold"),
      everyday: { type: "object", description: "rounded to what is weighed or poured, metric and US" },
      portions: { type: "object", description: "count and grams of each: what the water takes at once" },
      after: { type: "object", description: "the readings after it, pH solved" },
      sideEffects: { type: "object", description: "change of every other reading" },
      assumed: { type: "object", description: "readings left out, with what stood in" },
    },
  },
} as const;
