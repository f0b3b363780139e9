import type { Equipment, ProductId, Task } from "#core";
import type { DemoBasin } from "./cast";

/** How the demo firm works: who calls where, what each truck carries, what stands around each basin. */

/** Place in the list of members of who calls at a site: 1 Jory, 2 Wren. */
export const CALLERS: Record<string, number> = {
  lodge: 1,
  school: 1,
  clinic: 2,
  gym: 2,
  hotel: 1,
  club: 2,
  bracken: 1,
  rowan: 2,
  heron: 2,
};

interface DemoTruck {
  name: string;
  driver: number;
  stock: { product: ProductId; kilograms: number }[];
}

export const TRUCKS: DemoTruck[] = [
  {
    name: "Green van",
    driver: 1,
    stock: [
      { product: "sodium-hypochlorite", kilograms: 22 },
      { product: "hydrochloric-acid", kilograms: 9 },
      { product: "sodium-bicarbonate", kilograms: 11 },
    ],
  },
  {
    name: "Old flatbed",
    driver: 2,
    stock: [
      { product: "sodium-hypochlorite", kilograms: 18 },
      { product: "hydrochloric-acid", kilograms: 2.5 },
    ],
  },
];

/** Days since each was done at the first basins; the others follow a day or so apart. */
export const TASKS_DONE: { task: Task; daysAgo: number }[] = [
  { task: "shock", daysAgo: 3 },
  { task: "lab-check", daysAgo: 40 },
  { task: "fresh-reagents", daysAgo: 200 },
];

export const EVENTS: { basin: string; name: string; ahead: number }[] = [
  { basin: "cedar", name: "Birthday party, twelve guests", ahead: 2 },
  { basin: "teaching", name: "Gala day, full house", ahead: 5 },
];

/** Place in the list of members of the customer who reads along, and a basin of theirs. */
export const READS = { member: 3, basin: "terrace" };

export const equipmentOf = ({ habits, indoors, kind }: DemoBasin): Equipment => ({
  bathers: kind === "spa" ? (indoors ? 6 : 4) : null,
  pumpHours: kind === "spa" ? 8 : indoors ? 24 : 12,
  feeder: habits.feeder,
  cellGrams: habits.feeder === "salt-cell" ? 20 : null,
  cellSalt: habits.feeder === "salt-cell" ? { low: 2800, high: 3400 } : null,
  cover: kind === "spa" ? "foam" : indoors ? "none" : "bubble",
});
