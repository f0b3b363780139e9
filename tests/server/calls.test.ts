import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type Brought, dayIn, type SiteAccess, type Written } from "#core";
import { auditPage } from "#server/db/audit";
import { asFirm } from "#server/db/connection";
import { firmOf } from "#server/db/firms";
import { logSince } from "#server/db/learned";
import { readBrought } from "#server/db/visit-record";
import { roundOn } from "#server/round/day";
import { customerSheet } from "#server/visits/customer-sheet";
import { type Client, clientOf, dataOf, faultText } from "../client";
import { PASSWORD } from "../firm";
import { readAt, shownVisit } from "../visit";
import { openWorld, type World } from "../world";

/** A call is more than its water: calls without a test, the other work, and how one gets in. */
let world: World;
let http: Client;
let owner: Client;

beforeAll(async () => {
  world = await openWorld();
  http = world.http;
  owner = await world.as(world.ours.ownerEmail);
});
afterAll(() => world?.close());

const inOurs = <T>(work: Parameters<typeof asFirm<T>>[2]): Promise<T> =>
  asFirm(world.db, world.ours.id, work);

async function begin(): Promise<string> {
  const start = await http.post(`/basins/${world.ours.basinId}`, new URLSearchParams({ id: uuid() }));
  return (start.headers.get("location") ?? "").split("/")[2] ?? "";
}
const close = (visit: string, fields: Record<string, string> = {}) =>
  http.post(`/visits/${visit}/close.data`, new URLSearchParams({ id: uuid(), note: "", ...fields }));
const callHere = (now = new Date()) =>
  inOurs(async (scope) => {
    const firm = await firmOf(scope);
    const { calls } = await roundOn(scope, firm, dayIn(now, firm.timeZone), now);
    const call = calls.find(({ basin }) => basin.id === world.ours.basinId);
    if (!call) throw new Error("no call");
    return call;
  });
const tested = async (): Promise<string> => {
  const visit = await begin();
  await readAt(http, visit, { chlorine: 0.2, ph: [7.4, 7.6], alkalinity: 60 });
  expect((await close(visit)).status).toBe(202);
  return visit;
};
const dueIn = (call: Awaited<ReturnType<typeof callHere>>) =>
  call.due.filter(({ due }) => due).map(({ station }) => station);

describe("a call without a test", () => {
  it("closes with its reason, and is told so in the book, the sheet and the log", async () => {
    const visit = await begin();
    expect(await faultText(await close(visit))).toMatch(/readings|reading/i);
    expect(await faultText(await close(visit, { untested: "picnic" }))).toMatch(/picnic/);
    expect(await faultText(await close(visit, { untested: "other" }))).toMatch(/note/i);
    expect((await close(visit, { untested: "repair" })).status).toBe(202);
    const sheet = await inOurs((scope) => customerSheet(scope, visit));
    expect(sheet).toMatchObject({ untested: "repair", readings: [], bathing: { state: "untested" } });
    const page = await (await http.get(`/visits/${visit}/customer`)).text();
    expect(page).toContain("Water not tested. Reason: Repair.");
    expect(page).not.toContain("do not use the water");
    expect((await http.get(`/visits/${visit}/customer.pdf`)).headers.get("content-type")).toBe(
      "application/pdf",
    );
    expect(await (await http.get("/book")).text()).toContain("Not tested (Repair)");
    const file = JSON.parse(await (await http.get("/book/export.json")).text());
    expect(file.visits.find(({ id }: { id: string }) => id === visit).untested).toBe("repair");
    const rows = await inOurs((scope) => logSince(scope, new Date(0)));
    expect(rows.at(-1)?.readings).toEqual([]);
  });

  it("leaves what the last test found, what it closed and what is due because of it", async () => {
    const last = await tested();
    const before = await callHere();
    expect(before.findings.map(({ code }) => code)).toContain("freeChlorine.low");
    expect(before.shut?.state).toBe("closed");
    const later = new Date(Date.now() + 2 * 86_400_000);
    const dueBefore = dueIn(await callHere(later));
    expect(dueBefore).toContain("totalAlkalinity");
    await close(await begin(), { untested: "filter" });
    const after = await callHere();
    expect(after.findings).toEqual(before.findings);
    expect(after.shut).toEqual(before.shut);
    expect(dueIn(await callHere(later))).toEqual(dueBefore);
    const brought = await inOurs((scope) =>
      readBrought(scope, { id: uuid(), basinId: world.ours.basinId, memberId: world.ours.memberId }, later),
    );
    expect(brought?.outLastTime).toContain("freeChlorine");
    expect(last).not.toBe("");
  });

  it("closes what it sees, until a test opens it", async () => {
    const fine = await begin();
    await http.postJson(`/visits/${fine}/look`, {
      id: uuid(),
      see: [],
      hear: [],
      smell: [],
      feel: [],
      note: "",
    });
    await readAt(http, fine, { chlorine: 3, ph: [7.4, 7.4], alkalinity: 90 });
    await close(fine);
    expect((await callHere()).shut).toBeNull();
    const seen = await begin();
    const look = { id: uuid(), see: ["floor-hidden"], hear: [], smell: [], feel: [], note: "" };
    await http.postJson(`/visits/${seen}/look`, look);
    await close(seen, { untested: "delivery" });
    expect((await callHere()).shut?.state).toBe("closed");
    // Another call that looks at nothing does not open it.
    await close(await begin(), { untested: "delivery" });
    expect((await callHere()).shut?.state).toBe("closed");
    await tested();
    expect((await callHere()).shut?.because.some(({ code }) => code === "seen")).toBe(false);
  });
});

