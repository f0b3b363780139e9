import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import {
  addDays,
  callsWorthOf,
  contextFor,
  dayIn,
  daysBetween,
  doubtsOf,
  type FirmLog,
  type HoldBasis,
  holdOf,
  learnFirm,
  type Suspicion,
} from "#core";
import { allBasins, basinById } from "#server/db/basins";
import { asFirm } from "#server/db/connection";
import { firmOf } from "#server/db/firms";
import { isLearned, type LogRow, learnedOf, logSince, saveLearned, suspicionsOf } from "#server/db/learned";
import { volumesOf } from "#server/db/volumes";
import { weatherBetween } from "#server/devices/weather";
import { learnFirms } from "#server/jobs/nightly";
import { firmLogOf } from "#server/learning/firm-log";
import { learnOneFirm, learnUnlearned } from "#server/learning/learn-firm";
import { roundOn } from "#server/round/day";
import { startWeather } from "#server/standins/weather";
import { dataOf } from "../client";
import { shownVisit, visitWith } from "../visit";
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
  hold: async (bases: readonly HoldBasis[]) =>
    bases.map((basis) => ({ hold: holdOf(basis), worth: callsWorthOf(basis) })),
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

  it("takes a dose for one of the delivery that was in use on its day", async () => {
    const basins = await inOurs(allBasins);
    const row = (at: string): LogRow => ({
      basinId: world.ours.basinId,
      at: new Date(at),
      weather: null,
      replaced: null,
      meter: null,
      feederSetting: null,
      jobs: null,
      readings: [],
      doses: [{ at, productId: "acid", product: "hydrochloric-acid", strength: 0.31, grams: 500 }],
    });
    const delivery = (id: string, usedFrom: string, productId = "acid") => ({
      id,
      usedFrom,
      productId,
      lot: "",
    });
    // The second is begun in the evening of the tenth, by the clock of the firm's zone.
    const rows = ["2026-05-01T12:00Z", "2026-05-09T12:00Z", "2026-05-10T03:00Z", "2026-05-10T22:00Z"].map(
      row,
    );
    const deliveries = [
      delivery("other", "2026-05-01", "soda"),
      delivery("second", "2026-05-10"),
      delivery("first", "2026-05-02"),
    ];
    const log = firmLogOf(
      basins,
      rows,
      deliveries,
      [],
      new Map(),
      new Date("2026-05-11T00:00Z"),
      "America/Denver",
    );
    const own = log.basins.find(({ id }) => id === world.ours.basinId);
    expect(own?.visits.flatMap(({ doses }) => doses.map(({ lot }) => lot))).toEqual([
      undefined,
      "first",
      "first",
      "second",
    ]);
  });

  it("has the fresh water between two readings of a meter, without what was replaced", async () => {
    const basins = await inOurs(allBasins);
    const litres = basins.find(({ id }) => id === world.ours.basinId)?.litres ?? 0;
    const row = (day: number, meter: number | null, more: Partial<LogRow> = {}): LogRow => ({
      basinId: world.ours.basinId,
      at: new Date(Date.UTC(2026, 4, day, 9)),
      weather: null,
      replaced: null,
      meter:
        meter === null
          ? null
          : { at: new Date(Date.UTC(2026, 4, day, 9)).toISOString(), value: meter, changed: false },
      feederSetting: null,
      jobs: null,
      readings: [],
      doses: [],
      ...more,
    });
    const third = litres / 3000;
    const rows = [
      row(1, 10),
      row(4, null),
      row(8, 12.1, { replaced: 1 / 3 }),
      row(10, 12.7 + third),
      row(12, 3),
    ];
    const log = firmLogOf(basins, rows, [], [], new Map(), new Date("2026-05-13T00:00Z"), "UTC");
    const fresh = log.basins.find(({ id }) => id === world.ours.basinId)?.visits.map((one) => one.fresh);
    expect(fresh?.slice(0, 4)).toEqual([
      undefined,
      undefined,
      { litresADay: expect.closeTo(300, 6), days: 7 },
      // 0.6 m³ in two days beside a third of the basin.
      { litresADay: expect.closeTo(300, 6), days: 2 },
    ]);
    // Less than before and nobody said that it is another: no water, and nothing is learned of it.
    expect(fresh?.[4]?.litresADay).toBeLessThan(0);
  });

  it("is learned by the night's job, kept with what it rests on, and shown at the basin", async () => {
    expect(await inOurs((scope) => learnedOf(scope, world.ours.basinId))).toBeNull();
    const wanted: string[] = [];
    await learnUnlearned(world.db, { learnSoon: async (id) => void wanted.push(id) });
    expect(wanted).toContain(world.ours.id);
    const now = new Date();
    await learnOneFirm(world.db, world.ours.id, here, now);
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
    await learnOneFirm(world.db, world.ours.id, here, now);
    expect(await inOurs((scope) => learnedOf(scope, world.ours.basinId))).toEqual(kept);
  });

  it("works out what would hold a water where something came in, and else once a day", async () => {
    const asked: string[][] = [];
    const work = {
      ...here,
      hold: async (bases: readonly HoldBasis[]) => {
        asked.push(bases.map(({ basin }) => basin.id));
        return here.hold(bases);
      },
    };
    const at = Date.now() + 3_600_000;
    const hour = 3_600_000;
    // A fourth visit, from which on it is told.
    const visit = await visitWith(world.db, world.ours, world.http, {
      ph: [7.4, 7.6],
      alkalinity: 100,
      chlorine: 2,
    });
    await world.http.post(
      `/visits/${visit}/close`,
      new URLSearchParams({ id: crypto.randomUUID(), note: "" }),
    );
    for (const later of [0, 1, 30])
      await learnOneFirm(world.db, world.ours.id, work, new Date(at + later * hour));
    expect(asked).toEqual([[world.ours.basinId], [], [world.ours.basinId]]);
    const kept = await inOurs((scope) => learnedOf(scope, world.ours.basinId));
    expect(kept?.hold?.asItIs.right.value).toBeGreaterThanOrEqual(0);
  });

  it("is for every firm in the night, each by whichever server has a hand free", async () => {
    const wanted: string[] = [];
    const night = await learnFirms(world.db, new Date(), null, {
      learnSoon: async (id) => void wanted.push(id),
    });
    expect(night).toEqual({ count: 2, failed: [] });
    expect(wanted.sort()).toEqual([world.ours.id, world.theirs.id].sort());
  });

  it("stays behind the firm's wall", async () => {
    const theirs = await asFirm(world.db, world.theirs.id, (scope) => learnedOf(scope, world.ours.basinId));
    expect(theirs).toBeNull();
  });

  it("is told the weather of the days to come, where somebody tells it", async () => {
    const weather = await startWeather();
    const asked: string[][] = [];
    let told: Parameters<typeof learnFirm>[0] | null = null;
    await learnOneFirm(
      world.db,
      world.ours.id,
      {
        learn: async (log) => {
          told = log;
          return here.learn(log);
        },
        hold: here.hold,
        weatherBetween: async (...span) => {
          asked.push(span);
          return weatherBetween(
            `http://127.0.0.1:${weather.port}`,
            "Lower Town, Orrin Vale",
            span[1],
            span[2],
          );
        },
      },
      new Date(),
    );
    await weather.stop();
    const [, from = "", to = ""] = asked[0] ?? [];
    expect(daysBetween(from, to)).toBe(30);
    const days = (told as unknown as FirmLog).weather.map(({ day }) => day);
    expect(days).toContain(from);
    expect(days).toContain(to);
    // No service, one that is gone, and a district that nobody knows are all passed over.
    expect(await weatherBetween(null, "Lower Town, Orrin Vale", from, to)).toEqual([]);
    expect(
      await weatherBetween(`http://127.0.0.1:${weather.port}`, "Lower Town, Orrin Vale", from, to),
    ).toEqual([]);
  });
});

