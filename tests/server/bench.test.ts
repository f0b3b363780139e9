import Ajv from "ajv";
import { millisecondsInDay, millisecondsInHour } from "date-fns/constants";
import sharp from "sharp";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { type Kit, nothingFound, SHIPPED_KITS, STRIP_KIT, TITRATION_KIT } from "#core";
import { kitSchema } from "#core/schemas";
import { asFirm, type Database } from "#server/db/connection";
import { type KitOnShelf, kitsOf } from "#server/db/kits";
import { kitJsonSchema } from "#server/shelf/kit-json-schema";
import { kitNews } from "#server/shelf/kit-news";
import { type Client, countAfter, dataOf, faultText } from "../client";
import type { Firm } from "../firm";
import { openWorld } from "../world";

/** The bench over HTTP: what stands between a count and the book. */
let db: Database;
let close: () => Promise<void>;
let ours: Firm;
let theirs: Firm;
let http: Client;

beforeAll(async () => {
  ({ db, ours, theirs, http, close } = await openWorld());
});
afterAll(() => close());

/** A basin like the firm's own, without a past. */
async function newBasin(): Promise<string> {
  const id = uuid();
  await asFirm(db, ours.id, async (scope) => {
    const basin = await scope
      .selectFrom("basin")
      .selectAll()
      .where("id", "=", ours.basinId)
      .executeTakeFirstOrThrow();
    await scope
      .insertInto("basin")
      .values({ ...basin, id, call_days: [] })
      .execute();
  });
  return id;
}

/** A visit under way: at a basin of its own, or at one whose visit before it is put so many days back. */
async function startVisit(basinId?: string, daysAgo = 0): Promise<string> {
  const at = basinId ?? (await newBasin());
  if (daysAgo > 0) {
    const then = new Date(Date.now() - daysAgo * millisecondsInDay);
    await asFirm(db, ours.id, async (scope) => {
      const { id } = await scope
        .updateTable("visit")
        .set({ started_at: then, finished_at: then })
        .where("basin_id", "=", at)
        .where("finished_at", "is", null)
        .returning("id")
        .executeTakeFirstOrThrow();
      await scope.updateTable("reading").set({ taken_at: then }).where("visit_id", "=", id).execute();
    });
  }
  const answer = await http.post(`/basins/${at}`, new URLSearchParams({ id: uuid() }));
  return (answer.headers.get("location") ?? "").split("/")[2] ?? "";
}
const standing = async (visit: string) =>
  asFirm(db, ours.id, (scope) =>
    scope
      .selectFrom("reading")
      .selectAll()
      .where("visit_id", "=", visit)
      .where("superseded_at", "is", null)
      .orderBy("taken_at")
      .execute(),
  );
const drops = (methodId: string, count: number, more: object = {}) => ({
  id: uuid(),
  methodId,
  seen: { kind: "drops", count, sample: 25 },
  ...more,
});

describe("a doubt", () => {
  it("must be answered before the reading is saved, and stands with it", async () => {
    const basin = await newBasin();
    const before = await startVisit(basin);
    await http.postJson(`/visits/${before}/calciumHardness`, drops("calcium-hardness", 20));
    const visit = await startVisit(basin, 7);
    const sudden = drops("calcium-hardness", 33);
    const refused = await http.postJson(`/visits/${visit}/calciumHardness.data`, sudden);
    expect(await faultText(refused)).toMatch(/Calcium hardness 330: this may be wrong/);
    expect(await standing(visit)).toEqual([]);
    const confirmed = { ...sudden, confirmed: ["unlikely-change"] };
    expect((await http.postJson(`/visits/${visit}/calciumHardness`, confirmed)).status).toBe(302);
    expect(await standing(visit)).toMatchObject([{ value: 330, doubts: [{ code: "unlikely-change" }] }]);
    const unknown = { ...drops("calcium-hardness", 33), confirmed: ["trust-me"] };
    expect(await faultText(await http.postJson(`/visits/${visit}/calciumHardness.data`, unknown))).toMatch(
      /trust-me/,
    );
  });

  it("keeps a reading that may not be acted on out of the findings", async () => {
    const visit = await startVisit();
    await http.postJson(`/visits/${visit}/freeChlorine`, { ...drops("free-chlorine-fas-dpd", 60) });
    const ph = {
      id: uuid(),
      methodId: "ph-phenol-red",
      seen: { kind: "place", place: { from: 8, to: 8 } },
      confirmed: ["chlorine-purples-ph"],
    };
    expect((await http.postJson(`/visits/${visit}/ph`, ph)).status).toBe(302);
    await http.post(`/visits/${visit}/close`, new URLSearchParams({ note: "" }));
    const found = await asFirm(db, ours.id, (scope) =>
      scope.selectFrom("finding").select("code").where("visit_id", "=", visit).execute(),
    );
    expect(found).toEqual([{ code: "freeChlorine.high" }]);
  });
});