describe("the other work of a call", () => {
  const work = (visit: string, key: string, state = "done", why = "") =>
    http.postJson(`/visits/${visit}/work.data`, { id: uuid(), key, state, why });
  const shown = async (visit: string) => {
    const loaded = await dataOf<Record<string, { data: { brought: Brought; written: Written } }>>(
      await http.get(`/visits/${visit}/work.data?_routes=routes/visit/layout`),
    );
    const data = loaded["routes/visit/layout"]?.data;
    if (!data) throw new Error("no visit");
    return data;
  };

  it("is done, taken back, skipped with a reason; once, and in the book's file, the sheet and the next call", async () => {
    const visit = await begin();
    for (const state of ["done", "open", "done"])
      expect((await work(visit, "brush", state)).status).toBe(200);
    expect((await work(visit, "vacuum", "skipped", "ice")).status).toBe(200);
    expect(await faultText(await work(visit, "skim", "skipped"))).toMatch(/reason|why/i);
    const { written } = await shown(visit);
    expect(written.work?.map(({ key, state, why }) => [key, state, why])).toEqual([
      ["brush", "done", ""],
      ["vacuum", "skipped", "ice"],
    ]);
    await close(visit, { untested: "filter" });
    expect((await inOurs((scope) => customerSheet(scope, visit)))?.work).toEqual([
      { key: "brush", name: "" },
    ]);
    const file = JSON.parse(await (await http.get("/book/export.json")).text());
    const kept = file.visits.find(({ id }: { id: string }) => id === visit);
    expect(
      kept.work.map(({ key, supersededAt }: Record<string, unknown>) => [key, supersededAt !== null]),
    ).toEqual([
      ["brush", true],
      ["brush", false],
      ["vacuum", false],
    ]);
    const next = await begin();
    const { brought } = await shown(next);
    expect(Object.keys(brought.work?.lastDone ?? {})).toEqual(["brush"]);
    await close(next, { untested: "repair" });
    const later = await callHere(new Date(Date.now() + 3 * 86_400_000));
    expect(later.work.map(({ key }) => key)).toEqual(expect.arrayContaining(["vacuum", "tile-line"]));
    expect(later.work.map(({ key }) => key)).not.toContain("brush");
    expect((await callHere(new Date(Date.now() + 8 * 86_400_000))).work.map(({ key }) => key)).toContain(
      "brush",
    );
  });

  it("goes by the firm's list, in versions that nobody overwrites", async () => {
    const items = [{ key: "own-robot", name: "Charge the robot", rule: { by: "days", every: 3 } }];
    const save = (basedOn: number, list: object, id: string = uuid()) =>
      owner.postJson("/settings/work-list.data", { id, kind: "pool", basedOn, list });
    const id = uuid();
    expect((await save(0, { items }, id)).status).toBe(200);
    expect((await save(0, { items }, id)).status).toBe(200);
    expect(await faultText(await save(0, { items: [] }))).toMatch(/Someone else saved another version/);
    expect(
      await faultText(await save(1, { items: [{ ...items[0], rule: { by: "days", every: 0 } }] })),
    ).toMatch(/0.*1/);
    const visit = await begin();
    expect((await shown(visit)).brought.work?.list.items).toEqual(items);
    expect((await work(visit, "own-robot")).status).toBe(200);
    expect((await save(1, { items: [] })).status).toBe(200);
    await close(visit, { untested: "repair" });
    // What was done keeps its name, whatever became of the list.
    expect((await inOurs((scope) => customerSheet(scope, visit)))?.work).toEqual([
      { key: "own-robot", name: "Charge the robot" },
    ]);
    expect(
      await inOurs((scope) => scope.selectFrom("work_list").select("version").orderBy("version").execute()),
    ).toEqual([{ version: 1 }, { version: 2 }]);
  });
});

