import { millisecondsInHour } from "date-fns/constants";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm } from "#server/db/connection";
import { type Client, faultText } from "../client";
import { visitWith } from "../visit";
import { openWorld, type World } from "../world";

/** The same write again is the same answer, at once or days later; another under its key is told. */
let world: World;
let http: Client;
let owner: Client;

beforeAll(async () => {
  world = await openWorld();
  http = world.http;
  owner = await world.as(world.ours.ownerEmail);
});
afterAll(() => world.close());

const READ = { ph: [7.4, 7.6], alkalinity: 60, hardness: 300, stabiliser: 40, chlorine: 3 } as const;
const newVisit = () => visitWith(world.db, world.ours, http, { ...READ, ph: [7.4, 7.6] });
const inOurs = <T>(work: Parameters<typeof asFirm<T>>[2]) => asFirm(world.db, world.ours.id, work);
const noteOf = (visit: string) =>
  inOurs(
    async (scope) =>
      (await scope.selectFrom("visit").select("note").where("id", "=", visit).executeTakeFirstOrThrow()).note,
  );
const salt = (id: string, count = 16) => ({
  id,
  methodId: "salt",
  seen: { kind: "drops", count, sample: 10 },
});

describe("a reading", () => {
  it("sent again after the close is acknowledged as it was, and counts once", async () => {
    const visit = await newVisit();
    const sent = salt(uuid());
    const first = await http.postJson(`/visits/${visit}/salt`, sent);
    expect(first.status).toBe(302);
    await http.post(`/visits/${visit}/close`, new URLSearchParams({ id: uuid(), note: "" }));
    const again = await http.postJson(`/visits/${visit}/salt`, sent);
    expect([again.status, again.headers.get("location")]).toEqual([302, first.headers.get("location")]);
    const rows = await inOurs((scope) =>
      scope
        .selectFrom("reading")
        .select("id")
        .where("quantity", "=", "salt")
        .where("visit_id", "=", visit)
        .execute(),
    );
    expect(rows).toHaveLength(1);
    // A new one is refused: the visit is over.
    expect((await http.postJson(`/visits/${visit}/salt`, salt(uuid()))).status).toBe(422);
  });

  it("with other content under the same key is told, and so is one by somebody else", async () => {
    const visit = await newVisit();
    const id = uuid();
    expect((await http.postJson(`/visits/${visit}/salt`, salt(id))).status).toBe(302);
    const other = await http.postJson(`/visits/${visit}/salt.data`, salt(id, 17));
    expect(other.status).toBe(409);
    expect(await faultText(other)).toMatch(/already saved with this key/);
    expect((await owner.postJson(`/visits/${visit}/salt`, salt(id))).status).toBe(409);
    const values = await inOurs((scope) =>
      scope.selectFrom("reading").select("value").where("id", "=", id).execute(),
    );
    expect(values).toEqual([{ value: 3200 }]);
  });

  it("that was refused has used up no key: answered, it goes through", async () => {
    const visit = await newVisit();
    const id = uuid();
    const doubtful = {
      id,
      methodId: "free-chlorine-fas-dpd",
      seen: { kind: "drops", count: 0, sample: 25 },
    };
    await http.postJson(`/visits/${visit}/look`, {
      see: [],
      hear: [],
      smell: ["chloramine"],
      feel: [],
      note: "",
    });
    const asked = await http.postJson(`/visits/${visit}/freeChlorine`, doubtful);
    expect(asked.status).toBe(422);
    const confirmed = { ...doubtful, confirmed: ["chlorine-bleached", "unlikely-change"] };
    expect((await http.postJson(`/visits/${visit}/freeChlorine`, confirmed)).status).toBe(302);
  });

  it("sent many times at once counts once, and every one is told the same", async () => {
    const visit = await newVisit();
    const sent = salt(uuid());
    const answers = await Promise.all(
      Array.from({ length: 6 }, () => http.postJson(`/visits/${visit}/salt`, sent)),
    );
    expect(new Set(answers.map((answer) => `${answer.status} ${answer.headers.get("location")}`)).size).toBe(
      1,
    );
    expect(answers[0]?.status).toBe(302);
  });
});

