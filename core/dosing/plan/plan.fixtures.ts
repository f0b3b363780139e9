import { InputFault } from "../../fault";
import { PRODUCTS, type ProductId } from "../../products/products";
import { seeded } from "../../random";
import { SURFACES } from "../../ranges/range-set";
import { RANGE_SETS } from "../../ranges/sets";
import { type Sample, totalsOf } from "../../water/sample";
import { goalsOf } from "./goals";
import { type PlanInput, type PlanProduct, WEIGHTS } from "./input";
import type { StepSetting } from "./steps";

/** Usual prices of a kilogram as sold. */
export const PRICES: Partial<Record<ProductId, number>> = {
  "sodium-hypochlorite": 1.4,
  "calcium-hypochlorite": 7.9,
  dichlor: 9.6,
  trichlor: 8.7,
  "hydrochloric-acid": 1.1,
  "sodium-bisulfate": 3.6,
  "sodium-bicarbonate": 1.6,
  "sodium-carbonate": 1.9,
  "calcium-chloride": 1.8,
  "cyanuric-acid": 7.2,
};

export const onShelf = (product: ProductId, stock: number | null = null): PlanProduct => ({
  key: product,
  product,
  strength: PRODUCTS[product].strength,
  pricePerKg: PRICES[product] ?? 5,
  stock,
});
export const WHOLE_SHELF: PlanProduct[] = (Object.keys(PRICES) as ProductId[]).map((id) => onShelf(id));

export interface PlanCase {
  input: PlanInput;
  setting: StepSetting;
}

/** Waters × basins × shelves, from a seed: the same number gives the same case. */
export function randomCase(seed: number): PlanCase {
  const random = seeded(seed * 7919 + 13);
  const between = (low: number, high: number) => low + (high - low) * random();
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;
  const spa = random() < 0.35;
  const temperature = spa ? between(34, 40) : between(12, 32);
  const totalDissolvedSolids = between(300, 3000);
  const water = possible({
    ph: between(6.8, 8.4),
    totalAlkalinity: between(40, 220),
    calciumHardness: between(40, 500),
    cyanuricAcid: random() < 0.2 ? between(60, 150) : between(0, 60),
    freeChlorine: random() < 0.1 ? between(5, 12) : between(0, 4),
    borate: 0,
    temperature,
    totalDissolvedSolids,
  });
  const fill: Sample = {
    ph: between(7.0, 7.8),
    totalAlkalinity: between(30, 200),
    calciumHardness: between(20, 330),
    cyanuricAcid: 0,
    freeChlorine: 0,
    borate: 0,
    temperature: between(8, 20),
    totalDissolvedSolids: between(80, 600),
  };
  const surface = pick(SURFACES);
  const set = pick(Object.values(RANGE_SETS));
  const products = WHOLE_SHELF.filter(() => random() < 0.8).map((product) =>
    random() < 0.1 ? { ...product, stock: between(50, 3000) } : product,
  );
  const goals = goalsOf(set, surface, water, null, { kind: spa ? "spa" : "pool", outdoors: true });
  const floor = goals.freeChlorine.low ?? 0;
  return {
    input: {
      water,
      litres: spa ? between(900, 6000) : between(8000, 150_000),
      goals,
      products,
      fill: random() < 0.85 ? fill : null,
      mostReplaced: random() < 0.8 ? 0.6 : 0,
      aeration: random() < 0.9,
      weights: WEIGHTS,
    },
    setting: {
      kind: spa ? "spa" : "pool",
      freshFill: random() < 0.1,
      surface: surface === "vinyl" ? "vinyl" : "other",
      sanitiserFirst: water.freeChlorine < floor,
    },
  };
}

/** A drawn water whose cyanurate would hold more than its alkalinity gets some more of it. */
function possible(water: Sample): Sample {
  try {
    totalsOf(water);
    return water;
  } catch (fault) {
    if (fault instanceof InputFault)
      return possible({ ...water, totalAlkalinity: water.totalAlkalinity + 20 });
    throw fault;
  }
}
