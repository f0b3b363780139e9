import { millisecondsInDay } from "date-fns/constants";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { addDays, dayIn, type FirmLearned, learnFirm, weekdayOf } from "#core";
import { asFirm } from "#server/db/connection";
import { firmOf } from "#server/db/firms";
import { productsOf } from "#server/db/products";
import { reminderOn } from "#server/db/reminders";
import { costOfVisit } from "#server/db/series";
import { trucksOf } from "#server/db/trucks";
import { startJobs } from "#server/jobs/boss";
import { dueLists, expire, tendFeeds } from "#server/jobs/nightly";
import { type RoundDay, roundOn } from "#server/round/day";
import { startWeather, weatherOn } from "#server/standins/weather";
import { webServer } from "../../scripts/lib/world.mjs";
import { type Client, clientOf, dataOf, faultText } from "../client";
import { visitWith } from "../visit";
import { openWorld, type World } from "../world";

/** The day's work: the round and its changes, the calendar, the night's jobs, stock, facts with history. */
let world: World;
let owner: Client;
let second: string;
let weather: Awaited<ReturnType<typeof startWeather>>;

const today = dayIn(new Date(), "UTC");

beforeAll(async () => {
  weather = await startWeather();
  world = await openWorld({ WEATHER: `http://127.0.0.1:${weather.port}`, JOBS: "on" });
  owner = await world.as(world.ours.ownerEmail);
  second = uuid();
  const { db, ours } = world;
  await asFirm(db, ours.id, async (scope) => {
    const site = await scope
      .updateTable("site")
      .set({ district: "Upper Town, Orrin Vale" })
      .returning("id")
      .executeTakeFirstOrThrow();
    await scope
      .insertInto("basin")
      .values({
        id: second,
        firm_id: ours.id,
        site_id: site.id,
        name: "Spa",
        kind: "spa",
        surface: "acrylic",
        litres: 1500,
        kit_id: ours.kitId,
        range_set_id: ours.rangeSetId,
        call_days: [weekdayOf(today)],
        position: 1,
      })
      .execute();
  });
});
afterAll(async () => {
  await world.close();
  await weather.stop();
});

const round = async (day = today, client = world.http): Promise<RoundDay> => {
  const loaded = await dataOf<Record<string, { data: { round: RoundDay } }>>(
    await client.get(`/_root.data?day=${day}&_routes=routes/round/route`),
  );
  const data = loaded["routes/round/route"]?.data.round;
  if (!data) throw new Error("no round");
  return data;
};
const send = (body: object, client = world.http) => client.postJson("/_root.data?index", body);
const names = ({ calls }: RoundDay) => calls.map((call) => call.basin.name);

