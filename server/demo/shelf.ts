import type { Label, Measure, Product, ProductId } from "#core";

/** What stands on the demo firm's shelf and trucks. All of it is invented. */

export const PRODUCTS: (Product & {
  name: string;
  density: number | null;
  pricePerKg: number;
  /** Counted on the truck the morning the demo is loaded, kg. */
  stock?: number;
  label?: Label;
})[] = [
  {
    product: "sodium-hypochlorite",
    name: "Liquid chlorine 12.5% trade",
    strength: 0.125 / 1.168,
    density: 1.168,
    pricePerKg: 1.4,
    stock: 46,
  },
  {
    product: "calcium-hypochlorite",
    name: "Calcium hypochlorite 65%",
    strength: 0.65,
    density: 0.85,
    pricePerKg: 7.9,
    stock: 12,
  },
  { product: "dichlor", name: "Dichlor granules 56%", strength: 0.56, density: 0.95, pricePerKg: 9.6 },
  {
    product: "trichlor",
    name: "Trichlor tablets 90%, 200 g",
    strength: 0.9,
    density: null,
    pricePerKg: 8.7,
  },
  {
    product: "hydrochloric-acid",
    name: "Hydrochloric acid 31.45%",
    strength: 0.3145,
    density: 1.16,
    pricePerKg: 1.1,
  },
  { product: "sodium-bisulfate", name: "Dry acid 93.2%", strength: 0.932, density: 1.4, pricePerKg: 3.6 },
  {
    product: "sodium-bicarbonate",
    name: "Bicarbonate 99%",
    strength: 0.99,
    density: 1.0,
    pricePerKg: 1.6,
    stock: 25,
  },
  { product: "sodium-carbonate", name: "Soda ash 99%", strength: 0.99, density: 1.05, pricePerKg: 1.9 },
  {
    product: "calcium-chloride",
    name: "Calcium chloride flake 77%",
    strength: 0.77,
    density: 0.85,
    pricePerKg: 1.8,
    stock: 20,
  },
  { product: "cyanuric-acid", name: "Stabilizer 99%", strength: 0.99, density: 0.85, pricePerKg: 7.2 },
  {
    product: "potassium-monopersulfate",
    name: "Persulfate oxidizer 43%",
    strength: 0.43,
    density: 1.15,
    pricePerKg: 8.4,
    stock: 5,
  },
  {
    product: "sodium-thiosulfate",
    name: "Thiosulfate 99%",
    strength: 0.99,
    density: 1.0,
    pricePerKg: 3.9,
    stock: 2,
  },
  { product: "sodium-chloride", name: "Salt for cells 99%", strength: 0.99, density: 1.2, pricePerKg: 0.5 },
  {
    product: "algaecide",
    name: "Algaecide, copper-free",
    strength: 1,
    density: 1.02,
    pricePerKg: 9.5,
    stock: 8,
    label: { perCubicMetre: 10.2, everyDays: 14, apartHours: 24 },
  },
  {
    product: "sequestrant",
    name: "Sequestrant for metals",
    strength: 1,
    density: 1.2,
    pricePerKg: 12.4,
    stock: 3,
    label: { perCubicMetre: 12, everyDays: null, apartHours: 24 },
  },
];

/** Which delivery is poured from since when, days ago. */
export const DELIVERIES: { product: ProductId; lot: string; usedAgo: number }[] = [
  { product: "sodium-hypochlorite", lot: "drum 1182", usedAgo: 80 },
  { product: "sodium-hypochlorite", lot: "drum 1207", usedAgo: 38 },
  { product: "hydrochloric-acid", lot: "pallet 64", usedAgo: 120 },
  { product: "hydrochloric-acid", lot: "pallet 71", usedAgo: 45 },
];

/** The bottles in use: when each was opened, days ago, and how many days it is good for from today. */
export const BOTTLES: {
  reagent: string;
  measure: Measure;
  full: number;
  lot: string;
  openedAgo: number;
  goodFor: number;
}[] = [
  { reagent: "ferrous titrant", measure: "drops", full: 1440, lot: "F-2207", openedAgo: 13, goodFor: 210 },
  { reagent: "DPD powder", measure: "scoops", full: 200, lot: "P-0931", openedAgo: 18, goodFor: 400 },
  { reagent: "potassium iodide", measure: "drops", full: 720, lot: "K-1180", openedAgo: 13, goodFor: 330 },
  { reagent: "phenol red", measure: "drops", full: 720, lot: "R-0418", openedAgo: 9, goodFor: 120 },
  { reagent: "acid titrant", measure: "drops", full: 1440, lot: "A-3350", openedAgo: 40, goodFor: 260 },
  { reagent: "thiosulfate", measure: "drops", full: 720, lot: "T-1022", openedAgo: 60, goodFor: 300 },
  {
    reagent: "alkalinity indicator",
    measure: "drops",
    full: 720,
    lot: "I-0777",
    openedAgo: 40,
    goodFor: 190,
  },
  { reagent: "calcium buffer", measure: "drops", full: 1440, lot: "B-2914", openedAgo: 70, goodFor: 90 },
  { reagent: "hardness indicator", measure: "drops", full: 720, lot: "H-0605", openedAgo: 70, goodFor: 150 },
  // Stood at the back of the shelf too long.
  { reagent: "hardness titrant", measure: "drops", full: 1440, lot: "E-1843", openedAgo: 90, goodFor: -12 },
  { reagent: "melamine reagent", measure: "mL", full: 473, lot: "M-0211", openedAgo: 80, goodFor: 365 },
  // Left over from before the season.
  { reagent: "silver titrant", measure: "drops", full: 720, lot: "S-1405", openedAgo: 340, goodFor: 45 },
];