describe("several ways to one reading", () => {
  it("stand side by side, and the narrower one is used", async () => {
    const visit = await startVisit();
    await http.postJson(`/visits/${visit}/totalAlkalinity`, drops("total-alkalinity", 10));
    const lab = {
      id: uuid(),
      kitId: ours.instrumentKitId,
      methodId: "lab-total-alkalinity",
      seen: { kind: "number", value: 96 },
    };
    await http.postJson(`/visits/${visit}/totalAlkalinity`, lab);
    expect(await standing(visit)).toMatchObject([
      { method_id: "total-alkalinity", value: 100, used: false, kit_id: ours.kitId },
      { method_id: "lab-total-alkalinity", value: 96, used: true, kit_id: ours.instrumentKitId },
    ]);
    // The drops again: still the wider one.
    await http.postJson(`/visits/${visit}/totalAlkalinity`, drops("total-alkalinity", 9));
    expect((await standing(visit)).filter((row) => row.used)).toMatchObject([{ value: 96 }]);
    const foreign = { ...lab, id: uuid(), kitId: theirs.instrumentKitId };
    expect((await http.postJson(`/visits/${visit}/totalAlkalinity`, foreign)).status).toBe(422);
  });

  it("reads all pads of a strip at once, or none", async () => {
    const visit = await startVisit();
    const pad = (methodId: string, from: number, to: number | null) => ({
      id: uuid(),
      kitId: ours.stripKitId,
      methodId,
      seen: { kind: "place", place: { from, to } },
    });
    const good = [
      pad("strip-free-chlorine", 1, 3),
      pad("strip-ph", 7.2, 7.8),
      pad("strip-total-hardness", 250, 250),
    ];
    const broken = await http.postJson(`/visits/${visit}/freeChlorine`, [
      ...good,
      pad("strip-alkalinity", 85, 120),
    ]);
    expect(broken.status).toBe(422);
    expect(await standing(visit)).toEqual([]);
    await http.postJson(`/visits/${visit}/freeChlorine`, good);
    expect((await standing(visit)).map(({ quantity, value }) => [quantity, value]).sort()).toEqual([
      ["freeChlorine", 2],
      ["ph", 7.5],
      ["totalHardness", 250],
    ]);
  });
});