describe("the round", () => {
  it("has the calls of the plan, in order, with what is due and its reasons", async () => {
    const shown = await round();
    expect(names(shown)).toEqual(["Pool", "Spa"]);
    expect(shown.calls[0]?.due).toContain("freeChlorine");
    expect(shown.calls[0]?.tasks.map((task) => task.task)).toContain("shock");
    expect(shown.reagents.map((use) => use.reagent)).toContain("phenol red");
    expect(names(await round(addDays(today, 1)))).toEqual(["Pool"]);
  });

  it("is put in order by one, and the other who saw the old one is told", async () => {
    const { version, day } = await round();
    const order = [second, world.ours.basinId];
    expect((await send({ command: "order-calls", day, version, basinIds: order })).status).toBe(200);
    expect(names(await round())).toEqual(["Spa", "Pool"]);
    const stale = await send({ command: "order-calls", day, version, basinIds: order.toReversed() }, owner);
    expect(stale.status).toBe(422);
    expect(await faultText(stale)).toMatch(/Someone else/);
    expect(names(await round())).toEqual(["Spa", "Pool"]);
  });

  it("lets one of two who write at the same moment through", async () => {
    const { version, day } = await round(addDays(today, 1));
    const answers = await Promise.all(
      [world.http, owner, world.http, owner].map((client) =>
        send({ command: "assign-call", day, version, basinId: second, memberId: null }, client),
      ),
    );
    expect(answers.map((answer) => answer.status).sort()).toEqual([200, 422, 422, 422]);
    expect(names(await round(addDays(today, 1)))).toEqual(["Pool", "Spa"]);
  });

  it("keeps why a call was skipped, and takes that back", async () => {
    const skip = (why: string) => send({ command: "skip-call", day: today, basinId: second, why });
    await skip("frozen gate");
    expect((await round()).calls.find((call) => call.basin.id === second)?.skipped).toEqual({
      why: "frozen gate",
      by: "Tech",
    });
    await skip("");
    expect((await round()).calls.find((call) => call.basin.id === second)?.skipped).toBeNull();
  });

  it("asks after a call that nobody made, until somebody says why", async () => {
    const { db, ours, http } = world;
    const visit = await visitWith(db, ours, http, { ph: [7.4, 7.6], chlorine: 3 });
    await http.post(`/visits/${visit}/close`, new URLSearchParams({ note: "" }));
    await asFirm(db, ours.id, (scope) =>
      scope
        .updateTable("visit")
        .set({ started_at: new Date(Date.now() - 4 * millisecondsInDay) })
        .where("id", "=", visit)
        .execute(),
    );
    const missed = async () => (await round()).missed;
    expect(await missed()).toEqual([{ basinId: ours.basinId, name: "Site, Pool", day: addDays(today, -1) }]);
    await send({ command: "skip-call", day: addDays(today, -1), basinId: ours.basinId, why: "road closed" });
    expect(await missed()).toEqual([]);
  });

  it("calls the day before a party, and takes the event back", async () => {
    const party = addDays(today, 3);
    const id = uuid();
    const event = { command: "add-event", id, basinId: second, day: party, name: "Party" };
    await send(event);
    await send(event);
    const before = await round(addDays(party, -1));
    expect(names(before)).toContain("Spa");
    expect(before.calls.find((call) => call.basin.id === second)?.events).toMatchObject([
      { name: "Party", day: party },
    ]);
    await send({ command: "remove-event", id });
    expect(names(await round(addDays(party, -1)))).not.toContain("Spa");
  });

  it("ticks a task off", async () => {
    await send({ command: "tick-task", id: uuid(), basinId: second, task: "shock" });
    const tasks = (await round()).calls
      .find((call) => call.basin.id === second)
      ?.tasks.map((task) => task.task);
    expect(tasks).not.toContain("shock");
  });

  it("says what is wrong, and touches nothing of another firm", async () => {
    const { theirs } = world;
    expect(
      await faultText(await send({ command: "skip-call", day: "2026-02-30", basinId: second, why: "x" })),
    ).toMatch(/day/i);
    expect(
      await faultText(await send({ command: "skip-call", day: today, basinId: theirs.basinId, why: "x" })),
    ).toMatch(/basin/);
    const { version, day } = await round();
    const call = { command: "assign-call", day, version, basinId: second };
    expect(await faultText(await send({ ...call, memberId: theirs.memberId }))).toMatch(/person/);
    // What was refused did not take the day.
    expect((await round()).version).toBe(version);
  });
});

