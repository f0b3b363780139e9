import type { Page } from "puppeteer-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { follow, open, PHONE, signIn } from "../../scripts/lib/browser.mjs";
import { violations } from "./axe";
import { type Demo, openDemo, screensToLookAt, tabBeside } from "./demo";

/** Every main screen: what a reader of it must be able to do, at a desk in both themes and by thumb on a phone. */
let demo: Demo;
let desk: Page;
let faults: string[];
/** What is looked at, by name. */
let ids: { basin: string; finished: string; kit: string; visit: string };
const atSignIn: string[] = [];
beforeAll(async () => {
  demo = await openDemo();
  ({ page: desk, faults } = await demo.newPage());
  await open(desk, `${demo.web.address}/sign-in`);
  atSignIn.push(...(await violations(desk)));
  await signIn(desk, demo.web.address);
  ids = await screensToLookAt(demo, desk);
});
afterAll(() => demo?.close());

const basinPages = (names: string[]) => names.map((name) => `/basins/${ids.basin}/${name}`);
const stations = (names: string[]) => names.map((name) => `/visits/${ids.visit}/${name}`);

describe("every screen", () => {
  it("has no serious violation in either theme", async () => {
    const found: Record<string, string[]> = { "/sign-in": atSignIn };
    for (const path of [
      "/",
      "/basins",
      `/basins/${ids.basin}`,
      `/visits/${ids.finished}`,
      ...basinPages(["what-if", "compare", "judgement", "volume", "season", "access", "customer", "repairs"]),
      ...basinPages(["week"]),
      "/week",
      "/week/regular",
      "/week/quote",
      "/settings/week",
      "/settings",
      "/settings/practice",
      "/guide/3-at-the-water",
      "/basins/new",
      "/settings/ranges",
      "/settings/ranges/salt-cell",
      "/settings/work-list",
      "/settings/mail",
      "/settings/api",
      "/settings/webhooks",
      "/book/month",
      "/api",
      "/bench",
      "/book",
      "/shelf",
      "/shelf/products",
      "/shelf/kits",
      `/shelf/kits/${ids.kit}`,
      "/nothing-here",
      ...stations(["look", "sample", "freeChlorine", "combinedChlorine", "ph", "totalAlkalinity"]),
      ...stations([
        "calciumHardness",
        "cyanuricAcid",
        "temperature",
        "judge",
        "dose",
        "recipes",
        "work",
        "close",
      ]),
    ]) {
      await follow(desk, path);
      found[path] = await violations(desk);
    }
    expect(Object.entries(found).filter(([, list]) => list.length > 0)).toEqual([]);
    expect(Object.keys(found)).toHaveLength(51);
    expect(faults.join("\n")).toBe("");
  });

  it("has no target smaller than a wet thumb, and nothing off the side of a phone", async () => {
    const page = await tabBeside(desk);
    await page.setViewport(PHONE);
    await open(page, `${demo.web.address}/`);
    for (const path of [
      "/",
      ...stations(["look", "sample", "freeChlorine", "ph", "temperature", "cyanuricAcid", "judge", "dose"]),
      ...stations(["recipes", "work", "close"]),
      ...basinPages(["what-if", "compare", "judgement", "volume", "access", "customer", "week"]),
      "/week",
      "/week/regular",
      "/week/quote",
      "/settings/week",
      "/settings/work-list",
      "/settings/mail",
      "/settings/api",
      "/book/month",
      "/api",
      "/book",
      "/shelf",
      "/shelf/products",
      "/settings/ranges",
      "/bench",
      "/settings",
    ]) {
      await follow(page, path);
      const small = await page.$$eval(
        "main button, main label:has([type=radio], [type=checkbox], [type=file]), main input:not([type=hidden], [type=radio], [type=checkbox], [type=file]), nav a",
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
