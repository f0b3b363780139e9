/** npm run planning: writes docs/planning.md: one plan against the reading-by-reading table way, on twelve waters. */
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import loadHighs from "highs";
import {
  goalsOf,
  type Highs,
  OUTDOOR_FIXED_BAND,
  type PlanInput,
  PRODUCTS,
  type ProductId,
  placeInRange,
  rangeFor,
  type Sample,
  SPA_WARM_WATER,
  saturation,
  solvePlan,
  solverOf,
  tableWay,
  WEIGHTS,
} from "#core";

const solver = solverOf((await loadHighs()) as unknown as Highs);

const PRICES: Partial<Record<ProductId, number>> = {
  "sodium-hypochlorite": 1.4,
  "calcium-hypochlorite": 7.9,
  dichlor: 9.6,
  "hydrochloric-acid": 1.1,
  "sodium-bicarbonate": 1.6,
  "sodium-carbonate": 1.9,
  "calcium-chloride": 1.8,
  "cyanuric-acid": 7.2,
};
const SHELF = (Object.keys(PRICES) as ProductId[]).map((product) => ({
  key: product,
  product,
  strength: PRODUCTS[product].strength,
  pricePerKg: PRICES[product] ?? 0,
  stock: null,
}));
const FILL: Sample = {
  ph: 7.5,
  totalAlkalinity: 60,
  calciumHardness: 60,
  cyanuricAcid: 0,
  freeChlorine: 0,
  borate: 0,
  temperature: 15,
  totalDissolvedSolids: 200,
};
const water = (ph: number, ta: number, ch: number, cya: number, fc: number, temperature = 26): Sample => ({
  ph,
  totalAlkalinity: ta,
  calciumHardness: ch,
  cyanuricAcid: cya,
  freeChlorine: fc,
  borate: 0,
  temperature,
  totalDissolvedSolids: 1000,
});

const CASES: { name: string; water: Sample; litres: number; set: typeof OUTDOOR_FIXED_BAND }[] = [
  {
    name: "high pH, high alkalinity",
    water: water(8.1, 160, 280, 35, 2),
    litres: 45_000,
    set: OUTDOOR_FIXED_BAND,
  },
  {
    name: "low alkalinity, high pH",
    water: water(8.0, 60, 300, 40, 2),
    litres: 45_000,
    set: OUTDOOR_FIXED_BAND,
  },
  {
    name: "low pH, low alkalinity",
    water: water(7.0, 50, 250, 40, 1.5),
    litres: 60_000,
    set: OUTDOOR_FIXED_BAND,
  },
  {
    name: "no chlorine, high pH",
    water: water(8.2, 110, 300, 30, 0.2),
    litres: 45_000,
    set: OUTDOOR_FIXED_BAND,
  },
  { name: "soft fresh fill", water: water(7.4, 55, 50, 0, 0), litres: 45_000, set: OUTDOOR_FIXED_BAND },
  {
    name: "shock for no chlorine, soft",
    water: water(7.3, 75, 140, 15, 0),
    litres: 30_000,
    set: OUTDOOR_FIXED_BAND,
  },
  { name: "stabiliser too high", water: water(7.5, 95, 320, 95, 3), litres: 45_000, set: OUTDOOR_FIXED_BAND },
  {
    name: "low pH, high alkalinity",
    water: water(7.1, 150, 260, 35, 2),
    litres: 45_000,
    set: OUTDOOR_FIXED_BAND,
  },
  { name: "hot spa, high pH", water: water(8.2, 130, 170, 5, 1, 38), litres: 1500, set: SPA_WARM_WATER },
  { name: "hot spa, low alkalinity", water: water(7.2, 50, 90, 0, 2, 38), litres: 1500, set: SPA_WARM_WATER },
  { name: "hot spa, all low", water: water(7.0, 40, 60, 0, 0, 37), litres: 3400, set: SPA_WARM_WATER },
  { name: "nearly right", water: water(7.9, 85, 310, 40, 3), litres: 45_000, set: OUTDOOR_FIXED_BAND },
];

const outside = (after: Sample, set: typeof OUTDOOR_FIXED_BAND): string[] =>
  (["ph", "totalAlkalinity", "calciumHardness", "cyanuricAcid", "freeChlorine"] as const).filter(
    (name) =>
      placeInRange(
        { value: Number(after[name].toPrecision(6)), bound: "within" },
        rangeFor(set, name, "plaster"),
      ) !== "within",
  );

