import type { Page } from "puppeteer-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm } from "#server/db/connection";
import { LANGUAGES } from "../../app/messages/compiled/all";
import { still as at, open, openBrowser, PHONE, press, signIn, WIDE } from "../../scripts/lib/browser.mjs";
import { violations } from "./axe";
import { type Demo, liesHere, openDemo, screensToLookAt } from "./demo";

/**
 * Every screen in other languages: in one that nobody speaks, which shows what stands in no message and what has
 * no room for a third more; and in Spanish, in which nothing English is left.
 */
const PSEUDO = "en-XA";
/** As wide as a phone: one that is touched, too, would load each screen anew for it. */
const NARROW = { width: PHONE.width, height: PHONE.height };

let demo: Demo;
let ids: { basin: string; finished: string; kit: string; visit: string };
/** What people wrote themselves: it is nobody's to translate. */
let written: string[];

beforeAll(async () => {
  demo = await openDemo();
  const { page } = await demo.newPage();
  await signIn(page, demo.web.address, "tamsin@fennmoor.example");
  ids = await screensToLookAt(demo, page);
  await page.close();
  await asFirm(demo.db, demo.firmId, async (scope) => {
    const texts = new Set<string>();
    for (const table of [
      "firm",
      "member",
      "site",
      "basin",
      "product",
      "truck",
      "basin_event",
      "bottle",
      "site_access",
      "defect",
      "quote",
    ] as const)
      for (const row of await scope.selectFrom(table).selectAll().execute()) collect(row, texts);
    for (const { note } of await scope.selectFrom("visit").select("note").distinct().execute())
      texts.add(note);
    for (const { why } of await scope.selectFrom("visit_work").select("why").distinct().execute())
      texts.add(why);
    // What ships is not what somebody wrote, though it lies in the same tables.
    const ours = Object.keys((LANGUAGES.en?.messages ?? { shipped: {} }).shipped);
    written = [...texts, "Linux"]
      .filter((text) => /\p{L}{2}/u.test(text) && !ours.includes(text))
      .sort((a, b) => b.length - a.length);
  });
});
afterAll(() => demo?.close());

function collect(value: unknown, into: Set<string>): void {
  if (typeof value === "string") into.add(value);
  else if (value !== null && typeof value === "object" && !(value instanceof Date) && !Buffer.isBuffer(value))
    for (const one of Object.values(value)) collect(one, into);
}

const screens = (): string[] => [
  "/",
  "/basins",
  "/basins/new",
  "/basins/held",
  ...[
    "",
    "/what-if",
    "/compare",
    "/judgement",
    "/volume",
    "/season",
    "/facts",
    "/access",
    "/week",
    "/week/regular",
    "/week/quote",
    "/customer",
    "/repairs",
  ].map((page) => `/basins/${ids.basin}${page}`),
  `/visits/${ids.finished}`,
  `/visits/${ids.finished}/customer`,
  "/book",
  "/book/import",
  "/book/month",
  "/shelf",
  "/shelf/products",
  "/shelf/trucks",
  "/shelf/kits",
  `/shelf/kits/${ids.kit}`,
  "/settings",
  "/settings/practice",
  "/settings/ranges",
  "/settings/ranges/salt-cell",
  "/settings/calendar",
  "/settings/api",
  "/settings/webhooks",
  "/api",
  "/settings/team",
  "/settings/audit",
  "/settings/health",
  "/settings/work",
  "/settings/work-list",
  "/settings/week",
  "/week",
  "/settings/mail",
  "/bench",
  "/practice",
  "/nothing-here",
  ...[
    "look",
    "sample",
    "freeChlorine",
    "combinedChlorine",
    "ph",
    "totalAlkalinity",
    "calciumHardness",
    "cyanuricAcid",
    "temperature",
    "judge",
    "dose",
    "recipes",
    "retest",
    "work",
    "close",
    "incident",
    "job",
    "recipes/green-pool",
  ].map((stop) => `/visits/${ids.visit}/${stop}`),
];

