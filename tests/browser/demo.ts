import { sql } from "kysely";
import type { Page } from "puppeteer-core";
import { v7 as uuid } from "uuid";
import { expect } from "vitest";
import { asFirm, asGate, type Database } from "#server/db/connection";
import { loadDemo } from "#server/demo/load";
import { still as at, open, openBrowser, press, signIn, WIDE } from "../../scripts/lib/browser.mjs";
import { webServer } from "../../scripts/lib/world.mjs";
import { copiedDatabase } from "../database";

/**
 * A killed server cuts an answer off after its first line, which holds all of it; the router reports the rest
 * of the stream, which nobody waits for.
 */
const CUT_SHORT = "TypeError: network error";

/** The production build with the demo year, and a browser to use it as a technician would. */
export async function openDemo(environment: Record<string, string> = {}) {
  const made = await copiedDatabase("demo_year", (empty) => loadDemo(empty, new Date()));
  const { db } = made;
  const firmId = (
    await asGate(db, (scope) => scope.selectFrom("firm").select("id").executeTakeFirstOrThrow())
  ).id;
  const web = await webServer(made.addresses, { PELAGON_DEMO: "1", JOBS: "off", ...environment });
  const browser = await openBrowser();
  /** A tab whose faults fail the test, the network's own excepted. */
  const watched = (page: Page): { page: Page; faults: string[] } => {
    const faults: string[] = [];
    page.on("pageerror", (fault) => {
      if (String(fault) !== CUT_SHORT) faults.push(String(fault));
    });
    page.on("console", (message) => {
      if (message.type() === "error" && !/Failed to load resource|net::ERR/.test(message.text()))
        faults.push(message.text());
    });
    return { page, faults };
  };
  /** The first tab of each member who signed in: it stays open, and others open beside it. */
  const first = new Map<string, Page>();
  return {
    db,
    firmId,
    web,
    browser,
    /** A browser of its own: nobody is signed in, nothing lies on the device. */
    newPage: async (viewport = WIDE) => watched(await browser.page(viewport)),
    /** Another tab, on the Round, where a member is signed in and the device has been in use for a while. */
    async tabOf(email: string, viewport = WIDE) {
      let there = first.get(email);
      if (!there) {
        there = await browser.page();
        await signIn(there, web.address, email);
        first.set(email, there);
      }
      const page = await tabBeside(there);
      await page.setViewport(viewport);
      const tab = watched(page);
      await open(page, `${web.address}/`);
      return tab;
    },
    /** Kills a process of the database that serves the web server. */
    async killBackend() {
      const { rows } = await sql<{ pid: number }>`
        select pid from pg_stat_activity where usename = 'pelagon_web' and datname = current_database() limit 1`.execute(
        db,
      );
      if (rows[0]) process.kill(rows[0].pid, "SIGKILL");
    },
    /** Until a write goes through again. */
    async ready() {
      await expect
        .poll(async () => (await fetch(`${web.address}/ready`).catch(() => null))?.ok, { timeout: 60_000 })
        .toBe(true);
    },
    async close() {
      await browser.close();
      await web.stop();
      await made.close();
    },
  };
}

export type Demo = Awaited<ReturnType<typeof openDemo>>;

export const JORY = "jory@fennmoor.example";
export const WREN = "wren@fennmoor.example";

/** Another tab of the same browser, as patient: one cookie and one store for both. */
export async function tabBeside(page: Page): Promise<Page> {
  const beside = await page.browserContext().newPage();
  beside.setDefaultTimeout(page.getDefaultTimeout());
  return beside;
}

export const text = (page: Page) => page.$eval("#page", (element) => (element as HTMLElement).innerText);
export const count = (page: Page) =>
  page.$eval("[data-count] span", (element) => Number(element.textContent));
export const visitId = (page: Page) => new URL(page.url()).pathname.split("/")[2] ?? "";

