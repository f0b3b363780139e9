import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { dayIn, nothingFound, visitOf as openedVisit, RANGE_SETS } from "#core";
import { asFirm } from "#server/db/connection";
import { readVisit } from "#server/db/visit-record";
import type { RoundDay } from "#server/round/day";
import { customerSheet } from "#server/visits/customer-sheet";
import { dataOf, faultText } from "../client";
import { readAt, shownVisit, visitWith } from "../visit";
import { openWorld, type World } from "../world";

/** From what happened at the water to what the next one there, the Round and the customer read. */
let world: World;
beforeAll(async () => {
  world = await openWorld();
});
afterAll(() => world.close());

const RIGHT = { ph: [7.4, 7.6] as [number, number], alkalinity: 100, chlorine: 3 };
const visitOf = async (read = RIGHT) => {
  const { db, ours, http } = world;
  const visit = await visitWith(db, ours, http, {});
  await look(visit);
  await readAt(http, visit, read);
  return visit;
};
const look = (visit: string, troubles = {}) =>
  world.http.postJson(`/visits/${visit}/look`, {
    id: uuid(),
    ...nothingFound(),
    ...troubles,
    next: "sample",
  });
const close = (visit: string) => world.http.post(`/visits/${visit}/close`, new URLSearchParams({ note: "" }));
const sheet = async (visit: string) => (await world.http.get(`/visits/${visit}/customer`)).text();
const incident = (visit: string, body: object) =>
  world.http.postJson(`/visits/${visit}/incident.data`, { id: uuid(), ...body });
const callToday = async () => {
  const { http, ours } = world;
  const day = dayIn(new Date(), "UTC");
  const loaded = await dataOf<Record<string, { data: { round: RoundDay } }>>(
    await http.get(`/_root.data?day=${day}&_routes=routes/round/route`),
  );
  return loaded["routes/round/route"]?.data.round.calls.find(({ basin }) => basin.id === ours.basinId);
};

describe("the ranges on the customer's sheet", () => {
  it("are the judge's: of one water, without what may not be acted on, by the kit of each reading", async () => {
    const { db, ours, http } = world;
    // Chlorine that is held by hypochlorous acid hangs on the pH of the water.
    const set = { ...RANGE_SETS["held-by-hocl"], id: uuid(), name: "By acid" };
    const rangeSetId = uuid();
    const owner = await world.as(ours.ownerEmail);
    await owner.postJson("/settings/ranges/any.data", { id: rangeSetId, line: set.id, basedOn: null, set });
    const basin = (change: object) =>
      asFirm(db, ours.id, (scope) =>
        scope.updateTable("basin").set(change).where("id", "=", ours.basinId).execute(),
      );
    await basin({ range_set_id: rangeSetId });
    const visit = await visitOf({ ...RIGHT, chlorine: 12 });
    // Read under 12 mg/L of chlorine, the colour of the pH may not be acted on.
    const read = {
      id: uuid(),
      methodId: "ph-phenol-red",
      seen: { kind: "place", place: { from: 8.2, to: null } },
    };
    await http.postJson(`/visits/${visit}/ph`, {
      ...read,
      confirmed: ["chlorine-purples-ph", "unlikely-change"],
    });
    await close(visit);
    const shown = await asFirm(db, ours.id, async (scope) => ({
      sheet: await customerSheet(scope, visit),
      record: await readVisit(scope, { id: visit, memberId: ours.memberId }, new Date()),
    }));
    if (!shown.record || !shown.sheet) throw new Error("no such visit");
    const { ranges, readings } = openedVisit(shown.record.brought, shown.record.written, new Date());
    const ph = readings.find(({ quantity }) => quantity === "ph");
    expect(ph?.doubts.map(({ code }) => code)).toContain("chlorine-purples-ph");
    expect(ranges.freeChlorine?.low).toBeDefined();
    for (const { quantity, range } of shown.sheet.readings) {
      const { low, high, closeBelow, closeAbove } = ranges[quantity] ?? {};
      expect(range, quantity).toEqual({ low: low ?? closeBelow ?? null, high: high ?? closeAbove ?? null });
    }
    await basin({ range_set_id: ours.rangeSetId });
  });
});

