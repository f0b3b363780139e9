import { millisecondsInDay } from "date-fns/constants";
import type { Page } from "puppeteer-core";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm } from "#server/db/connection";
import { still as at, open, PHONE, press, still } from "../../scripts/lib/browser.mjs";
import {
  blur,
  count,
  type Demo,
  JORY,
  keys,
  openDemo,
  readings,
  sent,
  tabBeside,
  text,
  trialBasin,
  visitId,
} from "./demo";

let demo: Demo;
beforeAll(async () => {
  demo = await openDemo();
});
afterAll(() => demo?.close());

/** Starts a visit at a basin and goes past the look and the sample. */
async function startVisit(page: Page, basin: string): Promise<string> {
  await open(page, `${demo.web.address}/basins/${basin}`);
  await press(page, "Start visit");
  await at(page, "look");
  await page.keyboard.press("s");
  await at(page, "sample");
  await page.keyboard.press("s");
  await at(page, "temperature");
  return visitId(page);
}
const goTo = (page: Page, stop: string) => open(page, `${demo.web.address}/visits/${visitId(page)}/${stop}`);
/** The question that has come up, and an answer to it. */
async function asked(page: Page, about: RegExp, answer: string): Promise<void> {
  await page.waitForSelector("[role=alertdialog]");
  expect(await page.$eval("[role=alertdialog]", (box) => (box as HTMLElement).innerText)).toMatch(about);
  await press(page, answer);
}

/** What the log of a basin holds: readings and doses of a visit so many days ago. */
async function past(
  basin: string,
  daysAgo: number,
  made: { quantity: string; method: string; value: number; observation?: object }[],
  doses: { compound: string; grams: number }[] = [],
): Promise<void> {
  const then = new Date(Date.now() - daysAgo * millisecondsInDay);
  const firm_id = demo.firmId;
  await asFirm(demo.db, firm_id, async (scope) => {
    const { kit_id, range_set_id, litres } = await scope
      .selectFrom("basin")
      .select(["kit_id", "range_set_id", "litres"])
      .where("id", "=", basin)
      .executeTakeFirstOrThrow();
    const member = await scope.selectFrom("member").select("id").executeTakeFirstOrThrow();
    const id = uuid();
    const common = { firm_id, member_id: member.id };
    await scope
      .insertInto("visit")
      .values({
        ...common,
        id,
        basin_id: basin,
        kit_id,
        range_set_id,
        litres,
        started_at: then,
        finished_at: then,
      })
      .execute();
    for (const { quantity, method, value, observation } of made)
      await scope
        .insertInto("reading")
        .values({
          ...common,
          id: uuid(),
          visit_id: id,
          quantity,
          value,
          low: value,
          high: value,
          bound: "within",
          kit_id,
          method_id: method,
          observation: JSON.stringify(observation ?? { kind: "drops", count: 1, sample: 25 }),
          taken_at: then,
        })
        .execute();
    for (const { compound, grams } of doses) {
      const product_id =
        (await scope.selectFrom("product").select("id").where("compound", "=", compound).executeTakeFirst())
          ?.id ??
        (
          await scope
            .insertInto("product")
            .values({ id: uuid(), firm_id, compound, name: compound, strength: 0.43 })
            .returning("id")
            .executeTakeFirstOrThrow()
        ).id;
      await scope
        .insertInto("dose")
        .values({
          ...common,
          id: uuid(),
          visit_id: id,
          product_id,
          code: compound,
          planned_grams: grams,
          given_grams: grams,
          given_at: then,
        })
        .execute();
    }
  });
}

