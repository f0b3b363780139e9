import { sql } from "kysely";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { addDays, callsAfter, dayIn, noonIn, weekdayOf } from "#core";
import { asFirm } from "#server/db/connection";
import { firmOf } from "#server/db/firms";
import { LEARNER_VERSION } from "#server/db/learned";
import { roundOn } from "#server/round/day";
import { boardOn, weekProblemOn } from "#server/week/week";
import { worthOf } from "../../core/week/week.fixtures";
import { type Client, dataOf, faultText } from "../client";
import { shownVisit, visitWith } from "../visit";
import { openWorld, type World } from "../world";

/** The week: calls that move, who is told, and what it is drawn up from. */
let world: World;
let owner: Client;
const today = dayIn(new Date(), "UTC");
const at = (ahead: number) => addDays(today, ahead);

beforeAll(async () => {
  world = await openWorld();
  owner = await world.as(world.ours.ownerEmail);
  // Each week on the day two days from now.
  await inOurs((scope) =>
    scope
      .updateTable("basin")
      .set({ call_days: [weekdayOf(at(2))] })
      .execute(),
  );
});
afterAll(() => world.close());

const inOurs = <T>(work: Parameters<typeof asFirm<T>>[2]) => asFirm(world.db, world.ours.id, work);
const board = () =>
  inOurs(async (scope) => boardOn(scope, await firmOf(scope), { from: today, days: 14 }, new Date()));
const stops = async () =>
  (await board()).calls.map(({ day, memberId }) => [
    day,
    memberId === world.ours.ownerId ? "owner" : memberId,
  ]);
const round = (day: string) => inOurs(async (scope) => roundOn(scope, await firmOf(scope), day, new Date()));
const send = (body: object, client = owner, path = "/week.data") => client.postJson(path, body);

interface Move {
  basinId: string;
  from: string | null;
  to: string | null;
  memberId: string | null;
}
const moving = async (moves: Partial<Move>[], more: object = {}) => {
  const { versions } = await board();
  return {
    command: "move-calls",
    id: uuid(),
    versions,
    moves: moves.map((move) => ({
      basinId: world.ours.basinId,
      from: null,
      to: null,
      memberId: null,
      ...move,
    })),
    orders: [],
    ...more,
  };
};

describe("a call that moves", () => {
  it("goes from its day to another, with somebody else, and the plan of a visit reaches to there", async () => {
    expect(await stops()).toEqual([
      [at(2), null],
      [at(9), null],
    ]);
    const move = await moving([{ from: at(2), to: at(4), memberId: world.ours.ownerId }]);
    expect((await send(move)).status).toBe(200);
    // Sent again by a device that got no answer it counts once.
    expect((await send(move)).status).toBe(200);
    expect(await stops()).toEqual([
      [at(4), "owner"],
      [at(9), null],
    ]);
    expect((await round(at(2))).calls).toEqual([]);
    expect((await round(at(2))).moved).toMatchObject([{ name: "Site, Pool", to: at(4) }]);
    expect((await round(at(4))).calls).toHaveLength(1);
    const visit = await visitWith(world.db, world.ours, world.http, { ph: [7.4, 7.6], chlorine: 3 });
    const calls = callsAfter(await shownVisit(world.http, visit));
    expect(calls.slice(0, 2)).toEqual([at(4), at(9)].map((day) => noonIn(day, "UTC")));
    await world.http.post(`/visits/${visit}/close`, new URLSearchParams({ note: "" }));
  });

  it("is moved by one of two owners who drag it at once; the other is told, and it is there once", async () => {
    const one = await moving([{ from: at(4), to: at(5), memberId: null }]);
    const other = { ...one, id: uuid(), moves: [{ ...one.moves[0], to: at(6) }] };
    const answers = await Promise.all([send(one), send(other, world.http)]);
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 422]);
    const refused = answers.find(({ status }) => status === 422) as Response;
    expect(await faultText(refused)).toMatch(/Someone else/);
    const days = (await stops()).map(([day]) => day);
    expect(days).toHaveLength(2);
    expect([at(5), at(6)]).toContain(days[0]);
    await send(await moving([{ from: days[0] as string, to: at(4), memberId: null }]));
  });

  it("goes back, comes besides, and leaves the week", async () => {
    await send(await moving([{ from: at(4), to: at(2), memberId: null }]));
    expect((await stops()).map(([day]) => day)).toEqual([at(2), at(9)]);
    expect((await round(at(2))).moved).toEqual([]);
    // Undone it leaves nothing; moved on, its first day says where it is.
    expect((await round(at(4))).moved).toEqual([]);
    await send(await moving([{ from: at(2), to: at(3) }]));
    await send(await moving([{ from: at(3), to: at(6) }]));
    expect((await round(at(2))).moved).toMatchObject([{ to: at(6) }]);
    expect((await round(at(3))).moved).toMatchObject([{ to: at(6) }]);
    await send(await moving([{ from: at(6), to: at(2) }]));
    await send(await moving([{ to: at(5) }, { from: at(9) }]));
    expect((await stops()).map(([day]) => day)).toEqual([at(2), at(5)]);
    expect((await round(at(9))).moved).toMatchObject([{ to: null }]);
    await send(await moving([{ from: at(5) }, { to: at(9) }]));
    expect((await stops()).map(([day]) => day)).toEqual([at(2), at(9)]);
  });

  it("that a device out of reach calls at on its old day is in the book, and its new day says so", async () => {
    // Today's call moves to tomorrow while somebody stands there.
    await send(await moving([{ to: today }]));
    await send(await moving([{ from: today, to: at(1), memberId: null }]));
    const visit = await visitWith(world.db, world.ours, world.http, { ph: [7.4, 7.6], chlorine: 3 });
    expect(
      (await world.http.post(`/visits/${visit}/close`, new URLSearchParams({ note: "" }))).status,
    ).toBeLessThan(400);
    const call = (await board()).calls.find(({ day }) => day === at(1));
    expect(call?.calledOn).toBe(today);
    expect((await round(at(1))).calledBefore).toMatchObject([{ day: today }]);
    await send(await moving([{ from: at(1) }]));
  });

  it("is refused with the day or whoever is wrong, and nothing of it is done", async () => {
    const before = await stops();
    const { basinId, memberId } = world.theirs;
    for (const [move, told] of [
      [{ from: at(2), to: at(-1) }, /day/i],
      [{ from: at(2), to: "2026-02-30" }, /day|to/i],
      [{ from: at(2), to: at(3), basinId }, /basin/i],
      [{ from: at(2), to: at(3), memberId }, /person/i],
    ] as const) {
      const answer = await send(await moving([{ from: at(2), to: at(4) }, move]));
      expect(answer.status).toBe(422);
      expect(await faultText(answer)).toMatch(told);
    }
    expect(await stops()).toEqual(before);
  });
});