describe("what the plant shows", () => {
  const gauge = (visit: string, kind: string, value: number, changed = false) =>
    http.postJson(`/visits/${visit}/plant.data`, { id: uuid(), kind, value, changed });
  const plantOf = async (visit: string) => (await shownVisit(http, visit)).plant;

  it("makes the filter due on the Round by its pressure, until it was cleaned", async () => {
    await owner.postJson("/settings/work-list.data", {
      id: uuid(),
      kind: "pool",
      basedOn: 2,
      list: { items: [{ key: "filter", rule: { by: "days", every: 300 } }] },
    });
    const cleaned = await begin();
    await http.postJson(`/visits/${cleaned}/work.data`, {
      id: uuid(),
      key: "filter",
      state: "done",
      why: "",
    });
    expect((await gauge(cleaned, "cleanPressure", 80)).status).toBe(200);
    expect(await faultText(await gauge(cleaned, "filterPressure", -1))).toMatch(/Filter pressure.*-1.*0/);
    expect(await faultText(await gauge(cleaned, "nothing", 1))).toMatch(/nothing/);
    await close(cleaned, { untested: "filter" });
    const tomorrow = new Date(Date.now() + 86_400_000);
    expect((await callHere(tomorrow)).work).toEqual([]);
    // The next day, by the rows: what was done was done before the pressure rose.
    await inOurs((scope) =>
      scope
        .updateTable("visit_work")
        .set({ at: new Date(Date.now() - 3 * 86_400_000) })
        .execute(),
    );
    const full = await begin();
    expect((await gauge(full, "filterPressure", 101)).status).toBe(200);
    expect((await plantOf(full)).filterFullOn).not.toBeNull();
    await close(full, { untested: "filter" });
    expect((await callHere(tomorrow)).work.map(({ key, because }) => [key, because])).toEqual([
      ["filter", "pressure"],
    ]);
  });

  it("finds an electrode that is off by 60 mV against what its own basin taught, through waters that differ", async () => {
    const { orpShape } = await import("../../core/work/plant");
    const { chlorineShares } = await import("../../core/water/chlorine");
    const waters: [drops: number, ph: [number, number]][] = [
      [15, [7.4, 7.4]],
      [6, [7.8, 7.8]],
      [20, [7.2, 7.2]],
      [10, [7.6, 7.6]],
      [15, [7.4, 7.4]],
    ];
    let last = "";
    for (const [index, [drops, ph]] of waters.entries()) {
      const visit = await begin();
      await readAt(http, visit, { chlorine: drops * 0.2, ph, stabiliser: 40 });
      const { known } = await shownVisit(http, visit);
      // As a probe in that water shows it, by Nernst's equation alone; at the last call it has drifted.
      const { hypochlorousAcid } = chlorineShares(known.water);
      const shown = 930 + orpShape(hypochlorousAcid, known.water.ph) - (index === waters.length - 1 ? 60 : 0);
      expect((await gauge(visit, "orp", shown)).status).toBe(200);
      const verdict = (await plantOf(visit)).gauges.find(({ kind }) => kind === "orp")?.verdict;
      if (index < waters.length - 1) expect(verdict, `visit ${index}`).toBeNull();
      // What is taken from the rows for earlier waters is their own drops: within some mV.
      else expect(Math.abs((verdict?.off ?? 0) + 60)).toBeLessThan(6);
      last = visit;
      await close(visit);
      // A day before the next.
      await inOurs((scope) =>
        scope
          .updateTable("visit")
          .set({ started_at: new Date(Date.now() - (waters.length - index) * 86_400_000) })
          .where("id", "=", visit)
          .execute(),
      );
    }
    const file = JSON.parse(await (await http.get("/book/export.json")).text());
    expect(file.visits.find(({ id }: { id: string }) => id === last).plant).toHaveLength(1);
  });

  it("knows a meter that was changed from one that runs backwards", async () => {
    const first = await begin();
    expect((await gauge(first, "waterMeter", 400)).status).toBe(200);
    await close(first, { untested: "repair" });
    const visit = await begin();
    expect(await faultText(await gauge(visit, "waterMeter", 399))).toMatch(/399|400/);
    expect((await gauge(visit, "waterMeter", 2, true)).status).toBe(200);
    expect((await plantOf(visit)).waterADay).toBeNull();
    await close(visit, { untested: "repair" });
  });
});

