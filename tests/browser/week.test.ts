import { sql } from "kysely";
import type { Page } from "puppeteer-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { dayIn } from "#core";
import { asFirm } from "#server/db/connection";
import { LEARNER_VERSION } from "#server/db/learned";
import { worthOf } from "../../core/week/week.fixtures";
import { still as at, follow, open, PHONE, press } from "../../scripts/lib/browser.mjs";
import { violations } from "./axe";
import { type Demo, JORY, liesHere, openDemo, text } from "./demo";

/** The week as an owner has it: moved by keys and by form, suggested, accepted and undone. */
let demo: Demo;
const TAMSIN = "tamsin@fennmoor.example";
beforeAll(async () => {
  demo = await openDemo();
  // Every basin holds for a day and a half after a visit: stops at even distances are worth most.
  await inFirm((scope) =>
    sql`
      insert into learned (firm_id, basin_id, version, learned_at, visits, content, worth)
      select firm_id, id, ${LEARNER_VERSION}, now(), 20, '{}', ${JSON.stringify(worthOf(0.95, 1, 0.4))}::jsonb
      from basin on conflict (basin_id) do update set worth = excluded.worth, learned_at = now()`.execute(
      scope,
    ),
  );
});
afterAll(() => demo?.close());

const inFirm = <T>(work: Parameters<typeof asFirm<T>>[2]): Promise<T> => asFirm(demo.db, demo.firmId, work);

/** Stops that moved, as the database has them. */
const moved = () =>
  inFirm((scope) =>
    scope
      .selectFrom("round_call")
      .select(["basin_id", sql<string>`day::text`.as("day"), sql<string | null>`gone_to::text`.as("to")])
      .where("gone_at", "is not", null)
      .execute(),
  );

/** The column and the row in which a card lies. */
const placeOf = (page: Page, basinId: string, column: number) =>
  page.$$eval(
    `td [data-card="${basinId}"]`,
    (cards, wanted) =>
      cards
        .map((card) => {
          const cell = card.closest("td") as HTMLTableCellElement;
          const row = cell.parentElement as HTMLTableRowElement;
          return { column: cell.cellIndex, who: row.cells[0]?.innerText ?? "" };
        })
        .filter((place) => place.column >= wanted),
    column,
  );

