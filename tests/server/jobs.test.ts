import { sql } from "kysely";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { addDays, DOUBT_CODES, dayIn, jobAt, nothingFound, openJobs, visitOf } from "#core";
import { asFirm } from "#server/db/connection";
import { firmOf } from "#server/db/firms";
import { logSince } from "#server/db/learned";
import { readVisit } from "#server/db/visit-record";
import { callsAhead } from "#server/round/ahead";
import { roundOn } from "#server/round/day";
import { customerSheet } from "#server/visits/customer-sheet";
import { type Client, faultText } from "../client";
import { readAt } from "../visit";
import { openWorld, type World } from "../world";

/** A green pool over the calls of a firm: from the first recipe to won, in the book, on the Round, and for who learns. */
let world: World;
let http: Client;
beforeAll(async () => {
  world = await openWorld();
  http = world.http;
});
afterAll(() => world?.close());

const inOurs = <T>(work: Parameters<typeof asFirm<T>>[2]): Promise<T> =>
  asFirm(world.db, world.ours.id, work);

async function begin(): Promise<string> {
  const start = await http.post(`/basins/${world.ours.basinId}`, new URLSearchParams({ id: uuid() }));
  return (start.headers.get("location") ?? "").split("/")[2] ?? "";
}
const look = (visit: string, see: string[]) =>
  http.postJson(`/visits/${visit}/look.data`, { id: uuid(), ...nothingFound(), see });
const close = (visit: string) =>
  http.post(`/visits/${visit}/close.data`, new URLSearchParams({ id: uuid(), note: "" }));
const read = (visit: string, methodId: string, seen: object) =>
  http.postJson(`/visits/${visit}/freeChlorine.data`, {
    id: uuid(),
    methodId,
    seen,
    confirmed: [...DOUBT_CODES],
  });
const opened = (visit: string) =>
  inOurs(async (scope) => {
    const record = await readVisit(scope, { id: visit, memberId: world.ours.memberId }, new Date());
    if (!record) throw new Error("no visit");
    return visitOf(record.brought, record.written, new Date());
  });
/** Moves a visit and everything at it back in time. */
const earlier = (visit: string, hours: number) =>
  inOurs(async (scope) => {
    const back = sql`make_interval(hours => ${hours})`;
    await sql`update visit set started_at = started_at - ${back}, finished_at = finished_at - ${back},
      jobs = case when jobs is null then null else jsonb_set(jobs, '{0,begunAt}',
        to_jsonb(to_char((jobs->0->>'begunAt')::timestamptz - ${back}, 'YYYY-MM-DD"T"HH24:MI:SS"Z"'))) end
      where id = ${visit}`.execute(scope);
    await sql`update reading set taken_at = taken_at - ${back} where visit_id = ${visit}`.execute(scope);
    await sql`update dose set given_at = given_at - ${back} where visit_id = ${visit}`.execute(scope);
  });
const callOn = (day: string, now = new Date()) =>
  inOurs(async (scope) => {
    const { calls } = await roundOn(scope, await firmOf(scope), day, now);
    return calls.find(({ basin }) => basin.id === world.ours.basinId);
  });