describe("the calendar", () => {
  const make = async (client: Client, mine: boolean) => {
    const answer = await client.postJson("/settings/calendar.data", {
      command: "make-feed",
      id: uuid(),
      mine,
    });
    return (await dataOf<{ data: { token: string } }>(answer)).data.token;
  };
  /** Lines of an iCalendar file, unfolded. */
  const lines = (text: string) => text.replace(/\r\n[ \t]/g, "").split("\r\n");

  it("is an iCalendar file of whole days under its secret, and nobody else's", async () => {
    const token = await make(world.http, false);
    const nobody = clientOf(world.web.address);
    const answer = await nobody.get(`/calendar/${token}.ics`);
    expect(answer.headers.get("content-type")).toMatch(/text\/calendar/);
    const text = await answer.text();
    const all = lines(text);
    expect(all[0]).toBe("BEGIN:VCALENDAR");
    expect(all.filter((line) => line.startsWith("SUMMARY:Site")).length).toBeGreaterThan(60);
    const ownDay = today.replaceAll("-", "");
    expect(all).toContain(`DTSTART;VALUE=DATE:${ownDay}`);
    expect(all.filter((line) => line.startsWith("UID:")).length).toBe(
      new Set(all.filter((line) => line.startsWith("UID:"))).size,
    );
    // Lines are folded at 75 octets.
    for (const line of text.split("\r\n")) expect(Buffer.byteLength(line)).toBeLessThanOrEqual(75);
    for (const wrong of ["x", `${token}x`, token.slice(1)])
      expect((await nobody.get(`/calendar/${wrong}.ics`)).status).toBe(404);
  });

  it("leaves out what is skipped and, where only one's own are wanted, what others do", async () => {
    const { ours, http, web } = world;
    const { version } = await round(addDays(today, 1));
    await send({
      command: "assign-call",
      day: addDays(today, 1),
      version,
      basinId: ours.basinId,
      memberId: ours.ownerId,
    });
    await send({ command: "skip-call", day: addDays(today, 2), basinId: ours.basinId, why: "holiday" });
    const read = async (token: string) =>
      lines(await (await clientOf(web.address).get(`/calendar/${token}.ics`)).text());
    const uid = (ahead: number) => `UID:${ours.basinId}-${addDays(today, ahead)}@pelagon`;
    const all = await read(await make(http, false));
    expect(all).toContain(uid(1));
    expect(all).not.toContain(uid(2));
    expect(await read(await make(http, true))).not.toContain(uid(1));
    expect(await read(await make(owner, true))).toContain(uid(1));
  });

  it("opens no longer once its secret is withdrawn, by whoever made it or an owner", async () => {
    const nobody = clientOf(world.web.address);
    const token = await make(owner, true);
    const [newest] = (
      await asFirm(world.db, world.ours.id, (scope) =>
        scope.selectFrom("feed").select("id").orderBy("made_at", "desc").execute(),
      )
    ).map((row) => row.id);
    const withdraw = (client: Client) =>
      client.postJson("/settings/calendar.data", { command: "withdraw-feed", id: newest });
    expect((await withdraw(world.http)).status).toBe(422);
    expect((await nobody.get(`/calendar/${token}.ics`)).status).toBe(200);
    expect((await withdraw(owner)).status).toBe(200);
    expect((await nobody.get(`/calendar/${token}.ics`)).status).toBe(404);
  });
});

describe("the night", () => {
  it("makes each firm's due list, the same again when it runs twice", async () => {
    const { db, ours } = world;
    const reminder = () => asFirm(db, ours.id, (scope) => reminderOn(scope, today));
    await asFirm(db, ours.id, (scope) =>
      scope
        .updateTable("product")
        .set({ stock_grams: 400, stock_counted_at: new Date(), reorder_grams: 500 })
        .where("compound", "=", "borax")
        .execute(),
    );
    expect(await dueLists(db, new Date())).toMatchObject({ count: 2, failed: [] });
    const first = await reminder();
    expect(first).toMatchObject({ calls: 2, reorder: ["borax"] });
    await dueLists(db, new Date());
    expect(await reminder()).toEqual(first);
  });

  it("closes links past their day and addresses of people who are gone", async () => {
    const { db, ours } = world;
    const visit = await asFirm(db, ours.id, (scope) =>
      scope.selectFrom("visit").select("id").executeTakeFirstOrThrow(),
    );
    await world.http.postJson(`/visits/${visit.id}/customer`, {
      command: "share-sheet",
      id: uuid(),
      days: 7,
    });
    const open = () =>
      asFirm(
        db,
        ours.id,
        async (scope) =>
          (await scope.selectFrom("share").selectAll().where("withdrawn_at", "is", null).execute()).length,
      );
    expect(await open()).toBe(1);
    // Past its day it opens nothing; for good it is closed when no clock can be so wrong.
    await expire(db, new Date(Date.now() + 20 * millisecondsInDay));
    expect(await open()).toBe(1);
    expect((await expire(db, new Date(Date.now() + 38 * millisecondsInDay))).failed).toEqual([]);
    expect(await open()).toBe(0);
    const disable = (at: Date | null) =>
      asFirm(db, ours.id, (scope) =>
        scope.updateTable("member").set({ disabled_at: at }).where("id", "=", ours.memberId).execute(),
      );
    await disable(new Date());
    expect((await tendFeeds(db, new Date())).failed).toEqual([]);
    await disable(null);
  });

  it("runs from the queue, and the owner sees it", async () => {
    const faults: unknown[] = [];
    const jobs = await startJobs(
      world.db,
      { url: world.addresses.url, ownerUrl: world.addresses.ownerUrl, works: true },
      () => new Date(),
      {
        weatherBetween: async () => [],
        learn: async (log) => learnFirm(log) as FirmLearned,
        hold: async (bases) => bases.map(() => ({ hold: null, worth: null })),
        importFile: async () => false,
        letter: async () => ({ subject: "", text: "" }),
        publicUrl: "http://127.0.0.1",
        secretsKey: null,
        hooksInside: false,
      },
      (fault) => faults.push(fault),
    );
    try {
      await jobs.send("expiry", world.ours.id);
      await expect
        .poll(async () => (await jobs.recent(world.ours.id)).find((run) => run.name === "expiry")?.state, {
          timeout: 90_000,
        })
        .toBe("completed");
      // What one firm asked for is not shown to another.
      expect((await jobs.recent(world.theirs.id)).filter(({ name }) => name === "expiry")).toEqual([]);
    } finally {
      await jobs.stop();
    }
    expect(faults).toEqual([]);
    const page = await (await owner.get("/settings/health")).text();
    expect(page).toContain("done");
    expect((await world.http.get("/settings/health")).status).toBe(403);
  });
});

