import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { labelCode, labelledAt, OUTDOOR_FIXED_BAND, RANGE_SETS, type RangeSet } from "#core";
import { asFirm, type Database } from "#server/db/connection";
import { productsOf } from "#server/db/products";
import { rangeSetsOf } from "#server/db/range-sets";
import { volumesOf } from "#server/db/volumes";
import { type Client, clientOf, dataOf, faultText } from "../client";
import type { Firm } from "../firm";
import { CONFIRMED, plansAt, readAt, shownVisit, visitWith } from "../visit";
import { openWorld, type World } from "../world";

/** What a firm judges and doses by: its range sets, a basin's own limits, its shelf, its volumes. */
let db: Database;
let close: () => Promise<void>;
let ours: Firm;
let web: World["web"];
let http: Client;
let owner: Client;

beforeAll(async () => {
  ({ db, ours, web, http, close } = await openWorld());
  owner = clientOf(web.address);
  await owner.as(ours.ownerEmail);
});
afterAll(() => close());

const sets = () => asFirm(db, ours.id, (scope) => rangeSetsOf(scope));
const findingsAt = async (visit: string) => (await shownVisit(http, visit)).findings;

describe("range sets", () => {
  const line = uuid();
  const own = (change: Partial<RangeSet> = {}): RangeSet => ({
    ...OUTDOOR_FIXED_BAND,
    id: line,
    name: "Ours",
    ...change,
  });
  const save = (client: Client, set: RangeSet, basedOn: number | null, on = line) =>
    client.postJson("/settings/ranges/any.data", { id: uuid(), line: on, basedOn, set });

  it("are made a firm's own by an owner, in versions", async () => {
    expect((await save(http, own(), null)).status).toBe(403);
    expect((await save(owner, own(), null)).status).toBe(202);
    expect((await save(owner, own({ purpose: "Second." }), 1)).status).toBe(202);
    expect((await sets()).find((one) => one.line === line)).toMatchObject({ version: 2, by: "Owner" });
    // Somebody edited version 1 meanwhile.
    expect(await faultText(await save(owner, own(), 1))).toMatch(/Someone else/);
    // What ships stays as it is.
    expect(await faultText(await save(owner, own(), 1, ours.rangeSetId))).toMatch(/shipped/);
  });

  it("name the limit that is wrong", async () => {
    const crossed = own({ ranges: { ...OUTDOOR_FIXED_BAND.ranges, ph: { low: 7.9, high: 7.2 } } });
    expect(await faultText(await save(owner, crossed, 2))).toMatch(/pH.*fit|fit.*high/i);
    const wild = own({ ranges: { ph: { low: 70 } } });
    expect(await faultText(await save(owner, wild, 2))).toMatch(/lower limit is 70. The most allowed is 11/i);
  });

  it("are listed with those that ship, and compared on one water", async () => {
    const list = await (await http.get("/settings/ranges")).text();
    for (const set of Object.values(RANGE_SETS)) expect(list).toContain(set.name);
    expect((await http.get("/settings/ranges/salt-cell")).status).toBe(200);
    expect((await http.get("/settings/ranges/nothing")).status).toBe(404);
    await visitWith(db, ours, http, {
      ph: [7.4, 7.6],
      alkalinity: 70,
      hardness: 220,
      stabiliser: 40,
      chlorine: 2,
    });
    const page = await (
      await http.get(
        `/basins/${ours.basinId}/compare?right=${encodeURIComponent("Held by hypochlorous acid")}`,
      )
    ).text();
    // TA 70: low in a band of 80 to 120, right in one of 60 to 90.
    expect(page).toContain("80 to 120");
    expect(page).toContain("60 to 90");
  });
});

