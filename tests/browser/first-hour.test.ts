import { readFileSync } from "node:fs";
import type { ElementHandle, Page } from "puppeteer-core";
import { afterAll, afterEach, beforeAll, describe, expect, it } from "vitest";
import { openBrowser, PHONE, still, WIDE } from "../../scripts/lib/browser.mjs";
import { webServer } from "../../scripts/lib/world.mjs";
import { newDatabase } from "../database";
import { violations } from "./axe";

/** From an instance with nothing in it to the first visit that is saved, by the guide's own steps and by taps alone. */
const CODE = "FIRST-H2345";
const GUIDE = ["1-the-first-hour", "3-at-the-water", "6-the-evening"]
  .map((name) => readFileSync(`docs/guide/en/${name}.md`, "utf8"))
  .join("\n");
let browser: Awaited<ReturnType<typeof openBrowser>>;
beforeAll(async () => {
  browser = await openBrowser();
});
afterAll(() => browser?.close());

/** Ended after each test, however that went. */
const running: (() => Promise<void>)[] = [];
afterEach(async () => {
  for (const end of running.splice(0)) await end();
});

/** The address of a fresh instance. */
async function fresh(): Promise<string> {
  const made = await newDatabase();
  const web = await webServer(made.addresses, { PELAGON_DEMO: "0", JOBS: "off", SETUP_CODE: CODE });
  running.push(async () => {
    await web.stop();
    await made.close();
  });
  return web.address;
}

/** A hand that counts what it does: presses, and fields that are filled or chosen. */
function handOn(page: Page) {
  let done = 0;
  /** Asked again and again: a text that changes in its place is no change that a selector would wait for. */
  const found = async (of: string, text: string, inside = "") => {
    const handle = await page.waitForFunction(
      (all, wanted, field) => {
        const one = [...document.querySelectorAll(all)].find(
          (it) => !it.matches(":disabled") && it.textContent?.replace(/\s+/g, " ").includes(wanted),
        );
        return field && one ? one.querySelector(field) : one;
      },
      { polling: 50 },
      of,
      text,
      inside,
    );
    const one = handle.asElement() as ElementHandle<Element> | null;
    await one?.evaluate((it) => it.scrollIntoView({ block: "center" }));
    return one;
  };
  const press = async (text: string) => {
    const one = await found("button, a, label", text);
    await one?.click();
    done += 1;
  };
  return {
    get done() {
      return done;
    },
    press,
    /** What the guide tells to press. */
    async told(text: string) {
      expect(GUIDE).toContain(`**${text}**`);
      await press(text);
    },
    async fill(label: string, text: string) {
      const one = await found("label", label, "input, select, textarea");
      if (await one?.evaluate((it) => it.tagName === "SELECT")) await one?.select(text);
      else {
        await one?.evaluate((it) => (it as HTMLInputElement).select());
        await one?.type(text);
      }
      done += 1;
    },
    /** The big button that saves and goes on. */
    async onward() {
      const one = await page.waitForSelector("button.next-step:not(:disabled)");
      await one?.click();
      done += 1;
    },
    async drops(times: number) {
      for (let time = 0; time < times; time++) {
        const one = await page.waitForSelector("[data-count]:not(:disabled)");
        await one?.click();
      }
      await page.waitForFunction(
        (wanted) => document.querySelector("[data-count] span")?.textContent === `${wanted}`,
        {},
        times,
      );
      done += times;
    },
  };
}

const said = (page: Page, words: string) =>
  page.waitForFunction((wanted) => document.body.innerText.includes(wanted), {}, words);

