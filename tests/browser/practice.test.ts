import type { Page } from "puppeteer-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { open, PHONE, press } from "../../scripts/lib/browser.mjs";
import { violations } from "./axe";
import { blur, type Demo, keys, openDemo, tabTo, text } from "./demo";

/** The practice bench, by whoever comes: nobody is signed in. */
let demo: Demo;
beforeAll(async () => {
  demo = await openDemo();
});
afterAll(() => demo?.close());

/** A hand takes its time. */
const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));

const bench = async (page: Page) => {
  await open(page, `${demo.web.address}/practice`);
  await page.waitForSelector("::-p-text(Tests)");
};
const said = (page: Page, words: string) =>
  page.waitForFunction((wanted) => document.body.innerText.includes(wanted), {}, words);
/** How far along the colour is, as the page names it for whoever cannot see it. */
const along = (page: Page) =>
  page.$eval("[data-colour]", (one) => Number(/(\d+)%/.exec((one as HTMLElement).innerText)?.[1] ?? -1));
const dropsIn = (page: Page) => page.$eval("[data-count] span", (one) => Number(one.textContent));

/** By keys alone from the menu to where the first drop may fall: an alkalinity sample, prepared. */
async function prepared(page: Page): Promise<void> {
  await tabTo(page, "Guided");
  await page.keyboard.press("Enter");
  await tabTo(page, "Total alkalinity");
  await page.keyboard.press("Enter");
  await said(page, "Now: Fill to 25 mL");
  await tabTo(page, "Pour (");
  await keys(page, "Enter", 10);
  await said(page, "Pour (25 mL)");
  await tabTo(page, "thiosulfate");
  await keys(page, "Enter", 2);
  await tabTo(page, "Swirl");
  await page.keyboard.press("Enter");
  await said(page, "Now: 5 drops of alkalinity indicator");
  await page.keyboard.down("Shift");
  await keys(page, "Tab", 1);
  await page.keyboard.up("Shift");
  await page.keyboard.press("Enter");
  await tabTo(page, "Swirl");
  await page.keyboard.press("Enter");
  await said(page, "Now add drops and swirl");
}

/** Drop, swirl, look, until the colour is there; then it is saved. */
async function toTheEnd(page: Page): Promise<void> {
  await blur(page);
  for (let drop = 0; drop < 40; drop++) {
    await page.keyboard.press("Space");
    await page.keyboard.down("w");
    await pause(700);
    await page.keyboard.up("w");
    await pause(60);
    if ((await along(page)) >= 80) break;
  }
  await page.keyboard.press("s");
  await said(page, "Your result");
}

describe("a guided test", () => {
  it("is worked by keyboard alone, told by words, and comes out without a slip", async () => {
    const { page, faults } = await demo.newPage();
    await bench(page);
    expect(await violations(page)).toEqual([]);
    await prepared(page);
    await tabTo(page, "Name the color");
    await page.keyboard.press("Enter");
    expect(await violations(page)).toEqual([]);
    await toTheEnd(page);
    const told = await text(page);
    expect(told).toMatch(/Within your range/);
    expect(told).toMatch(/No mistakes/);
    expect(await violations(page)).toEqual([]);
    expect(faults.join("\n")).toBe("");
    await page.close();
  });

  it("is worked in light and dark by whoever does not see red and green", async () => {
    const { page, faults } = await demo.newPage(PHONE);
    await bench(page);
    await prepared(page);
    for (const aid of ["Show light and dark", "Name the color"]) {
      await tabTo(page, aid);
      if (!(await page.evaluate(() => document.activeElement?.getAttribute("aria-pressed") === "true")))
        await page.keyboard.press("Enter");
    }
    // What is drawn has no colour: red, green and blue lie close together everywhere in the sample.
    const colours = await page.$eval("canvas", (one) => {
      const { width, height } = one as HTMLCanvasElement;
      const context = (one as HTMLCanvasElement).getContext("2d");
      return [...(context?.getImageData(width / 2, height * 0.8, 1, 1).data ?? [])].slice(0, 3);
    });
    expect(Math.max(...colours) - Math.min(...colours)).toBeLessThan(20);
    await toTheEnd(page);
    expect(await text(page)).toMatch(/Within your range/);
    expect(faults.join("\n")).toBe("");
    await page.close();
  });

  it("tells a slip at once, with why", async () => {
    const { page } = await demo.newPage(PHONE);
    await bench(page);
    await press(page, "Guided");
    await press(page, "Free chlorine by drops");
    await press(page, "Light and more");
    await press(page, "In the sun");
    await said(page, "Mistake: You read it in the sun.");
    await press(page, "White card, shade");
    await page.waitForFunction(() => !document.body.innerText.includes("Mistake"));
    await page.close();
  });
});