describe("a basin's own limits", () => {
  const judgement = (change: object) =>
    http.postJson(`/basins/${ours.basinId}/judgement.data`, {
      rangeSetId: ours.rangeSetId,
      rangeOverrides: {},
      barred: [],
      mostReplaced: 0.5,
      ...change,
    });

  it("go before the set's from the next visit on, and not for a visit under way", async () => {
    const read = { ph: [7.4, 7.6] as [number, number], alkalinity: 130, chlorine: 3 };
    const under = await visitWith(db, ours, http, read);
    expect((await judgement({ rangeOverrides: { totalAlkalinity: { low: 100, high: 150 } } })).status).toBe(
      200,
    );
    expect((await findingsAt(under)).map((one) => one.code)).toContain("totalAlkalinity.high");
    const next = await visitWith(db, ours, http, read);
    expect((await findingsAt(next)).map((one) => one.code)).not.toContain("totalAlkalinity.high");
    expect((await judgement({})).status).toBe(200);
  });

  it("are refused with field, value and limit", async () => {
    expect(await faultText(await judgement({ rangeOverrides: { ph: { low: 99 } } }))).toMatch(/99.*11/);
    expect(await faultText(await judgement({ mostReplaced: 3 }))).toMatch(
      /share of water is 3. The most allowed is 1/i,
    );
    expect(await faultText(await judgement({ rangeSetId: uuid() }))).toMatch(/Choose one of/);
    expect((await http.postJson(`/basins/${uuid()}/judgement.data`, {})).status).toBe(422);
  });

  it("may be held by hypochlorous acid: the limit follows the water", async () => {
    const [hocl] = (await sets()).filter((one) => one.set.ranges.freeChlorine?.heldBy);
    const id = hocl?.id ?? uuid();
    if (!hocl)
      await asFirm(db, ours.id, (scope) =>
        scope
          .insertInto("range_set")
          .values({
            id,
            firm_id: ours.id,
            line: id,
            version: 1,
            content: JSON.stringify(RANGE_SETS["held-by-hocl"]),
          })
          .execute(),
      );
    expect((await judgement({ rangeSetId: id })).status).toBe(200);
    const read = { ph: [7.5, 7.5] as [number, number], chlorine: 3, alkalinity: 80 };
    const low = await findingsAt(await visitWith(db, ours, http, { ...read, stabiliser: 30 }));
    const high = await findingsAt(await visitWith(db, ours, http, { ...read, stabiliser: 100 }));
    expect(low.map((one) => one.code)).not.toContain("freeChlorine.low");
    // With CYA 100 the same 3 ppm hold next to nothing.
    expect(high.find((one) => one.code === "freeChlorine.low")?.limit).toBeGreaterThan(6);
    expect((await judgement({})).status).toBe(200);
  });
});

