import { millisecondsInDay } from "date-fns/constants";
import { describe, expect, it } from "vitest";
import { Ahead, NOTHING_DONE } from "../dosing/horizon/ahead";
import { drawn, figureOf } from "../dosing/horizon/draws";
import { problem } from "../dosing/horizon/horizon.fixtures";
import { ratesFrom } from "../dosing/horizon/rates";
import { surroundingsOf } from "../drift/surroundings";
import { readingsOf } from "../water/equilibrium";
import { totalsOf } from "../water/sample";
import { FirmLearner } from "./learn";
import type { FirmLog } from "./log";
import { type Posterior, ratesIn } from "./posterior";
import { posteriorAt } from "./resume";
import { simulatedFirm } from "./simulated-firm.fixtures";
import { USUAL_FILL } from "./start-water";
import { MILLI, TOTALS } from "./unknowns";

const firm = simulatedFirm({ seed: 4, basins: 6, weeks: 12 }).cutAt(1).log;
const learner = FirmLearner.learn(firm) as FirmLearner;
const learned = firm.basins.map((_, index) => learner.answerOf(index));
const around = { visits: [], weather: firm.weather, location: firm.location };

/** What is read in the mean of a posterior. */
function readIn({ mean, still }: Posterior, temperature: number) {
  const water = totalsOf({ ...USUAL_FILL, ...still, temperature });
  TOTALS.forEach((name, index) => {
    water[name] = Math.max(0, mean[index] as number) / MILLI;
  });
  return readingsOf(water);
}

describe("what a log says of a basin, whole", () => {
  it("says of days to come what the learner itself says of them", () => {
    for (const [index, { posterior, forecast }] of learned.entries()) {
      if (!posterior) throw new Error("nothing was learned");
      const [point] = forecast;
      if (!point) continue;
      const then = posteriorAt(posterior, point.at, around);
      const temperature = firm.basins[index]?.kind === "spa" ? 38 : 24;
      const read = readIn(then, temperature);
      expect(read.freeChlorine).toBeCloseTo(point.freeChlorine?.value ?? Number.NaN, 1);
      expect(Math.abs(read.totalAlkalinity - (point.totalAlkalinity?.value ?? 0))).toBeLessThan(1.5);
    }
  });

  it("is plain data: it comes out of JSON as it went in, and goes on as before", () => {
    const [{ posterior }] = learned as unknown as [{ posterior: Posterior }];
    const again = JSON.parse(JSON.stringify(posterior)) as Posterior;
    expect(again).toEqual(posterior);
    const later = posterior.at + 3 * millisecondsInDay;
    expect(posteriorAt(again, later, around)).toEqual(posteriorAt(posterior, later, around));
  });

  it("takes a reading in once, and is surer for it", () => {
    const [{ posterior }] = learned as unknown as [{ posterior: Posterior }];
    const at = posterior.at + 5 * millisecondsInDay;
    const without = posteriorAt(posterior, at, around);
    const reading = { quantity: "totalAlkalinity" as const, value: 90, low: 80, high: 90 };
    const visits = [{ at, readings: [reading], doses: [] }];
    const once = posteriorAt(posterior, at, { ...around, visits });
    expect(once.covariance[0]?.[0]).toBeLessThan((without.covariance[0]?.[0] as number) * 0.9);
    expect(once.newest.totalAlkalinity).toEqual({ at, value: 90 });
    const twice = posteriorAt(once, at + 60_000, {
      ...around,
      visits: [{ ...visits[0], at: at + 60_000 } as never],
    });
    expect(twice.covariance[0]?.[0]).toBeCloseTo(once.covariance[0]?.[0] as number, 6);
  });

  it("is what a plan draws from: rates that hang together stay together", () => {
    const { posterior } = learned.find(
      (one) => one.posterior?.feeder === "none" && one.posterior.kind === "pool",
    ) as {
      posterior: Posterior;
    };
    const asked = problem({
      water: { ...readIn(posterior, 24), temperature: 24, totalDissolvedSolids: 1100 },
    });
    const own = {
      ...asked,
      from: posterior.at,
      calls: [posterior.at + 3 * millisecondsInDay],
      weather: firm.weather,
      location: firm.location,
      rates: ratesIn(posterior),
    };
    const spreadOf = (believed: typeof asked.believed) => {
      const ahead = new Ahead({ ...own, believed });
      const { low, high } = figureOf(
        drawn(ahead, { ...NOTHING_DONE, fed: 0 }, 400).found[1]?.freeChlorine ?? new Float64Array(),
      );
      return high - low;
    };
    const apart = posterior.covariance.map((row, index) =>
      row.map((one, column) => (column === index ? one : 0)),
    );
    // The log knows what is lost in all far better than how much of it the sun takes.
    expect(spreadOf(posterior)).toBeLessThan(0.9 * spreadOf({ ...posterior, covariance: apart }));
  });

  it("holds what a feeder gives over its setting, whatever it is set to", () => {
    const fed = firm.basins.findIndex(({ feeder }) => feeder !== "none");
    const basin = firm.basins[fed] as FirmLog["basins"][number];
    const half = basin.visits[basin.visits.length >> 1]?.at ?? 0;
    const settings = [{ at: basin.visits[0]?.at ?? 0, value: 1.5 }];
    const alone: FirmLog = { ...firm, basins: [{ ...basin, settings }] };
    const one = FirmLearner.learn(alone)?.answerOf(0).posterior as Posterior;
    expect(one.setting).toBe(1.5);
    const twice = FirmLearner.learn({
      ...alone,
      basins: [{ ...basin, settings: [...settings, { at: half, value: 3 }] }],
    })?.answerOf(0).posterior as Posterior;
    // It gave as much as before: of a setting twice as high that is half, as far as the log since then tells.
    const ratio = ratesIn(twice).feeder / (twice.setting ?? 1) / (ratesIn(one).feeder / 1.5);
    expect(ratio).toBeLessThan(0.8);
    expect(ratesIn(twice).feeder).toBeLessThan(1.7 * ratesIn(one).feeder);
  });
});

describe("habits as they are told", () => {
  it("come to the rates that they were told of, from whatever water the plan begins", () => {
    const compared = learned.flatMap(({ habits, rates }, index) => {
      const basin = firm.basins[index] as FirmLog["basins"][number];
      const water = {
        ...USUAL_FILL,
        ph: 8.1,
        totalAlkalinity: 120,
        temperature: basin.kind === "spa" ? 38 : 24,
      };
      const told = ratesFrom(
        habits,
        basin,
        water,
        totalsOf({ ...USUAL_FILL, ...basin.fill }),
        surroundingsOf(basin, firm.location, [], [{ at: 0, value: water.temperature }]),
        Date.UTC(2026, 7, 1),
      );
      return [Math.log(told.rates.gasExchange / rates.gasExchange)];
    });
    // A tenth in the mean; told from a water at 8 that hardly rises any more they came out up to ten times off.
    const mean = compared.reduce((sum, one) => sum + Math.abs(one), 0) / compared.length;
    expect(mean).toBeLessThan(0.12);
  });
});