const SHORT: Record<string, string> = {
  ph: "pH",
  totalAlkalinity: "TA",
  calciumHardness: "CH",
  cyanuricAcid: "CYA",
  freeChlorine: "FC",
};
const row = (
  name: string,
  after: Sample,
  products: number,
  fraction: number,
  cost: number,
  set: typeof OUTDOOR_FIXED_BAND,
) => {
  const out = outside(after, set).map((one) => SHORT[one]);
  return `| ${name} | ${after.ph.toFixed(2)} | ${after.totalAlkalinity.toFixed(0)} | ${after.calciumHardness.toFixed(0)} | ${after.cyanuricAcid.toFixed(0)} | ${after.freeChlorine.toFixed(1)} | ${saturation(after).full.corrected.toFixed(2)} | ${products} | ${fraction > 0 ? `${(100 * fraction).toFixed(0)} %` : ""} | ${cost.toFixed(2)} | ${out.join(", ")} |`;
};

const lines: string[] = [];
let tableOut = 0;
let planOut = 0;
for (const one of CASES) {
  const input: PlanInput = {
    water: one.water,
    litres: one.litres,
    goals: goalsOf(one.set, "plaster", one.water),
    products: SHELF,
    fill: FILL,
    mostReplaced: 0.6,
    aeration: true,
    weights: WEIGHTS,
  };
  const planned = solvePlan(input, solver);
  const table = tableWay(input, one.set, "plaster");
  if (outside(table.after, one.set).length > 0) tableOut++;
  if (outside(planned.after, one.set).length > 0) planOut++;
  const { ph, totalAlkalinity, calciumHardness, cyanuricAcid, freeChlorine } = one.water;
  lines.push(
    `| **${one.name}**, ${(one.litres / 1000).toFixed(1)} m³ | ${ph.toFixed(2)} | ${totalAlkalinity} | ${calciumHardness} | ${cyanuricAcid} | ${freeChlorine.toFixed(1)} | ${saturation(one.water).full.corrected.toFixed(2)} | | | | |`,
    row("table way", table.after, table.products, table.replaced, table.cost, one.set),
    row(
      `plan${planned.amounts.aerated > 0 ? ", with air" : ""}`,
      planned.after,
      planned.amounts.grams.size,
      planned.amounts.replaced,
      planned.cost,
      one.set,
    ),
  );
}

writeFileSync(
  join(import.meta.dirname, "..", "docs", "planning.md"),
  `# How a plan is found

A table answers one reading at a time: so much acid for the pH, so much bicarbonate for the alkalinity. Each dose also moves the other readings. Pelagon asks for all of them at once.

At a fixed pH every charge in the water is linear in its totals (alkalinity, carbon, calcium, cyanurate, chlorine); only the chlorine that is bound to cyanurate is not, and there the tangent is taken. So "end with pH, TA, CH, CYA and FC in their bands, from these products, with at most this much water replaced" is a small mixed-integer linear programme: a variable for each product's amount and one for whether it is opened at all, the share of water replaced, the carbon dioxide driven out by air, and what each reading falls short of its limits or its aim. It is solved (HiGHS), the full equilibrium says what comes of it, the tangents are taken there, and so on until two passes agree to a millionth of a pH: three or four passes as a rule.

What is made least is money, plus a charge for every product opened, for water replaced (dear, and only where nothing else reaches), for air, and for the distance from the aims. A reading outside its limits costs far more than any product; pH and free chlorine outside theirs more than any other reading, so that a short shelf never buys alkalinity with a pH that hurts.

When the shelf cannot bring a reading home, the plan comes as near as it can and says what stands in the way: no product, stock, the replacement limit, the fill water, or readings that pull against one another.

From what is known of the readings, the volume and the strengths, two thousand draws say how likely the whole amount takes a reading past its limit. Where that is more than one in ten, only the part goes in at first that is not, then a retest, then a plan for the rest.

Not in the programme: the saturation index (it is reported with each plan), persulfate, thiosulfate and label-dosed products, which keep their own simple rules. Chlorine over its limit is left to fall by itself.

\`npm run bench:plan\` times five hundred plans and holds forty of them against a search over every choice of up to three products on a grid. \`npm run planning\` makes the table below.

## Against the table way

Twelve waters, the same shelf and prices. The table way gives every dose that its findings ask for, each worked out for its own reading by exact mole balance (a real table is coarser), and replaces water where it says so. "Out" names the readings outside their range afterwards.

The table way ends out of range in ${tableOut} of ${CASES.length}, the plan in ${planOut}.

| | pH | TA | CH | CYA | FC | index | products | replaced | cost | out |
| --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- |
${lines.join("\n")}
`,
);
console.log(`table way out of range in ${tableOut} of ${CASES.length}, plan in ${planOut}`);