describe("a drill", () => {
  it("tells each answer at once, with why, and asks the next", async () => {
    const { page, faults } = await demo.newPage(PHONE);
    await bench(page);
    await press(page, "Color standards");
    expect(await violations(page)).toEqual([]);
    await press(page, "7.4");
    await page.waitForFunction(() => /Right\.|No\. The answer: /.test(document.body.innerText));
    await said(page, "If it is between two standards");
    await said(page, "of 1 right");
    await press(page, "Next");
    await page.waitForFunction(() => !/Right\.|No\. The answer: /.test(document.body.innerText));
    expect(faults.join("\n")).toBe("");
    await page.close();
  });
});

describe("a test that is left", () => {
  it("goes on at the same drop, and in one tab at a time", async () => {
    const { page } = await demo.newPage();
    await bench(page);
    await press(page, "Guided");
    await press(page, "Salt");
    await page.waitForSelector("[data-count]");
    await blur(page);
    await keys(page, "d", 2);
    await keys(page, "Space", 5);
    await page.waitForFunction(() => document.querySelector("[data-count] span")?.textContent === "5");
    await page.reload();
    await page.waitForSelector("[data-count]");
    await page.waitForFunction(() => document.querySelector("[data-count] span")?.textContent === "5");
    // Another tab works it on: here it waits, and can be taken back.
    const other = await page.browserContext().newPage();
    await other.goto(`${demo.web.address}/practice`);
    await other.waitForSelector("[data-count]");
    await other.keyboard.press("d");
    await page.bringToFront();
    await said(page, "is open in another tab");
    await press(page, "Continue here");
    await page.waitForFunction(() => !document.body.innerText.includes("another tab"));
    await other.close();
    expect(await dropsIn(page)).toBe(5);
    await page.close();
  });

  it("says so where a phone tells no tilt", async () => {
    const { page } = await demo.newPage(PHONE);
    await bench(page);
    await press(page, "Alone");
    await press(page, "Calcium hardness");
    await press(page, "Use the tilt of the phone");
    await said(page, "This device does not report its tilt");
    // Alone, the bottle is not upright by itself.
    await page.$eval("input[type=range]", (one) => (one as HTMLInputElement).focus());
    await page.keyboard.press("Home");
    await said(page, "Tilt of the bottle: 0°");
    await page.close();
  });
});

describe("a whole sheet", () => {
  it("goes from the sample to the dose, over a reload, and is told against the water", async () => {
    const { page, faults } = await demo.newPage(PHONE);
    await bench(page);
    // Always the same water: not every one is hurt by so much acid.
    await page.evaluate(() => {
      Math.random = () => 0;
    });
    await press(page, "Start a sheet");
    await press(page, "Take it now");
    await said(page, "Choose first where you take it");
    await press(page, "Elbow-deep");
    await press(page, "Take it now");
    await press(page, "pH by color");
    await said(page, "phenol red");
    await tabTo(page, "Pour (");
    await keys(page, "Enter", 10);
    await said(page, "Pour (44 mL)");
    await tabTo(page, "phenol red, five drops");
    await page.keyboard.press("Enter");
    await page.reload();
    // Left in the middle it goes on: the sample and the drops are in.
    await said(page, "Pour (44 mL)");
    await press(page, "7.4");
    await press(page, "Save");
    await said(page, "Go to judge");
    expect(await violations(page)).toEqual([]);
    // Nothing is told before it is over.
    expect(await text(page)).not.toMatch(/True value/);
    await press(page, "Another test");
    await press(page, "Continue your sheet");
    await press(page, "Go to judge");
    expect(await violations(page)).toEqual([]);
    await press(page, "balanced");
    await press(page, "Go to dose");
    const acid = await page.waitForSelector("::-p-xpath(//label[contains(., 'hydrochloric acid')]//input)");
    await acid?.type("a bottle");
    await press(page, "Finish the sheet");
    await said(page, "hydrochloric acid: “a bottle” must be a number from 0 to");
    const typed = await page.$$eval("input", (all) => all.map(({ value }) => value));
    expect(typed).toContain("a bottle");
    await acid?.evaluate((field) => (field as HTMLInputElement).select());
    await acid?.type("90");
    await press(page, "Finish the sheet");
    await said(page, "A pH that hurts");
    await said(page, "True value");
    // What that water needed comes from the planner.
    await page.waitForFunction(() => !document.body.innerText.includes("Working it out"));
    expect(await text(page)).not.toMatch(/could not be worked out/);
    expect(await violations(page)).toEqual([]);
    await press(page, "Another test");
    await said(page, "something you missed");
    expect(faults.join("\n")).toBe("");
    await page.close();
  });
});

describe("without a network", () => {
  it("opens and works once it was opened with one", async () => {
    const { page } = await demo.newPage();
    await bench(page);
    await page.waitForFunction(
      async () => (await navigator.serviceWorker.ready).active?.state === "activated",
    );
    await page.setOfflineMode(true);
    await page.reload();
    await said(page, "Tests");
    await press(page, "Rehearsal");
    await press(page, "pH by color");
    await said(page, "What comes next?");
    await press(page, "Now find the matching standard");
    await said(page, "Not yet. First: Fill");
    await press(page, "Fill to 44 mL");
    await press(page, "phenol red");
    await press(page, "Now find the matching standard");
    await said(page, "Done, with 1 wrong");
    await page.close();
  });
});