describe("a fresh instance", () => {
  it.each([
    ["on a phone", PHONE],
    ["at a desk", WIDE],
  ])("comes to its first visit by the guide, %s, in under sixty presses and fields", async (where, size) => {
    const address = await fresh();
    const page = await browser.page(size);
    const hand = handOn(page);
    await page.goto(address);
    await still(page, "/setup");
    expect(await violations(page)).toEqual([]);

    await hand.fill("Code from the start", "WRONG-CODE1");
    await hand.fill("Name of the firm", "Larch and Loam Pools");
    await hand.fill("Your name", "Ida Fenn");
    await hand.fill("Email", "ida@larch.example");
    await hand.fill("Choose a password", "a-long-enough-one");
    await hand.told("Create firm");
    await said(page, "The code");
    // What was typed stays.
    expect(await page.$eval("input[name=name]", (one) => (one as HTMLInputElement).value)).toBe(
      "Larch and Loam Pools",
    );
    await hand.fill("Code from the start", "first h2345");
    await hand.told("Create firm");

    // The empty Round says what comes next, and has it to press.
    await still(page, "/");
    await said(page, "The first hour");
    expect(await violations(page)).toEqual([]);
    expect(GUIDE).toContain("**Import a spreadsheet**");
    await said(page, "Import a spreadsheet");
    await hand.told("Add a basin");
    await still(page, "/basins/new");
    await hand.fill("Name of the site", "Alder Court");
    await hand.fill("Name of the basin", "Courtyard spa");
    await hand.fill("Volume, gal", "420");
    await hand.fill("Kind", "spa");
    await hand.fill("Who swims here", "false");
    // Its kit is the full one, and its ranges those of its kind.
    const chosen = await page.$$eval("select", (all) =>
      all.map((one) => (one as HTMLSelectElement).selectedOptions[0]?.textContent ?? ""),
    );
    expect(chosen).toContain("Full titration kit");
    expect(chosen).toContain("Spa and warm water");
    expect(await violations(page)).toEqual([]);
    await hand.told("Add basin");
    await still(page, "/facts");
    await hand.press("Wed");
    await hand.told("Save");
    await said(page, "Saved");
    await hand.told("Round");
    await still(page, "/");
    await hand.told("Start visit");
    await still(page, "/look");
    await hand.onward();
    await still(page, "/sample");
    await hand.onward();
    await still(page, "/temperature");
    await hand.press("Free chlorine");
    await still(page, "/freeChlorine");
    await hand.drops(14);
    await hand.press("Save 2.8");
    await page.waitForFunction(() => !location.pathname.endsWith("/freeChlorine"));
    await hand.told("Close");
    await still(page, "/close");
    await hand.told("Save the visit");
    await page.waitForFunction(() => !location.pathname.endsWith("/close"));
    process.stdout.write(`· First hour ${where}: ${hand.done} presses and fields\n`);
    expect(hand.done).toBeLessThan(60);
    // Once a firm is there, nobody sets up another; and the Round has no steps to tell any more.
    await page.goto(`${address}/setup`);
    await page.waitForFunction(() => !location.pathname.endsWith("/setup"));
    await still(page, "/");
    expect(await page.evaluate(() => document.body.innerText)).not.toContain("The first hour");
    await page.close();
  });

  it("takes the volume of its first basin by its shape, or by the water meter", async () => {
    const address = await fresh();
    const page = await browser.page(WIDE);
    const hand = handOn(page);
    await page.goto(address);
    await still(page, "/setup");
    await hand.fill("Code from the start", CODE);
    await hand.fill("Name of the firm", "Larch and Loam Pools");
    await hand.fill("Your name", "Ida Fenn");
    await hand.fill("Email", "ida@larch.example");
    await hand.fill("Choose a password", "a-long-enough-one");
    await hand.press("Create firm");
    await still(page, "/");
    await hand.press("Add a basin");
    await still(page, "/basins/new");
    await hand.fill("Name of the site", "Alder Court");
    await hand.fill("Name of the basin", "Long pool");
    await hand.fill("Who swims here", "false");
    await hand.fill("How do you know the volume?", "meter");
    await hand.fill("Meter before", "1000");
    await hand.fill("Meter after", "13500");
    await hand.press("Save this volume");
    await said(page, "12,500 gal");
    // A measure of one way is none of the other.
    await hand.fill("How do you know the volume?", "shape");
    await said(page, "Measure it below");
    expect(await page.$eval("button[form=basin]", (one) => (one as HTMLButtonElement).disabled)).toBe(true);
    await hand.fill("How do you know the volume?", "meter");
    await said(page, "12,500 gal");
    await hand.press("Add basin");
    await still(page, "/facts");
    await page.goto(page.url().replace("/facts", "/volume"));
    await said(page, "12,500 gal");
    await said(page, "water meter");
    await page.close();
  });
});