describe("a green pool", () => {
  let first = "";
  let jobId = "";

  it("is begun by its recipe, worked out by the server where no device did", async () => {
    first = await begin();
    await look(first, ["green", "floor-hidden"]);
    await http.postJson(`/visits/${first}/plant.data`, {
      id: uuid(),
      kind: "sight",
      value: 30,
      changed: false,
    });
    await readAt(http, first, { chlorine: 0.2, ph: [7.8, 8], alkalinity: 100 });
    await read(first, "cyanuric-acid-tube", { kind: "place", place: { from: 40, to: 40 } });
    const planId = uuid();
    const answer = await http.postJson(`/visits/${first}/plan.data`, {
      id: planId,
      origin: "recipe",
      name: "green-pool",
    });
    expect(answer.status, await faultText(answer.clone() as never).catch(() => "")).toBeLessThan(400);
    const { jobs, plans } = await opened(first);
    expect(jobs).toHaveLength(1);
    expect(jobs[0]?.job).toMatchObject({ kind: "green", over: null });
    expect(jobs[0]?.job.told?.days.high).toBeGreaterThan(jobs[0]?.job.told?.days.low ?? 99);
    jobId = jobs[0]?.job.id ?? "";
    const steps = plans[0]?.content.steps ?? [];
    for (const [position, step] of steps.entries())
      await http.postJson(`/visits/${first}/plan.data`, {
        id: uuid(),
        planId,
        position,
        state: "done",
        why: "",
        ...(step.kind === "dose" ? { dose: { id: uuid(), givenGrams: step.grams } } : {}),
      });
    expect((await close(first)).status).toBe(202);
  });

  it("is on the Round the same evening or the next morning, closed, whatever its calls are", async () => {
    await inOurs((scope) =>
      scope.updateTable("basin").set({ call_days: [] }).where("id", "=", world.ours.basinId).execute(),
    );
    const today = dayIn(new Date(), (await inOurs(firmOf)).timeZone);
    const call = (await callOn(today)) ?? (await callOn(addDays(today, 1)));
    expect(call?.jobs).toMatchObject([{ kind: "green" }]);
    expect(call?.done).toBe(false);
    expect(call?.shut?.because).toContainEqual({ code: "job", job: "green" });
    const ahead = await inOurs((scope) => callsAhead(scope, today, addDays(today, 1)));
    expect(ahead.some(({ basin }) => basin.id === world.ours.basinId)).toBe(true);
    const sheet = await inOurs((scope) => customerSheet(scope, first));
    expect(sheet?.bathing.state).toBe("closed");
  });

  it("is seen by the next call with what the first found and left, and is not won too soon", async () => {
    await earlier(first, 24);
    const second = await begin();
    await look(second, ["cloudy"]);
    await read(second, "free-chlorine-fas-dpd", { kind: "drops", count: 4, sample: 25 });
    const now = await opened(second);
    const [job] = openJobs(now);
    if (!job) throw new Error("no job");
    expect(job.job.id).toBe(jobId);
    const { day, calls, outlook, checks } = jobAt(now, job);
    expect(day).toBe(2);
    expect(calls[0]).toMatchObject({ sight: 30, found: 0.2 });
    expect(calls[0]?.left).toBeGreaterThan(10);
    expect(calls[1]?.found).toBeCloseTo(0.8);
    expect(outlook).not.toBeNull();
    expect(checks.map(({ holds }) => holds)).toEqual([false, false, null]);
    const refused = await http.postJson(`/visits/${second}/job.data`, {
      id: uuid(),
      jobId,
      won: true,
      why: "",
    });
    expect(await faultText(refused)).toMatch(/floor.*night.*combined/);
    expect(
      await faultText(
        await http.postJson(`/visits/${second}/job.data`, { id: uuid(), jobId, won: false, why: "" }),
      ),
    ).toMatch(/why|reason/i);
    expect((await close(second)).status).toBe(202);
    await earlier(second, 12);
  });

  it("teaches the basin's habits nothing, from the first call to the one that ends it", async () => {
    const third = await begin();
    await look(third, []);
    await read(third, "free-chlorine-fas-dpd", { kind: "drops", count: 10, sample: 25 });
    const stopped = { id: uuid(), jobId, won: false, why: "drained instead" };
    expect((await http.postJson(`/visits/${third}/job.data`, stopped)).status).toBe(200);
    expect((await http.postJson(`/visits/${third}/job.data`, stopped)).status).toBe(200);
    expect(openJobs(await opened(third))).toEqual([]);
    await close(third);
    const rows = await inOurs((scope) => logSince(scope, new Date(0)));
    const jobs = rows.slice(-3).map(({ jobs }) => (jobs ?? []).map(({ over }) => over !== null));
    expect(jobs).toEqual([[false], [], [true]]);
    const today = dayIn(new Date(), (await inOurs(firmOf)).timeZone);
    expect(await callOn(addDays(today, 1))).toBeUndefined();
    const fourth = await begin();
    expect(openJobs(await opened(fourth))).toEqual([]);
    // What was under way then still is, where somebody looks back.
    expect(openJobs(await opened(first))).toHaveLength(1);
  });

  it("is nobody else's to end, and stands in the firm's own file", async () => {
    const theirs = await world.as(world.theirs.ownerEmail);
    const answer = await theirs.postJson(`/visits/${first}/job.data`, {
      id: uuid(),
      jobId,
      won: false,
      why: "x",
    });
    expect(answer.status).toBe(404);
    const owner = await world.as(world.ours.ownerEmail);
    const file = JSON.parse(await (await owner.get("/book/export.json")).text());
    const kept = file.visits.find(({ id }: { id: string }) => id === first);
    expect(kept.jobs).toMatchObject([{ id: jobId, kind: "green" }]);
  });
});