describe("stock", () => {
  const product = async (compound: string, memberId: string | null = null) => {
    const all = await asFirm(world.db, world.ours.id, (scope) => productsOf(scope, memberId));
    const found = all.find((one) => one.product === compound);
    if (!found) throw new Error(compound);
    return found;
  };

  it("is loaded onto a truck off the shelf, and drawn down there by who drives it", async () => {
    const { db, ours, http } = world;
    const acid = await product("hydrochloric-acid");
    await asFirm(db, ours.id, (scope) =>
      scope
        .updateTable("product")
        .set({ stock_grams: 20_000, stock_counted_at: new Date(), price_per_kg: 2 })
        .where("id", "=", acid.id)
        .execute(),
    );
    const truckId = uuid();
    const trucks = (body: object) => http.postJson("/shelf/trucks.data", body);
    await trucks({ command: "save-truck", id: truckId, name: "Van", memberId: ours.memberId });
    expect(
      await faultText(
        await trucks({ command: "save-truck", id: uuid(), name: "Other", memberId: ours.memberId }),
      ),
    ).toMatch(/Van/);
    const load = { command: "load-truck", truckId, productId: acid.id, how: "loaded" };
    expect(await faultText(await trucks({ ...load, grams: 20_001 }))).toMatch(/20001.*20,000/);
    expect((await trucks({ ...load, grams: 5000 })).status).toBe(200);
    expect((await product("hydrochloric-acid")).left).toBe(15_000);
    expect((await product("hydrochloric-acid", ours.memberId)).left).toBe(5000);

    const visit = await visitWith(db, ours, http, {
      ph: [8, 8.2],
      alkalinity: 100,
      hardness: 300,
      stabiliser: 40,
      chlorine: 3,
    });
    const given = { id: uuid(), code: "ph.high", productId: acid.id, givenGrams: 800 };
    expect((await http.postJson(`/visits/${visit}/dose.data`, given)).status).toBe(200);
    expect((await product("hydrochloric-acid")).left).toBe(15_000);
    expect((await product("hydrochloric-acid", ours.memberId)).left).toBe(4200);
    expect((await asFirm(db, ours.id, trucksOf))[0]?.stock).toMatchObject([{ left: 4200 }]);
    // A price that came later does not change what the visit cost.
    const cost = () => asFirm(db, ours.id, (scope) => costOfVisit(scope, visit));
    expect(await cost()).toBeCloseTo(1.6);
    const { id, name, strength, density } = acid;
    const sent = { id, product: "hydrochloric-acid", name, strength, density, planned: true, reorder: 9000 };
    await asFirm(db, ours.id, (scope) =>
      scope
        .insertInto("product_price")
        .values({ firm_id: ours.id, product_id: id, price_per_kg: 2, known_from: new Date(0) })
        .execute(),
    );
    expect(
      (await http.postJson("/shelf/products.data", { command: "save-product", ...sent, pricePerKg: 9 }))
        .status,
    ).toBe(200);
    expect(await cost()).toBeCloseTo(1.6);
    expect((await product("hydrochloric-acid")).reorder).toBe(9000);
  });
});