describe("a week", () => {
  it("is moved by keys alone, and a reader of the screen hears where", async () => {
    const { page, faults } = await demo.tabOf(TAMSIN);
    await open(page, `${demo.web.address}/week`);
    expect(await violations(page)).toEqual([]);
    // The first stop of tomorrow.
    const card = await page.waitForSelector("tbody tr td:nth-of-type(2) [data-card]");
    const basinId = (await card?.evaluate((one) => (one as HTMLElement).dataset.card)) as string;
    const [before] = await placeOf(page, basinId, 2);
    const grip = await card?.$("button[aria-roledescription]");
    await grip?.focus();
    await page.keyboard.press("Space");
    await page.waitForFunction(() =>
      /Picked up|is over/.test(document.querySelector("[id^=DndLiveRegion]")?.textContent ?? ""),
    );
    await page.keyboard.press("ArrowRight");
    await page.waitForFunction(() =>
      /is over/.test(document.querySelector("[id^=DndLiveRegion]")?.textContent ?? ""),
    );
    await page.keyboard.press("Space");
    await expect.poll(async () => (await moved()).length, { timeout: 30_000 }).toBe(1);
    await at(page);
    const [stop] = await moved();
    expect(stop?.basin_id).toBe(basinId);
    expect(new Date(stop?.to ?? "").getTime() - new Date(stop?.day ?? "").getTime()).toBe(86_400_000);
    await expect
      .poll(async () => (await placeOf(page, basinId, 3))[0])
      .toEqual({ column: (before?.column ?? 0) + 1, who: before?.who });
    expect(await violations(page)).toEqual([]);
    expect(faults.join("\n")).toBe("");
    await page.close();
  });

  it("is suggested, accepted change by change, and undone", async () => {
    const { page, faults } = await demo.tabOf(TAMSIN);
    await open(page, `${demo.web.address}/week`);
    const table = () => page.$eval("tbody", (body) => body.innerText);
    const before = await table();
    await press(page, "Suggest");
    await page.waitForFunction(() => /right \d+% of the time instead of/.test(document.body.innerText));
    // The page answers while the worker works.
    await page.waitForFunction(() => document.body.innerText.includes("You can stop at any time"));
    await press(page, "Stop");
    await page.waitForFunction(() => document.body.innerText.includes("Suggested changes"));
    expect(await violations(page)).toEqual([]);
    await press(page, "Accept:");
    await page.waitForFunction(() => document.body.innerText.includes("Accepted"));
    await expect.poll(table, { timeout: 30_000 }).not.toBe(before);
    await press(page, "Undo:");
    await page.waitForFunction(() => !document.body.innerText.includes("Accepted"));
    await expect.poll(table, { timeout: 30_000 }).toBe(before);
    expect(faults.join("\n")).toBe("");
    await page.close();
  });

  it("is read and moved on a phone, a day at a time", async () => {
    const { page, faults } = await demo.tabOf(TAMSIN, PHONE);
    await open(page, `${demo.web.address}/week`);
    const days = await page.$$eval("select option", (all) =>
      all.map((one) => (one as HTMLOptionElement).value),
    );
    const day = days.find((one) => /^\d{4}-/.test(one) && one > dayIn(new Date(), "UTC")) as string;
    await page.select("section select", day);
    await page.waitForSelector("td:not(.max-wide\\:hidden) [data-card]");
    const shown = await page.$$eval("td", (cells) => cells.filter((cell) => cell.offsetWidth > 0).length);
    const people = await page.$$eval("tbody tr", (all) => all.length);
    expect(shown).toBe(people);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
    const before = (await moved()).length;
    await page.click("td:not(.max-wide\\:hidden) [data-card] button[aria-expanded]");
    const later = new Date(`${day}T12:00:00Z`);
    later.setUTCDate(later.getUTCDate() + 3);
    await page.$eval(
      "input[type=date]",
      (input, value) => {
        const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value")?.set;
        set?.call(input, value);
        input.dispatchEvent(new Event("input", { bubbles: true }));
      },
      later.toISOString().slice(0, 10),
    );
    await press(page, "Move stop");
    await expect.poll(async () => (await moved()).length, { timeout: 30_000 }).toBe(before + 1);
    expect(faults.join("\n")).toBe("");
    await page.close();
  });

  it("tells the second of two who move the same stop, and shows what the first one did", async () => {
    const { page } = await demo.tabOf(TAMSIN);
    const other = await demo.tabOf(JORY);
    await open(page, `${demo.web.address}/week`);
    await open(other.page, `${demo.web.address}/week`);
    const card = "td:nth-of-type(4) [data-card]";
    const basinId = await page.$eval(card, (one) => (one as HTMLElement).dataset.card);
    const moveTo = async (tab: Page, ahead: number) => {
      await tab.click(`${card}[data-card="${basinId}"] button[aria-expanded]`);
      await tab.$eval(
        "form input[type=date]",
        (input, days) => {
          const day = new Date(`${(input as HTMLInputElement).value}T12:00:00Z`);
          day.setUTCDate(day.getUTCDate() + days);
          const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value")?.set;
          set?.call(input, day.toISOString().slice(0, 10));
          input.dispatchEvent(new Event("input", { bubbles: true }));
        },
        ahead,
      );
      await press(tab, "Move stop");
    };
    const places = (tab: Page) => placeOf(tab, basinId as string, 1);
    const before = await places(page);
    await moveTo(other.page, 1);
    await expect.poll(() => places(other.page), { timeout: 30_000 }).not.toEqual(before);
    await moveTo(page, 2);
    await page.waitForFunction(() => document.body.innerText.includes("Someone else changed this day"));
    // Nothing was doubled, and nothing lost: both see the same.
    await expect.poll(async () => places(page), { timeout: 30_000 }).toEqual(await places(other.page));
    await page.close();
    await other.page.close();
  });

  it("is read without a network", async () => {
    const { page } = await demo.tabOf(TAMSIN);
    await open(page, `${demo.web.address}/week`);
    const told = await text(page);
    await liesHere(page, "items", "week");
    await page.setOfflineMode(true);
    await follow(page, "/bench");
    await follow(page, "/week");
    await page.waitForSelector("[data-card]");
    expect((await text(page)).slice(0, 200)).toBe(told.slice(0, 200));
    await page.setOfflineMode(false);
    await page.close();
  });
});
