import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { sql } from "kysely";
import type { ElementHandle, Page } from "puppeteer-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm } from "#server/db/connection";
import { open, PHONE, press, signIn, still } from "../../scripts/lib/browser.mjs";
import { violations } from "./axe";
import { type Demo, openDemo, trialBasin } from "./demo";

/** The firm's screens as its people use them: the round moved by keys, a sheet shared, a table brought in. */
let demo: Demo;
let page: Page;
let faults: string[];
let address: string;

beforeAll(async () => {
  // A file that comes in is put in by the queue.
  demo = await openDemo({ JOBS: "on" });
  ({ address } = demo.web);
  // Called at every day, so that there is something to put in order on any.
  for (const name of ["Trial one", "Trial two", "Trial three"]) await trialBasin(demo, name);
  ({ page, faults } = await demo.newPage());
  await signIn(page, address, "tamsin@fennmoor.example");
});
afterAll(async () => {
  expect(faults.join("\n")).toBe("");
  await demo.close();
});

const texts = (selector: string) =>
  page.$$eval(selector, (found) => found.map((one) => one.textContent?.trim() ?? ""));
const says = (words: string) => page.waitForSelector(`::-p-text(${words})`);

describe("the round", () => {
  const order = () => texts("main ol > li h2");

  it("is put in another order by keyboard alone, and stays so", async () => {
    const before = await order();
    expect(before.length).toBeGreaterThan(1);
    const grip = await page.waitForSelector("main ol > li button[aria-roledescription]");
    await grip?.focus();
    // Each step is told to whoever does not see it, by the basin's name.
    const told = (...either: string[]) =>
      page.waitForFunction(
        (wanted) => wanted.includes(document.querySelector("[id^=DndLiveRegion]")?.textContent ?? ""),
        {},
        either,
      );
    await page.keyboard.press("Space");
    const grips = await page.$$eval("main ol > li button[aria-roledescription]", (found) =>
      found.map((one) => one.getAttribute("aria-label") ?? ""),
    );
    const first = grips[0]?.replace(/^Move | in the order$/g, "");
    // Where it is over, which comes at once, if its own place is told as such.
    await told(`Picked up ${first}, 1 of ${grips.length}.`, `${first} is now 1 of ${grips.length}.`);
    await page.keyboard.press("ArrowDown");
    await told(`${first} is now 2 of ${grips.length}.`);
    await page.keyboard.press("Space");
    await told(`${first} was put down at 2 of ${grips.length}.`);
    const moved = [before[1], before[0], ...before.slice(2)];
    await expect.poll(order).toEqual(moved);
    await page.waitForNetworkIdle({ idleTime: 300 });
    await open(page, `${address}/`);
    expect(await order()).toEqual(moved);
  });

  it("keeps the rows that were drawn first when dragging comes to them", async () => {
    await page.goto(`${address}/`, { waitUntil: "domcontentloaded" });
    const row = await page.waitForSelector("main ol > li");
    await page.waitForSelector("main ol > li button[aria-roledescription]");
    expect(await row?.evaluate((one) => one.isConnected)).toBe(true);
    await still(page);
  });

  it("skips a call with its reason and takes that back", async () => {
    await press(page, "Edit stop");
    const why = await page.waitForSelector("::-p-xpath(//label[contains(., 'Reason')]//input)");
    await why?.type("Gate locked");
    await press(page, "Skip this stop");
    await says("Skipped by Tamsin Orrell: Gate locked");
    await press(page, "Undo skip");
    await page.waitForFunction(() => !document.body.innerText.includes("Gate locked"));
  });

  it("is read on a phone without sideways scrolling", async () => {
    await page.setViewport(PHONE);
    await open(page, `${address}/`);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
    await page.setViewport({ width: 1280, height: 800 });
  });
});

describe("a figure", () => {
  it("tells itself in other units when it is tapped", async () => {
    await open(page, `${address}/basins`);
    const [first] = await page.$$eval('main a[href^="/basins/0"]', (found) => found.map(({ href }) => href));
    await open(page, String(first));
    const [, gallons] = (await texts("button.figure"))
      .map((text) => /^([\d,]+) gal$/.exec(text))
      .find((found) => found !== null) ?? ["", ""];
    await (await page.waitForSelector("button.figure::-p-text(gal)"))?.press("Enter");
    await page.waitForSelector("[role=dialog]");
    const litres = (await texts("[role=dialog] li"))
      .map((text) => /^([\d,]+) L$/.exec(text)?.[1])
      .find((found) => found !== undefined);
    const number = (text: string | undefined) => Number(text?.replaceAll(",", ""));
    // A US gallon is 231 cubic inches; both figures are rounded to three.
    expect(number(litres) / number(gallons)).toBeCloseTo(3.785, 1);
    await page.keyboard.press("Escape");
    await page.waitForSelector("[role=dialog]", { hidden: true });
  });
});