describe("the facts of a basin", () => {
  it("change with their history, and one wrong field changes none", async () => {
    const { ours, http } = world;
    const page = `/basins/${ours.basinId}/facts`;
    const facts = (
      await dataOf<Record<string, { data: { facts: Record<string, unknown> } }>>(
        await http.get(`${page}.data?_routes=routes/basin/facts`),
      )
    )["routes/basin/facts"]?.data.facts;
    const wrong = await http.postJson(`${page}.data`, { ...facts, name: "Renamed", everyWeeks: 27 });
    expect(await faultText(wrong)).toMatch(/weeks is 27. The most allowed is 26/i);
    const right = {
      ...facts,
      name: "Long pool",
      season: { from: "05-01", to: "09-30" },
      cadence: { tests: { totalAlkalinity: 14 } },
      equipment: {
        pumpHours: 8,
        bathers: null,
        feeder: "salt-cell",
        cellGrams: 20,
        cellSalt: { low: 2700, high: 3400 },
        cover: null,
      },
    };
    expect((await http.postJson(`${page}.data`, right)).status).toBe(200);
    const shown = await (await http.get(page)).text();
    expect(shown).toMatch(/name: Pool → Long pool/);
    expect(shown).toMatch(/season: nothing → (from 05-01, to 09-30|to 09-30, from 05-01)/);
    // Next year's: days near today have calls that other tests moved there.
    const year = Number(today.slice(0, 4)) + 1;
    expect(names(await round(`${year}-12-01`))).not.toContain("Long pool");
    expect(names(await round(`${year}-06-01`))).toContain("Long pool");
  });
});

describe("the weather", () => {
  it("is the same for everybody, warm in summer, and noted at the close of a visit", async () => {
    const { db, ours, http } = world;
    const ask = async (query: string) => fetch(`http://127.0.0.1:${weather.port}/days?${query}`);
    const july = weatherOn("Lower Town, Orrin Vale", "2026-07-20");
    const january = weatherOn("Lower Town, Orrin Vale", "2026-01-20");
    expect(july && january && july.high - january.high).toBeGreaterThan(12);
    expect(july && january && july.evaporation / january.evaporation).toBeGreaterThan(2);
    const days = await (
      await ask("district=Lower%20Town%2C%20Orrin%20Vale&from=2026-07-19&to=2026-07-21")
    ).json();
    expect(days.days[1]).toEqual(july);
    for (let day = "2026-01-01"; day < "2027-01-01"; day = addDays(day, 1)) {
      const one = weatherOn("Upper Town, Orrin Vale", day);
      if (!one) throw new Error(day);
      expect(one.low).toBeLessThan(one.high);
      // Days are 9.3 to 15.1 h long at 40° north.
      expect(one.sun).toBeLessThanOrEqual(15.2);
      expect(one.evaporation).toBeLessThan(9);
    }
    expect((await ask("district=Nowhere&from=2026-07-19")).status).toBe(404);
    expect((await ask("district=Lower%20Town%2C%20Orrin%20Vale&from=2026-02-30")).status).toBe(400);
    const visit = await visitWith(db, ours, http, { ph: [7.4, 7.6], chlorine: 3 });
    await http.post(`/visits/${visit}/close`, new URLSearchParams({ note: "" }));
    const kept = await asFirm(db, ours.id, (scope) =>
      scope.selectFrom("visit").select("weather").where("id", "=", visit).executeTakeFirstOrThrow(),
    );
    expect(kept.weather).toEqual(weatherOn("Upper Town, Orrin Vale", today));
  });
});