describe("the customer's sheet", () => {
  it("lets nobody in that was not tested, and says so after what was seen", async () => {
    const open = await visitOf();
    await close(open);
    expect(await sheet(open)).toContain("You can use the water.");
    const { db, ours, http } = world;
    const unread = await visitWith(db, ours, http, { alkalinity: 100 });
    await close(unread);
    expect(await sheet(unread)).toContain("Not tested: do not use the water.");
    const cloudy = await visitOf();
    await look(cloudy, { see: ["cloudy"], safe: ["gate"] });
    await close(cloudy);
    const text = await sheet(cloudy);
    expect(text).toContain("Do not use the water.");
    expect(text).toContain("Someone lying on the floor would not be seen.");
    expect(text).toContain("A child can get in alone");
    expect(text).not.toMatch(/You can use the water|cover off/i);
    expect((await callToday())?.shut).toMatchObject({ state: "closed" });
  });

  it("is put right when a reading is: what was wrongly closed is open, and the other way round", async () => {
    const { http } = world;
    const visit = await visitOf();
    await close(visit);
    const shown = await shownVisit(http, visit);
    const reading = shown.readings.find(({ quantity }) => quantity === "freeChlorine");
    const answer = await http.postJson(`/visits/${visit}/correct`, {
      id: uuid(),
      readingId: reading?.id,
      seen: { kind: "drops", count: 2, sample: 25 },
      why: "two drops, not fifteen",
    });
    expect(answer.status).toBe(200);
    expect(await sheet(visit)).toContain("Do not use the water.");
    // And back: it never was so low, and nothing that was given then closes by it.
    const now = (await shownVisit(http, visit)).readings.find(({ quantity }) => quantity === "freeChlorine");
    const back = await http.postJson(`/visits/${visit}/correct`, {
      id: uuid(),
      readingId: now?.id,
      seen: { kind: "drops", count: 15, sample: 25 },
      why: "it was fifteen after all",
    });
    expect(back.status).toBe(200);
    expect(await sheet(visit)).toContain("You can use the water.");
  });
});

describe("an incident", () => {
  it("closes over visits until it is over and tested, and the Round says so", async () => {
    const { db, ours, http } = world;
    const visit = await visitOf();
    expect((await incident(visit, { kind: "legionella", note: "two guests with pneumonia" })).status).toBe(
      200,
    );
    await close(visit);
    expect(await sheet(visit)).toContain("Legionella suspected");
    expect((await callToday())?.shut?.because).toContainEqual({ code: "incident", incident: "legionella" });

    const next = await visitOf();
    const shown = await shownVisit(http, next);
    expect(shown.incidents).toMatchObject([
      { kind: "legionella", note: "two guests with pneumonia", over: null },
    ]);
    expect(shown.bathing.state).toBe("closed");
    const [open] = shown.incidents;
    const refused = await incident(next, { incidentId: open?.id });
    expect(await faultText(refused)).toBe("Who decided that it is over is missing.");
    expect((await incident(next, { incidentId: open?.id, who: "Dr Varrow, county health" })).status).toBe(
      200,
    );
    expect((await shownVisit(http, next)).bathing).toMatchObject({
      state: "closed",
      because: [{ code: "since", what: "incident" }],
    });
    await readAt(http, next, RIGHT);
    expect((await shownVisit(http, next)).bathing.state).toBe("open");
    await close(next);
    // The one after knows of none.
    expect((await shownVisit(http, await visitOf())).incidents).toEqual([]);
    const kept = await asFirm(db, ours.id, (scope) =>
      scope.selectFrom("visit").select("incidents").where("id", "=", next).executeTakeFirstOrThrow(),
    );
    expect(kept.incidents).toMatchObject([{ over: { who: "Dr Varrow, county health", by: "Tech" } }]);
  });

  it("says what is wrong: a kind that is none, one that nobody knows, too soon", async () => {
    const visit = await visitOf();
    expect(await faultText(await incident(visit, { kind: "flood" }))).toMatch(
      /What happened is flood. Choose one of:/,
    );
    expect(await faultText(await incident(visit, { incidentId: uuid() }))).toMatch(/is not known here/);
    await incident(visit, { kind: "lightning" });
    const [open] = (await shownVisit(world.http, visit)).incidents;
    expect(await faultText(await incident(visit, { incidentId: open?.id }))).toMatch(
      /^Too soon: (29|30) minutes/,
    );
    // It happened all the same where the visit was closed meanwhile.
    await close(visit);
    expect((await incident(visit, { kind: "glass" })).status).toBe(200);
    expect(await sheet(visit)).toContain("Broken glass");
  });
});

describe("what is typed", () => {
  it("asks for a strength at which nothing is sold, and takes it when it is meant", async () => {
    const product = {
      command: "save-product",
      id: uuid(),
      product: "hydrochloric-acid",
      name: "Acid",
      strength: 0.0031,
      density: 1.16,
      pricePerKg: null,
      reorder: null,
      planned: true,
    };
    const send = (more = {}) => world.http.postJson("/shelf/products.data", { ...product, ...more });
    const asked = await send();
    expect(asked.status).toBe(422);
    expect(await asked.text()).toMatch(/strength/);
    expect((await send({ sure: true })).status).toBe(200);
    // Saved once with that strength, it is not asked again for its price.
    expect((await send({ pricePerKg: 2 })).status).toBe(200);
  });

  it("asks who bathes in a new basin", async () => {
    const { http, ours } = world;
    const answer = await http.postJson("/basins/new.data", {
      command: "add-basin",
      id: uuid(),
      siteId: uuid(),
      newSite: { name: "Site", street: "", district: "", contact: "" },
      name: "Plunge",
      kind: "plunge",
      surface: "tile",
      litres: 9000,
      indoors: false,
      kitId: ours.kitId,
      rangeSetId: ours.rangeSetId,
    });
    expect(await faultText(answer)).toBe("Who bathes there is missing.");
  });
});
