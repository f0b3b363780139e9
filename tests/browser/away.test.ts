import type { Page } from "puppeteer-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm } from "#server/db/connection";
import { still as at, open, PHONE, press, signIn, still } from "../../scripts/lib/browser.mjs";
import { type Demo, liesHere, openDemo, readings, text, trialBasin, visitId } from "./demo";

/** A plant room without a network: the visit goes on, and is in the book when there is reach again. */
let demo: Demo;
beforeAll(async () => {
  demo = await openDemo();
});
afterAll(() => demo?.close());

/** Until this device has taken along the day, and its worker answers for pages. */
async function takenAlong(page: Page): Promise<void> {
  await page.waitForFunction(() => navigator.serviceWorker.controller !== null);
  await liesHere(page, "settings", "bundle");
}

const waits = (page: Page, said: RegExp) =>
  page.waitForFunction((wanted) => new RegExp(wanted).test(document.body.innerText), {}, said.source);

describe("a visit without a network", () => {
  it("goes on to its close, cold start in between, and is in the book within seconds", async () => {
    const basin = await trialBasin(demo, "Away spa");
    const { page, faults } = await demo.newPage(PHONE);
    await signIn(page, demo.web.address);
    await open(page, `${demo.web.address}/basins/${basin}`);
    await takenAlong(page);
    await press(page, "Start visit");
    await at(page, "look");
    const visit = visitId(page);
    await liesHere(page, "visits", visit);

    await demo.web.kill();
    await press(page, "cloudy");
    await press(page, "Save 1 finding");
    await at(page, "sample");
    await waits(page, /1 not sent yet/);
    await press(page, "Sample taken");
    await at(page, "temperature");
    await page.type("input[inputmode=decimal]", "99");
    await press(page, "Save");
    await at(page, "freeChlorine");

    // Killed and started again, with nobody there.
    await page.goto("about:blank");
    await open(page, `${demo.web.address}/visits/${visit}/ph`);
    await waits(page, /3 not sent yet/);
    // Something happens there: what to do and whom to ring need no network.
    await open(page, `${demo.web.address}/visits/${visit}/incident`);
    await waits(page, /1-800-222-1222/);
    await press(page, "Broken glass");
    await waits(page, /Vacuum to waste/);
    await press(page, "Close the basin and log it");
    await waits(page, /Logged by/);
    await waits(page, /Closed: nobody in the water/);
    await waits(page, /4 not sent yet/);
    await open(page, `${demo.web.address}/visits/${visit}/ph`);
    await press(page, "7.4 to 7.6");
    await press(page, "Save");
    await at(page, "totalAlkalinity");
    await open(page, `${demo.web.address}/visits/${visit}/judge`);
    expect(await text(page)).toMatch(/7\.5/);
    await open(page, `${demo.web.address}/visits/${visit}/close`);
    await page.type("textarea", "Without a network");
    await press(page, "Save the visit");
    await page.waitForFunction((path) => location.pathname === path, {}, `/visits/${visit}`);
    await still(page);
    expect(await text(page)).toMatch(/Without a network/);
    await waits(page, /6 not sent yet/);
    expect(await readings(demo.db, demo.firmId, visit)).toEqual([]);

    await demo.web.start();
    await expect
      .poll(async () => (await readings(demo.db, demo.firmId, visit)).map((one) => one.quantity).sort())
      .toEqual(["ph", "temperature"]);
    await expect
      .poll(() =>
        asFirm(demo.db, demo.firmId, (scope) =>
          scope
            .selectFrom("visit")
            .select(["note", "finished_at", "look", "incidents", "bathing"])
            .where("id", "=", visit)
            .executeTakeFirst(),
        ),
      )
      .toMatchObject({
        note: "Without a network",
        look: { see: ["cloudy"] },
        incidents: [{ kind: "glass", over: null }],
        bathing: { state: "closed" },
      });
    await page.waitForFunction(() => !/not sent yet/.test(document.body.innerText));
    expect(faults.join("\n")).toBe("");
    await page.close();
  });

  it("is begun away, and its round, basin and bench are there", async () => {
    const basin = await trialBasin(demo, "Away pool", "Cedar spa");
    const { page, faults } = await demo.newPage(PHONE);
    await signIn(page, demo.web.address);
    await open(page, `${demo.web.address}/basins/${basin}`);
    await takenAlong(page);
    await open(page, `${demo.web.address}/`);
    await open(page, `${demo.web.address}/basins/${basin}`);
    await press(page, "Round");
    await still(page, "/");
    // What was opened is taken along by the next look after the bundle.
    await page.evaluate(() => document.dispatchEvent(new Event("visibilitychange")));
    await liesHere(page, "items", `basin ${basin}`);
    await demo.web.kill();
    await open(page, `${demo.web.address}/`);
    expect(await text(page)).toMatch(/stops? today/);
    await open(page, `${demo.web.address}/bench`);
    await open(page, `${demo.web.address}/basins/${basin}`);
    await page.waitForSelector("h1 ::-p-text(Away pool)");
    // What is not here says so.
    await press(page, "Book");
    await waits(page, /Offline/);
    await demo.web.start();
    expect(faults.join("\n")).toBe("");
    await page.close();
  });
});