describe("before the tests", () => {
  it("keeps what the senses found and how the sample was taken", async () => {
    const visit = await startVisit();
    const look = { ...nothingFound(), see: ["cloudy"], note: "after the party" };
    const answer = await http.postJson(`/visits/${visit}/look`, { ...look, next: "sample" });
    expect(answer.headers.get("location")).toBe(`/visits/${visit}/sample`);
    const wrong = await http.postJson(`/visits/${visit}/look.data`, { ...look, see: ["haunted"] });
    expect(await faultText(wrong)).toMatch(/haunted. Choose one of: floor-hidden, dull, cloudy/);
    // The pump is off: the page must have said so, or it is asked again.
    const off = { circulation: "off", ignored: [] };
    expect((await http.postJson(`/visits/${visit}/sample`, off)).status).toBe(422);
    const anyway = await http.postJson(`/visits/${visit}/sample`, {
      circulation: "off",
      ignored: ["pump-off"],
      next: "temperature",
    });
    expect(anyway.headers.get("location")).toBe(`/visits/${visit}/temperature`);
    const row = await asFirm(db, ours.id, (scope) =>
      scope
        .selectFrom("visit")
        .select(["look", "sampling"])
        .where("id", "=", visit)
        .executeTakeFirstOrThrow(),
    );
    // What closes keeps its moment: a test opens after it.
    const seen = { ...look, at: expect.any(String), closedAt: expect.any(String) };
    expect(row).toEqual({ look: seen, sampling: { circulation: "off", ignored: ["pump-off"] } });
  });

  it("takes photos for what they are, not for what they call themselves", async () => {
    const visit = await startVisit();
    const send = (bytes: number[] | number, name = "p.jpg", id: string = uuid()) => {
      const form = new FormData();
      form.set("id", id);
      const data = typeof bytes === "number" ? new Uint8Array(bytes) : Uint8Array.from(bytes);
      form.set("photo", new Blob([data], { type: "image/png" }), name);
      return http.post(`/visits/${visit}/photos.data`, form);
    };
    expect(await faultText(await send([...Buffer.from("<script>alert(1)</script>")]))).toMatch(
      /The photo is image\/png. Choose one of: JPEG/,
    );
    expect(await faultText(await send(910_000))).toMatch(
      /size in bytes is 910000. The most allowed is 900,000/,
    );
    expect(await faultText(await send([]))).toMatch(/The photo is missing/);
    const id = uuid();
    // Taken with the camera on its side, and telling where.
    const taken = await sharp({ create: { width: 40, height: 20, channels: 3, background: "#246" } })
      .jpeg()
      .withExif({ IFD0: { Make: "Somebody's camera" }, IFD3: { GPSLatitudeRef: "N" } })
      .withMetadata({ orientation: 6 })
      .toBuffer();
    expect((await send([...taken], "p.jpg", id)).status).toBe(200);
    expect((await send([...taken], "p.jpg", id)).status).toBe(200);
    expect((await send([0xff, 0xd8, 0xff, 0xe0, 1, 2, 3])).status).toBe(422);
    const photo = await http.get(`/visits/${visit}/photos/${id}`);
    expect(photo.headers.get("content-type")).toBe("image/jpeg");
    const kept = Buffer.from(await photo.arrayBuffer());
    expect(kept.includes("Somebody's camera")).toBe(false);
    const { width, height, exif, orientation } = await sharp(kept).metadata();
    expect({ width, height, exif, orientation }).toEqual({ width: 20, height: 40 });
    const foreign = await http.signedIn(theirs.email);
    expect((await http.get(`/visits/${visit}/photos/${id}`, { Cookie: foreign })).status).toBe(404);
    const remove = async (photo: string) =>
      (await http.post(`/visits/${visit}/photos.data`, new URLSearchParams({ remove: photo }))).status;
    // Not this visit's: not there. Its own, once and once more: the same word.
    expect(await remove(uuid())).toBe(404);
    expect([await remove(id), await remove(id)]).toEqual([200, 200]);
    expect((await http.get(`/visits/${visit}/photos/${id}`)).status).toBe(404);
  });
});

describe("a count on two screens", () => {
  it("is the holder's; a take-over is heard, a straggler is not", async () => {
    const visit = await startVisit();
    const send = (state: object) => countAfter(http, visit, state);
    expect(await send({ drops: 5, holder: "a", term: 1, sequence: 6 })).toMatchObject({ drops: 5 });
    expect(await send({ drops: 7, holder: "b", term: 2, sequence: 9 })).toMatchObject({
      drops: 7,
      holder: "b",
    });
    expect(await send({ drops: 9, holder: "a", term: 1, sequence: 12 })).toMatchObject({
      drops: 7,
      holder: "b",
    });
    expect(await send({ drops: 3, holder: "c", term: 3, sequence: 4 })).toMatchObject({
      drops: 7,
      holder: "b",
    });
    expect(await send({ drops: 8, holder: "a", term: 3, sequence: 13 })).toMatchObject({
      drops: 8,
      holder: "a",
    });
  });
});

