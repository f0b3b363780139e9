import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { learnFirm } from "#core";
import { asFirm } from "#server/db/connection";
import { isLearned, learnedOf, logSince, suspicionsOf } from "#server/db/learned";
import { learnFirms } from "#server/jobs/nightly";
import { learnUnlearned } from "#server/learning/learn-firm";
import { dataOf } from "../client";
import { visitWith } from "../visit";
import { openWorld, type World } from "../world";

/** What logs teach: learned in the night and soon after a close, kept behind the firm's wall, shown at the basin. */
let world: World;
beforeAll(async () => {
  world = await openWorld();
  for (const ph of [7.4, 7.6, 7.8])
    await visitWith(world.db, world.ours, world.http, {
      ph: [ph - 0.1, ph + 0.1],
      alkalinity: 100,
      chlorine: 3,
    }).then((visit) =>
      world.http.post(`/visits/${visit}/close`, new URLSearchParams({ id: crypto.randomUUID(), note: "" })),
    );
});
afterAll(() => world?.close());

const here = {
  learn: async (log: Parameters<typeof learnFirm>[0]) =>
    learnFirm(log) ?? { basins: [], suspicions: [], calibration: {} as never },
  weatherBetween: async () => [],
};
const inOurs = <T>(work: Parameters<typeof asFirm<T>>[2]) => asFirm(world.db, world.ours.id, work);

describe("the log of a firm", () => {
  it("is read with what was used, bracket and all, and none of another firm's", async () => {
    const rows = await inOurs((scope) => logSince(scope, new Date(0)));
    const own = rows.filter(({ basinId }) => basinId === world.ours.basinId);
    expect(own.length).toBeGreaterThanOrEqual(3);
    expect(rows.some(({ basinId }) => basinId === world.theirs.basinId)).toBe(false);
    const alkalinity = own.at(-1)?.readings.find(({ quantity }) => quantity === "totalAlkalinity");
    expect(alkalinity).toMatchObject({ value: 100, low: 90, high: 100, bound: "within" });
  });

  it("is learned by the night's job, kept with what it rests on, and shown at the basin", async () => {
    expect(await inOurs((scope) => learnedOf(scope, world.ours.basinId))).toBeNull();
    const wanted: string[] = [];
    await learnUnlearned(world.db, { learnSoon: async (id) => void wanted.push(id) });
    expect(wanted).toContain(world.ours.id);
    const now = new Date();
    expect(await learnFirms(world.db, now, here)).toMatchObject({ failed: [] });
    const kept = await inOurs((scope) => learnedOf(scope, world.ours.basinId));
    expect(kept?.visits).toBeGreaterThanOrEqual(3);
    expect(kept?.learnedAt).toEqual(now);
    expect(kept?.habits.chlorineLoss.low).toBeLessThan(kept?.habits.chlorineLoss.high ?? 0);
    expect(kept?.forecast.length).toBeGreaterThan(10);
    expect(await inOurs(isLearned)).toBe(true);
    expect(await inOurs(suspicionsOf)).toEqual([]);
    const page = await dataOf<Record<string, { data: { learned: { visits: number; atNext: object } } }>>(
      await world.http.get(`/basins/${world.ours.basinId}.data?_routes=routes/basin/route`),
    );
    expect(page["routes/basin/route"]?.data.learned).toMatchObject({ visits: kept?.visits });
    const shown = await (await world.http.get(`/basins/${world.ours.basinId}`)).text();
    expect(shown).toMatch(/Habits/);
    expect(shown).toMatch(/of its chlorine a day/);
    // Again is the same, in the same row.
    await learnFirms(world.db, now, here);
    expect(await inOurs((scope) => learnedOf(scope, world.ours.basinId))).toEqual(kept);
  });

  it("does not stop at a firm that goes wrong", async () => {
    let calls = 0;
    const night = await learnFirms(world.db, new Date(), {
      ...here,
      learn: async (log) => {
        if (calls++ === 0) throw new Error("a thread that died");
        return here.learn(log);
      },
    });
    expect(night.failed).toHaveLength(1);
  });

  it("stays behind the firm's wall", async () => {
    const theirs = await asFirm(world.db, world.theirs.id, (scope) => learnedOf(scope, world.ours.basinId));
    expect(theirs).toBeNull();
  });
});
