import { describe, expect, it } from "vitest";
import { normal, type Random, seeded } from "../random";
import { learnFirm } from "./learn";
import type { BasinLog, LoggedReading, LoggedVisit } from "./log";

/**
 * Basins whose calcium is kept in an account of our own, a day at a time: what evaporates is filled up, what is
 * splashed out goes with what it holds. The meter counts both.
 */

const DAY = 86_400_000;
const FROM = Date.UTC(2031, 4, 1, 9);
const LITRES = 40_000;
const FILL = 250;
const CALLS = 5;
const AHEAD = 60;

interface Truth {
  evaporation: number;
  splashOut: number;
}

const reading = (quantity: LoggedReading["quantity"], value: number, half: number): LoggedReading => ({
  quantity,
  value,
  low: value - half,
  high: value + half,
});

/** Weekly calls at a basin, and its hardness two months after the last of them. */
function basinOf(
  truth: Truth,
  random: Random,
  metered: boolean,
): { log: BasinLog; after: { calciumHardness: number; cyanuricAcid: number } } {
  let hardness = 200;
  let stabiliser = 60;
  let counted = 0;
  const visits: LoggedVisit[] = [];
  const days = 7 * (CALLS - 1) + AHEAD;
  for (let day = 0; day <= days; day++) {
    if (day % 7 === 0 && visits.length < CALLS) {
      const counts = 10 * Math.ceil((hardness * (1 + 0.03 * normal(random))) / 10) - 5;
      visits.push({
        at: FROM + day * DAY,
        readings: [
          reading("calciumHardness", counts, 5),
          reading("ph", 7.5, 0.1),
          reading("totalAlkalinity", 95, 5),
          // Monthly, as is usual.
          ...(day % 28 === 0 ? [reading("cyanuricAcid", stabiliser, 5)] : []),
        ],
        doses: [],
        ...(metered && day > 0 ? { fresh: { litresADay: counted / 7, days: 7 } } : {}),
      });
      counted = 0;
    }
    const rain = random() < 0.1 ? 0.5 : 1;
    stabiliser *= 1 - truth.splashOut;
    hardness += truth.evaporation * rain * FILL + truth.splashOut * (FILL - hardness);
    counted += LITRES * (truth.evaporation * rain + truth.splashOut);
  }
  const log: BasinLog = {
    id: "b",
    kind: "pool",
    outdoors: true,
    feeder: "none",
    litres: LITRES,
    fill: { calciumHardness: FILL },
    visits,
    ahead: [FROM + days * DAY],
  };
  return { log, after: { calciumHardness: hardness, cyanuricAcid: stabiliser } };
}

const forecastOf = (log: BasinLog) =>
  learnFirm({ basins: [log], weather: [], location: { latitude: 40, longitude: 0 } })?.basins[0]?.forecast[0];

describe("fresh water by the meter", () => {
  it.each([
    // Stabiliser goes with the water alone: a month of meter tells how fast.
    ["cyanuricAcid", 0.8],
    // Calcium near that of the fill comes with what evaporates, and the meter does not say how much of it did.
    ["calciumHardness", 1.1],
  ] as const)("tells %s two months on by less, or no more, of an error", (quantity, ratio) => {
    const random = seeded(31);
    const sums = { with: 0, without: 0, wide: 0, narrow: 0, inside: 0 };
    const basins = 40;
    for (let index = 0; index < basins; index++) {
      const truth = {
        evaporation: 0.0025 * Math.exp(0.6 * normal(random)),
        splashOut: 0.003 * Math.exp(0.7 * normal(random)),
      };
      const seed = 100 + index;
      const metered = basinOf(truth, seeded(seed), true);
      const told = forecastOf(metered.log)?.[quantity];
      const blind = forecastOf(basinOf(truth, seeded(seed), false).log)?.[quantity];
      if (!told || !blind) throw new Error("nothing was forecast");
      const after = metered.after[quantity];
      sums.with += Math.abs(told.value - after);
      sums.without += Math.abs(blind.value - after);
      sums.narrow += told.high - told.low;
      sums.wide += blind.high - blind.low;
      sums.inside += told.low <= after && after <= told.high ? 1 : 0;
    }
    expect(sums.with / sums.without).toBeLessThan(ratio);
    expect(sums.narrow / sums.wide).toBeLessThan(1);
    expect(sums.inside / basins).toBeGreaterThan(0.8);
  });
});
