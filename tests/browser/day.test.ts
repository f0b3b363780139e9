import type { ElementHandle, Page } from "puppeteer-core";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm } from "#server/db/connection";
import { still as at, follow, open, PHONE, press, signIn } from "../../scripts/lib/browser.mjs";
import { type Demo, liesHere, openDemo, text, trialBasin, visitId } from "./demo";

/**
 * A day of eight calls on a phone without a network: four plain ones, a repair, a green pool's third day, a hotel's
 * spa whose controller is off, a dog. Every press is counted; nothing is asked for that is not due.
 */
let demo: Demo;
beforeAll(async () => {
  demo = await openDemo();
});
afterAll(() => demo?.close());

const HOUR = 3_600_000;
const inFirm = <T>(work: Parameters<typeof asFirm<T>>[2]): Promise<T> => asFirm(demo.db, demo.firmId, work);

/** A finished visit some hours ago, with these readings: what they hold is not due again. */
async function visited(
  basinId: string,
  hoursAgo: number,
  read: Record<string, number>,
  more: { look?: object; jobs?: object[]; plant?: Record<string, number> } = {},
): Promise<string> {
  const id = uuid();
  await inFirm(async (scope) => {
    const basin = await scope
      .selectFrom("basin")
      .selectAll()
      .where("id", "=", basinId)
      .executeTakeFirstOrThrow();
    const member = await scope.selectFrom("member").select("id").executeTakeFirstOrThrow();
    const at = new Date(Date.now() - hoursAgo * HOUR);
    await scope
      .insertInto("visit")
      .values({
        id,
        firm_id: demo.firmId,
        basin_id: basinId,
        member_id: member.id,
        kit_id: basin.kit_id,
        range_set_id: basin.range_set_id,
        litres: basin.litres,
        started_at: at,
        finished_at: new Date(at.getTime() + HOUR / 4),
        version: 1,
        ...(more.look ? { look: JSON.stringify(more.look) } : {}),
        ...(more.jobs ? { jobs: JSON.stringify(more.jobs) } : {}),
      })
      .execute();
    for (const [quantity, value] of Object.entries(read))
      await scope
        .insertInto("reading")
        .values({
          id: uuid(),
          firm_id: demo.firmId,
          visit_id: id,
          member_id: member.id,
          quantity,
          value,
          low: value,
          high: value,
          bound: "within",
          kit_id: basin.kit_id,
          method_id: "total-alkalinity",
          observation: JSON.stringify({ kind: "number", value }),
          doubts: "[]",
          taken_at: at,
          used: true,
          round: 0,
          why: "",
        })
        .execute();
    for (const [kind, value] of Object.entries(more.plant ?? {}))
      await scope
        .insertInto("plant_reading")
        .values({
          id: uuid(),
          firm_id: demo.firmId,
          visit_id: id,
          member_id: member.id,
          kind,
          value,
          changed: false,
          at,
        })
        .execute();
  });
  return id;
}

const ALL = {
  temperature: 37,
  freeChlorine: 4,
  combinedChlorine: 0.2,
  ph: 7.5,
  totalAlkalinity: 90,
  calciumHardness: 200,
  cyanuricAcid: 20,
  totalDissolvedSolids: 900,
};

/** Presses of a finger and of keys, and the stops that were made, since they were asked for last. */
interface Told {
  presses: number;
  stops: string[];
}

/** A technician who counts every press. */
class Hand {
  told: Told = { presses: 0, stops: [] };

  constructor(readonly page: Page) {}

  async tap(words: string): Promise<void> {
    this.told.presses++;
    await press(this.page, words);
  }

  async key(key: Parameters<Page["keyboard"]["press"]>[0], times = 1): Promise<void> {
    this.told.presses += times;
    for (let time = 0; time < times; time++) await this.page.keyboard.press(key);
  }

  async write(said: string): Promise<void> {
    this.told.presses += said.length;
    await this.page.keyboard.type(said);
  }

  stop(): string {
    return new URL(this.page.url()).pathname.split("/")[3] ?? "";
  }