describe("every trap, provoked", () => {
  it("is told of or asked about at its moment", async () => {
    // 1590 L: 150 g of 12.5 % hypochlorite bring 10 mg/L.
    const basin = await trialBasin(demo, "Trap spa");
    await past(
      basin,
      0.5,
      [
        { quantity: "totalAlkalinity", method: "total-alkalinity", value: 100 },
        {
          quantity: "calciumHardness",
          method: "calcium-hardness",
          value: 200,
          observation: { kind: "drops", count: 20, sample: 25, ahead: 5 },
        },
        { quantity: "cyanuricAcid", method: "cyanuric-acid-tube", value: 60 },
      ],
      [
        { compound: "sodium-hypochlorite", grams: 150 },
        { compound: "potassium-monopersulfate", grams: 60 },
      ],
    );
    const { page, faults } = await demo.tabOf(JORY);
    const visit = await startVisit(page, basin);
    await page.keyboard.type("52");
    await page.keyboard.press("Enter");
    await at(page, "freeChlorine");

    // 9: bottle and powder. 1: none, after a shock.
    expect(await text(page)).toMatch(/Hold the bottle upright.*Level the powder in the scoop/);
    await page.keyboard.press("s");
    await asked(page, /Chlorine for 10 ppm was added in the last day.*flash of pink/s, "Go back to the test");
    await blur(page);
    await keys(page, "Space", 62);
    await page.keyboard.press("s");
    await at(page, "combinedChlorine");
    // 2: persulfate. 11: combined cannot be over total.
    expect(await text(page)).toMatch(/Non-chlorine oxidizer was added 12 h ago/);
    await keys(page, "Space", 3);
    await page.keyboard.press("s");
    await at(page, "ph");
    // 3: over 10 ppm. 4: the end of the scale.
    expect(await text(page)).toMatch(/Above 10 it turns phenol red purple/);
    await press(page, "8.2 or higher");
    await page.waitForFunction(() => document.body.innerText.includes("This is the end of the scale"));
    await page.keyboard.press("s");
    await asked(page, /With chlorine at 12\.4 ppm the color reads too high/, "Keep it, but do not act on it");
    await page.waitForFunction(() => !location.pathname.endsWith("/ph"));
    await goTo(page, "totalAlkalinity");
    // 5: the indicator; 6: the cyanurate; 11: the other sample size.
    expect(await text(page)).toMatch(/Add thiosulfate first/);
    await keys(page, "Space", 25);
    await page.keyboard.press("s");
    await asked(page, /Did the color go from green to red/, "It went from green to red, keep it");
    await asked(page, /The other sample size would give this value/, "Go back and change the size");
    await goTo(page, "calciumHardness");
    // 7: metals were here before. 10: the titrant has expired.
    expect(await text(page)).toMatch(/Metals spoiled this test here before/);
    expect(await text(page)).toMatch(/The hardness titrant expired/);
    await press(page, "The color fades or stays purple");
    const ahead = await count(page);
    expect(ahead).toBeGreaterThanOrEqual(3);
    await blur(page);
    await keys(page, "Space", 36 - ahead);
    await page.keyboard.press("s");
    await asked(page, /360 now; \d day ago it was 200/, "It is right, keep it");
    await page.waitForFunction(() => !location.pathname.endsWith("/calciumHardness"));
    await goTo(page, "cyanuricAcid");
    // 8: cold, over, diluted, read twice.
    expect(await text(page)).toMatch(/The water is 52 °F/);
    await press(page, "Gone before 100");
    await page.keyboard.press("s");
    await asked(page, /Above the last line/, "Go back and dilute");
    await press(page, "1 to 1");
    await press(page, "50 to 60");
    await press(page, "Pour back and read again");
    await press(page, "40 to 50");
    await page.waitForFunction(() => document.body.innerText.includes("100 ppm"));
    await blur(page);
    await page.keyboard.press("s");
    await asked(page, /100 now; \d day ago it was 60/, "It is right, keep it");
    await page.waitForFunction(() => !location.pathname.endsWith("/cyanuricAcid"));

    await sent(page);
    const saved = Object.fromEntries(
      (await readings(demo.db, demo.firmId, visit)).map((row) => [row.quantity, row]),
    );
    const codes = (quantity: string) =>
      ((saved[quantity]?.doubts ?? []) as { code: string }[]).map((doubt) => doubt.code);
    expect(saved.freeChlorine).toMatchObject({ value: 12.4 });
    expect(codes("combinedChlorine")).toEqual(["persulfate-in-combined"]);
    expect(codes("ph")).toEqual(["chlorine-purples-ph", "off-scale"]);
    expect(saved.calciumHardness).toMatchObject({ value: 360, observation: { ahead } });
    expect(saved.cyanuricAcid).toMatchObject({
      value: 100,
      low: 90,
      high: 110,
      observation: { dilution: 2 },
    });
    expect(saved.totalAlkalinity).toBeUndefined();
    await goTo(page, "judge");
    expect(await text(page)).toMatch(/pH was tested, but no dose is based on it/);
    expect(faults.join("\n")).toBe("");
    await page.close();
  });
});