describe("how one gets in", () => {
  const SECRETS: SiteAccess = {
    code: "GATE-90417",
    key: "under KEYSTONE-51",
    alarm: "ALARM-7733",
    dog: "Bruno-DOG",
    phone: "+1 303 555 0199",
  };
  const set = (access: object) => owner.postJson(`/basins/${world.ours.basinId}/access.data`, { access });

  it("is told on the Round, in a visit and on the device of those who work there, and in nothing that leaves", async () => {
    const told = await set(SECRETS);
    expect(told.status, await told.clone().text()).toBe(200);
    const visit = await begin();
    const bundle = await (await http.postJson("/bundle", { have: {}, basins: [] })).text();
    for (const text of [
      await (await http.get("/")).text(),
      await (await http.get(`/visits/${visit}/look`)).text(),
      bundle,
    ])
      for (const secret of Object.values(SECRETS)) expect(text).toContain(secret);
    await readAt(http, visit, { chlorine: 3, ph: [7.4, 7.4] });
    await close(visit);
    const shared = await dataOf<{ data: { token: string } }>(
      await owner.postJson(`/visits/${visit}/customer.data`, { command: "share-sheet", id: uuid(), days: 7 }),
    );
    const invited = await owner.postJson("/settings/team.data", {
      command: "invite",
      id: uuid(),
      name: "Reader",
      role: "reader",
      siteIds: [(await callHere()).basin.site.id],
    });
    const { data } = await dataOf<{ data: { token: string } }>(invited);
    const anybody = clientOf(world.web.address);
    const form = new URLSearchParams({ name: "Reader", email: "reader@ours.example", password: PASSWORD });
    await anybody.post(`/join/${data.token}`, form);
    const reader = await world.as("reader@ours.example");
    const feed = await owner.get("/settings/calendar");
    const leaves = [
      ...(await Promise.all(
        [
          "/book/export.csv",
          "/book/export.json",
          `/visits/${visit}/customer`,
          `/visits/${visit}/customer.pdf`,
          "/settings/audit",
          "/settings/health",
        ].map(async (path) => (await owner.get(path)).text()),
      )),
      await feed.text(),
      await (await anybody.get(`/s/${shared.data.token}`)).text(),
      await (await anybody.get(`/s/${shared.data.token}/sheet.pdf`)).text(),
      await (await reader.get(`/basins/${world.ours.basinId}`)).text(),
      await (await reader.get(`/visits/${visit}/customer`)).text(),
      JSON.stringify(await inOurs((scope) => auditPage(scope, null, 200))),
      world.web.said(),
    ];
    for (const text of leaves) {
      expect(text.length).toBeGreaterThan(20);
      for (const secret of Object.values(SECRETS)) expect(text).not.toContain(secret);
    }
    expect((await reader.get(`/basins/${world.ours.basinId}/access`)).status).toBe(404);
    expect((await reader.postJson("/bundle", { have: {}, basins: [] })).status).toBe(403);
  });

  it("is refused in words where it is none, and goes when it is emptied", async () => {
    expect(await faultText(await set({ phone: "ring me" }))).toMatch(/phone/i);
    expect(await faultText(await set({ code: "x".repeat(301) }))).toMatch(/300/);
    const emptied = await set({ code: " ", dog: "" });
    expect(emptied.status, await emptied.clone().text()).toBe(200);
    expect((await callHere()).access).toBeNull();
  });
});
