import type { HTTPRequest, Page } from "puppeteer-core";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { asFirm } from "#server/db/connection";
import { still as at, open, PHONE, press, signIn } from "../../scripts/lib/browser.mjs";
import { count, type Demo, openDemo, trialBasin, visitId } from "./demo";

/** What a page says of what it has kept is true, also when the server breaks or refuses. */
let demo: Demo;
let page: Page;
/** Answers a request in the server's place; null lets it through. */
let instead: (request: HTTPRequest) => { status: number; body?: string } | null = () => null;

beforeAll(async () => {
  demo = await openDemo();
  ({ page } = await demo.newPage(PHONE));
  await signIn(page, demo.web.address);
  await page.setRequestInterception(true);
  page.on("request", (request) => {
    const answer = instead(request);
    if (answer) void request.respond({ contentType: "text/plain", body: "", ...answer });
    else void request.continue();
  });
});
// Whatever a story before this one ended with.
beforeEach(() => {
  instead = () => null;
});
afterAll(async () => {
  await demo?.close();
});

const says = (words: string) =>
  page.waitForFunction((wanted) => document.body.innerText.includes(wanted), {}, words);
const placeOf = async (words: string) => {
  const box = await (await page.waitForSelector(`button ::-p-text(${words})`))?.boundingBox();
  return { x: box?.x, y: box?.y };
};
const isWrite = (request: HTTPRequest, path: string) =>
  request.method() === "POST" && new URL(request.url()).pathname.includes(path);

async function startVisit(name: string): Promise<string> {
  const basin = await trialBasin(demo, name);
  await open(page, `${demo.web.address}/basins/${basin}`);
  await press(page, "Start visit");
  await at(page, "look");
  return visitId(page);
}

describe("a count", () => {
  it.each([
    [500, "Count saved on this device."],
    [422, "Count saved on this device only: the server does not accept it"],
    // Signed out: it waits with everything else.
    [302, "Count saved on this device."],
  ])("is not called kept when the server answers %d, and is when it has it", async (status, words) => {
    const visit = await startVisit(`Kept spa ${status}`);
    await open(page, `${demo.web.address}/visits/${visit}/totalAlkalinity`);
    instead = (request) => (isWrite(request, "/sync") ? { status } : null);
    for (let tap = 0; tap < 3; tap++) await page.tap("[data-count]");
    const before = await placeOf("Remove drop");
    await says(words);
    // Nothing moves under a thumb that is on its way.
    expect(await placeOf("Remove drop")).toEqual(before);
    expect(await page.evaluate(() => document.body.innerText)).not.toMatch(/Count saved$/m);
    expect(await count(page)).toBe(3);
    instead = () => null;
    // It is tried again until it is taken: nobody has to tap once more.
    await says("Count saved");
    await page.waitForFunction(() => /Count saved$/m.test(document.body.innerText));
    const kept = await asFirm(demo.db, demo.firmId, (scope) =>
      scope.selectFrom("drop_count").select("drops").where("visit_id", "=", visit).executeTakeFirst(),
    );
    expect(kept).toEqual({ drops: 3 });
  });
});

describe("drops that were counted and not saved", () => {
  const countAt = async (visit: string, taps: number) => {
    await open(page, `${demo.web.address}/visits/${visit}/totalAlkalinity`);
    for (let tap = 0; tap < taps; tap++) await page.tap("[data-count]");
  };

  it("are named by Judge and by Close; a tap saves them, another discards them", async () => {
    const visit = await startVisit("Unsaved spa");
    await countAt(visit, 6);
    await press(page, "Judge");
    await at(page, "judge");
    await says("6 drops were counted and not saved");
    await press(page, "Close");
    await at(page, "close");
    await says("6 drops were counted and not saved");
    await press(page, "Save this reading");
    await page.waitForFunction(() => !document.body.innerText.includes("counted and not saved"));
    expect(await page.evaluate(() => location.pathname)).toBe(`/visits/${visit}/close`);
    await countAt(visit, 3);
    await open(page, `${demo.web.address}/visits/${visit}/judge`);
    await says("9 drops were counted and not saved");
    await press(page, "Discard this count");
    await page.waitForFunction(() => !document.body.innerText.includes("counted and not saved"));
    await open(page, `${demo.web.address}/visits/${visit}/totalAlkalinity`);
    expect(await count(page)).toBe(0);
    await expect
      .poll(() =>
        asFirm(demo.db, demo.firmId, (scope) =>
          scope
            .selectFrom("reading")
            .innerJoin("drop_count", "drop_count.visit_id", "reading.visit_id")
            .select(["value", "drops"])
            .where("reading.visit_id", "=", visit)
            .execute(),
        ),
      )
      .toEqual([{ value: 60, drops: 0 }]);
  });
});