describe("a prepared count of 20 drops", () => {
  it("is paced a drop a second, stopped by a tap and saved by one more", async () => {
    const basin = await trialBasin(demo, "Pace spa");
    const { page } = await demo.tabOf(JORY, PHONE);
    await startVisit(page, basin);
    await goTo(page, "calciumHardness");
    await press(page, "Pace me, 1 s a drop");
    await page.waitForFunction(() => document.querySelector("[data-count] span")?.textContent === "20", {
      polling: 50,
    });
    await page.tap("[data-count]");
    // A machine that is slow just then may let a beat more by: once it stands it stands.
    await page.waitForFunction(
      () =>
        new Promise((stands) => {
          const shown = () => document.querySelector("[data-count] span")?.textContent;
          const before = shown();
          setTimeout(() => stands(shown() === before), 1500);
        }),
    );
    const stopped = await count(page);
    expect(stopped).toBeGreaterThanOrEqual(20);
    await press(page, `Save ${stopped * 10}`);
    await at(page, "cyanuricAcid");
    await page.close();
  });
});

// Enough that every kind of blow falls twice; more of them: PELAGON_BLOWS=50
const BLOWS = Number(process.env.PELAGON_BLOWS ?? 20);

describe("a count interrupted again and again", () => {
  it("by reloads, kills of the server and of its database loses no drop and doubles none", async () => {
    const basin = await trialBasin(demo, "Storm spa");
    const { page } = await demo.tabOf(JORY, PHONE);
    const visit = await startVisit(page, basin);
    await goTo(page, "totalAlkalinity");
    let truth = 0;
    for (let round = 0; round < BLOWS; round++) {
      // A reload needs the server; a kill is followed by taps that nobody hears, then a start.
      const kill = round % 5 === 4;
      const killDatabase = round % 10 === 7;
      const taps = 1 + (round % 3);
      for (let tap = 0; tap < taps; tap++) await page.tap("[data-count]");
      truth += taps;
      if (kill) {
        await demo.web.kill();
        for (let tap = 0; tap < 2; tap++) await page.tap("[data-count]");
        truth += 2;
        await demo.web.start();
      }
      if (killDatabase) {
        // One backend that is killed takes all others along: the database recovers, the server goes on.
        await demo.killBackend();
        for (let tap = 0; tap < 2; tap++) await page.tap("[data-count]");
        truth += 2;
        await demo.ready();
      }
      if (round % 7 === 6) {
        await press(page, "Remove drop");
        truth -= 1;
      }
      await page.reload({ waitUntil: "load" });
      await still(page);
      expect(await count(page), `round ${round}`).toBe(truth);
    }
    const onServer = () =>
      asFirm(demo.db, demo.firmId, (scope) =>
        scope.selectFrom("drop_count").select("drops").where("visit_id", "=", visit).executeTakeFirst(),
      );
    await expect.poll(onServer, { timeout: 60_000 }).toEqual({ drops: truth });
    await page.close();
  });

  it("goes on in a new tab, and tells the later of two", async () => {
    const basin = await trialBasin(demo, "Twin spa");
    const { page } = await demo.tabOf(JORY, PHONE);
    await startVisit(page, basin);
    await goTo(page, "totalAlkalinity");
    for (let tap = 0; tap < 4; tap++) await page.tap("[data-count]");
    const second = await tabBeside(page);
    await second.setViewport(PHONE);
    await second.goto(page.url(), { waitUntil: "load" });
    await second.waitForFunction(() => document.body.innerText.includes("open in another tab"));
    expect(await count(second)).toBe(4);
    // Until it is taken over, a tap there does nothing.
    await second.tap("[data-count]");
    expect(await count(second)).toBe(4);
    await press(second, "Count here");
    await second.tap("[data-count]");
    expect(await count(second)).toBe(5);
    await page.bringToFront();
    await page.waitForFunction(() => document.body.innerText.includes("open in another tab"));
    await second.close();
    // The first tab closed too: the count goes on in a third.
    const third = await tabBeside(page);
    await third.goto(page.url(), { waitUntil: "load" });
    await still(third);
    expect(await count(third)).toBe(5);
    await third.close();
    await page.close();
  });
});