/** Until something lies on this device under a key: a visit, or a piece of the bundle. */
export const liesHere = (page: Page, store: "visits" | "items" | "settings", key: string) =>
  page.waitForFunction(
    (name, wanted) =>
      new Promise((resolve) => {
        const request = indexedDB.open(`pelagon ${localStorage.getItem("pelagon.member")}`);
        request.onerror = () => resolve(false);
        request.onsuccess = () => {
          const db = request.result;
          if (!db.objectStoreNames.contains(name)) return resolve(false);
          const got = db.transaction(name).objectStore(name).get(wanted);
          got.onsuccess = () => {
            db.close();
            resolve(got.result !== undefined);
          };
        };
      }),
    {},
    store,
    key,
  );

/** Until everything that was written on this device is in the book: it is kept here first and sent a moment later. */
export const sent = (page: Page) =>
  page.waitForFunction(
    () =>
      new Promise((resolve) => {
        const request = indexedDB.open(`pelagon ${localStorage.getItem("pelagon.member")}`);
        request.onerror = () => resolve(false);
        request.onsuccess = () => {
          const db = request.result;
          const counted = db.transaction("waiting").objectStore("waiting").count();
          counted.onsuccess = () => {
            db.close();
            resolve(counted.result === 0);
          };
        };
      }),
  );

/** The readings of a visit that are used. */
export const readings = (db: Database, firmId: string, visit: string) =>
  asFirm(db, firmId, (scope) =>
    scope
      .selectFrom("reading")
      .selectAll()
      .where("visit_id", "=", visit)
      .where("superseded_at", "is", null)
      .where("used", "=", true)
      .execute(),
  );

/**
 * A basin without a past beside a demo one that it is like: what is due there, and what its log says,
 * does not depend on the day.
 */
export async function trialBasin(demo: Demo, name: string, like = "Cedar spa"): Promise<string> {
  const id = uuid();
  await asFirm(demo.db, demo.firmId, async (scope) => {
    const basin = await scope
      .selectFrom("basin")
      .selectAll()
      .where("name", "=", like)
      .executeTakeFirstOrThrow();
    await scope
      .insertInto("basin")
      .values({ ...basin, id, name, call_days: [1, 2, 3, 4, 5, 6, 7], position: -1 })
      .execute();
  });
  return id;
}

/**
 * The screens that are looked at in every language and theme: a visit that somebody signed in on the page has under
 * way, with temperature and chlorine read, and the first basin, kit and finished visit of the firm.
 */
export async function screensToLookAt(demo: Demo, page: Page) {
  await open(page, `${demo.web.address}/basins/${await trialBasin(demo, "Screen spa")}`);
  await press(page, "Start visit");
  await at(page, "look");
  for (const next of ["sample", "temperature"]) {
    await page.keyboard.press("s");
    await at(page, next);
  }
  await page.keyboard.type("99");
  await page.keyboard.press("Enter");
  await at(page, "freeChlorine");
  for (let drop = 0; drop < 6; drop++) await page.keyboard.press("Space");
  await page.keyboard.press("s");
  await at(page, "combinedChlorine");
  return asFirm(demo.db, demo.firmId, async (scope) => {
    const first = async (table: "basin" | "kit") =>
      (await scope.selectFrom(table).select("id").executeTakeFirstOrThrow()).id;
    const finished = await scope
      .selectFrom("visit")
      .select("id")
      .where("finished_at", "is not", null)
      .orderBy("started_at", "desc")
      .executeTakeFirstOrThrow();
    return {
      basin: await first("basin"),
      kit: await first("kit"),
      finished: finished.id,
      visit: visitId(page),
    };
  });
}

export async function keys(
  page: Page,
  key: Parameters<Page["keyboard"]["press"]>[0],
  times: number,
): Promise<void> {
  for (let time = 0; time < times; time++) await page.keyboard.press(key);
}

/** Tabs until the element that has the focus says these words. */
export async function tabTo(page: Page, words: string): Promise<void> {
  for (let tries = 0; tries < 80; tries++) {
    await page.keyboard.press("Tab");
    const here = await page.evaluate(() => (document.activeElement as HTMLElement | null)?.innerText ?? "");
    if (here.startsWith(words)) return;
  }
  throw new Error(`the keyboard never came to "${words}"`);
}

/** Takes the focus off whatever holds it. */
export const blur = (page: Page) =>
  page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
