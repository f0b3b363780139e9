import loadHighs from "highs";
import { beforeAll, describe, expect, it } from "vitest";
import { addDays } from "../schedule/days";
import { Arrangement } from "./arrangement";
import { BROKEN, prepared } from "./prepared";
import type { WeekCall, WeekProblem } from "./problem";
import { brokenRules } from "./rules";
import { type Suggestion, suggestWeek, type WeekSolver } from "./suggest";
import { rightDays, valuesOf } from "./value";
import { FROM, madeUpWeek, worthOf } from "./week.fixtures";
import { LONGEST_GAP } from "./worth";

let solver: WeekSolver;
beforeAll(async () => {
  solver = (await loadHighs()) as unknown as WeekSolver;
});

/** So many turns of a hundred after the first answer and the programme's. */
function suggested(problem: WeekProblem, turns: number, by: WeekSolver | null = solver): Suggestion {
  const suggestions = suggestWeek(problem, by);
  let best = suggestions.next().value;
  for (let turn = 0; turn < turns + 1; turn++) best = suggestions.next().value;
  return best;
}

describe("what calls are worth", () => {
  it("adds up on paper", () => {
    // Right for certain for two days after a call, never after; without one never.
    const after = Array.from({ length: LONGEST_GAP }, (_, index) =>
      Array.from({ length: index + 1 }, (_, day) => (day < 2 ? 1 : 0)),
    );
    const worth = { alone: Array<number>(LONGEST_GAP).fill(0), after };
    const values = valuesOf(worth, 7, [], 0.5, null);
    // Calls on days 1 and 4: right on 1, 2, 4 and 5.
    expect(rightDays(values, [1, 4])).toBe(4);
    expect(rightDays(values, [])).toBe(0);
    // A day that counts three times, and days at the end that count until the end only.
    expect(rightDays(valuesOf(worth, 7, [1, 1, 3], 0.5, null), [1, 6])).toBe(1 + 3 + 1);
  });

  it("leaves no call out because the days end", () => {
    const problem = madeUpWeek({ seed: 3, basins: 6, days: 14, people: 2, hours: 400, minuteWorth: 0.004 });
    const { calls } = suggested(problem, 20);
    const inWeek = (from: number) =>
      calls.filter(({ day }) => day >= addDays(FROM, from) && day < addDays(FROM, from + 7)).length;
    expect(inWeek(7)).toBeGreaterThan(0.6 * inWeek(0));
  });
});