describe("what was learned", () => {
  const day = 86_400_000;
  const around = (value: number, half: number) => ({ value, low: value - half, high: value + half });
  const suspicion: Suspicion = {
    code: "volume",
    basin: "",
    ratio: { value: 1.3, low: 1.2, high: 1.4 },
    chance: 0.97,
  };
  /** Chlorine that falls under any floor within a day, and a volume that the log speaks against. */
  const keep = async () => {
    const known = await inOurs((scope) => learnedOf(scope, world.ours.basinId));
    if (!known) throw new Error("nothing was learned");
    const now = Date.now();
    const forecast = [0, 1, 2, 3, 4, 5, 6].map((ahead) => ({
      at: now + ahead * day,
      freeChlorine: around(Math.max(0.1, 3 - 2.8 * ahead), 0.2),
      totalAlkalinity: around(100, 12),
    }));
    const content = { ...known, forecast };
    const basin = world.ours.basinId;
    await inOurs((scope) =>
      saveLearned(
        scope,
        world.ours.id,
        {
          basins: [{ content, visits: known.visits, hold: null, worth: null }],
          suspicions: [{ ...suspicion, basin }],
        },
        new Date(),
      ),
    );
  };
  beforeEach(keep);

  it("marks a call that will not last until its day, with when, and puts it before others", async () => {
    const round = async (ahead: number) => {
      const firm = await inOurs(firmOf);
      const now = new Date();
      const on = dayIn(new Date(now.getTime() + ahead * day), firm.timeZone);
      const found = await inOurs((scope) => roundOn(scope, firm, on, now));
      return found.calls.find(({ basin }) => basin.id === world.ours.basinId);
    };
    const later = await round(3);
    expect(later?.crossings).toMatchObject([{ quantity: "freeChlorine", edge: "low" }]);
    const at = later?.crossings[0]?.at ?? 0;
    expect(at).toBeGreaterThan(Date.now());
    expect(at).toBeLessThan(Date.now() + 1.2 * day);
    expect(later?.need).toBeGreaterThan(3.5);
    // Of a day that is over nothing is expected.
    expect((await round(-2))?.crossings).toEqual([]);
  });

  it("asks at the test about a count far off what was expected, and refuses none for it", async () => {
    const visit = await visitWith(world.db, world.ours, world.http, {});
    const shown = await shownVisit(world.http, visit);
    expect(shown.log.expected.totalAlkalinity?.value).toBeCloseTo(100, 0);
    const alkalinity = shown.kit.methods.find(({ id }) => id === "total-alkalinity");
    if (!alkalinity) throw new Error("no such test");
    const seen = { kind: "drops", count: 19, sample: 25 } as const;
    const result = { value: 190, low: 180, high: 190, unit: "mg/L", bound: "within" } as const;
    expect(
      doubtsOf(contextFor(shown.log, [], { method: alkalinity, result, seen })).map(({ code }) => code),
    ).toContain("far-from-expected");
    const answer = await world.http.postJson(`/visits/${visit}/totalAlkalinity`, {
      id: crypto.randomUUID(),
      methodId: "total-alkalinity",
      confirmed: [],
      seen,
    });
    expect(answer.status).toBeLessThan(400);
  });

  it("is a volume that one press takes over from a day on, once, and from no day to come", async () => {
    const send = (body: object) =>
      world.http.postJson(`/basins/${world.ours.basinId}/volume.data`, {
        command: "measure-volume",
        id: crypto.randomUUID(),
        how: "log",
        ...body,
      });
    const litres = async () => (await inOurs((scope) => basinById(scope, world.ours.basinId)))?.litres ?? 0;
    const before = await litres();
    const page = await (await world.http.get(`/basins/${world.ours.basinId}`)).text();
    expect(page).toMatch(/Doses and readings suggest/);
    const today = dayIn(new Date(), (await inOurs(firmOf)).timeZone);
    const early = await send({ from: addDays(today, 1) });
    expect(early.status).toBe(422);
    expect(await litres()).toBe(before);
    expect((await send({ from: addDays(today, -10) })).status).toBe(200);
    expect(await litres()).toBeCloseTo(1.3 * before, 6);
    const [written] = (await inOurs((scope) => volumesOf(scope, world.ours.basinId))).filter(
      ({ how }) => how === "log",
    );
    expect(written).toMatchObject({
      low: expect.closeTo(1.2 * before, 6),
      high: expect.closeTo(1.4 * before, 6),
    });
    expect(Date.now() - (written?.knownFrom.getTime() ?? 0)).toBeGreaterThan(9 * day);
    // It spoke against a book that is another now.
    expect(await inOurs(suspicionsOf)).toEqual([]);
    expect((await send({})).status).toBe(422);
    expect(await litres()).toBeCloseTo(1.3 * before, 6);
  });

  it("draws a season of every way of chlorinating, by the basin's own rates", async () => {
    await visitWith(world.db, world.ours, world.http, { ph: [7.4, 7.6], alkalinity: 100, chlorine: 3 });
    const answer = await world.http.get(`/basins/${world.ours.basinId}/season`);
    expect(answer.status).toBe(200);
    const text = await answer.text();
    for (const way of ["Tablets", "Dichlor", "Liquid", "Salt cell"]) expect(text).toContain(way);
    expect(text).toMatch(/own habits, from \d+ visits/);
  });
});