describe("kits", () => {
  let id: string;
  const edited = (factor: number): Kit => ({
    ...TITRATION_KIT,
    methods: TITRATION_KIT.methods.map((method) =>
      method.id === "total-alkalinity" && method.kind === "titration"
        ? { ...method, samples: [{ millilitres: 25, factor }] }
        : method,
    ),
  });
  const save = (body: object) => http.postJson("/shelf/kits.data", body);
  beforeEach(() => {
    id = uuid();
  });

  it("are saved as new versions; a visit keeps the one that it used", async () => {
    const visit = await startVisit();
    await save({ id, line: ours.kitId, basedOn: 1, kit: edited(20) });
    await http.postJson(`/visits/${visit}/totalAlkalinity`, drops("total-alkalinity", 10));
    expect(await standing(visit)).toMatchObject([{ value: 100 }]);
    const next = await startVisit();
    await http.postJson(`/visits/${next}/totalAlkalinity`, drops("total-alkalinity", 6));
    expect(await standing(next)).toMatchObject([{ value: 120, kit_id: id }]);
    // Somebody else still had version 1 open.
    const late = await save({ id: uuid(), line: ours.kitId, basedOn: 1, kit: edited(30) });
    expect(await faultText(late)).toMatch(/Someone else saved another version/);
  });

  it("offer what ships and is not there: added to a kit that was edited, in place of one that was not", async () => {
    const page = await (await http.get("/shelf/kits")).text();
    expect(page).toMatch(/Newer tests/);
    expect(page).toMatch(/Metals, phosphate and borate/);
    const kits = () => asFirm(db, ours.id, kitsOf);
    const older = { ...STRIP_KIT, methods: STRIP_KIT.methods.filter((one) => one.id !== "strip-salt") };
    const ofStrips = async () => kitNews(await kits()).find((one) => one.kit.name === STRIP_KIT.name);
    expect(await ofStrips()).toBeUndefined();
    const mine = { ...older, methods: older.methods.map((one) => ({ ...one, steps: [] })) };
    const line = ours.stripKitId;
    await save({ id, line, basedOn: 1, kit: mine });
    const news = await ofStrips();
    expect(news?.changed).toEqual([]);
    expect(news?.added.map((one) => one.id)).toEqual(["strip-salt"]);
    const taken = { id: uuid(), line, basedOn: news?.basedOn, kit: news?.kit };
    expect((await save(taken)).status).toBe(202);
    const now = (await kits()).find((one) => one.line === line);
    expect(now?.kit.methods.slice(0, -1)).toEqual(mine.methods);
    expect(await ofStrips()).toBeUndefined();
    // As it shipped earlier, and nobody touched it: the whole edition is offered.
    const shippedBefore = { ...now, by: null, kit: { ...STRIP_KIT, methods: mine.methods } } as KitOnShelf;
    const [whole] = kitNews([shippedBefore]).filter((one) => one.line === line);
    expect(whole?.kit).toEqual(STRIP_KIT);
    expect(whole?.changed.length).toBeGreaterThan(0);
  });

  it("name the field that is wrong", async () => {
    const broken = await save({ id, line: uuid(), basedOn: null, kit: edited(-1) });
    expect(await faultText(broken)).toMatch(/The value of a drop is -1. The least allowed is 0/);
    const words = await save({ id, line: uuid(), basedOn: null, kit: { name: "x", methods: "none" } });
    expect(await faultText(words)).toMatch(/methods/);
  });

  it("leave as JSON and come back the same", async () => {
    const file = await http.get(`/shelf/kits/${ours.stripKitId}/export`);
    expect(file.headers.get("content-disposition")).toMatch(/strip-and-meter\.kit\.json/);
    const kit = await file.json();
    expect(kit).toEqual(STRIP_KIT);
    const answer = await http.postJson("/shelf/kits", { id, line: uuid(), basedOn: null, kit });
    expect(answer.headers.get("location")).toBe(`/shelf/kits/${id}?saved`);
    expect(await (await http.get(`/shelf/kits/${id}/export`)).json()).toEqual(kit);
    expect((await http.get(`/shelf/kits/${theirs.kitId}/export`)).status).toBe(404);
    expect((await http.get(`/shelf/kits/${theirs.kitId}`)).status).toBe(404);
    const foreign = await http.postJson("/shelf/kits.data", {
      id: uuid(),
      line: theirs.kitId,
      basedOn: 1,
      kit,
    });
    expect(await faultText(foreign)).toMatch(/another version/);
  });

  it("are told by a JSON Schema that agrees with what the server takes", async () => {
    expect(await (await http.get("/schemas/kit.json", { Cookie: "" })).json()).toEqual(kitJsonSchema());
    const valid = new Ajv({ strict: false }).compile(kitJsonSchema());
    for (const kit of SHIPPED_KITS) expect(valid(kit)).toBe(true);
    const wrong: unknown[] = [
      {},
      { name: "", methods: TITRATION_KIT.methods },
      { ...TITRATION_KIT, methods: [] },
      { ...TITRATION_KIT, colour: "red" },
      edited(0),
      { ...STRIP_KIT, methods: [{ ...STRIP_KIT.methods[0], kind: "guess" }] },
      { ...STRIP_KIT, methods: [{ ...STRIP_KIT.methods[0], quantity: "mood" }] },
    ];
    for (const kit of wrong) {
      expect(valid(kit)).toBe(false);
      expect(kitSchema.validate(kit).error).toBeDefined();
    }
  });
});