describe("the shelf's products", () => {
  const shelf = () => asFirm(db, ours.id, (scope) => productsOf(scope));
  const send = (body: object, command = "save-product") =>
    http.postJson("/shelf/products.data", { command, ...body });
  const product = (change: object = {}) => ({
    id: uuid(),
    product: "sodium-hypochlorite",
    name: "Second drum",
    strength: 0.107,
    density: 1.16,
    pricePerKg: 1.2,
    planned: true,
    stock: 5000,
    ...change,
  });

  it("are added, preferred, counted down by doses, and taken off", async () => {
    const drum = product();
    expect((await send(drum)).status).toBe(200);
    const last = (await shelf()).at(-1);
    expect(last).toMatchObject({ id: drum.id, left: 5000 });
    await send({ id: drum.id }, "prefer-product");
    expect((await shelf()).at(-2)?.id).toBe(drum.id);

    const visit = await visitWith(db, ours, http, {
      ph: [7.4, 7.6],
      alkalinity: 100,
      hardness: 300,
      chlorine: 1,
    });
    await http.postJson(`/visits/${visit}/plan`, {
      id: uuid(),
      origin: "what-if",
      grams: { [drum.id]: 400 },
      replaced: 0,
      aerated: 0,
    });
    const [plan] = await plansAt(db, ours, visit);
    await http.postJson(`/visits/${visit}/plan`, {
      planId: plan?.id,
      position: 0,
      state: "done",
      why: "",
      dose: { id: uuid(), givenGrams: 380 },
    });
    expect((await shelf()).find((one) => one.id === drum.id)?.left).toBeCloseTo(4620, 6);
    await send({ id: drum.id }, "retire-product");
    expect((await shelf()).some((one) => one.id === drum.id)).toBe(false);
  });

  it("that go in by their label are due, taken from the stock, and not again before their days are over", async () => {
    const label = { perCubicMetre: 10, everyDays: 7, apartHours: 24 };
    const enzyme = product({
      product: "enzyme",
      name: "Enzyme",
      strength: 1,
      density: 1,
      stock: 2000,
      label,
    });
    expect(await faultText(await send({ ...enzyme, label: undefined }))).toMatch(/label/i);
    expect(await faultText(await send({ ...enzyme, label: { ...label, everyDays: 400 } }))).toMatch(
      /days between doses is 400. The most allowed is 365/i,
    );
    expect(await faultText(await send(product({ label })))).toMatch(/label/i);
    expect((await send(enzyme)).status).toBe(200);
    expect((await shelf()).find(({ id }) => id === enzyme.id)?.label).toEqual(label);

    const visit = await visitWith(db, ours, http, { ph: [7.4, 7.6], alkalinity: 100, chlorine: 2 });
    const due = async () => {
      const [one] = labelledAt(await shownVisit(http, visit));
      return one;
    };
    const first = await due();
    expect(first).toMatchObject({ product: enzyme.id, isDue: true, given: null, waits: [] });
    const grams = first?.grams ?? 0;
    const give = (givenGrams: number) =>
      http.postJson(`/visits/${visit}/dose`, {
        id: uuid(),
        code: labelCode(enzyme.id),
        productId: enzyme.id,
        givenGrams,
      });
    expect((await give(grams)).status).toBeLessThan(300);
    expect(await due()).toMatchObject({ isDue: false, given: { givenGrams: grams, plannedGrams: grams } });
    expect((await shelf()).find(({ id }) => id === enzyme.id)?.left).toBeCloseTo(2000 - grams, 6);
    // A label speaks for its own product only.
    const other = (await shelf()).find(({ product: compound }) => compound === "sodium-bicarbonate");
    const crossed = await http.postJson(`/visits/${visit}/dose`, {
      id: uuid(),
      code: labelCode(enzyme.id),
      productId: other?.id,
      givenGrams: 100,
    });
    expect(crossed.status).toBe(422);
    // Taken back it is due again.
    expect((await give(0)).status).toBeLessThan(300);
    expect(await due()).toMatchObject({ isDue: true, given: null });
    await send({ id: enzyme.id }, "retire-product");
  });

  it("that answer a reading are due when it is high, at the visit and on the Round, and not before", async () => {
    const label = { perCubicMetre: 10, everyDays: null, apartHours: 24 };
    const binder = product({
      product: "sequestrant",
      name: "Metal binder",
      strength: 1,
      density: 1,
      stock: 5000,
      label,
    });
    expect((await send(binder)).status).toBe(200);
    const visit = await visitWith(db, ours, http, { ph: [7.4, 7.6], alkalinity: 100, chlorine: 2 });
    const shown = () => shownVisit(http, visit);
    const due = async () => labelledAt(await shown())[0];
    const read = (quantity: string, value: number) =>
      http.postJson(`/visits/${visit}/${quantity}.data`, {
        id: uuid(),
        kitId: ours.instrumentKitId,
        methodId: `lab-${quantity}`,
        confirmed: [],
        seen: { kind: "number", value },
      });
    expect((await shown()).due.find(({ station }) => station === "copper")).toMatchObject({ due: false });
    expect((await read("copper", 0.1)).status).toBeLessThan(400);
    expect(await due()).toMatchObject({ isDue: false, askedBy: null });
    expect((await read("copper", 0.6)).status).toBeLessThan(400);
    expect(await due()).toMatchObject({ isDue: true, askedBy: "copper" });
    const { findings, notices, advice } = await shown();
    expect(findings).toMatchObject([{ code: "copper.high", closes: false, limit: 0.3 }]);
    expect(notices).toContainEqual({ code: "metal.stains", quantity: "copper", value: 0.6, limit: 0.3 });
    expect(advice).toMatchObject([{ kind: "none", reason: "by-label" }]);
    // Left so, it is on tomorrow's Round.
    const left = (finished_at: Date | null) =>
      asFirm(db, ours.id, (scope) =>
        scope.updateTable("visit").set({ finished_at }).where("id", "=", visit).execute(),
      );
    await left(new Date());
    const tomorrow = new Date(Date.now() + 86_400_000).toISOString().slice(0, 10);
    const round = await (await http.get(`/?day=${tomorrow}`)).text();
    expect(round.includes("Metal binder, by its label")).toBe(true);
    await left(null);
    const grams = (await due())?.grams ?? 0;
    const given = { id: uuid(), code: labelCode(binder.id), productId: binder.id, givenGrams: grams };
    expect((await http.postJson(`/visits/${visit}/dose`, given)).status).toBeLessThan(300);
    expect(await due()).toMatchObject({ isDue: false, given: { givenGrams: grams } });
    // Borate that was read is in the acid: about as much again.
    const acid = async () =>
      (await shown()).advice.find(({ finding }) => finding.code === "ph.high") as
        | { grams: number }
        | undefined;
    await readAt(http, visit, { ph: [8, 8] });
    const without = (await acid())?.grams ?? Number.NaN;
    expect((await read("borate", 50)).status).toBeLessThan(400);
    expect(((await acid())?.grams ?? 0) / without).toBeGreaterThan(1.7);
    // Hotter than the old limit of 45 °C: a fault of the heater is a reading, too.
    const hot = {
      id: uuid(),
      methodId: "temperature-meter",
      confirmed: CONFIRMED,
      seen: { kind: "number", value: 52 },
    };
    expect((await http.postJson(`/visits/${visit}/temperature.data`, hot)).status).toBeLessThan(400);
    expect((await shown()).readings.find(({ quantity }) => quantity === "temperature")?.value).toBe(52);
    expect(await faultText(await read("borate", 900))).toMatch(/borate is 900. The most allowed is 500/i);
    // A week on it is to be tested again, with whichever case has it.
    const then = new Date(Date.now() - 8 * 86_400_000);
    await asFirm(db, ours.id, async (scope) => {
      await scope.updateTable("reading").set({ taken_at: then }).where("visit_id", "=", visit).execute();
      await scope
        .updateTable("visit")
        .set({ started_at: then, finished_at: then })
        .where("id", "=", visit)
        .execute();
    });
    const due8 = (await (await http.get(`/?day=${tomorrow}`)).text()).match(
      /Due:<\/span>[^<]*<!-- -->([^<]*)/,
    );
    expect(due8?.[1]).toMatch(/Copper/);
    await send({ id: binder.id }, "retire-product");
  });

  it("name what is wrong with them", async () => {
    expect(await faultText(await send(product({ strength: 2 })))).toMatch(
      /strength is 2. The most allowed is 1.2/i,
    );
    expect(await faultText(await send(product({ name: " " })))).toMatch(/name/i);
    expect(await faultText(await send(product({ stock: -1 })))).toMatch(
      /stock is -1. The least allowed is 0/i,
    );
  });
});