describe("an arrangement", () => {
  it("is at most 2 % worse than the best of all there are, in small weeks", () => {
    for (let seed = 1; seed <= 4; seed++) {
      const problem = smallWeek(seed);
      const best = bestOfAll(problem);
      const { worth, bound } = suggested(problem, 20);
      expect(worth).toBeLessThan(best + 1e-6);
      expect(worth).toBeGreaterThan(0.98 * best);
      // What it proves is no less than what there is.
      expect(bound as number).toBeGreaterThan(best - 1e-6);
    }
  });

  it("is so too where stops are to be kept that bring less than they cost", () => {
    for (let seed = 1; seed <= 3; seed++) {
      const small = smallWeek(seed);
      const basins = small.basins.map((basin, index) => ({ ...basin, fewest: 1 + (index % 2) }));
      const problem = { ...small, minuteWorth: 0.05, basins };
      const best = bestOfAll(problem);
      const { worth, bound, calls } = suggested(problem, 20);
      expect(worth).toBeGreaterThan(best - 0.02 * Math.abs(best));
      expect(bound as number).toBeGreaterThan(best - 1e-6);
      for (const { id, fewest } of basins)
        expect(calls.filter(({ basin }) => basin === id).length).toBeGreaterThanOrEqual(fewest);
    }
  });

  it("takes no stop from a basin without a contract, however little it brings", () => {
    const problem = madeUpWeek({ seed: 4, basins: 8, days: 14, people: 2, hours: 480, minuteWorth: 0.2 });
    // From Friday to Sunday and on to Friday: an uneven rhythm.
    const stands = problem.basins.flatMap(({ id }) =>
      [0, 2, 7, 9].map((ahead) => ({ basin: id, person: "ines", day: addDays(FROM, ahead) })),
    );
    const basins = problem.basins.map((basin) => ({ ...basin, most: 6, worth: worthOf(1, 21, 0) }));
    const drawnWith = (fewest: number) =>
      suggested({ ...problem, stands, basins: basins.map((basin) => ({ ...basin, fewest })) }, 10);
    expect(drawnWith(4).calls.length).toBe(stands.length);
    expect(drawnWith(0).calls.length).toBeLessThan(stands.length);
  });

  it("keeps every rule in 500 firms, or says which of them do not hold together and what would have to give", () => {
    let impossible = 0;
    for (let seed = 1; seed <= 500; seed++) {
      const problem = madeUpWeek({
        seed,
        basins: 4 + (seed % 9),
        days: seed % 3 === 0 ? 14 : 7,
        people: 1 + (seed % 3),
        hours: [120, 240, 400][seed % 3] as number,
        rules: true,
      });
      const { calls, conflicts } = suggested(problem, 3, null);
      const broken = brokenRules(problem, calls);
      const never = broken.filter(
        ({ rule }) => !["most-days", "least-days", "must", "fewest"].includes(rule),
      );
      expect(never, `firm ${seed}`).toEqual([]);
      expect(conflicts.length).toBe(broken.length);
      for (const { broken: one, against, gives } of conflicts) {
        impossible++;
        // Two calls that the contract wants apart stand against one another.
        if (one.rule !== "least-days") expect(against.length, JSON.stringify(one)).toBeGreaterThan(0);
        expect(gives.at(-1)).toEqual({ rule: "contract" });
      }
    }
    expect(impossible).toBeGreaterThan(100);
  }, 120_000);

  it("mends what does not hold together once that is given which it says would do", () => {
    let mended = 0;
    for (let seed = 1; seed <= 40; seed++) {
      const problem = madeUpWeek({ seed, basins: 5, days: 7, people: 1, hours: 150, rules: true });
      const { conflicts } = suggested(problem, 3, null);
      for (const { broken, gives } of conflicts) {
        const hours = gives.find((one) => one.rule === "hours");
        if (hours?.rule !== "hours" || broken.rule !== "must") continue;
        const wider: WeekProblem = {
          ...problem,
          people: problem.people.map((person) => ({
            ...person,
            hours: person.hours.map((minutes) => minutes + (minutes > 0 ? hours.missing : 0)),
          })),
        };
        const after = suggested(wider, 5, null).conflicts;
        expect(after.length, `firm ${seed}`).toBeLessThan(conflicts.length);
        mended++;
      }
    }
    expect(mended).toBeGreaterThan(0);
  });

  it("proves that rules cannot hold together, and does not say so of those that can", () => {
    const problem = smallWeek(2);
    const [first, ...others] = problem.basins as [WeekProblem["basins"][number]];
    const daily = { ...first, daily: true };
    // Nobody works on a weekend, and the law asks for it every day.
    const cannot = suggested({ ...problem, basins: [daily, ...others] }, 2);
    expect(cannot.impossible).toBe(true);
    expect(cannot.conflicts.map(({ broken }) => broken)).toContainEqual({
      rule: "must",
      basin: first.id,
      day: "2026-05-09",
      because: "daily",
    });
    expect(suggested(problem, 2).impossible).toBe(false);
  });

  it("keeps the week where a change costs more than it brings", () => {
    const asked = { seed: 5, basins: 12, days: 7, people: 2, hours: 480 };
    const still = suggested(madeUpWeek({ ...asked, changeWorth: 50 }), 10, null);
    // What stands breaks two contracts: nothing but that is mended.
    expect(still.changes.map(({ because }) => because)).toEqual(["rule", "rule"]);
    const free = suggested(madeUpWeek({ ...asked, changeWorth: 0 }), 10, null);
    const some = suggested(madeUpWeek({ ...asked, changeWorth: 0.3 }), 10, null);
    expect(free.changes.length).toBeGreaterThan(some.changes.length);
    expect(some.changes.length).toBeGreaterThan(0);
    expect(free.after.right).toBeGreaterThan(free.before.right);
    for (const { gone, come } of some.changes) expect(gone.length + come.length).toBeGreaterThan(0);
  });

  it("knows nobody without hours, and takes the usual way to a site without a place", () => {
    const problem = madeUpWeek({ seed: 1, basins: 5, days: 7, people: 2, hours: 300 });
    const [one, other] = problem.people as [WeekProblem["people"][number], WeekProblem["people"][number]];
    const idle = suggested({ ...problem, people: [{ ...one, hours: [] }, other], stands: [] }, 2, null);
    expect(idle.calls.every(({ person }) => person === other.id)).toBe(true);
    const nowhere = suggested({ ...problem, ways: { known: {}, usual: 12 } }, 2, null);
    const stops = nowhere.calls.filter(({ day }) => day === nowhere.calls[0]?.day);
    expect(stops.length).toBeGreaterThan(0);
    expect(suggested({ ...problem, people: [] }, 1, null).calls).toEqual([]);
  });
});

