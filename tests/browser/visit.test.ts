import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import type { Page } from "puppeteer-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm, asGate, type Database } from "#server/db/connection";
import { loadDemo } from "#server/demo/load";
import { open, openBrowser, PHONE, press, signIn, still, WIDE } from "../../scripts/lib/browser.mjs";
import { webServer } from "../../scripts/lib/world.mjs";
import { newDatabase } from "../database";

/** The production build with the demo year, used as a technician would. */
let db: Database;
let close: () => Promise<void>;
let firmId: string;
let web: Awaited<ReturnType<typeof webServer>>;
let browser: Awaited<ReturnType<typeof openBrowser>>;

beforeAll(async () => {
  const made = await newDatabase();
  ({ db, close } = made);
  await loadDemo(db, new Date());
  firmId = (await asGate(db, (scope) => scope.selectFrom("firm").select("id").executeTakeFirstOrThrow())).id;
  web = await webServer(made.url);
  browser = await openBrowser();
});
afterAll(async () => {
  await browser?.close();
  await web?.stop();
  await close?.();
});

/** A page whose faults fail the test, the network's own excepted. */
async function newPage(viewport = WIDE): Promise<{ page: Page; faults: string[] }> {
  const page = await browser.page(viewport);
  const faults: string[] = [];
  page.on("pageerror", (fault) => faults.push(String(fault)));
  page.on("console", (message) => {
    if (message.type() === "error" && !/Failed to load resource|net::ERR/.test(message.text()))
      faults.push(message.text());
  });
  return { page, faults };
}

const at = still;
const text = (page: Page) => page.$eval("#page", (element) => (element as HTMLElement).innerText);
const count = (page: Page) => page.$eval("[data-count] span", (element) => Number(element.textContent));
const visitId = (page: Page) => new URL(page.url()).pathname.split("/")[2] ?? "";
const readings = (visit: string) =>
  asFirm(db, firmId, (scope) =>
    scope
      .selectFrom("reading")
      .selectAll()
      .where("visit_id", "=", visit)
      .where("superseded_at", "is", null)
      .execute(),
  );

async function keys(page: Page, key: "Space" | "Enter" | "Backspace", times: number): Promise<void> {
  for (let time = 0; time < times; time++) await page.keyboard.press(key);
}

/** Tabs until the element that has the focus says these words. */
async function tabTo(page: Page, words: string): Promise<void> {
  for (let tries = 0; tries < 60; tries++) {
    await page.keyboard.press("Tab");
    const here = await page.evaluate(() => (document.activeElement as HTMLElement | null)?.innerText ?? "");
    if (here.startsWith(words)) return;
  }
  throw new Error(`the keyboard never came to "${words}"`);
}

