import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm } from "#server/db/connection";
import { still as at, open, PHONE, press, signIn, still } from "../../scripts/lib/browser.mjs";
import {
  blur,
  count,
  type Demo,
  JORY,
  keys,
  openDemo,
  readings,
  sent,
  tabTo,
  text,
  trialBasin,
  visitId,
  WREN,
} from "./demo";

let demo: Demo;
beforeAll(async () => {
  demo = await openDemo();
});
afterAll(() => demo?.close());

describe("a whole visit by keyboard alone", () => {
  it("goes from sign-in to the book", async () => {
    await trialBasin(demo, "Trial spa");
    const { page, faults } = await demo.newPage();
    await open(page, `${demo.web.address}/`);
    // The form is reached by Tab, too.
    await page.keyboard.press("Tab");
    await page.keyboard.type("jory@fennmoor.example");
    await page.keyboard.press("Tab");
    await page.keyboard.type("orrin-vale-demo");
    await page.keyboard.press("Enter");
    await still(page, "/");
    await tabTo(page, "Basins");
    await page.keyboard.press("Enter");
    await at(page, "/basins");
    await tabTo(page, "Trial spa");
    await page.keyboard.press("Enter");
    await page.waitForSelector("h1 ::-p-text(Trial spa)");
    await tabTo(page, "Start visit");
    await page.keyboard.press("Enter");
    await at(page, "look");
    await page.keyboard.press("s");
    await at(page, "sample");
    await page.keyboard.press("s");
    await at(page, "temperature");
    // What is no number is named as it was typed, and stays where it is.
    await page.keyboard.type("4oo");
    await page.keyboard.press("Enter");
    await page.waitForFunction(() => /is "4oo"\. Enter a number\./.test(document.body.innerText));
    const field = "input[inputmode=decimal]";
    expect(await page.$eval(field, (input) => (input as HTMLInputElement).value)).toBe("4oo");
    await page.$eval(field, (input) => (input as HTMLInputElement).select());
    await page.keyboard.type("400");
    await page.keyboard.press("Enter");
    await page.waitForFunction(() => document.body.innerText.includes("Temperature is 400 °F"));
    expect(await text(page)).toMatch(/Temperature is 400 °F. The most allowed is 140 °F/);
    expect(await page.$eval("input[inputmode=decimal]", (input) => (input as HTMLInputElement).value)).toBe(
      "400",
    );
    await page.evaluate(() =>
      (document.querySelector("input[inputmode=decimal]") as HTMLInputElement).select(),
    );
    await page.keyboard.type("99.5");
    await page.keyboard.press("Enter");
    await at(page, "freeChlorine");

    // Paced: the beat counts, any key stops it, and what was called last is the count.
    await page.keyboard.press("p");
    await page.waitForFunction(() => Number(document.querySelector("[data-count] span")?.textContent) >= 3);
    await page.keyboard.press("q");
    const stopped = await count(page);
    await new Promise((done) => setTimeout(done, 2500));
    expect(await count(page)).toBe(stopped);
    expect(stopped).toBeLessThan(9);
    // A foot switch types a page key; the last drop changed nothing.
    await keys(page, "PageDown", 10 - stopped);
    await keys(page, "Enter", 2);
    await keys(page, "Backspace", 1);
    await page.keyboard.press("x");
    expect(await count(page)).toBe(10);
    await page.keyboard.press("s");
    await at(page, "combinedChlorine");
    await keys(page, "Enter", 1);
    await page.keyboard.press("s");
    await at(page, "ph");
    await page.focus("input[type=radio]");
    for (let step = 0; step < 12; step++) await page.keyboard.press("ArrowDown");
    await page.keyboard.press("Enter");
    // The pH is off: the demand test stands open now.
    await at(page, "acidDemand");
    await keys(page, "Space", 4);
    await page.keyboard.press("s");
    await at(page, "totalAlkalinity");
    // The smaller sample, then a count in it.
    await keys(page, "Space", 2);
    await tabTo(page, "10 mL");
    await page.keyboard.press("Enter");
    expect(await count(page)).toBe(0);
    await blur(page);
    await keys(page, "Space", 3);
    await page.keyboard.press("s");
    await at(page, "calciumHardness");
    await blur(page);
    await page.keyboard.press("j");
    await at(page, "judge");
    await page.goBack();
    await at(page, "calciumHardness");
    await keys(page, "Space", 18);
    await page.keyboard.press("s");
    await at(page, "cyanuricAcid");
    await page.keyboard.press("n");
    await at(page, "judge");
    const judged = await text(page);
    expect(judged).toMatch(/Free chlorine is low: 2\.0 ppm, should be at least 3\.5 ppm/);
    expect(judged).toMatch(/Total alkalinity is low: 75 ppm/);
    expect(judged).toMatch(/pH is high: 8\.0/);
    // The index comes with its interval, drawn in a worker: pH 8.0, TA 75, CH 180, 37.5 °C.
    await page.waitForFunction(() => /\S+ to \S+ \(95% likely\)/.test(document.body.innerText));
    const [, index = "", low = "", high = ""] =
      (await text(page)).replaceAll("−", "-").match(/([+-]?\d\.\d\d)\s+balanced\s+(\S+) to (\S+) \(95%/) ??
      [];
    expect(Number(low)).toBeLessThan(Number(index));
    expect(Number(index)).toBeLessThan(Number(high));
    await page.keyboard.press("s");
    await at(page, "dose");
    // One plan for all of it: the clock of its pours, and what is set when leaving.
    await page.waitForFunction(() => document.body.innerText.includes("Start this plan"));
    expect(await text(page)).toMatch(/min of adding and waiting[\s\S]*Before you leave/);
    await tabTo(page, "Start this plan");
    await page.keyboard.press("Enter");
    await page.waitForFunction(() => document.body.innerText.includes("Plan in progress"));
    await blur(page);
    await page.keyboard.press("s");
    await page.waitForFunction(() => /Added .* at /.test(document.body.innerText));
    await tabTo(page, "Close");
    await page.keyboard.press("Enter");
    await at(page, "close");
    await page.focus("textarea");
    await page.keyboard.type("By keyboard.");
    await tabTo(page, "Save the visit");
    const visit = visitId(page);
    await page.keyboard.press("Enter");
    await page.waitForFunction((id) => location.pathname === `/visits/${id}`, {}, visit);
    await page.waitForFunction(() => document.body.innerText.includes("By keyboard."));

    await sent(page);
    const saved = Object.fromEntries(
      (await readings(demo.db, demo.firmId, visit)).map((row) => [row.quantity, row]),
    );
    expect(saved.freeChlorine).toMatchObject({
      value: 2,
      low: 1.8,
      high: 2,
      observation: { kind: "drops", count: 10, sample: 25, idle: 1 },
    });
    expect(saved.acidDemand).toMatchObject({ value: 0.2 });
    expect(saved.combinedChlorine).toMatchObject({ value: 0.2 });
    expect(saved.ph).toMatchObject({ value: 8, low: 7.9, high: 8.1 });
    expect(saved.totalAlkalinity).toMatchObject({ value: 75, observation: { count: 3, sample: 10 } });
    expect(saved.calciumHardness).toMatchObject({ value: 180 });
    expect(saved.temperature?.value).toBeCloseTo(37.5, 6);
    expect(saved.cyanuricAcid).toBeUndefined();
    expect(faults.join("\n")).toBe("");
    await page.close();
  });
});

describe("a visit by taps on a phone", () => {
  it("loses no drop when the server is killed in mid-count", async () => {
    const { page, faults } = await demo.tabOf(WREN, PHONE);
    const basin = await trialBasin(demo, "Trial plunge", "Cold plunge");
    await open(page, `${demo.web.address}/basins/${basin}`);
    await press(page, "Start visit");
    await at(page, "look");
    await press(page, "cloudy");
    await press(page, "slime");
    await press(page, "Save 2 findings");
    await at(page, "sample");
    await press(page, "Sample taken");
    await at(page, "temperature");
    await press(page, "Skip this test");
    await at(page, "freeChlorine");
    const tap = async (times: number) => {
      for (let time = 0; time < times; time++) await page.tap("[data-count]");
    };
    await tap(6);
    await page.waitForFunction(() => document.body.innerText.includes("Count saved"));
    await demo.web.kill();
    await tap(5);
    expect(await count(page)).toBe(11);
    await page.waitForFunction(() => document.body.innerText.includes("saved on this device"));

    await demo.web.start();
    await page.reload({ waitUntil: "load" });
    await still(page);
    expect(await count(page)).toBe(11);
    const visit = visitId(page);
    const onServer = () =>
      asFirm(demo.db, demo.firmId, (scope) =>
        scope.selectFrom("drop_count").select("drops").where("visit_id", "=", visit).executeTakeFirst(),
      );
    await expect.poll(onServer, { timeout: 60_000 }).toEqual({ drops: 11 });

    // Another device finds the same drop.
    const other = await demo.newPage(PHONE);
    await signIn(other.page, demo.web.address, "wren@fennmoor.example");
    await open(other.page, `${demo.web.address}/visits/${visit}/freeChlorine`);
    expect(await count(other.page)).toBe(11);
    await other.page.close();

    await tap(1);
    await press(page, "Save");
    await at(page, "combinedChlorine");
    await press(page, "Total chlorine by color");
    await press(page, "2.0 to 3.0");
    await press(page, "Save");
    await at(page, "ph");
    await press(page, "7.4 to 7.6");
    await press(page, "Save");
    await at(page, "totalAlkalinity");
    await press(page, "Skip this test");
    await at(page, "calciumHardness");
    await open(page, `${demo.web.address}/visits/${visit}/close`);
    await press(page, "Save the visit");
    await page.waitForFunction((id) => location.pathname === `/visits/${id}`, {}, visit);
    await sent(page);
    const saved = Object.fromEntries(
      (await readings(demo.db, demo.firmId, visit)).map((row) => [row.quantity, row.value]),
    );
    expect(saved).toEqual({ freeChlorine: 2.4, totalChlorine: 2.5, combinedChlorine: 0.1, ph: 7.5 });
    expect(faults.filter((fault) => !/fetch/i.test(fault))).toEqual([]);
    await page.close();
  });

  it("shows a figure that can be read at arm's length, three of them too", async () => {
    const { page } = await demo.tabOf(JORY, PHONE);
    const basin = await trialBasin(demo, "Figure tank", "Splash pad tank");
    await open(page, `${demo.web.address}/basins/${basin}`);
    await press(page, "Start visit");
    await at(page, "look");
    await open(page, `${demo.web.address}/visits/${visitId(page)}/totalAlkalinity`);
    /** Height of the figures themselves, px: what the font's metrics make of them. */
    const figure = () =>
      page.$eval("[data-count] span", (span) => {
        const context = document.createElement("canvas").getContext("2d");
        if (!context) throw new Error("no canvas");
        const { fontWeight, fontSize, fontFamily } = getComputedStyle(span);
        context.font = `${fontWeight} ${fontSize} ${fontFamily}`;
        const size = context.measureText("8");
        return size.actualBoundingBoxAscent + size.actualBoundingBoxDescent;
      });
    expect(await figure()).toBeGreaterThanOrEqual(160);
    await keys(page, "Space", 104);
    expect(await count(page)).toBe(104);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
    const inside = await page.$eval("[data-count]", (target) => {
      const outer = target.getBoundingClientRect();
      const inner = (target.querySelector("span") as HTMLElement).getBoundingClientRect();
      return inner.left >= outer.left && inner.right <= outer.right;
    });
    expect(inside).toBe(true);
    await page.close();
  });

  it("can take back a new sample size that wiped the count", async () => {
    const { page } = await demo.tabOf(JORY, PHONE);
    const basin = await trialBasin(demo, "Trial tank", "Splash pad tank");
    await open(page, `${demo.web.address}/basins/${basin}`);
    await press(page, "Start visit");
    await at(page, "look");
    await open(page, `${demo.web.address}/visits/${visitId(page)}/freeChlorine`);
    for (let time = 0; time < 4; time++) await page.tap("[data-count]");
    await press(page, "10 mL");
    expect(await count(page)).toBe(0);
    await press(page, "Undo");
    expect(await count(page)).toBe(4);
    await page.close();
  });
});