describe("what a week is drawn up from", () => {
  const problem = () =>
    inOurs(async (scope) =>
      weekProblemOn(
        scope,
        await firmOf(scope),
        { from: at(1), days: 14, minuteWorth: 0.01, changeWorth: 0.1 },
        new Date(),
      ),
    );

  it("is what stands, contracts, hours and holidays as they are written down", async () => {
    // Without a contract the two stops that stand are two stops; with one it says how many.
    expect((await problem()).basins).toMatchObject([{ fewest: 2, most: 8 }]);
    const basin = `/basins/${world.ours.basinId}/week.data`;
    const wishes = { least: 2, most: 8, allowed: [1, 3], fixed: [3], daily: false, use: 2, mayGo: null };
    expect((await send({ command: "save-wishes", ...wishes }, owner, basin)).status).toBe(200);
    const place = { latitude: 40.1, longitude: -105.2 };
    expect((await send({ command: "save-place", place }, owner, basin)).status).toBe(200);
    const { memberId } = world.ours;
    const hours = [300, 0, 300, 0, 300, 0, 0];
    const week = { memberId, hours, off: [at(3)], carries: 250 };
    expect((await send({ command: "save-member-week", ...week }, owner, "/settings/week.data")).status).toBe(
      200,
    );
    const closed = { command: "save-firm-week", closed: [at(5)] };
    expect((await send(closed, owner, "/settings/week.data")).status).toBe(200);
    const asked = await problem();
    expect(asked.stands.map(({ day }) => day)).toEqual([at(2), at(9)]);
    expect(asked.closed).toEqual([at(5)]);
    const [{ worth: _, ...told }] = asked.basins as [(typeof asked.basins)[number]];
    expect(told).toMatchObject({ least: 2, most: 8, allowed: [1, 3], fixed: [3], since: 1, fewest: 0 });
    // Nothing was learned yet: it stays on its days.
    expect(told.must).toEqual([at(2), at(9)]);
    expect(asked.people).toContainEqual({ id: memberId, hours, off: [at(3)], carries: 250, start: null });
    // Whoever has no hours, once somebody has, makes none of these calls.
    expect(asked.people.find(({ id }) => id === world.ours.ownerId)?.hours).toEqual([0, 0, 0, 0, 0, 0, 0]);
  });

  it("is refused with field, value and limit where it is none", async () => {
    const basin = `/basins/${world.ours.basinId}/week.data`;
    const wishes = { least: 9, most: 3, allowed: null, fixed: [], daily: false, use: 1, mayGo: null };
    expect(await faultText(await send({ command: "save-wishes", ...wishes }, owner, basin))).toMatch(/3.*9/);
    const nowhere = { command: "save-place", place: { latitude: 91, longitude: 0 } };
    expect(await faultText(await send(nowhere, owner, basin))).toMatch(/91.*90/);
    const { memberId } = world.ours;
    const long = { memberId, hours: [1500, 0, 0, 0, 0, 0, 0], off: [], carries: null };
    expect(
      await faultText(await send({ command: "save-member-week", ...long }, owner, "/settings/week.data")),
    ).toMatch(/25.*16/);
    for (const asked of ["from=x", "from=2031-01-01&days=99", "days=many", "change=-1"])
      expect((await owner.get(`/week/problem?${asked}`)).status, asked).toBe(422);
  });

  it("is nobody's but a worker's; a reader sees the days of their own basins", async () => {
    const page = await dataOf<Record<string, { data: { kind: string } }>>(await owner.get("/week.data"));
    expect(page["routes/week/route"]?.data.kind).toBe("board");
    expect((await owner.get(`/week/problem?from=${at(1)}&days=7&change=0.1`)).status).toBe(200);
  });
});

