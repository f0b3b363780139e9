import type { Page } from "puppeteer-core";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm } from "#server/db/connection";
import { still as at, open, PHONE, press, signIn, still } from "../../scripts/lib/browser.mjs";
import { type Demo, liesHere, openDemo, text, trialBasin, visitId } from "./demo";

/** A call for something else than the water, on a phone without a network: a dog, a repair, the work that is due. */
let demo: Demo;
beforeAll(async () => {
  demo = await openDemo();
});
afterAll(() => demo?.close());

const inFirm = <T>(work: Parameters<typeof asFirm<T>>[2]): Promise<T> => asFirm(demo.db, demo.firmId, work);
const says = (page: Page, wanted: string) =>
  page.waitForFunction((said) => document.body.innerText.includes(said), {}, wanted);
const tap = async (page: Page, label: string) => {
  await page.waitForSelector(`main button[aria-label="${label}"]:enabled`);
  await page.$eval(`main button[aria-label="${label}"]`, (button) => (button as HTMLElement).click());
};

describe("a repair without a network", () => {
  it("tells of the dog, takes the work with a tap each, closes without a test, and is in the book once", async () => {
    const basin = await trialBasin(demo, "Ladder spa");
    await inFirm(async (scope) => {
      const { site_id } = await scope
        .selectFrom("basin")
        .select("site_id")
        .where("id", "=", basin)
        .executeTakeFirstOrThrow();
      await scope.deleteFrom("site_access").where("site_id", "=", site_id).execute();
      await scope
        .insertInto("site_access")
        .values({
          firm_id: demo.firmId,
          site_id,
          content: JSON.stringify({ dog: "Bruno bites", phone: "+1 303 555 0142", code: "4711" }),
          changed_at: new Date(),
          changed_by: (await scope.selectFrom("member").select("id").executeTakeFirstOrThrow()).id,
        })
        .execute();
    });
    const { page, faults } = await demo.newPage(PHONE);
    await signIn(page, demo.web.address);
    await open(page, `${demo.web.address}/basins/${basin}`);
    await page.waitForFunction(() => navigator.serviceWorker.controller !== null);
    await liesHere(page, "settings", "bundle");
    await press(page, "Start visit");
    await at(page, "look");
    const visit = visitId(page);
    await liesHere(page, "visits", visit);

    await demo.web.kill();
    // A cold start, with nobody there.
    await page.goto("about:blank");
    await open(page, `${demo.web.address}/visits/${visit}/work`);
    // Behind a tap, so that nobody reads it over a shoulder.
    const seen = () => page.$eval("main details dl", (list) => (list as HTMLElement).checkVisibility());
    expect(await seen()).toBe(false);
    await page.$eval("main details summary", (summary) => (summary as HTMLElement).click());
    expect(await seen()).toBe(true);
    expect(await text(page)).toMatch(/Bruno bites/);
    expect(await page.$eval('main a[href^="tel:"]', (link) => link.getAttribute("href"))).toBe(
      "tel:+13035550142",
    );

    await tap(page, "Clean the waterline: done");
    await page.waitForSelector('main button[aria-label="Clean the waterline: done"][aria-pressed=true]');
    await tap(page, "Skip: Rinse the filter cartridge");
    await press(page, "Equipment broken");
    await says(page, "Skipped: Equipment broken");
    // A slip is taken back by the same tap.
    await tap(page, "Purge the jets and lines: done");
    await page.waitForSelector('main button[aria-label="Purge the jets and lines: done"][aria-pressed=true]');
    await tap(page, "Purge the jets and lines: done");
    await page.waitForSelector(
      'main button[aria-label="Purge the jets and lines: done"][aria-pressed=false]',
    );

    await press(page, "Go to close");
    await at(page, "close");
    const canSave = () =>
      page.$eval("main form > button", (button) => !(button as HTMLButtonElement).disabled);
    expect(await canSave()).toBe(false);
    expect(await text(page)).toMatch(/Not tested: nobody in the water/);
    await press(page, "Repair");
    expect(await canSave()).toBe(true);
    // It says nothing new of the water.
    expect(await text(page)).not.toMatch(/nobody in the water/);
    await press(page, "Save the visit");
    await page.waitForFunction((path) => location.pathname === path, {}, `/visits/${visit}`);
    await still(page);
    expect(await text(page)).toMatch(/Water not tested\. Reason: Repair\./);
    expect(await text(page)).toMatch(/Not done: Rinse the filter cartridge \(Equipment broken\)/);

    await demo.web.start();
    const kept = () =>
      inFirm(async (scope) => ({
        visit: await scope.selectFrom("visit").select("untested").where("id", "=", visit).executeTakeFirst(),
        work: await scope
          .selectFrom("visit_work")
          .select(["key", "state", "why"])
          .where("visit_id", "=", visit)
          .where("superseded_at", "is", null)
          .orderBy("key")
          .execute(),
      }));
    await expect.poll(kept).toEqual({
      visit: { untested: "repair" },
      work: [
        { key: "cartridge", state: "skipped", why: "Equipment broken" },
        { key: "tile-line", state: "done", why: "" },
      ],
    });
    await open(page, `${demo.web.address}/book`);
    expect(await text(page)).toMatch(/Not tested \(Repair\)/);
    expect(faults.join("\n")).toBe("");
  });

  it("is a list that an owner changes, and the next visit goes by", async () => {
    const { page, faults } = await demo.newPage();
    await signIn(page, demo.web.address, "tamsin@fennmoor.example");
    await open(page, `${demo.web.address}/settings/work-list?kind=spa`);
    await press(page, "+ Add your own");
    const own = (await page.$$("main li input")).at(-1);
    await own?.type("Wipe the headrests");
    await press(page, "Save list");
    await says(page, "Version 1, by Tamsin Orrell");
    // A number that is none is named, and nothing typed is lost.
    const days = await page.$('main input[aria-label="Days between: Clean the waterline"]');
    await days?.click({ count: 3 });
    await days?.type("0");
    await press(page, "Save list");
    await page.waitForSelector("main [role=alert]");
    expect(await days?.evaluate((input) => (input as HTMLInputElement).value)).toBe("0");
    const basin = await trialBasin(demo, `List spa ${uuid().slice(-4)}`);
    await open(page, `${demo.web.address}/basins/${basin}`);
    await press(page, "Start visit");
    await at(page, "look");
    await open(page, `${demo.web.address}/visits/${visitId(page)}/work`);
    await tap(page, "Wipe the headrests: done");
    await page.waitForSelector('main button[aria-label="Wipe the headrests: done"][aria-pressed=true]');
    // A pressure is typed as the gauge shows it, and kept in kPa.
    await page.select('section[aria-label="Equipment readings"] select', "filterPressure");
    const pressure = await page.waitForSelector('section[aria-label="Equipment readings"] input');
    await pressure?.type("-3");
    await page.keyboard.press("Enter");
    await says(page, "Filter pressure is -3. It must be from 0 psi to 87 psi.");
    await pressure?.click({ count: 3 });
    await pressure?.type("14.5");
    await page.keyboard.press("Enter");
    await expect
      .poll(() =>
        inFirm((scope) =>
          scope
            .selectFrom("plant_reading")
            .select("value")
            .where("visit_id", "=", visitId(page))
            .executeTakeFirst(),
        ),
      )
      .toMatchObject({ value: expect.closeTo(99.97, 1) });
    expect(faults.join("\n")).toBe("");
  });
});