describe("a closing note", () => {
  it("stays where it is when the server breaks, over a reload too, until it is in the book", async () => {
    const visit = await startVisit("Note spa");
    await open(page, `${demo.web.address}/visits/${visit}/salt`);
    await open(page, `${demo.web.address}/visits/${visit}/totalAlkalinity`);
    for (let tap = 0; tap < 8; tap++) await page.tap("[data-count]");
    await press(page, "Save");
    await at(page, "calciumHardness");
    await open(page, `${demo.web.address}/visits/${visit}/close`);
    await page.type("textarea[name=note]", "Filter rinsed, gate was open");
    // A draft of it outlives a reload.
    await open(page, `${demo.web.address}/visits/${visit}/close`);
    await page.waitForFunction(
      () => (document.querySelector("textarea[name=note]") as HTMLTextAreaElement).value !== "",
    );
    const inBook = () =>
      asFirm(demo.db, demo.firmId, (scope) =>
        scope
          .selectFrom("visit")
          .select(["note", "finished_at"])
          .where("id", "=", visit)
          .executeTakeFirstOrThrow(),
      );
    instead = (request) => (isWrite(request, "/sync") ? { status: 500 } : null);
    await press(page, "Save the visit");
    await page.waitForFunction((id) => location.pathname === `/visits/${id}`, {}, visit);
    await says("not sent yet");
    await open(page, `${demo.web.address}/visits/${visit}`);
    await says("Filter rinsed, gate was open");
    await says("not sent yet");
    expect(await inBook()).toEqual({ note: "", finished_at: null });
    instead = () => null;
    await expect
      .poll(inBook, { timeout: 60_000 })
      .toEqual({ note: "Filter rinsed, gate was open", finished_at: expect.any(Date) });
    await page.waitForFunction(() => !document.body.innerText.includes("not sent yet"));
  });
});

describe("quick results", () => {
  it("are kept one and all: the forty-first drops none", async () => {
    await open(page, `${demo.web.address}/bench`);
    const result = (number: number) => ({
      id: `018f6b1e-7c3a-7abc-9def-${String(number).padStart(12, "0")}`,
      at: new Date().toISOString(),
      kitId: null,
      kitName: "x",
      method: { id: "salt", name: "Salt", kind: "titration", quantity: "salt", samples: [], reagents: [] },
      seen: { kind: "drops", count: number, sample: 10 },
      result: { value: number * 200, low: 0, high: number * 200, bound: "within", unit: "mg/L" },
    });
    const stored = { made: 60, results: Array.from({ length: 60 }, (_, index) => result(index + 1)) };
    await page.evaluate((text) => localStorage.setItem("pelagon.loose", text), JSON.stringify(stored));
    await open(page, `${demo.web.address}/bench`);
    await page.waitForFunction(() => document.querySelectorAll("main li").length === 60);
    await press(page, "Total alkalinity");
    await page.waitForSelector("[data-count]");
    for (let tap = 0; tap < 4; tap++) await page.tap("[data-count]");
    await press(page, "Save");
    await page.waitForFunction(() => document.querySelectorAll("main li").length === 61);
    const kept = await page.evaluate(
      () => JSON.parse(localStorage.getItem("pelagon.loose") ?? "{}").results.length,
    );
    expect(kept).toBe(61);
  });
});