/** Four basins, five days, two people: some of them may not go everywhere. */
function smallWeek(seed: number): WeekProblem {
  const problem = madeUpWeek({ seed, basins: 4, days: 7, people: 2, hours: 130 });
  return {
    ...problem,
    basins: problem.basins.map((basin, index) => ({
      ...basin,
      worth: worthOf(0.9, 1 + index / 2, 0.1 + 0.15 * index),
      mayGo: index === 0 ? [problem.people[1]?.id as string] : null,
      // At most two calls of eight days each: what can be tried is tried.
      least: 2,
      allowed: [1, 3, 5],
    })),
  };
}

/** By trying every set of days and people for each basin, in every order of a day that keeps its hours. */
function bestOfAll(problem: WeekProblem): number {
  const week = prepared(problem);
  const { days, people } = week;
  const options = problem.basins.map((_, basin) => {
    const made = new Arrangement(week);
    const choices: [number, number][][] = [[]];
    for (let day = 0; day < days.length; day++)
      for (const so of [...choices])
        for (let person = 0; person < people; person++)
          if (made.mayBe(basin, day, person)) choices.push([...so, [day, person]]);
    return choices;
  });
  let best = Number.NEGATIVE_INFINITY;
  const tryAll = (basin: number, so: [number, number][][]): void => {
    if (basin < options.length) {
      for (const choice of options[basin] as [number, number][][]) tryAll(basin + 1, [...so, choice]);
      return;
    }
    const made = new Arrangement(week);
    so.forEach((calls, index) => {
      for (const [day, person] of calls) made.append(index, day, person);
    });
    made.order(made.routes.keys());
    if (made.used.some((minutes, at) => minutes > (week.hours[at] as number) + 1e-9)) return;
    best = Math.max(best, made.worth());
  };
  tryAll(0, []);
  return best > -BROKEN ? best : Number.NaN;
}

describe("the rules", () => {
  const problem = madeUpWeek({ seed: 1, basins: 3, days: 7, people: 2, hours: 300 });
  const [basin] = problem.basins as [WeekProblem["basins"][number]];
  const [ines, jory] = problem.people as [WeekProblem["people"][number], WeekProblem["people"][number]];
  const rules = (
    changed: Partial<typeof basin>,
    calls: Partial<WeekCall>[],
    more: Partial<WeekProblem> = {},
  ) =>
    brokenRules(
      { ...problem, ...more, basins: [{ ...basin, since: 1, most: null, ...changed }] },
      calls.map((call) => ({ basin: basin.id, person: ines.id, day: FROM, ...call })),
    ).map(({ rule }) => rule);

  it("are told one by one", () => {
    expect(rules({}, [{}])).toEqual([]);
    expect(rules({ allowed: [2] }, [{}])).toEqual(["weekday"]);
    expect(rules({ mayGo: [jory.id] }, [{}])).toEqual(["may-go"]);
    expect(rules({ season: { from: "06-01", to: "09-30" } }, [{}])).toEqual(["season"]);
    expect(rules({}, [{ day: "2026-05-09" }])).toEqual(["off"]);
    expect(rules({}, [{}], { closed: [FROM] })).toEqual(["closed"]);
    expect(rules({}, [{ person: "who left" }])).toEqual(["off"]);
    expect(rules({}, [{}, { person: jory.id }])).toEqual(["twice"]);
    expect(rules({ minutes: 301 }, [{}])).toEqual(["hours"]);
    expect(rules({ load: 41 }, [{}], { people: [{ ...ines, carries: 40 }, jory] })).toEqual(["load"]);
    expect(rules({ most: 3 }, [{ day: "2026-05-06" }])).toEqual(["most-days"]);
    expect(rules({ least: 3 }, [{ day: "2026-05-04" }, { day: "2026-05-06" }])).toEqual([
      "least-days",
      "least-days",
    ]);
    expect(rules({ fewest: 2 }, [{}])).toEqual(["fewest"]);
    expect(rules({ fewest: 1 }, [{}])).toEqual([]);
    expect(rules({ fixed: [3] }, [{}])).toEqual(["must"]);
    expect(rules({ must: ["2026-05-08"] }, [{}])).toEqual(["must"]);
    expect(rules({ daily: true }, [{}])).toHaveLength(6);
    // An event's call is made on a day that the customer would not give otherwise.
    expect(rules({ must: [FROM], allowed: [2] }, [{}])).toEqual([]);
  });
});
