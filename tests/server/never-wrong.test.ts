import { millisecondsInDay } from "date-fns/constants";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type HorizonPlan, type PlanProblem, problemOf, TRAITS } from "#core";
import { asFirm, type Database } from "#server/db/connection";
import { type Client, faultText } from "../client";
import type { Firm } from "../firm";
import { type Read, shownVisit, visitWith } from "../visit";
import { openWorld } from "../world";

/** What a visit's page says and what its plan does, where a reading is missing, old, or at an edge. */
let db: Database;
let close: () => Promise<void>;
let ours: Firm;
let http: Client;

beforeAll(async () => {
  ({ db, ours, http, close } = await openWorld());
});
afterAll(() => close());

const judged = (visit: string) => shownVisit(http, visit);
const problemAt = async (visit: string): Promise<PlanProblem> => {
  const problem = problemOf(await judged(visit));
  if ("reason" in problem) throw new Error(`no problem: ${problem.reason}`);
  return problem;
};
/** What is poured today but for chlorine, which is spent until the next call whatever it reads. */
const pouredAt = async (visit: string): Promise<string[]> => {
  const shown: { plan: HorizonPlan } | null = await (await http.get(`/visits/${visit}/plans`)).json();
  if (!shown) throw new Error("no plan");
  return shown.plan.pours.flatMap(({ compound }) => (TRAITS[compound].chlorine ? [] : [compound]));
};
const visitOf = (read: Read) => visitWith(db, ours, http, read);

/** Sets every visit so far back in time, its readings with it. */
const daysPass = (days: number) =>
  asFirm(db, ours.id, async (scope) => {
    const back = (at: Date) => new Date(at.getTime() - days * millisecondsInDay);
    for (const one of await scope.selectFrom("reading").select(["id", "taken_at"]).execute())
      await scope
        .updateTable("reading")
        .set({ taken_at: back(one.taken_at) })
        .where("id", "=", one.id)
        .execute();
    for (const one of await scope.selectFrom("visit").select(["id", "started_at", "finished_at"]).execute())
      await scope
        .updateTable("visit")
        .set({
          started_at: back(one.started_at),
          ...(one.finished_at ? { finished_at: back(one.finished_at) } : {}),
        })
        .where("id", "=", one.id)
        .execute();
  });

const RIGHT: Read = { ph: [7.4, 7.6], alkalinity: 100, hardness: 300, stabiliser: 40, chlorine: 3 };

describe("with only pH and alkalinity read, both in range", () => {
  it("nothing is dosed, and what was not read is named", async () => {
    const visit = await visitOf({ ph: [7.4, 7.6], alkalinity: 100 });
    expect(await pouredAt(visit)).toEqual([]);
    const { leftAlone } = await problemAt(visit);
    expect(leftAlone.map(({ quantity, standing }) => `${quantity} ${standing}`)).toEqual([
      "calciumHardness assumed",
      "cyanuricAcid assumed",
      "freeChlorine assumed",
    ]);
  });

  it("the judge's chlorine floor and the plan's are of one water", async () => {
    const visit = await visitOf({ ph: [7.4, 7.6], alkalinity: 100, chlorine: 3 });
    const { ranges } = await judged(visit);
    const { input } = await problemAt(visit);
    expect(input.goals.freeChlorine.low).toBe(ranges.freeChlorine?.low);
    expect(input.water.cyanuricAcid).toBe(30);
  });
});

describe("a reading of another day", () => {
  it("stays told with its age when it was out, closes nothing, and is dosed for only while it is fresh", async () => {
    await visitOf({ ...RIGHT, hardness: 450, chlorine: 0.2 });
    await daysPass(28);
    const visit = await visitOf({ ph: [7.4, 7.6], alkalinity: 100 });
    const { outBefore, findings, notices } = await judged(visit);
    expect(findings).toEqual([]);
    expect(outBefore).toMatchObject([{ code: "calciumHardness.high", value: 450, closes: false }]);
    expect(outBefore[0]?.daysAgo).toBeCloseTo(28, 0);
    expect(notices.some(({ code }) => code === "basin.closed")).toBe(false);
    // Chlorine of four weeks ago is not today's.
    const { leftAlone, input } = await problemAt(visit);
    expect(leftAlone).toMatchObject([{ quantity: "freeChlorine", standing: "assumed" }]);
    expect(input.goals.calciumHardness).toMatchObject({ known: true, steer: true });

    await daysPass(12);
    const later = await visitOf({ ph: [7.4, 7.6], alkalinity: 100, chlorine: 3 });
    expect((await judged(later)).outBefore).toMatchObject([{ code: "calciumHardness.high" }]);
    const old = await problemAt(later);
    expect(old.leftAlone).toMatchObject([
      { quantity: "calciumHardness", standing: "old", value: 450 },
      { quantity: "cyanuricAcid", standing: "old", value: 40 },
    ]);
    expect(await pouredAt(later)).toEqual([]);
  });
});

describe("a reading at an edge", () => {
  it("is told where its drop reaches over it, and nothing is dosed for that", async () => {
    const visit = await visitOf({ ...RIGHT, alkalinity: 80 });
    const { findings, possible } = await judged(visit);
    expect(findings).toEqual([]);
    expect(possible).toMatchObject([{ code: "totalAlkalinity.low", possible: true, limit: 80 }]);
    expect(await pouredAt(visit)).toEqual([]);
  });

  it("closes the basin where it ran off its scale past the limit", async () => {
    const visit = await visitOf({ ...RIGHT, ph: [8.2, null] });
    const { notices } = await judged(visit);
    const closedBy = (finding: string) => ({
      code: "basin.closed",
      because: expect.arrayContaining([expect.objectContaining({ code: "reading", finding })]),
    });
    expect(notices[0]).toMatchObject(closedBy("ph.high"));
    const low = await judged(await visitOf({ ...RIGHT, ph: [null, 6.8] }));
    expect(low.notices[0]).toMatchObject(closedBy("ph.low"));
  });
});

describe("amounts chosen by hand", () => {
  it("that no order makes safe are not begun, and the fault says how much would be", async () => {
    const visit = await visitOf(RIGHT);
    const acid = await asFirm(db, ours.id, (scope) =>
      scope
        .selectFrom("product")
        .select("id")
        .where("compound", "=", "hydrochloric-acid")
        .executeTakeFirstOrThrow(),
    );
    const begin = (grams: number) =>
      http.postJson(`/visits/${visit}/plan.data`, {
        id: uuid(),
        origin: "what-if",
        grams: { [acid.id]: grams },
        replaced: 0,
        aerated: 0,
      });
    const asked = await faultText(await begin(5000));
    expect(asked).toMatch(/5000. The most allowed is [\d,]+/);
    const most = Number(/allowed is (\d+)\./.exec(asked)?.[1]);
    expect(most).toBeGreaterThan(50);
    expect(most).toBeLessThan(1000);
    expect((await begin(Math.floor(most / 2))).status).toBeLessThan(400);
  });
});
