import type { Page } from "puppeteer-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { BasinLearned, Suspicion } from "#core";
import { basinById } from "#server/db/basins";
import { asFirm } from "#server/db/connection";
import { deliveriesOf } from "#server/db/deliveries";
import { saveLearned } from "#server/db/learned";
import { open, PHONE, press, signIn, WIDE } from "../../scripts/lib/browser.mjs";
import { violations } from "./axe";
import { type Demo, openDemo, trialBasin } from "./demo";

/** What logs teach, as it is read and answered on a screen. */
let demo: Demo;
let page: Page;
let faults: string[];
let address: string;
const trials: string[] = [];
const DAY = 86_400_000;

beforeAll(async () => {
  demo = await openDemo();
  ({ address } = demo.web);
  for (const name of ["Trial calm", "Trial dying", "Trial falling"])
    trials.push(await trialBasin(demo, name));
  ({ page, faults } = await demo.newPage());
  await signIn(page, address, "tamsin@fennmoor.example");
});
afterAll(async () => {
  expect(faults.join("\n")).toBe("");
  await demo.close();
});

const inDemo = <T>(work: Parameters<typeof asFirm<T>>[2]) => asFirm(demo.db, demo.firmId, work);
const says = (words: string) => page.waitForSelector(`::-p-text(${words})`);
const around = (value: number, half: number) => ({ value, low: value - half, high: value + half });

/** A basin whose chlorine falls by so much a day. */
const falling = (id: string, aDay: number): BasinLearned => {
  const figure = around(0.1, 0.05);
  return {
    id,
    doses: 20,
    habits: {
      chlorineLoss: around(0.3, 0.1),
      phRise: figure,
      alkalinityChange: figure,
      calciumClimb: figure,
      stabiliserClimb: figure,
      litres: around(1000, 100),
    } as BasinLearned["habits"],
    rates: {} as BasinLearned["rates"],
    posterior: null,
    forecast: [0, 1, 2, 3, 4, 5, 6, 7].map((ahead) => ({
      at: Date.now() + ahead * DAY,
      freeChlorine: around(Math.max(0.1, 5 - aDay * ahead), 0.2),
    })),
  };
};
const keep = (suspicions: Suspicion[], basins: BasinLearned[] = []) =>
  inDemo((scope) =>
    saveLearned(
      scope,
      demo.firmId,
      { basins: basins.map((content) => ({ content, visits: 20, hold: null, worth: null })), suspicions },
      new Date(),
    ),
  );

describe("a delivery", () => {
  const row = () => page.$eval("#page", (found) => (found as HTMLElement).innerText);

  it("is written down on the shelf, corrected and taken back", async () => {
    await open(page, `${address}/shelf/products`);
    await press(page, "New delivery");
    const lot = await page.waitForSelector("::-p-xpath(//label[contains(., 'Lot or mark')]//input)");
    await lot?.type("sack 9");
    const day = await page.$("::-p-xpath(//label[contains(., 'In use since')]//input)");
    await day?.evaluate((input) => {
      const setter = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value")?.set;
      setter?.call(input, "");
      input.dispatchEvent(new Event("input", { bubbles: true }));
    });
    await press(page, "Save");
    await page.waitForSelector("[role=alert]");
    expect(await lot?.evaluate((input) => (input as HTMLInputElement).value)).toBe("sack 9");
    await day?.type("01052026");
    await press(page, "Save");
    await says("sack 9, in use since");
    const written = (await inDemo(deliveriesOf)).find((one) => one.lot === "sack 9");
    expect(written?.usedFrom).toBe("2026-01-05");
    await press(page, "sack 9");
    await press(page, "Remove delivery");
    await page.waitForFunction(() => !document.body.innerText.includes("sack 9"));
    await expect
      .poll(async () => (await inDemo(deliveriesOf)).some((one) => one.lot === "sack 9"))
      .toBe(false);
  });

  it("that the logs speak against shows what they say, basin by basin", async () => {
    const [newest] = await inDemo(deliveriesOf);
    const [calm = "", dying = ""] = trials;
    await keep([
      {
        code: "product",
        lot: newest?.id ?? "",
        ratio: { value: 0.62, low: 0.55, high: 0.7 },
        chance: 0.98,
        evidence: [
          { basin: calm, at: Date.now() - 9 * DAY, ratio: 0.7 },
          { basin: dying, at: Date.now() - 2 * DAY, ratio: 0.58 },
        ],
      },
    ]);
    await open(page, `${address}/shelf/products`);
    await says("Trial calm");
    await says("62% of the strength on its label (55% to 70%)");
    expect(await page.$$eval("figure [role=img]", (rows) => rows.map((one) => one.ariaLabel))).toEqual([
      expect.stringMatching(/Trial calm.* 70%/),
      expect.stringMatching(/Trial dying.* 58%/),
    ]);
    expect(await violations(page)).toEqual([]);
    await page.setViewport(PHONE);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
    await page.setViewport(WIDE);
    expect(await row()).toContain("drum 1207");
  });
});