describe("a close", () => {
  it("sent five times at once is five times the same, and once done", async () => {
    const visit = await newVisit();
    const sent = () => new URLSearchParams({ id, note: "Filter rinsed" });
    const id = uuid();
    const answers = await Promise.all(
      Array.from({ length: 5 }, () => http.post(`/visits/${visit}/close`, sent())),
    );
    for (const answer of answers)
      expect([answer.status, answer.headers.get("location")]).toEqual([302, `/visits/${visit}`]);
    expect(await noteOf(visit)).toBe("Filter rinsed");
  });

  it("by two people keeps both notes, and tells the second", async () => {
    const visit = await newVisit();
    const close = (client: Client, note: string, id: string = uuid()) =>
      client.post(`/visits/${visit}/close`, new URLSearchParams({ id, note }));
    const key = uuid();
    expect((await close(http, "Filter rinsed", key)).headers.get("location")).toBe(`/visits/${visit}`);
    const second = await close(owner, "Gate was open");
    expect(second.headers.get("location")).toBe(`/visits/${visit}?closed=before`);
    expect(await noteOf(visit)).toBe("Filter rinsed\nGate was open");
    // Sent again, the first is still what it was, and adds nothing.
    expect((await close(http, "Filter rinsed", key)).headers.get("location")).toBe(`/visits/${visit}`);
    expect(await noteOf(visit)).toBe("Filter rinsed\nGate was open");
    expect(await (await owner.get(`/visits/${visit}?closed=before`)).text()).toContain(
      "already closed this visit",
    );
  });

  it("is not kept from going through by a clock that was put back", async () => {
    const visit = await newVisit();
    await inOurs((scope) =>
      scope
        .updateTable("visit")
        .set({ started_at: new Date(Date.now() + millisecondsInHour) })
        .where("id", "=", visit)
        .execute(),
    );
    const answer = await http.post(`/visits/${visit}/close`, new URLSearchParams({ id: uuid(), note: "" }));
    expect(answer.status).toBe(302);
  });
});

describe("a step of a plan", () => {
  it("sent again after it was taken back does not do it once more", async () => {
    const visit = await visitWith(world.db, world.ours, http, { ...READ, ph: [7.8, 8.0] });
    const plan = { id: uuid(), origin: "what-if", grams: {}, replaced: 0, aerated: 0 };
    const acid = await inOurs((scope) =>
      scope
        .selectFrom("product")
        .select("id")
        .where("compound", "=", "hydrochloric-acid")
        .executeTakeFirstOrThrow(),
    );
    const begun = { ...plan, grams: { [acid.id]: 100 } };
    const begin = () => http.postJson(`/visits/${visit}/plan`, begun);
    expect([(await begin()).status, (await begin()).status]).toEqual([302, 302]);
    const kept = await inOurs((scope) =>
      scope.selectFrom("plan").select(["id", "content"]).where("visit_id", "=", visit).execute(),
    );
    expect(kept).toHaveLength(1);
    const content = kept[0]?.content as { steps: { kind: string }[] } | undefined;
    const position = content?.steps.findIndex((step) => step.kind === "dose");
    const step = {
      id: uuid(),
      planId: plan.id,
      position,
      state: "done",
      why: "",
      dose: { id: uuid(), givenGrams: 100 },
    };
    const send = (change: object = {}) => http.postJson(`/visits/${visit}/plan`, { ...step, ...change });
    expect((await send()).status).toBe(200);
    const back = { id: uuid(), state: "open", dose: { id: uuid(), givenGrams: 0 } };
    expect((await send(back)).status).toBe(200);
    expect((await send()).status).toBe(200);
    const given = await inOurs((scope) =>
      scope
        .selectFrom("dose")
        .select("given_grams")
        .where("visit_id", "=", visit)
        .where("superseded_at", "is", null)
        .execute(),
    );
    expect(given).toEqual([{ given_grams: 0 }]);
    // A stop that names this plan does not stop the next one.
    const stop = { id: uuid(), stop: "rain", planId: plan.id };
    expect((await http.postJson(`/visits/${visit}/plan`, stop)).status).toBe(302);
    const next = { ...begun, id: uuid() };
    expect((await http.postJson(`/visits/${visit}/plan`, next)).status).toBe(302);
    expect((await http.postJson(`/visits/${visit}/plan`, stop)).status).toBe(302);
    const late = { id: uuid(), stop: "rain", planId: plan.id };
    expect((await http.postJson(`/visits/${visit}/plan`, late)).status).toBe(422);
    const open = await inOurs((scope) =>
      scope
        .selectFrom("plan")
        .select("id")
        .where("visit_id", "=", visit)
        .where("ended_at", "is", null)
        .execute(),
    );
    expect(open).toEqual([{ id: next.id }]);
  });
});

describe("a link", () => {
  it("made again under its key opens the same thing, and not another", async () => {
    const visit = await newVisit();
    await http.post(`/visits/${visit}/close`, new URLSearchParams({ id: uuid(), note: "" }));
    const id = uuid();
    const share = (days: number) =>
      http.postJson(`/visits/${visit}/customer`, { command: "share-sheet", id, days });
    expect([(await share(7)).status, (await share(7)).status]).toEqual([200, 200]);
    expect((await share(30)).status).toBe(409);
  });
});

describe("a load of a truck", () => {
  it("goes on it once, however often it is sent", async () => {
    const [product] = await inOurs((scope) => scope.selectFrom("product").select("id").limit(1).execute());
    const truckId = uuid();
    await http.postJson("/shelf/trucks", { command: "save-truck", id: truckId, name: "Van", memberId: null });
    const load = {
      command: "load-truck",
      id: uuid(),
      truckId,
      productId: product?.id,
      grams: 5000,
      how: "loaded",
    };
    for (let again = 0; again < 3; again++)
      expect((await http.postJson("/shelf/trucks", load)).status).toBe(200);
    const stock = await inOurs((scope) =>
      scope.selectFrom("truck_stock").select("grams").where("truck_id", "=", truckId).execute(),
    );
    expect(stock).toEqual([{ grams: 5000 }]);
  });
});