  /** From the first stop to the one that is asked for: what comes is worked as it comes. */
  async until(
    last: string,
    { free = 20, ph = "7.4 to 7.6", warm = "99" }: { free?: number; ph?: string; warm?: string } = {},
  ): Promise<void> {
    for (let stops = 0; stops < 20; stops++) {
      const here = this.stop();
      this.told.stops.push(here);
      if (here === last) return;
      switch (here) {
        case "look":
        case "sample":
          await this.key("s");
          break;
        case "temperature":
          await this.page.waitForSelector("input[inputmode=decimal]");
          await this.page.focus("input[inputmode=decimal]");
          await this.write(warm);
          await this.key("Enter");
          break;
        case "freeChlorine":
          await this.page.waitForSelector("[data-count]");
          await this.key("Space", free);
          await this.key("s");
          break;
        case "combinedChlorine":
          await this.page.waitForSelector("[data-count]");
          await this.key("s");
          break;
        case "ph":
          await this.tap(ph);
          await this.key("s");
          break;
        default:
          throw new Error(`asked for ${here}, which is not due: ${await text(this.page)}`);
      }
      const isOn = this.page.waitForFunction(
        (before) => location.pathname.split("/")[3] !== before,
        { timeout: 10_000 },
        here,
      );
      await isOn.catch(async () => {
        throw new Error(`it stayed at ${here}: ${await text(this.page)}`);
      });
      await at(this.page);
    }
  }

  /** What was told of this call, and from none again. */
  done(): Told {
    const { told } = this;
    this.told = { presses: 0, stops: [] };
    return told;
  }
}

/** From the Round, by the stop's own button. */
const begin = async (hand: Hand, name: string): Promise<string> => {
  await open(hand.page, `${demo.web.address}/`);
  hand.told.presses++;
  const start = await hand.page.waitForFunction(
    (wanted) =>
      [...document.querySelectorAll("main li")]
        .find((stop) => stop.querySelector("h2")?.textContent?.endsWith(wanted))
        ?.querySelector("form button"),
    {},
    name,
  );
  await (start.asElement() as ElementHandle<HTMLButtonElement>).click();
  await at(hand.page, "look");
  return visitId(hand.page);
};
const closeVisit = async (hand: Hand, visit: string): Promise<void> => {
  await hand.page.waitForFunction(() => location.pathname.endsWith("/close"));
  await hand.tap("Save the visit");
  await hand.page.waitForFunction((path) => location.pathname === path, {}, `/visits/${visit}`);
};

