import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { still as at, open, PHONE, press, still } from "../../scripts/lib/browser.mjs";
import { blur, count, type Demo, JORY, keys, openDemo, text, trialBasin, visitId } from "./demo";

let demo: Demo;
beforeAll(async () => {
  demo = await openDemo();
});
afterAll(() => demo?.close());

describe("the palette", () => {
  it("goes to a basin or a page by part of its name, by keyboard", async () => {
    const { page, faults } = await demo.tabOf(JORY);
    const go = async (typed: string, found: string) => {
      await page.keyboard.down("Control");
      await page.keyboard.press("k");
      await page.keyboard.up("Control");
      await page.waitForSelector("[cmdk-input]");
      await page.keyboard.type(typed);
      await page.waitForSelector(`[cmdk-item][data-selected=true] ::-p-text(${found})`);
      await page.keyboard.press("Enter");
    };
    await go("terrace", "Terrace pool");
    await page.waitForSelector("h1 ::-p-text(Terrace pool)");
    await still(page);
    await go("quick", "Quick bench");
    await at(page, "/bench");
    expect(faults.join("\n")).toBe("");
    await page.close();
  });
});

describe("on a phone", () => {
  it("the screen is explained from the palette, which needs no key", async () => {
    const { page, faults } = await demo.tabOf(JORY, PHONE);
    await page.click("[aria-keyshortcuts='Control+K']");
    await page.waitForSelector("[cmdk-item] ::-p-text(This screen)");
    await page.click("[cmdk-item]");
    await page.waitForSelector("[role=dialog] ::-p-text(Round: today's stops)");
    await page.waitForFunction(() => !document.querySelector("[cmdk-input]"));
    const told = await page.$eval("[role=dialog]", (one) => (one as HTMLElement).innerText);
    expect(told).toContain("“Load list” shows");
    expect(faults.join("\n")).toBe("");
    await page.close();
  });
});

describe("a foot switch", () => {
  it("that types a key of its own counts drops once it is taught", async () => {
    const basin = await trialBasin(demo, "Switch spa");
    const { page, faults } = await demo.tabOf(JORY);
    await open(page, `${demo.web.address}/settings`);
    await press(page, "Teach a key");
    await page.keyboard.press("F7");
    await page.waitForFunction(() => document.body.innerText.includes("Counts a drop: F7"));
    await open(page, `${demo.web.address}/basins/${basin}`);
    await press(page, "Start visit");
    await at(page, "look");
    await open(page, `${demo.web.address}/visits/${visitId(page)}/totalAlkalinity`);
    await blur(page);
    await keys(page, "F7", 4);
    await keys(page, "ArrowDown", 2);
    expect(await count(page)).toBe(6);
    // A held key is one drop, not many.
    await page.keyboard.down("F7");
    await page.keyboard.down("F7");
    await page.keyboard.up("F7");
    expect(await count(page)).toBe(7);
    expect(faults.join("\n")).toBe("");
    await page.close();
  });
});

describe("a lost count", () => {
  it("is begun afresh, in a smaller sample if there is one, and can be brought back", async () => {
    const basin = await trialBasin(demo, "Lost spa");
    const { page, faults } = await demo.tabOf(JORY);
    await open(page, `${demo.web.address}/basins/${basin}`);
    await press(page, "Start visit");
    await at(page, "look");
    await open(page, `${demo.web.address}/visits/${visitId(page)}/totalAlkalinity`);
    await blur(page);
    await keys(page, "Space", 9);
    // What stands beside the number follows it; until then there is nothing to lose.
    await page.waitForSelector("button:not([disabled]) ::-p-text(I lost count)");
    await press(page, "I lost count");
    await press(page, "New 10 mL, fewer drops");
    await page.waitForFunction(() => document.querySelector("[data-count] span")?.textContent === "0");
    expect(await text(page)).toMatch(/1 drop in 10 mL is 25 ppm/);
    await press(page, "Undo");
    await page.waitForFunction(() => document.querySelector("[data-count] span")?.textContent === "9");
    expect(await text(page)).toMatch(/1 drop in 25 mL is 10 ppm/);
    expect(faults.join("\n")).toBe("");
    await page.close();
  });
});