describe("a round", () => {
  it("is put in the order of need by one press", async () => {
    const [calm = "", dying = "", fall = ""] = trials;
    await keep([], [falling(calm, 0.05), falling(fall, 1.1), falling(dying, 3)]);
    const ahead = new Date(Date.now() + 3 * DAY).toISOString().slice(0, 10);
    await open(page, `${address}/?day=${ahead}`);
    const order = () =>
      page.$$eval("main ol > li h2", (found) =>
        found.flatMap((one) => /Trial \w+/.exec(one.textContent ?? "")?.[0] ?? []),
      );
    await press(page, "Sort by need");
    await expect.poll(order).toEqual(["Trial dying", "Trial falling", "Trial calm"]);
    const kept = () =>
      inDemo((scope) =>
        scope.selectFrom("round_call").select("position").where("basin_id", "=", dying).execute(),
      );
    await expect.poll(async () => (await kept()).length).toBe(1);
    await open(page, `${address}/?day=${ahead}`);
    expect(await order()).toEqual(["Trial dying", "Trial falling", "Trial calm"]);
  });
});

describe("a volume that the log speaks against", () => {
  it("is taken over by one press", async () => {
    const [calm = ""] = trials;
    const before = (await inDemo((scope) => basinById(scope, calm)))?.litres ?? 0;
    await keep(
      [{ code: "volume", basin: calm, ratio: { value: 1.25, low: 1.15, high: 1.36 }, chance: 0.97 }],
      [falling(calm, 0.05)],
    );
    await open(page, `${address}/basins/${calm}`);
    await press(page, "Use ");
    await page.waitForSelector("[role=status]");
    await expect
      .poll(async () => (await inDemo((scope) => basinById(scope, calm)))?.litres)
      .toBeCloseTo(1.25 * before, 6);
  });
});

describe("a season", () => {
  it("moves with months and prices, and names a price that is none", async () => {
    const cedar = await inDemo((scope) =>
      scope.selectFrom("basin").select("id").where("name", "=", "Cedar spa").executeTakeFirstOrThrow(),
    );
    await open(page, `${address}/basins/${cedar.id}/season`);
    const costs = () =>
      page.$$eval("main li p.text-2xl", (found) => found.map((one) => one.textContent ?? ""));
    const six = await costs();
    expect(six).toHaveLength(5);
    await press(page, "12 months");
    await expect.poll(costs).not.toEqual(six);
    const twelve = await costs();
    await page.click("details summary");
    const cell = await page.waitForSelector("::-p-xpath(//label[contains(., 'Cell wear')]//input)");
    await cell?.click({ count: 3 });
    await cell?.type("nine");
    const said = await page.waitForSelector("[role=alert]");
    expect(await said?.evaluate((one) => one.textContent)).toMatch(/Cell wear.*“nine”.*0 or more/);
    await expect.poll(async () => (await costs()).includes("no price")).toBe(true);
    await cell?.click({ count: 3 });
    await cell?.type("18");
    await page.waitForFunction(() => !document.querySelector("[role=alert]"));
    await expect.poll(async () => (await costs()).at(-1)).not.toBe(twelve.at(-1));
  });
});
