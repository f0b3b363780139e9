import { describe, expect, it } from "vitest";
import { gramsForPh } from "../dosing/single";
import type { Product } from "../products/products";
import type { Sample } from "../water/sample";
import { learnFirm } from "./learn";
import type { BasinLog, LoggedReading } from "./log";

/** What is read of borate is in the next pH that is told: a dose of acid moves it half as far. */

const HOUR = 3_600_000;
const FROM = Date.UTC(2031, 5, 2, 9);
const ACID: Product = { product: "hydrochloric-acid", strength: 0.3145 };
const LITRES = 40_000;
const WATER: Sample = {
  ph: 7.8,
  totalAlkalinity: 100,
  calciumHardness: 300,
  cyanuricAcid: 0,
  freeChlorine: 3,
  borate: 45,
  temperature: 25,
  totalDissolvedSolids: 1000,
};
const reading = (quantity: LoggedReading["quantity"], value: number, half: number): LoggedReading => ({
  quantity,
  value,
  low: value - half,
  high: value + half,
});
const readings = (borate: boolean): LoggedReading[] => [
  reading("ph", WATER.ph, 0.05),
  reading("totalAlkalinity", WATER.totalAlkalinity, 5),
  reading("calciumHardness", WATER.calciumHardness, 5),
  reading("cyanuricAcid", 0, 1),
  reading("freeChlorine", WATER.freeChlorine, 0.1),
  reading("temperature", WATER.temperature, 0.5),
  ...(borate ? [reading("borate", WATER.borate, 2)] : []),
];
/** Two visits a day apart, the acid for 7.4 after the second, and the pH that is told an hour later. */
function toldAfterAcid(borateAt: number | null): number {
  const grams = gramsForPh(ACID, WATER, 7.4, LITRES);
  const basin: BasinLog = {
    id: "b",
    kind: "pool",
    outdoors: true,
    feeder: "none",
    litres: LITRES,
    fill: {},
    visits: [0, 1].map((day) => ({
      at: FROM + day * 24 * HOUR,
      readings: readings(borateAt === day),
      doses: day === 1 ? [{ at: FROM + day * 24 * HOUR, ...ACID, grams }] : [],
    })),
    ahead: [FROM + 25 * HOUR],
  };
  const learned = learnFirm({ basins: [basin], weather: [], location: { latitude: 40, longitude: 0 } });
  return learned?.basins[0]?.forecast[0]?.ph?.value ?? Number.NaN;
}

describe("borate that was read", () => {
  it.each([0, 1])("is in the pH that is told after a dose, read at visit %d", (visit) => {
    expect(toldAfterAcid(visit)).toBeCloseTo(7.4, 1);
  });
  it("is missing where it was not: the same acid is told to do far more", () => {
    expect(toldAfterAcid(null)).toBeLessThan(7.2);
  });
});