describe("a whole visit by keyboard alone", () => {
  it("goes from sign-in to the book", async () => {
    const { page, faults } = await newPage();
    await open(page, `${web.address}/`);
    // The form is reached by Tab, too.
    await page.keyboard.press("Tab");
    await page.keyboard.type("jory@fennmoor.example");
    await page.keyboard.press("Tab");
    await page.keyboard.type("orrin-vale-demo");
    await page.keyboard.press("Enter");
    await still(page, "/");
    // A spa, whatever today's round holds: what is in range depends on it.
    await tabTo(page, "Basins");
    await page.keyboard.press("Enter");
    await at(page, "/basins");
    await tabTo(page, "Cedar spa");
    await page.keyboard.press("Enter");
    await page.waitForSelector("h1 ::-p-text(Cedar spa)");
    await tabTo(page, "Start a visit");
    await page.keyboard.press("Enter");
    await at(page, "freeChlorine");

    await keys(page, "Space", 9);
    await keys(page, "Enter", 2);
    await keys(page, "Backspace", 1);
    expect(await count(page)).toBe(10);
    await page.keyboard.press("s");
    await at(page, "combinedChlorine");
    await keys(page, "Enter", 1);
    await page.keyboard.press("s");
    await at(page, "ph");
    await page.focus("input[type=radio]");
    for (let step = 0; step < 12; step++) await page.keyboard.press("ArrowDown");
    await page.keyboard.press("Enter");
    await at(page, "totalAlkalinity");
    // The smaller sample, then a count in it.
    await keys(page, "Space", 2);
    await tabTo(page, "10 mL");
    await page.keyboard.press("Enter");
    expect(await count(page)).toBe(0);
    await tabTo(page, "Start again").catch(() =>
      page.evaluate(() => (document.activeElement as HTMLElement).blur()),
    );
    await page.evaluate(() => (document.activeElement as HTMLElement).blur());
    await keys(page, "Space", 3);
    await page.keyboard.press("s");
    await at(page, "calciumHardness");
    await keys(page, "Space", 18);
    await page.keyboard.press("s");
    await at(page, "cyanuricAcid");
    await page.keyboard.press("n");
    await at(page, "temperature");
    await page.keyboard.type("400");
    await page.keyboard.press("Enter");
    await page.waitForSelector("[role=alert]");
    expect(await text(page)).toMatch(/Temperature is 204\.4+\d*; the most it can be is 45/);
    expect(await page.$eval("input[inputmode=decimal]", (input) => (input as HTMLInputElement).value)).toBe(
      "400",
    );
    await page.evaluate(() =>
      (document.querySelector("input[inputmode=decimal]") as HTMLInputElement).select(),
    );
    await page.keyboard.type("99.5");
    await page.keyboard.press("Enter");
    await at(page, "judge");
    const judged = await text(page);
    expect(judged).toMatch(/Free chlorine is low: 2\.0 ppm, should be at least 3\.0 ppm/);
    expect(judged).toMatch(/Total alkalinity is low: 75 ppm/);
    expect(judged).toMatch(/pH is high: 8\.0/);
    // The index comes with its interval, drawn in a worker: pH 8.0, TA 75, CH 180, 37.5 °C.
    await page.waitForFunction(() => /between \S+ and \S+ in 95 of 100/.test(document.body.innerText));
    const [, index = "", low = "", high = ""] =
      (await text(page))
        .replaceAll("−", "-")
        .match(/([+-]?\d\.\d\d)\s+balanced\s+between (\S+) and (\S+) in/) ?? [];
    expect(Number(low)).toBeLessThan(Number(index));
    expect(Number(index)).toBeLessThan(Number(high));
    await page.keyboard.press("s");
    await at(page, "dose");
    await tabTo(page, "Added");
    await page.keyboard.press("Enter");
    await page.waitForFunction(() => document.body.innerText.includes("Given:"));
    await page.evaluate(() => (document.activeElement as HTMLElement).blur());
    await page.keyboard.press("s");
    await at(page, "close");
    await page.focus("textarea");
    await page.keyboard.type("By keyboard.");
    await tabTo(page, "Save the visit");
    const visit = visitId(page);
    await page.keyboard.press("Enter");
    await page.waitForFunction((id) => location.pathname === `/visits/${id}`, {}, visit);
    await page.waitForFunction(() => document.body.innerText.includes("By keyboard."));

    const saved = Object.fromEntries((await readings(visit)).map((row) => [row.quantity, row]));
    expect(saved.freeChlorine).toMatchObject({
      value: 2,
      low: 1.8,
      high: 2,
      observation: { kind: "drops", count: 10, sample: 25 },
    });
    expect(saved.combinedChlorine).toMatchObject({ value: 0.2 });
    expect(saved.ph).toMatchObject({ value: 8, low: 7.9, high: 8.1 });
    expect(saved.totalAlkalinity).toMatchObject({ value: 75, observation: { count: 3, sample: 10 } });
    expect(saved.calciumHardness).toMatchObject({ value: 180 });
    expect(saved.temperature?.value).toBeCloseTo(37.5, 6);
    expect(saved.cyanuricAcid).toBeUndefined();
    expect(faults).toEqual([]);
    await page.close();
  });
});

describe("a visit by taps on a phone", () => {
  it("loses no drop when the server is killed in mid-count", async () => {
    const { page, faults } = await newPage(PHONE);
    await signIn(page, web.address, "wren@fennmoor.example");
    await press(page, "Start");
    await at(page, "freeChlorine");
    const tap = async (times: number) => {
      for (let time = 0; time < times; time++) await page.tap("[data-count]");
    };
    await tap(6);
    await page.waitForFunction(() => document.body.innerText.includes("Count kept"));
    await web.kill();
    await tap(5);
    expect(await count(page)).toBe(11);
    await page.waitForFunction(() => document.body.innerText.includes("kept on this device"));

    // Saving finds no server: it says so, and the count stands.
    await press(page, "Save");
    await page.waitForSelector("[role=alert]");
    expect(await text(page)).toMatch(/server does not answer/);
    expect(await count(page)).toBe(11);

    await web.start();
    await page.reload({ waitUntil: "load" });
    await still(page);
    expect(await count(page)).toBe(11);
    const visit = visitId(page);
    const onServer = () =>
      asFirm(db, firmId, (scope) =>
        scope.selectFrom("drop_count").select("drops").where("visit_id", "=", visit).executeTakeFirst(),
      );
    for (let tries = 0; tries < 50 && (await onServer())?.drops !== 11; tries++)
      await new Promise((done) => setTimeout(done, 100));
    expect(await onServer()).toEqual({ drops: 11 });

    // Another device finds the same drop.
    const other = await newPage(PHONE);
    await signIn(other.page, web.address, "wren@fennmoor.example");
    await open(other.page, `${web.address}/visits/${visit}/freeChlorine`);
    expect(await count(other.page)).toBe(11);
    await other.page.close();

    await tap(1);
    await press(page, "Save");
    await at(page, "combinedChlorine");
    await press(page, "Total chlorine by colour");
    await press(page, "between 2.0 and 3.0");
    await press(page, "Save");
    await at(page, "ph");
    await press(page, "between 7.4 and 7.6");
    await press(page, "Save");
    await at(page, "totalAlkalinity");
    await press(page, "Skip this test");
    await at(page, "calciumHardness");
    await open(page, `${web.address}/visits/${visit}/close`);
    await press(page, "Save the visit");
    await page.waitForFunction((id) => location.pathname === `/visits/${id}`, {}, visit);
    const saved = Object.fromEntries((await readings(visit)).map((row) => [row.quantity, row.value]));
    expect(saved).toEqual({ freeChlorine: 2.4, totalChlorine: 2.5, combinedChlorine: 0.1, ph: 7.5 });
    expect(faults.filter((fault) => !/fetch/i.test(fault))).toEqual([]);
    await page.close();
  });

  it("can take back a new sample size that wiped the count", async () => {
    const { page } = await newPage(PHONE);
    await signIn(page, web.address);
    await press(page, "Start");
    await at(page, "freeChlorine");
    for (let time = 0; time < 4; time++) await page.tap("[data-count]");
    await press(page, "10 mL");
    expect(await count(page)).toBe(0);
    await press(page, "Undo");
    expect(await count(page)).toBe(4);
    await page.close();
  });
});