describe("a round that is looked at again", () => {
  beforeAll(() =>
    asFirm(world.db, world.ours.id, (scope) =>
      scope
        .updateTable("basin")
        .set({ call_days: [1, 2, 3, 4, 5, 6, 7], every_weeks: 1, season_from: null, season_to: null })
        .where("id", "=", world.ours.basinId)
        .execute(),
    ),
  );

  it("shows the call of a past day as made, whatever was done since", async () => {
    const { db, ours, http } = world;
    const made = addDays(today, -3);
    for (const day of [made, today]) {
      const visit = await visitWith(db, ours, http, { ph: [7.4, 7.6], chlorine: 3, alkalinity: 100 });
      await http.post(`/visits/${visit}/close`, new URLSearchParams({ note: "" }));
      await asFirm(db, ours.id, (scope) =>
        scope
          .updateTable("visit")
          .set({
            started_at: new Date(`${day}T00:30:00Z`),
            finished_at: new Date(`${day}T00:40:00Z`),
          })
          .where("id", "=", visit)
          .execute(),
      );
    }
    const doneOn = (day: string) =>
      asFirm(db, ours.id, async (scope) => {
        const { calls } = await roundOn(scope, await firmOf(scope), day, new Date());
        return calls.find((call) => call.basin.id === ours.basinId)?.done;
      });
    expect(await doneOn(made)).toBe(true);
    expect(await doneOn(addDays(today, -2))).toBe(false);
    expect(await doneOn(today)).toBe(true);
  });

  it("counts drops by the basin's own limits, where it has some", async () => {
    const { db, ours } = world;
    const drops = () =>
      asFirm(db, ours.id, async (scope) => {
        const { reagents } = await roundOn(scope, await firmOf(scope), addDays(today, 40), new Date());
        return reagents.filter((use) => use.measure === "drops");
      });
    const usual = await drops();
    await asFirm(db, ours.id, (scope) =>
      scope
        .updateTable("basin")
        .set({ range_overrides: JSON.stringify({ totalAlkalinity: { low: 10, high: 600 } }) })
        .where("id", "=", ours.basinId)
        .execute(),
    );
    // An alkalinity of 100 lies near its usual limits, and far from these: a smaller sample, fewer drops.
    const own = await drops();
    const sum = (uses: typeof own) => uses.reduce((all, use) => all + use.amount, 0);
    expect(sum(own)).toBeLessThan(sum(usual));
  });
});

describe("the work of the night", () => {
  it("is done for every firm, also after one that goes wrong", async () => {
    const { db, ours, theirs } = world;
    const day = addDays(today, 0);
    // Content that no version of ours ever wrote: whoever reads it breaks.
    await asFirm(db, ours.id, (scope) =>
      scope.updateTable("firm").set({ time_zone: "Nowhere/Here" }).execute(),
    );
    const night = await dueLists(db, new Date());
    await asFirm(db, ours.id, (scope) => scope.updateTable("firm").set({ time_zone: "UTC" }).execute());
    expect(night.count).toBe(1);
    expect(night.failed).toHaveLength(1);
    expect(await asFirm(db, theirs.id, (scope) => reminderOn(scope, day))).not.toBeNull();
  });

  it("is put into the queue by a server that does none of it itself", async () => {
    const { addresses, ours } = world;
    const web = await webServer(addresses, { JOBS: "off" });
    try {
      const client = clientOf(web.address);
      await client.as(ours.ownerEmail);
      const runs = async () =>
        (
          await dataOf<Record<string, { data: { runs: { name: string; state: string }[] | null } }>>(
            await client.get("/settings/health.data?_routes=routes/health/page"),
          )
        )["routes/health/page"]?.data.runs ?? [];
      const done = async () =>
        (await runs()).filter(({ name, state }) => name === "expiry" && state === "completed").length;
      const before = await done();
      // The queue may not have started yet.
      await expect
        .poll(
          async () =>
            (await client.post("/settings/health.data", new URLSearchParams({ run: "expiry" }))).status,
          { timeout: 15_000 },
        )
        .toBe(200);
      await expect.poll(done, { timeout: 30_000 }).toBe(before + 1);
    } finally {
      await web.stop();
    }
  });
});