describe("a day of eight calls without a network", () => {
  it("is worked on a phone, and stands in the book when there is reach again", async () => {
    const plain: string[] = [];
    const names = ["Plain one", "Plain two", "Plain three", "Plain four"];
    for (const name of names) {
      const basin = await trialBasin(demo, name);
      await visited(basin, 50, ALL);
      plain.push(basin);
    }
    const repair = await trialBasin(demo, "Ladder spa");
    await visited(repair, 50, ALL);
    const dog = await trialBasin(demo, "Dog pool", "Terrace pool");
    await visited(dog, 50, { ...ALL, temperature: 25, salt: 3000, cyanuricAcid: 70 });
    const green = await trialBasin(demo, "Green plunge", "Courtyard plunge");
    const job = {
      id: uuid(),
      kind: "green",
      begunAt: new Date(Date.now() - 48 * HOUR).toISOString(),
      by: "Wren",
      told: { days: { value: 4, low: 2, high: 7 }, money: { value: 200, low: 120, high: 320 } },
      over: null,
    };
    const greenLook = { see: ["green"], safe: [], hear: [], smell: [], feel: [], note: "" };
    await visited(
      green,
      48,
      { ...ALL, freeChlorine: 0.2, ph: 7.4, cyanuricAcid: 30, temperature: 25 },
      { look: greenLook, jobs: [job], plant: { sight: 40 } },
    );
    await visited(green, 24, { freeChlorine: 6 }, { look: greenLook, plant: { sight: 90 } });
    const hotel = await trialBasin(demo, "Hotel spa");
    for (const days of [8, 6, 4, 2]) await visited(hotel, 24 * days, ALL, { plant: { orp: 700 } });

    const { page, faults } = await demo.newPage(PHONE);
    await signIn(page, demo.web.address);
    await page.waitForFunction(() => navigator.serviceWorker.controller !== null);
    await liesHere(page, "settings", "bundle");
    for (const basin of [...plain, repair, dog, green, hotel])
      await liesHere(page, "items", `basin ${basin}`);
    await demo.web.kill();

    const hand = new Hand(page);
    const told: Record<string, Told> = {};
    const visits: string[] = [];
    for (const name of names) {
      const visit = await begin(hand, name);
      visits.push(visit);
      await hand.until("judge");
      await follow(page, `/visits/${visit}/close`);
      hand.told.presses++;
      await closeVisit(hand, visit);
      told[`plain ${visits.length}`] = hand.done();
    }

    const mended = await begin(hand, "Ladder spa");
    visits.push(mended);
    await follow(page, `/visits/${mended}/close`);
    hand.told.presses++;
    await hand.tap("Repair");
    await closeVisit(hand, mended);
    told.repair = hand.done();

    const cleared = await begin(hand, "Green plunge");
    visits.push(cleared);
    await hand.tap("cloudy");
    await hand.until("judge", { warm: "77" });
    await follow(page, `/visits/${cleared}/job`);
    hand.told.presses++;
    expect(await text(page)).toMatch(/Green pool, day 3/);
    expect(await text(page)).toMatch(/Told on the first day: 2 to 7 days/);
    expect(await text(page)).toMatch(/Closed: nobody in the water/);
    await hand.tap("Today's steps");
    await page.waitForFunction(() => /Brush walls, floor, steps/.test(document.body.innerText), {
      timeout: 20_000,
    });
    await hand.tap("Start");
    await page.waitForFunction(() => location.pathname.endsWith("/dose"));
    await follow(page, `/visits/${cleared}/close`);
    hand.told.presses++;
    await closeVisit(hand, cleared);
    told.green = hand.done();

    const controlled = await begin(hand, "Hotel spa");
    visits.push(controlled);
    await hand.until("judge");
    await follow(page, `/visits/${controlled}/work`);
    hand.told.presses++;
    await page.waitForSelector('section[aria-label="Equipment readings"] input');
    await page.focus('section[aria-label="Equipment readings"] input');
    await hand.write("760");
    await hand.key("Enter");
    // The drops are as they were: the electrode is not.
    await page.waitForFunction(() =>
      /60 mV more than this sensor usually shows/.test(document.body.innerText),
    );
    await follow(page, `/visits/${controlled}/close`);
    hand.told.presses++;
    await closeVisit(hand, controlled);
    told.hotel = hand.done();

    const guarded = await begin(hand, "Dog pool");
    visits.push(guarded);
    await hand.until("judge", { free: 10, warm: "77" });
    await follow(page, `/visits/${guarded}/close`);
    hand.told.presses++;
    await closeVisit(hand, guarded);
    told.dog = hand.done();

    await demo.web.start();
    await expect
      .poll(
        () =>
          inFirm(async (scope) => {
            const rows = await scope
              .selectFrom("visit")
              .select("id")
              .where("id", "in", visits)
              .where("finished_at", "is not", null)
              .execute();
            return rows.length;
          }),
        { timeout: 60_000 },
      )
      .toBe(8);
    // Nothing was asked for that is not due: chlorine and pH always, combined and alkalinity weekly.
    for (const name of ["plain 1", "hotel"])
      expect(told[name]?.stops, name).toEqual([
        "look",
        "sample",
        "temperature",
        "freeChlorine",
        "ph",
        "judge",
      ]);
    // 20 drops, and what stands around them.
    expect(told["plain 1"]?.presses).toBeLessThan(36);
    expect(told.repair?.presses).toBeLessThanOrEqual(5);
    expect(told.green?.presses).toBeLessThan(45);
    expect(faults.join("\n")).toBe("");
  }, 240_000);
});