describe("a sheet for the customer", () => {
  it("is shared by a link that opens for somebody without a session", async () => {
    await open(page, `${address}/book`);
    await page.click("main ul a[href^='/visits/']");
    await says("Sheet for the customer");
    await press(page, "Sheet for the customer");
    await still(page, "/customer");
    await press(page, "Create link");
    const link = await page.waitForSelector("input[readonly]");
    await page.waitForFunction((field) => (field as HTMLInputElement).value.startsWith("http"), {}, link);
    const shared = await link?.evaluate((field) => (field as unknown as { value: string }).value);
    const { page: stranger } = await demo.newPage(PHONE);
    await open(stranger, shared ?? "");
    const shown = await stranger.evaluate(() => document.body.innerText);
    expect(shown).toContain("Fennmoor Water Care");
    expect(shown).toMatch(/Swimming/);
    expect(await stranger.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
    await press(page, "Withdraw");
    await page.waitForFunction(() => !document.body.innerText.includes("good until"));
    await open(stranger, shared ?? "");
    expect(await stranger.evaluate(() => document.body.innerText)).not.toContain("Fennmoor");
  });
});

describe("a table", () => {
  it("is looked over, tried, mended and put in", async () => {
    await open(page, `${address}/book/import`);
    const choose = await page.waitForSelector("input[type=file]");
    const folder = mkdtempSync(join(tmpdir(), "pelagon-table-"));
    const file = join(folder, "old.csv");
    writeFileSync(file, "Date;Pool;FC;pH\n5.3.2019;Cedar spa;1,5;7,4\n6.3.2019;Cedar spa;2,0;15\n");
    await (choose as ElementHandle<HTMLInputElement>).uploadFile(file);
    await says("Check the guessed columns");
    rmSync(folder, { recursive: true });
    await press(page, "Check the file");
    await says("The most allowed is 11");
    // The pH column was something else: leave it out.
    await page.select("select[aria-label='Meaning of column pH']", "");
    await press(page, "Check the file");
    await says("2 new visits, 0 already here");
    await press(page, "Import");
    await says("Imported.");
    await open(page, `${address}/book?to=2019-12-31`);
    expect(await texts("main ul[aria-label] > li")).toHaveLength(2);
  });
});

describe("every screen of the firm", () => {
  it("has no serious violation in either theme", async () => {
    const { basin, visit } = await asFirm(demo.db, demo.firmId, async (scope) => ({
      basin: await scope.selectFrom("basin").select("id").executeTakeFirstOrThrow(),
      visit: await scope.selectFrom("visit").select("id").executeTakeFirstOrThrow(),
    }));
    const found: Record<string, string[]> = {};
    for (const path of [
      "/",
      "/book",
      "/book/import",
      "/shelf/trucks",
      "/settings",
      "/settings/team",
      "/settings/audit",
      "/settings/calendar",
      "/settings/health",
      `/basins/${basin.id}/facts`,
      `/visits/${visit.id}/customer`,
    ]) {
      await open(page, address + path);
      found[path] = await violations(page);
    }
    await page.emulateMediaFeatures([]);
    expect(Object.entries(found).filter(([, list]) => list.length > 0)).toEqual([]);
  });
});

describe("a card by the water", () => {
  it("is made at a basin, told of on a phone without a sign-in, and read by the firm", async () => {
    const id = await trialBasin(demo, "Trial tub");
    await open(page, `${address}/basins/${id}`);
    await page.waitForSelector("::-p-text(There is no card here.)");
    const grams = await page.waitForSelector("input[name=grams]");
    await grams?.evaluate((input) => (input as HTMLInputElement).select());
    await grams?.type("18");
    await press(page, "Make card");
    const link = await page.waitForSelector("input[readonly]");
    const path = new URL((await link?.evaluate((input) => (input as HTMLInputElement).value)) ?? "").pathname;
    expect(path).toMatch(/^\/c\/[\w-]{43}$/);
    // As if it had hung there since the day before yesterday.
    await asFirm(demo.db, demo.firmId, (scope) =>
      sql`update card set made_at = made_at - interval '2 days'`.execute(scope),
    );
    const { page: phone } = await demo.newPage(PHONE);
    await open(phone, address + path);
    expect(await phone.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
    expect(await violations(phone)).toEqual([]);
    await press(phone, "I added it");
    await phone.waitForSelector("::-p-text(Added. Thank you.)");
    const strip = await phone.waitForSelector("input[name=freeChlorine]");
    await strip?.type("300");
    await press(phone, "Send reading");
    // What was typed stands there beside what is wrong with it.
    await phone.waitForSelector("[role=alert]");
    expect(await phone.$eval("input[name=freeChlorine]", (input) => (input as HTMLInputElement).value)).toBe(
      "300",
    );
    await strip?.evaluate((input) => (input as HTMLInputElement).select());
    await strip?.type("3");
    await press(phone, "Send reading");
    await phone.waitForSelector("::-p-text(We have your reading of today)");
    await open(page, `${address}/basins/${id}`);
    await says("Added the dose of");
    await says("Test strip: ");
    await press(page, "Withdraw card");
    await page.waitForSelector("::-p-text(There is no card here.)");
    expect((await phone.goto(address + path))?.status()).toBe(404);
  });
});

describe("a reader", () => {
  it("finds their own basins and nothing to change", async () => {
    const { page: reader } = await demo.newPage();
    await signIn(reader, address, "anselm@threecairns.example");
    const shown = await reader.evaluate(() => document.body.innerText);
    expect(shown).toContain("Hotel Three Cairns");
    expect(shown).not.toContain("Swim School");
    expect(shown).not.toContain("Shelf");
    await press(reader, "Terrace pool");
    await reader.waitForSelector("h1 ::-p-text(Terrace pool)");
    await still(reader);
    expect(await reader.evaluate(() => document.body.innerText)).not.toContain("Start visit");
  });
});