describe("the rest of today", () => {
  it("leaves what is done, works only the hours that are left, and without whoever is ill", async () => {
    const noon = new Date(`${today}T12:00:00Z`);
    const ask = (without: string | null) =>
      inOurs(async (scope) =>
        weekProblemOn(
          scope,
          { ...(await firmOf(scope)), timeZone: "UTC" },
          { from: today, days: 14, minuteWorth: 0.01, changeWorth: 0.1, without },
          noon,
        ),
      );
    const { memberId } = world.ours;
    const hours = [480, 480, 480, 480, 480, 480, 480];
    await send(
      { command: "save-member-week", memberId, hours, off: [], carries: null },
      owner,
      "/settings/week.data",
    );
    const left = async (without: string | null) =>
      (await ask(without)).people.find(({ id }) => id === memberId)?.hours[weekdayOf(today) - 1];
    // From eight to four: at noon four hours are left.
    expect(await left(null)).toBe(240);
    expect(await left(memberId)).toBe(0);
    expect((await ask(null)).days).toBe(7);
    // Called at today already: it is not asked for again, whatever the customer fixed.
    const basin = `/basins/${world.ours.basinId}/week.data`;
    const fixed = [weekdayOf(today)];
    const wishes = { least: null, most: null, allowed: null, fixed, daily: true, use: 1, mayGo: null };
    await send({ command: "save-wishes", ...wishes }, owner, basin);
    const [told] = (await ask(null)).basins;
    expect(told).toMatchObject({ since: 0, fixed: [], daily: false });
  });
});

describe("regular days and a quote", () => {
  it("are told by what was learned, and taken by an owner", async () => {
    const { basinId } = world.ours;
    const wishes = { least: null, most: 7, allowed: null, fixed: [], daily: false, use: 1, mayGo: null };
    await send({ command: "save-wishes", ...wishes }, owner, `/basins/${basinId}/week.data`);
    const none = await dataOf<Record<string, { data: { quote: unknown } }>>(
      await owner.get("/week/quote.data?kind=pool&volume=10000&indoors=false"),
    );
    expect(none["routes/week/quote"]?.data.quote).toBe("none");
    // It holds for two days after a visit: once a week is too little.
    await inOurs((scope) =>
      sql`
        insert into learned (firm_id, basin_id, version, learned_at, visits, content, worth)
        select firm_id, id, ${LEARNER_VERSION}, now(), 20, '{}', ${JSON.stringify(worthOf(0.95, 1, 1))}::jsonb
        from basin on conflict (basin_id) do update set worth = excluded.worth, learned_at = now()`.execute(
        scope,
      ),
    );
    const told = await dataOf<
      Record<
        string,
        { data: { proposals: { basin: string; proposed: { days: number[]; right: number } }[] } }
      >
    >(await owner.get("/week/regular.data"));
    const [proposal] = told["routes/week/regular"]?.data.proposals ?? [];
    expect(proposal?.basin).toBe(basinId);
    expect(proposal?.proposed.days.length).toBeGreaterThan(1);
    const taken = {
      command: "set-call-days",
      basinId,
      callDays: proposal?.proposed.days ?? [],
      everyWeeks: 1,
    };
    expect((await send(taken, owner, "/week/regular.data")).status).toBe(200);
    const days = await inOurs((scope) =>
      scope.selectFrom("basin").select("call_days").where("id", "=", basinId).executeTakeFirstOrThrow(),
    );
    expect(days.call_days).toEqual(proposal?.proposed.days);
    const quoted = await dataOf<
      Record<string, { data: { quote: { like: number; options: { name: string }[] }; fault: unknown } }>
    >(await owner.get("/week/quote.data?kind=pool&volume=10000&indoors=false&calls=1"));
    expect(quoted["routes/week/quote"]?.data).toMatchObject({ quote: { like: 1 }, fault: null });
    for (const [query, field] of [
      ["volume=much", "volume"],
      ["volume=3", "volume"],
      ["volume=9000&latitude=99&longitude=1", "latitude"],
    ]) {
      const bad = await dataOf<Record<string, { data: { fault: { field: string } } }>>(
        await owner.get(`/week/quote.data?kind=pool&${query}`),
      );
      expect(bad["routes/week/quote"]?.data.fault.field).toBe(field);
    }
  });
});