/** All that a page says: its texts in their order, and what is read out or shown on a touch of its elements. */
const saidOn = (page: Page): Promise<string> =>
  page.evaluate(() => {
    const texts: string[] = [document.title];
    const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
    for (let node = walker.nextNode(); node; node = walker.nextNode())
      if (!node.parentElement?.closest("script,style,noscript,textarea,.guide,body [lang]"))
        texts.push(node.textContent ?? "");
    for (const one of document.querySelectorAll("[aria-label],[title],[placeholder],[alt]"))
      for (const name of ["aria-label", "title", "placeholder", "alt"])
        if (one.hasAttribute(name)) texts.push(one.getAttribute(name) ?? "");
    return texts.join("\n");
  });

const UNITS =
  /\b(ppm|psi|bar|gpm|mV|mL|L|gal|lb|oz|kg|g|mg|meq|h|min|s|d|ft|m|pH|HOCl|JSON|CSV|PDF|kB|MB|USD|AM|PM|Pelagon|Ctrl)\b|°F|°C/g;
const DATES =
  /\b(Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec)[a-z]*\b|\b(Mon|Tues?|Wed(nes)?|Thu(rs)?|Fri|Sat(ur)?|Sun)(day)?\b|\b(in|ago|days?|hours?|minutes?|months?|weeks?|years?|yesterday|today|tomorrow|this|last|next|at|now)\b/g;

/** A text where it is no part of a longer word: a member's language, "es", is not the middle of "Tuesday". */
const whole = (text: string): RegExp =>
  new RegExp(`(?<!\\p{L})${text.replace(/[.*+?^${}()|[\]\\]/g, "\\$&")}(?!\\p{L})`, "gu");

/** What is left of a page once its messages, what people wrote, numbers, units and dates are taken away. */
function unmarked(said: string): string[] {
  let rest = said;
  for (let before = ""; before !== rest; ) {
    before = rest;
    rest = rest.replace(/⟦[^⟦⟧]*⟧/g, "\n");
  }
  return [
    ...new Set(
      rest
        .split("\n")
        .map((line) => {
          let left = line;
          for (const text of written) if (left.includes(text)) left = left.replace(whole(text), " ");
          return left.replace(UNITS, " ").replace(DATES, " ").trim();
        })
        // A currency by its code.
        .filter((line) => /\p{L}{2}/u.test(line) && !/^[A-Z]{3}$/.test(line)),
    ),
  ];
}

/** Elements that are cut off, and a page that is wider than its screen. */
const cutOff = (page: Page): Promise<string[]> =>
  page.evaluate(() => {
    const found: string[] = [];
    if (document.documentElement.scrollWidth > innerWidth + 1)
      found.push(`page ${document.documentElement.scrollWidth} of ${innerWidth}`);
    for (const one of document.querySelectorAll<HTMLElement>(
      "button,a,h1,h2,h3,p,label,legend,summary,td,th,li,dt,dd",
    )) {
      // Only read out.
      if (one.clientWidth <= 1) continue;
      const { overflowX } = getComputedStyle(one);
      if (
        overflowX !== "visible" &&
        overflowX !== "auto" &&
        overflowX !== "scroll" &&
        one.scrollWidth > one.clientWidth + 1
      )
        found.push(`${one.tagName} ${one.textContent?.slice(0, 60)}`);
    }
    return found;
  });

/** What a device takes along is fetched whole before it is walked through: cut off, it begins anew on every screen. */
const carries = (page: Page) => liesHere(page, "settings", "bundle");

async function memberPage(language: string, viewport: typeof WIDE = WIDE) {
  const tab = await demo.newPage(viewport);
  await signIn(tab.page, demo.web.address, "tamsin@fennmoor.example");
  await tab.page.setCookie({ name: "pelagon_language", value: language, url: demo.web.address });
  await carries(tab.page);
  return tab;
}