describe("every screen", () => {
  const axe = readFileSync(createRequire(import.meta.url).resolve("axe-core/axe.min.js"), "utf8");

  async function violations(page: Page): Promise<string[]> {
    await page.evaluate(axe);
    const found = await page.evaluate(() =>
      // biome-ignore lint/suspicious/noExplicitAny: put there by the script above
      (window as any).axe.run(document, { resultTypes: ["violations"] }),
    );
    return found.violations
      .filter((one: { impact: string }) => one.impact === "serious" || one.impact === "critical")
      .map((one: { id: string; nodes: { html: string }[] }) => `${one.id}: ${one.nodes[0]?.html}`);
  }

  it.each(["light", "dark"] as const)("has no serious violation in the %s theme", async (theme) => {
    const { page, faults } = await newPage();
    await page.emulateMediaFeatures([{ name: "prefers-color-scheme", value: theme }]);
    await open(page, `${web.address}/sign-in`);
    const found: Record<string, string[]> = { "sign-in": await violations(page) };
    await signIn(page, web.address);
    const { basin, finished, underWay } = await asFirm(db, firmId, async (scope) => ({
      basin: await scope.selectFrom("basin").select("id").executeTakeFirstOrThrow(),
      finished: await scope
        .selectFrom("visit")
        .select("id")
        .where("finished_at", "is not", null)
        .orderBy("started_at", "desc")
        .executeTakeFirstOrThrow(),
      underWay: await scope
        .selectFrom("visit")
        .select("id")
        .where("finished_at", "is", null)
        .executeTakeFirstOrThrow(),
    }));
    const paths = [
      "/",
      "/basins",
      `/basins/${basin.id}`,
      `/visits/${finished.id}`,
      "/settings",
      "/nothing-here",
    ];
    for (const station of [
      "freeChlorine",
      "combinedChlorine",
      "ph",
      "totalAlkalinity",
      "calciumHardness",
      "cyanuricAcid",
      "temperature",
      "judge",
      "dose",
      "close",
    ])
      paths.push(`/visits/${underWay.id}/${station}`);
    for (const path of paths) {
      await open(page, `${web.address}${path}`);
      found[path] = await violations(page);
    }
    expect(Object.entries(found).filter(([, list]) => list.length > 0)).toEqual([]);
    expect(faults).toEqual([]);
    await page.close();
  });

  it("has no target smaller than a wet thumb, and nothing off the side of a phone", async () => {
    const { page } = await newPage(PHONE);
    await signIn(page, web.address);
    const underWay = await asFirm(db, firmId, (scope) =>
      scope.selectFrom("visit").select("id").where("finished_at", "is", null).executeTakeFirstOrThrow(),
    );
    for (const path of [
      "/",
      `/visits/${underWay.id}/freeChlorine`,
      `/visits/${underWay.id}/ph`,
      `/visits/${underWay.id}/judge`,
      "/settings",
    ]) {
      await open(page, `${web.address}${path}`);
      const small = await page.$$eval(
        "#page button, #page label:has([type=radio]), #page input:not([type=hidden], [type=radio]), nav a",
        (all) =>
          all
            .map((one) => ({ box: one.getBoundingClientRect(), said: (one as HTMLElement).innerText }))
            .filter(({ box }) => box.width > 0 && (box.height < 44 || box.width < 44))
            .map(({ said }) => said),
      );
      expect(small, path).toEqual([]);
      expect(await page.evaluate(() => document.documentElement.scrollWidth), path).toBeLessThanOrEqual(390);
    }
    await page.close();
  });
});