describe("a place mark", () => {
  it("is made where its user turned it on, and nowhere else", async () => {
    const [first, second] = [await trialBasin(demo, "Quiet pool"), await trialBasin(demo, "Marked pool")];
    const { page, faults } = await demo.newPage(PHONE);
    await page.browserContext().overridePermissions(demo.web.address, ["geolocation"]);
    await page.setGeolocation({ latitude: 39.739153, longitude: -104.984703, accuracy: 12 });
    await signIn(page, demo.web.address);
    const begun = async (basin: string) => {
      await open(page, `${demo.web.address}/basins/${basin}`);
      await press(page, "Start visit");
      await at(page, "look");
      return visitId(page);
    };
    const placesOf = async (visit: string) =>
      (
        await inFirm((scope) =>
          scope.selectFrom("visit").select("places").where("id", "=", visit).executeTakeFirst(),
        )
      )?.places ?? null;
    const quiet = await begun(first);
    await open(page, `${demo.web.address}/settings`);
    await press(page, "Place mark");
    await press(page, "Turn on");
    await says(page, "On: visits are marked from this device.");
    const marked = await begun(second);
    await expect
      .poll(() => placesOf(marked))
      .toMatchObject({
        start: { latitude: 39.73915, longitude: -104.9847, accuracy: 12 },
      });
    expect(await placesOf(quiet)).toBeNull();
    await open(page, `${demo.web.address}/visits/${marked}/close`);
    await expect.poll(() => placesOf(marked)).toMatchObject({ end: { accuracy: 12 } });
    await press(page, "Repair");
    await press(page, "Save the visit");
    await page.waitForFunction((path) => location.pathname === path, {}, `/visits/${marked}`);
    await still(page);
    expect(await text(page)).toMatch(/Began here \(± 12 m\)\s*Ended here \(± 12 m\)/);
    // Somebody else on the same device has not turned it on.
    await page.evaluate(() => fetch("/sign-out", { method: "POST" }));
    await signIn(page, demo.web.address, "wren@fennmoor.example");
    const others = await begun(await trialBasin(demo, "Another's pool"));
    await open(page, `${demo.web.address}/settings`);
    await press(page, "Place mark");
    await says(page, "Turn on");
    expect(await placesOf(others)).toBeNull();
    // Not on what the customer reads.
    await open(page, `${demo.web.address}/visits/${marked}/customer`);
    expect(await text(page)).not.toMatch(/Began here/);
    expect(faults.join("\n")).toBe("");
    await page.close();
  });
});