describe("a language that nobody speaks", () => {
  it("marks every word of every screen, and has room on a desk and on a phone", async () => {
    const { page, faults } = await memberPage(PSEUDO);
    const words: Record<string, string[]> = {};
    const cut: Record<string, string[]> = {};
    for (const path of screens()) {
      await page.setViewport(WIDE);
      await open(page, demo.web.address + path);
      expect(await page.$eval("html", (root) => root.lang), path).toBe(PSEUDO);
      const left = unmarked(await saidOn(page));
      if (left.length > 0) words[path] = left;
      const found = await cutOff(page);
      await page.setViewport(NARROW);
      // A chart takes its new size a moment later; what stays too wide is found below.
      await page
        .waitForFunction(() => document.documentElement.scrollWidth <= innerWidth + 1, { timeout: 3000 })
        .catch(() => {});
      found.push(...(await cutOff(page)).map((one) => `phone: ${one}`));
      if (found.length > 0) cut[path] = found;
    }
    expect(words).toEqual({});
    expect(cut).toEqual({});
    expect(faults.join("\n")).toBe("");
    await page.close();
  });
});

describe("a browser whose text is twice as large", () => {
  it("cuts nothing off on any screen, in a language a third longer", async () => {
    const large = await openBrowser({ fontSize: 32 });
    try {
      const page = await large.page(WIDE);
      await signIn(page, demo.web.address, "tamsin@fennmoor.example");
      await page.setCookie({ name: "pelagon_language", value: PSEUDO, url: demo.web.address });
      await carries(page);
      const cut: Record<string, string[]> = {};
      for (const path of screens()) {
        await open(page, demo.web.address + path);
        const found = await cutOff(page);
        if (found.length > 0) cut[path] = found;
      }
      expect(cut).toEqual({});
    } finally {
      await large.close();
    }
  });
});

describe("Spanish", () => {
  it("is chosen in Settings, for this member on every device, and holds on every screen", async () => {
    const { page, faults } = await memberPage("en");
    await open(page, `${demo.web.address}/settings`);
    await press(page, "Español (Estados Unidos)");
    await at(page, "/settings");
    await page.waitForFunction(() => document.documentElement.lang === "es-US");
    const other = await demo.newPage();
    await signIn(other.page, demo.web.address, "tamsin@fennmoor.example");
    expect(await other.page.$eval("html", (root) => root.lang)).toBe("es-US");
    await other.page.close();
    // A firm that counts in liters and grams: no gallon and no ounce is left either.
    await asFirm(demo.db, demo.firmId, (scope) =>
      scope.updateTable("firm").set({ unit_system: "metric" }).execute(),
    );
    await open(page, `${demo.web.address}/settings`);
    const english = englishOnly();
    const left: Record<string, string[]> = {};
    for (const path of [...screens(), "/guide/3-at-the-water"]) {
      await open(page, demo.web.address + path);
      const lines = (await saidOn(page)).split("\n").map((line) => line.trim());
      const said = new Set(lines);
      const found = [
        ...english.filter((text) => said.has(text)),
        ...lines.filter(
          (line) => /\d (gal|oz|fl oz|lb|qt|ft|pies|oz líq\.)(\s|$)|°F/.test(line) && !isWritten(line),
        ),
      ];
      if (found.length > 0) left[path] = found;
      // Both themes, on the screens that say most.
      if (/judge|dose|settings$|count|\/$/.test(path)) expect(await violations(page), path).toEqual([]);
    }
    expect(left).toEqual({});
    expect(faults.join("\n")).toBe("");
    // What the device takes along is Spanish, and nothing else: the worker that spoke English has been replaced.
    await page.waitForFunction(
      async () => {
        const names = (await caches.keys()).filter((name) => name.endsWith(" es"));
        const kept = await Promise.all(
          names.map(async (name) => (await (await caches.open(name)).keys()).map(({ url }) => url)),
        );
        const messages = kept.flat().filter((url) => url.includes("/assets/messages-"));
        return (
          navigator.serviceWorker.controller?.scriptURL.endsWith("language=es") === true &&
          messages.length === 1 &&
          messages[0]?.includes("/messages-es-") === true
        );
      },
      { polling: 500 },
    );
    await page.close();
  });
});

const isWritten = (line: string): boolean =>
  written.some((text) => text.includes(line) || line.includes(text));

/** English texts of the catalogue that no Spanish one is like. */
function englishOnly(): string[] {
  const texts = (language: string) => {
    const found = new Set<string>();
    collect(LANGUAGES[language]?.messages, found);
    return found;
  };
  const spanish = texts("es");
  return [...texts("en")].filter((text) => !spanish.has(text) && /\p{L}{3}/u.test(text));
}