describe("other work", () => {
  it("teaches how long each piece of work takes, by the taps of its hands", async () => {
    const visit = await inOurs((scope) =>
      scope
        .selectFrom("visit")
        .select(["id", "started_at"])
        .where("finished_at", "is not", null)
        .executeTakeFirstOrThrow(),
    );
    const at = new Date(Date.now() - 3_600_000);
    await inOurs(async (scope) => {
      for (const [key, minutes] of [
        ["skim", 6],
        ["brush", 22],
      ] as const)
        await scope
          .insertInto("visit_work")
          .values({
            id: uuid(),
            firm_id: world.ours.id,
            visit_id: visit.id,
            member_id: world.ours.memberId,
            key,
            name: "",
            state: "done",
            why: "",
            at: new Date(at.getTime() + minutes * 60_000),
          })
          .execute();
    });
    await learnOneFirm(world.db, world.ours.id, here, new Date(Date.now() + 86_400_000));
    const { workMinutes } = await inOurs(firmOf);
    // 16 minutes beside three times the usual 8.
    expect(workMinutes?.brush).toEqual({ minutes: expect.closeTo(9.51, 1), times: 1 });
  });
});

describe("a firm's pace", () => {
  it("is learned by the night from when visits began and ended, and told on the Round", async () => {
    const before = await inOurs(async (scope) =>
      roundOn(scope, await firmOf(scope), "2026-05-04", new Date()),
    );
    const half = new Date(Date.now() - 30 * 60_000);
    await inOurs((scope) =>
      scope
        .updateTable("visit")
        .set({ started_at: half, finished_at: new Date() })
        .where("basin_id", "=", world.ours.basinId)
        .where("finished_at", "is not", null)
        .execute(),
    );
    // Of today it is as it was worked out this morning.
    await learnOneFirm(world.db, world.ours.id, here, new Date(Date.now() + 86_400_000 + 60_000));
    const today = await inOurs(async (scope) =>
      roundOn(scope, await firmOf(scope), "2026-05-04", new Date()),
    );
    expect(today.pace.usualCall).toEqual(before.pace.usualCall);
    await learnOneFirm(world.db, world.ours.id, here, new Date(Date.now() + 2 * 86_400_000));
    const { pace } = await inOurs(async (scope) =>
      roundOn(scope, await firmOf(scope), dayIn(new Date(), "UTC"), new Date()),
    );
    const own = pace.calls[world.ours.basinId];
    expect(own?.times).toBeGreaterThanOrEqual(3);
    expect(own?.minutes).toBeGreaterThan(30);
    expect(own?.minutes).toBeLessThan(36);
    // A wall stands between firms here, too.
    expect(Object.keys(pace.calls)).not.toContain(world.theirs.basinId);
  });
});