describe("a photometer", () => {
  it("gives its reading to the page; without one, what was typed stays", async () => {
    const basin = await trialBasin(demo, "Lamp spa");
    const { page, faults } = await demo.tabOf(JORY);
    await startVisit(page, basin);
    await goTo(page, "totalAlkalinity");
    await page.click("summary ::-p-text(Another way to test this)");
    await press(page, "Alkalinity, photometer");
    await page.type("input[inputmode=decimal]", "88");
    await page.waitForFunction(() => document.body.innerText.includes("SIM-0001"));
    expect(await page.$eval("input[inputmode=decimal]", (input) => (input as HTMLInputElement).value)).toBe(
      "88",
    );
    await press(page, "Take a reading");
    await page.waitForFunction(() => document.body.innerText.includes("From SIM-0001"));
    const value = await page.$eval("input[inputmode=decimal]", (input) =>
      Number((input as HTMLInputElement).value),
    );
    // The hidden water has 96.
    expect(Math.abs(value - 96)).toBeLessThan(15);
    await press(page, "Save");
    await at(page, "calciumHardness");
    await sent(page);
    await goTo(page, "totalAlkalinity");
    await page.click("section button ::-p-text(Total alkalinity)");
    await page.waitForSelector("[data-count]");
    await blur(page);
    await keys(page, "Space", 9);
    await page.keyboard.press("s");
    await at(page, "calciumHardness");
    await sent(page);
    await goTo(page, "totalAlkalinity");
    expect(await text(page)).toMatch(/The readings (agree|do not agree)/);
    expect(faults.join("\n")).toBe("");
    await page.close();
  });
});

describe("the quick bench", () => {
  it("counts without a sign-in, and puts the result to a basin afterwards", async () => {
    const basin = await trialBasin(demo, "Loose spa");
    const { page, faults } = await demo.newPage();
    await open(page, `${demo.web.address}/sign-in`);
    await press(page, "Quick bench");
    await at(page, "/bench");
    await press(page, "Total alkalinity");
    await page.waitForSelector("[data-count]");
    await blur(page);
    await keys(page, "Space", 9);
    await page.keyboard.press("s");
    await page.waitForFunction(() => document.body.innerText.includes("On this device"));
    expect(await page.$eval("main", (main) => (main as HTMLElement).innerText)).toMatch(/90 ppm/);
    await press(page, "Sign in to move it to a basin");
    await page.waitForSelector("input[name=email]");
    await still(page);
    await page.type("input[name=email]", "jory@fennmoor.example");
    await page.type("input[name=password]", "orrin-vale-demo");
    await page.keyboard.press("Enter");
    await at(page, "/bench");
    await page.waitForSelector("main select");
    await page.select("main select", basin);
    await press(page, "Move to a basin");
    await page.waitForFunction(() => document.body.innerText.includes("Moved to the basin's visit."));
    await press(page, "Moved to the basin's visit.");
    await page.waitForFunction(() => location.pathname.startsWith("/visits/"));
    await still(page);
    await sent(page);
    expect(await readings(demo.db, demo.firmId, visitId(page))).toMatchObject([{ value: 90 }]);
    expect(faults.join("\n")).toBe("");
    await page.close();
  });
});

describe("the shelf", () => {
  it("edits a kit into a new version and puts a bottle on the shelf", async () => {
    const { page, faults } = await demo.tabOf(JORY);
    await open(page, `${demo.web.address}/shelf/kits`);
    await press(page, "Basic comparator kit");
    await page.waitForFunction(() => document.body.innerText.includes("Versions"));
    await press(page, "pH by color");
    await page.waitForSelector("input[name='methods.4.marks']");
    const replace = async (name: string, value: string) => {
      await page.$eval(`[name='${name}']`, (input) => (input as HTMLInputElement).select());
      await page.type(`[name='${name}']`, value);
    };
    await replace("methods.4.marks", "7 7.4 7.2");
    await press(page, "Save as a new version");
    await page.waitForSelector("[role=alert]");
    expect(await page.$eval("[name='methods.4.marks']", (input) => (input as HTMLInputElement).value)).toBe(
      "7 7.4 7.2",
    );
    await replace("methods.4.marks", "7 7.2 7.4 7.6 7.8 8 8.2");
    await press(page, "Save as a new version");
    await page.waitForFunction(() => document.body.innerText.includes("version 2"));
    expect(await text(page)).toMatch(/by Jory Pask/);

    await open(page, `${demo.web.address}/shelf`);
    await press(page, "Add a bottle");
    await page.type("[name=reagent]", "chromate indicator");
    await page.type("[name=millilitres]", "30");
    await page.waitForFunction(
      () => (document.querySelector("[name=full]") as HTMLInputElement).value === "720",
    );
    await press(page, "Save bottle");
    await page.waitForFunction(() => !document.querySelector("[name=reagent]"));
    expect(await text(page)).toMatch(/chromate indicator/);
    expect(faults.join("\n")).toBe("");
    await page.close();
  });
});
