import type { Page } from "puppeteer-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openBrowser, PHONE } from "../../scripts/lib/browser.mjs";
import { webServer } from "../../scripts/lib/world.mjs";
import { newDatabase } from "../database";
import { violations } from "./axe";

/** From an instance with nothing in it to the first visit that is saved, by what the pages say is next. */
const CODE = "FIRST-H2345";
let web: Awaited<ReturnType<typeof webServer>>;
let browser: Awaited<ReturnType<typeof openBrowser>>;
let close: () => Promise<void>;

beforeAll(async () => {
  const made = await newDatabase();
  web = await webServer(made.addresses, { PELAGON_DEMO: "0", JOBS: "off", SETUP_CODE: CODE });
  browser = await openBrowser();
  close = async () => {
    await browser.close();
    await web.stop();
    await made.close();
  };
});
afterAll(() => close?.());

/** A hand that counts what it does: presses, and fields that are filled or chosen. */
function handOn(page: Page) {
  let done = 0;
  return {
    get done() {
      return done;
    },
    async press(text: string) {
      const found = await page.waitForSelector(
        `::-p-xpath(//main//*[self::button or self::a][not(@disabled)][contains(normalize-space(.), "${text}")])`,
      );
      await found?.evaluate((one) => (one as HTMLElement).scrollIntoView({ block: "center" }));
      await found?.click();
      done += 1;
    },
    async fill(label: string, text: string) {
      const found = await page.waitForSelector(
        `::-p-xpath(//label[contains(normalize-space(.), "${label}")]//*[self::input or self::select or self::textarea])`,
      );
      if (await found?.evaluate((one) => one.tagName === "SELECT")) await found?.select(text);
      else {
        await found?.evaluate((one) => (one as HTMLInputElement).select());
        await found?.type(text);
      }
      done += 1;
    },
    async key(key: Parameters<Page["keyboard"]["press"]>[0], times = 1) {
      for (let time = 0; time < times; time++) await page.keyboard.press(key);
      done += times;
    },
  };
}

const at = (page: Page, ending: string) =>
  page.waitForFunction(
    (wanted) => location.pathname.endsWith(wanted) && document.documentElement.dataset.page === "still",
    {},
    ending,
  );
const said = (page: Page, words: string) =>
  page.waitForFunction((wanted) => document.body.innerText.includes(wanted), {}, words);

describe("a fresh instance", () => {
  it("is set up, gets its first basin and its first visit, on a phone, in under sixty presses and fields", async () => {
    const page = await browser.page(PHONE);
    const hand = handOn(page);
    await page.goto(web.address);
    await at(page, "/setup");
    expect(await violations(page)).toEqual([]);

    await hand.fill("Code from the start", "WRONG-CODE1");
    await hand.fill("Name of the firm", "Larch and Loam Pools");
    await hand.fill("Your name", "Ida Fenn");
    await hand.fill("Email", "ida@larch.example");
    await hand.fill("Choose a password", "a-long-enough-one");
    await hand.press("Set it up");
    await said(page, "The code");
    // What was typed stays.
    expect(await page.$eval("input[name=name]", (one) => (one as HTMLInputElement).value)).toBe(
      "Larch and Loam Pools",
    );
    await hand.fill("Code from the start", "first h2345");
    await hand.press("Set it up");
    await at(page, "/basins/new");

    // Every empty page says what comes next, and has it to press.
    for (const path of ["/", "/basins"]) {
      await page.goto(`${web.address}${path}`);
      await said(page, "The first hour");
      expect(await violations(page)).toEqual([]);
    }
    await hand.press("Add a basin");
    await at(page, "/basins/new");
    await hand.fill("Name of the site", "Alder Court");
    await hand.fill("Name of the basin", "Courtyard spa");
    await hand.fill("Volume", "420");
    await hand.fill("Kind", "spa");
    // Its kit is the full one, and its ranges those of its kind.
    const chosen = await page.$$eval("select", (all) =>
      all.map((one) => (one as HTMLSelectElement).selectedOptions[0]?.textContent ?? ""),
    );
    expect(chosen).toContain("Full titration kit");
    expect(chosen).toContain("Spa and warm water");
    await hand.press("Add it");
    await at(page, "/facts");
    await page.goto(`${web.address}/basins`);
    await hand.press("Courtyard spa");
    await hand.press("Start a visit");
    await at(page, "/look");
    await hand.key("s");
    await at(page, "/sample");
    await hand.key("s");
    await at(page, "/temperature");
    const visit = page.url().split("/").at(-2);
    await page.goto(`${web.address}/visits/${visit}/freeChlorine`);
    await page.waitForSelector("[data-count]");
    await hand.key("Space", 14);
    await hand.key("s");
    await page.waitForFunction(() => !location.pathname.endsWith("/freeChlorine"));
    await page.goto(`${web.address}/visits/${visit}/close`);
    await hand.press("Save the visit");
    await page.waitForFunction(() => !location.pathname.endsWith("/close"));
    expect(hand.done).toBeLessThan(60);
    // Once a firm is there, nobody sets up another.
    await page.goto(`${web.address}/setup`);
    await page.waitForFunction(() => !location.pathname.endsWith("/setup"));
    await page.close();
  });
});