describe("reagents", () => {
  it("are drawn down by each test once, corrections included", async () => {
    const bottle = {
      id: uuid(),
      reagent: "acid titrant",
      measure: "drops",
      full: 100,
      lot: "A-1",
      openedOn: "2026-01-01",
      expiresOn: null,
    };
    expect((await http.postJson("/shelf?index", { command: "save-bottle", ...bottle })).status).not.toBe(422);
    const visit = await startVisit(ours.basinId);
    const method = "total-alkalinity";
    const first = { ...drops(method, 6), seen: { kind: "drops", count: 6, sample: 25, idle: 1 } };
    await http.postJson(`/visits/${visit}/totalAlkalinity`, first);
    await http.postJson(`/visits/${visit}/totalAlkalinity`, first);
    await http.postJson(`/visits/${visit}/totalAlkalinity`, drops(method, 5));
    const { "routes/shelf/reagents": shelf } = await dataOf<
      Record<
        string,
        { data: { bottles: { id: string; used: number }[]; need: { reagent: string; amount: number }[] } }
      >
    >(await http.get("/shelf.data"));
    // 6 and one that changed nothing, then 5 for the correction
    expect(shelf?.data.bottles.find((one) => one.id === bottle.id)?.used).toBe(12);
    // Called at every day; alkalinity once in the week.
    expect(shelf?.data.need.find((one) => one.reagent === "phenol red")).toMatchObject({ amount: 35 });
    expect(shelf?.data.need.find((one) => one.reagent === "thiosulfate")).toMatchObject({ amount: 2 });
  });

  it("refuse a bottle that cannot be", async () => {
    const bottle = {
      id: uuid(),
      reagent: "",
      measure: "drops",
      full: 100,
      lot: "",
      openedOn: null,
      expiresOn: null,
    };
    const send = async (change: object) =>
      faultText(
        await http.postJson("/shelf.data?index", {
          command: "save-bottle",
          ...bottle,
          reagent: "x",
          ...change,
        }),
      );
    expect(await send({ reagent: "" })).toMatch(/The reagent is missing/);
    expect(await send({ full: 0 })).toMatch(/The amount in the bottle is 0. The least allowed is 1/);
    expect(await send({ openedOn: "31.12.2026" })).toMatch(/The day it was opened/);
  });
});

describe("a result from the quick bench", () => {
  it("goes into the basin's visit, once, and not into another firm's", async () => {
    const observation = { id: uuid(), methodId: "salt", seen: { kind: "drops", count: 16, sample: 10 } };
    const loose = {
      basinId: ours.basinId,
      at: new Date(Date.now() - millisecondsInHour).toISOString(),
      kitName: TITRATION_KIT.name,
      observation,
    };
    const send = (change: object = {}) => http.postJson("/bench/attach", { ...loose, ...change });
    const [first, second] = [await send(), await send()];
    expect([first.status, second.status]).toEqual([200, 200]);
    const rows = await asFirm(db, ours.id, (scope) =>
      scope.selectFrom("reading").select(["value", "taken_at"]).where("id", "=", observation.id).execute(),
    );
    expect(rows).toMatchObject([{ value: 3200, taken_at: new Date(loose.at) }]);
    // The same result to another basin is another write; and another firm's basin is none of ours.
    expect((await send({ basinId: theirs.basinId })).status).toBe(409);
    const another = { ...observation, id: uuid() };
    expect((await send({ basinId: theirs.basinId, observation: another })).status).toBe(422);
    expect(
      (await send({ at: "2020-01-01T00:00:00Z", observation: { ...observation, id: uuid() } })).status,
    ).toBe(422);
    expect((await http.postJson("/bench/attach", loose, { Cookie: "" })).status).toBe(401);
  });
});