describe("a volume", () => {
  const send = (body: object) =>
    http.postJson(`/basins/${ours.basinId}/volume.data`, { id: uuid(), ...body });
  const known = () => asFirm(db, ours.id, (scope) => volumesOf(scope, ours.basinId));
  const litresNow = async () =>
    (
      await asFirm(db, ours.id, (scope) =>
        scope.selectFrom("basin").select("litres").where("id", "=", ours.basinId).executeTakeFirstOrThrow(),
      )
    ).litres;

  it("is written down by tape, by meter and as known, with what it was before", async () => {
    const shape = {
      outline: { kind: "rectangle", length: 10, width: 5 },
      floor: { kind: "sloped", shallow: 1.1, deep: 1.9 },
      waterLine: 0.1,
      blocks: [],
    };
    const before = await litresNow();
    // Far from what was known: asked about, and nothing is written down until it is said to be so.
    const asked = await send({ how: "shape", shape });
    expect(asked.status).toBe(422);
    expect(await faultText(asked)).toMatch(/70000/);
    expect(await litresNow()).toBe(before);
    expect((await send({ how: "shape", shape, sure: true })).status).toBe(200);
    expect(await litresNow()).toBeCloseTo(70_000, 6);
    // Not twice and not half as much: nothing to ask.
    expect((await send({ how: "meter", meter: { before: 100, after: 138, unit: "m3" } })).status).toBe(200);
    expect(await litresNow()).toBe(38_000);
    expect((await send({ how: "entered", litres: 15 })).status).toBe(422);
    expect((await send({ how: "entered", litres: 10_000 })).status).toBe(422);
    expect((await send({ how: "entered", litres: 10_000, sure: true })).status).toBe(200);
    const all = await known();
    expect(all.map((one) => one.how)).toEqual(["entered", "meter", "shape"]);
    expect(all[2]?.shape).toMatchObject({ outline: { kind: "rectangle" } });
    expect(all[2]?.low).toBeLessThan(70_000);
  });

  it("names the measure that is wrong", async () => {
    const bad = {
      outline: { kind: "circle", diameter: 0 },
      floor: { kind: "constant", depth: 1 },
      waterLine: 0,
      blocks: [],
    };
    expect(await faultText(await send({ how: "shape", shape: bad }))).toMatch(
      /diameter is 0. The least allowed is 0.1/i,
    );
    expect(await faultText(await send({ how: "meter", meter: { before: 9, after: 3, unit: "L" } }))).toMatch(
      /3/,
    );
    expect(await faultText(await send({ how: "entered", litres: 3 }))).toMatch(
      /volume is 3. The least allowed is 20/i,
    );
    expect(await faultText(await send({ how: "dose", litres: 5000, visitId: uuid() }))).toMatch(/not known/);
  });

  it("is told by a dose and its retest, and may be taken from it", async () => {
    const visit = await visitWith(db, ours, http, {
      ph: [7.4, 7.6],
      alkalinity: 100,
      hardness: 200,
      chlorine: 3,
    });
    const flake = (await asFirm(db, ours.id, (scope) => productsOf(scope))).find(
      (one) => one.product === "calcium-chloride",
    );
    if (!flake) throw new Error("no flake");
    await http.postJson(`/visits/${visit}/plan`, {
      id: uuid(),
      origin: "what-if",
      grams: { [flake.id]: 1441 },
      replaced: 0,
      aerated: 0,
    });
    const [plan] = await plansAt(db, ours, visit);
    await http.postJson(`/visits/${visit}/plan`, {
      planId: plan?.id,
      position: 0,
      state: "done",
      why: "",
      dose: { id: uuid(), givenGrams: 1441 },
    });
    // 1441 g of 77 % are 10.0 mol: 1000 mg/L as CaCO3 in 1000 L. The rise of 50 tells 20 000 L.
    await readAt(http, visit, { hardness: 250 });
    const loaded = await dataOf<
      Record<string, { data: { checks: { litres: number; low: number; high: number }[] } }>
    >(await http.get(`/basins/${ours.basinId}/volume.data?_routes=routes/basin/volume`));
    const [check] = loaded["routes/basin/volume"]?.data.checks ?? [];
    expect(check?.litres).toBeCloseTo(20_000, -2);
    expect((await send({ how: "dose", litres: check?.litres, visitId: visit })).status).toBe(200);
    expect(await litresNow()).toBeCloseTo(20_000, -2);
    expect((await known())[0]).toMatchObject({ how: "dose" });
  });
});

describe("what plans go by", () => {
  const send = (client: Client, change: object = {}) =>
    client.postJson("/settings.data", {
      command: "set-rates",
      fillRate: 1200,
      persulfateDose: 30,
      seasonStart: "05-01",
      ...change,
    });
  it("is set by an owner, and names what is wrong", async () => {
    expect((await send(http)).status).toBe(403);
    expect((await send(owner)).status).toBe(200);
    expect(await faultText(await send(owner, { fillRate: 2 }))).toMatch(
      /fill rate is 2. The least allowed is 10/i,
    );
    expect(await faultText(await send(owner, { seasonStart: "31-31" }))).toMatch(/season/i);
    expect(await faultText(await send(owner, { scaleStep: 0.001 }))).toMatch(
      /step of the scale is 0.001. The least allowed is 0.01/i,
    );
    expect((await send(owner, { scaleStep: 5 })).status).toBe(200);
    expect((await send(owner, { scaleStep: null })).status).toBe(200);
  });
});
