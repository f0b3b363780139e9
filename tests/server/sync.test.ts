import { millisecondsInDay } from "date-fns/constants";
import { parse } from "devalue";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import type { CommandBasis } from "#core";
import { asFirm } from "#server/db/connection";
import type { Bundle } from "../../app/device/bundle.server";
import type { SyncAnswer } from "../../app/device/take-commands.server";
import { type Client, clientOf } from "../client";
import { openWorld, type World } from "../world";

/** What devices send when they come back into reach, and what they take along. */
let world: World;
let http: Client;
beforeAll(async () => {
  world = await openWorld();
  http = world.http;
});
afterAll(() => world.close());

type Told = SyncAnswer;

const NOTHING_SEEN: CommandBasis = { version: 0, plans: 0, readings: [], looked: false, sampled: false };

/** A device with a clock of its own, whatever it says. */
function device(client: Client, { clock = 0 } = {}) {
  const name = uuid();
  let sequence = 0;
  const now = () => new Date(Date.now() + clock);
  return {
    command: (
      command: string,
      visitId: string,
      given: object,
      { seen = {}, id = uuid(), ago = 0 }: { seen?: Partial<CommandBasis>; id?: string; ago?: number } = {},
    ) => ({
      id,
      name: command,
      visitId,
      given,
      made: {
        device: name,
        sequence: sequence++,
        at: new Date(now().getTime() - ago),
        seen: { ...NOTHING_SEEN, ...seen },
      },
    }),
    async send(...commands: object[]): Promise<Told> {
      const answer = await client.postJson("/sync", { sentAt: now(), commands });
      expect(answer.status).toBe(200);
      return parse(await answer.text()) as Told;
    },
  };
}

const test = (methodId: string, count: number, sample = 25) => ({
  id: uuid(),
  methodId,
  seen: { kind: "drops", count, sample },
});
const LOOK = { see: [], hear: [], smell: [], feel: [], note: "" };

const basins: string[] = [];
/** A basin of its own for each story. */
async function newBasin(): Promise<string> {
  const id = uuid();
  await asFirm(world.db, world.ours.id, async (scope) => {
    const like = await scope
      .selectFrom("basin")
      .selectAll()
      .where("id", "=", world.ours.basinId)
      .executeTakeFirstOrThrow();
    await scope
      .insertInto("basin")
      .values({
        ...like,
        id,
        name: `Basin ${basins.push(id)}`,
        equipment: like.equipment === null ? null : JSON.stringify(like.equipment),
        cadence: null,
        range_overrides: null,
      })
      .execute();
  });
  return id;
}

const start = async (from: ReturnType<typeof device>, basinId: string, visitId = uuid()) => {
  const { results } = await from.send(from.command("start", visitId, { basinId }, { id: visitId }));
  const [result] = results;
  return result?.visitId ?? "";
};

describe("commands from a device", () => {
  it("are taken in their order and answered one by one, the same again as the first time", async () => {
    const phone = device(http);
    const basinId = await newBasin();
    const visitId = uuid();
    const alkalinity = test("total-alkalinity", 10);
    const commands = [
      phone.command("start", visitId, { basinId }, { id: visitId }),
      phone.command("look", visitId, { ...LOOK, see: ["cloudy"] }),
      phone.command("read", visitId, { tests: [alkalinity] }),
      phone.command("close", visitId, { note: "from the plant room" }),
    ];
    const told = await phone.send(...commands);
    expect(told.results.map((one) => ("fault" in one ? one.fault : "kept"))).toEqual(Array(4).fill("kept"));
    const [visit] = told.visits;
    expect(visit?.written).toMatchObject({
      version: 3,
      note: "from the plant room",
      look: { see: ["cloudy"] },
      readings: [{ quantity: "totalAlkalinity", value: 100 }],
    });
    const again = await phone.send(...commands);
    expect(again.results).toEqual(told.results);
    expect(again.visits[0]?.written.version).toBe(3);
  });
});

describe("work of somebody else", () => {
  it("is not taken in under the cookie of who is signed in: none of it, a photo neither", async () => {
    const { db, ours } = world;
    const phone = device(http);
    const basinId = await newBasin();
    const visitId = uuid();
    const commands = [
      phone.command("start", visitId, { basinId }, { id: visitId }),
      phone.command("look", visitId, { ...LOOK, see: ["cloudy"] }),
    ];
    const sent = (member: string) => http.postJson("/sync", { member, sentAt: new Date(), commands });
    const others = await sent(ours.ownerId);
    expect(others.status).toBe(409);
    expect(others.headers.get("x-pelagon-fault")).toBe("other-member");
    const kept = () =>
      asFirm(db, ours.id, (scope) =>
        scope.selectFrom("visit").select("id").where("id", "=", visitId).execute(),
      );
    expect(await kept()).toEqual([]);
    // Their own it takes; a build that does not say whose it is, too.
    expect((await sent(ours.memberId)).status).toBe(200);
    expect(await kept()).toEqual([{ id: visitId }]);
    const form = new FormData();
    form.set("id", uuid());
    form.set("member", ours.ownerId);
    form.set("photo", new Blob([new Uint8Array(100)], { type: "image/png" }), "p.png");
    expect((await http.post(`/visits/${visitId}/photos`, form)).status).toBe(409);
  });
});

describe("a count of drops", () => {
  it("is answered by itself, and nothing of its visit is read or told beside it", async () => {
    const phone = device(http);
    const visitId = await start(phone, await newBasin());
    const given = { methodId: "total-alkalinity", drops: 4, sample: 25, sequence: 4 };
    const told = await phone.send(
      phone.command("count", visitId, given),
      phone.command("count", visitId, { ...given, drops: 9, sequence: 9 }),
      phone.command("count", visitId, given),
    );
    expect(told.visits).toEqual([]);
    expect(told.counts.map(({ stands }) => stands.drops)).toEqual([4, 9, 9]);
    // With something else of the same visit all of it is told.
    const both = await phone.send(
      phone.command("look", visitId, LOOK),
      phone.command("count", visitId, { ...given, drops: 10, sequence: 10 }),
    );
    expect(both.visits[0]?.written.counts["total-alkalinity"]).toMatchObject({ drops: 10 });
  });
});

describe("somebody who is removed, or reads along from now on", () => {
  it("gets none of the rest of a batch in that is on its way", async () => {
    const { db, ours } = world;
    const phone = device(http);
    const visitId = await start(phone, await newBasin());
    const commands = Array.from({ length: 50 }, () => phone.command("look", visitId, LOOK));
    const member = (change: object) =>
      asFirm(db, ours.id, (scope) =>
        scope.updateTable("member").set(change).where("id", "=", ours.memberId).execute(),
      );
    const done = () =>
      asFirm(db, ours.id, (scope) =>
        scope
          .selectFrom("command")
          .select(({ fn }) => fn.countAll<string>().as("many"))
          .where(
            "id",
            "in",
            commands.map(({ id }) => id),
          )
          .executeTakeFirstOrThrow(),
      ).then(({ many }) => Number(many));
    const answer = http.postJson("/sync", { sentAt: new Date(), commands });
    await vi.waitFor(async () => expect(await done()).toBeGreaterThan(0), { interval: 5 });
    await member({ disabled_at: new Date() });
    try {
      const told = parse(await (await answer).text()) as Told;
      const kept = await done();
      expect(kept).toBeLessThan(50);
      // What was done is told, and nothing more; the rest waits for somebody who may.
      expect(told.results).toHaveLength(kept);
      expect((await http.postJson("/sync", { sentAt: new Date(), commands })).status).toBe(302);
    } finally {
      await member({ disabled_at: null });
    }
    await member({ role: "reader" });
    try {
      expect((await http.postJson("/sync", { sentAt: new Date(), commands })).status).toBe(403);
    } finally {
      await member({ role: "technician" });
    }
  });
});

describe("two devices at one visit", () => {
  const written = async (from: ReturnType<typeof device>, visitId: string) => {
    const { visits } = await from.send(from.command("hide-photo", visitId, { photoId: uuid() }));
    const [visit] = visits;
    if (!visit) throw new Error("no such visit");
    return visit.written;
  };

  it("that made the same test apart from one another both stand in it, the narrower is used", async () => {
    const [one, two] = [device(http), device(await world.as(world.ours.ownerEmail))];
    const visitId = await start(one, await newBasin());
    const [first, second] = [test("total-alkalinity", 10), test("total-alkalinity", 11)];
    await one.send(one.command("read", visitId, { tests: [first] }));
    await two.send(two.command("read", visitId, { tests: [second] }));
    const { readings, trail } = await written(one, visitId);
    expect(readings.map(({ value, used, by }) => [value, used, by])).toEqual([
      [100, true, "Tech"],
      [110, false, "Owner"],
    ]);
    expect(trail).toEqual([]);
    // By hand one takes the place of the other, once it is known.
    const third = test("total-alkalinity", 9);
    const seen = { version: 2, readings: [first.id, second.id] };
    await one.send(one.command("read", visitId, { tests: [third] }, { seen }));
    const after = await written(one, visitId);
    expect(after.trail).toHaveLength(1);
    expect(after.readings.map(({ value }) => value).sort()).toEqual([110, 90].sort());
  });

  it("closed on one while the other counts: what comes late is taken in and marked", async () => {
    const [one, two] = [device(http), device(await world.as(world.ours.ownerEmail))];
    const visitId = await start(one, await newBasin());
    await one.send(
      one.command("read", visitId, { tests: [test("total-alkalinity", 10)] }),
      one.command("close", visitId, { note: "done" }, { seen: { version: 1 } }),
    );
    const { results } = await two.send(
      two.command("count", visitId, {
        methodId: "calcium-hardness",
        drops: 60,
        ahead: 0,
        idle: 0,
        sample: 25,
        holder: "two",
        term: 0,
        sequence: 60,
      }),
      two.command("read", visitId, {
        tests: [{ ...test("calcium-hardness", 60), confirmed: ["unlikely-change"] }],
      }),
      two.command("close", visitId, { note: "hardness too" }),
    );
    expect(results.map((result) => ("fault" in result ? result.fault.code : result.answer))).toEqual([
      null,
      "cyanuricAcid",
      "before",
    ]);
    const after = await written(one, visitId);
    expect(after.note).toBe("done\nhardness too");
    expect(after.readings.map(({ quantity, late }) => [quantity, late ?? false])).toEqual([
      ["totalAlkalinity", false],
      ["calciumHardness", true],
    ]);
    expect(after.counts["calcium-hardness"]).toMatchObject({ drops: 60 });
    expect(await (await http.get(`/visits/${visitId}`)).text()).toContain("arrived after the close");
    const found = await asFirm(world.db, world.ours.id, (scope) =>
      scope.selectFrom("finding").select("code").where("visit_id", "=", visitId).execute(),
    );
    expect(found.map(({ code }) => code)).toContain("calciumHardness.high");
  });

  it("keep the volume that the visit was begun with, though the basin's was changed meanwhile", async () => {
    const phone = device(http);
    const basinId = await newBasin();
    const visitId = uuid();
    const begun = phone.command("start", visitId, { basinId, litres: 33_000 }, { id: visitId });
    await asFirm(world.db, world.ours.id, (scope) =>
      scope.updateTable("basin").set({ litres: 50_000 }).where("id", "=", basinId).execute(),
    );
    const { visits } = await phone.send(begun);
    expect(visits[0]?.brought).toMatchObject({ visit: { litres: 33_000 }, basin: { litres: 50_000 } });
  });

  it("one a day late and its clock a year off: what it did stands when it was done", async () => {
    const phone = device(http, { clock: -365 * millisecondsInDay });
    const basinId = await newBasin();
    const visitId = uuid();
    const day = millisecondsInDay;
    const alkalinity = test("total-alkalinity", 10);
    const { visits } = await phone.send(
      phone.command("start", visitId, { basinId }, { id: visitId, ago: day }),
      phone.command("read", visitId, { tests: [alkalinity] }, { ago: day - 600_000 }),
    );
    const { visit } = visits[0]?.brought ?? {};
    const age = (at: Date | undefined) => (Date.now() - (at?.getTime() ?? 0)) / day;
    expect(age(visit?.startedAt)).toBeCloseTo(1, 2);
    expect(age(visits[0]?.written.readings[0]?.takenAt)).toBeCloseTo(1 - 600_000 / day, 2);
    const kept = await asFirm(world.db, world.ours.id, (scope) =>
      scope
        .selectFrom("command")
        .select(["name", "device", "given_at", "received_at", "sequence"])
        .where("name", "in", ["read", "start-visit"])
        .orderBy("received_at", "desc")
        .limit(2)
        .execute(),
    );
    // Both clocks are kept, and whose device it was, of the start as of the rest.
    expect(kept.map(({ name }) => name).sort()).toEqual(["read", "start-visit"]);
    for (const { received_at, given_at } of kept)
      expect((received_at.getTime() - (given_at?.getTime() ?? 0)) / day).toBeGreaterThan(365);
    expect(new Set(kept.map(({ device: name }) => name)).size).toBe(1);
    expect(kept.map(({ sequence }) => sequence).sort()).toEqual([0, 1]);
  });

  it("that both began one are at the one that was there first", async () => {
    const [one, two] = [device(http), device(await world.as(world.ours.ownerEmail))];
    const basinId = await newBasin();
    const first = await start(one, basinId);
    const mine = uuid();
    const { results, visits } = await two.send(
      two.command("start", mine, { basinId }, { id: mine }),
      two.command("read", mine, { tests: [test("total-alkalinity", 12)] }),
    );
    expect(results.map(({ visitId }) => visitId)).toEqual([first, first]);
    expect(visits[0]?.written.readings).toMatchObject([{ value: 120, visitId: first }]);
  });
});

describe("what cannot be taken", () => {
  it("is told by command, and holds up nothing else", async () => {
    const phone = device(http);
    const visitId = await start(phone, await newBasin());
    const { results } = await phone.send(
      phone.command("read", visitId, { tests: [test("no-such-test", 10)] }),
      phone.command("look", visitId, { ...LOOK, see: ["a ghost"] }),
      phone.command("look", uuid(), LOOK),
      phone.command("look", visitId, LOOK),
    );
    expect(
      results.map((result) => ("fault" in result ? `${result.fault.field}: ${result.fault.code}` : "kept")),
    ).toEqual(["methodId: unknown", "see.0: unknown", "visit: not-there", "kept"]);
  });

  it("is another's command under the same id, and another firm's visit", async () => {
    const phone = device(http);
    const visitId = await start(phone, await newBasin());
    const look = phone.command("look", visitId, LOOK);
    await phone.send(look);
    const owner = device(await world.as(world.ours.ownerEmail));
    const stranger = device(await world.as(world.theirs.email));
    expect((await owner.send(look)).results).toMatchObject([{ fault: { code: "key-taken" } }]);
    expect((await stranger.send(look)).results).toMatchObject([
      { fault: { code: "not-there", field: "visit" } },
    ]);
    expect((await stranger.send(look)).visits).toEqual([]);
  });

  it("is what nobody can read, and what comes from nobody", async () => {
    expect((await http.postJson("/sync", { commands: "all" })).status).toBe(422);
    expect((await http.postJson("/sync", "{")).status).toBe(422);
    const nobody = clientOf(world.web.address);
    const answer = await nobody.postJson("/sync", { sentAt: new Date(), commands: [] });
    expect([answer.status, answer.headers.get("location")]).toEqual([302, "/sign-in"]);
    expect((await nobody.postJson("/bundle", {})).status).toBe(302);
  });
});

describe("the day's bundle", () => {
  it("holds what a call needs, and sends only what changed since", async () => {
    const ask = async (have: Record<string, string>): Promise<Bundle> => {
      const answer = await http.postJson("/bundle", { have, basins: [world.ours.basinId] });
      expect(answer.status).toBe(200);
      return parse(await answer.text()) as Bundle;
    };
    const first = await ask({});
    const keys = first.items.map(({ key }) => key.split(" ")[0]);
    for (const key of ["home", "bench", "round", "basin", "brought", "series", "what-if", "kit"])
      expect(keys).toContain(key);
    // A close of before is learned from in the background, and what was learned belongs to its basin's page:
    // each answer is asked again with what the one before brought, until nothing is left to say.
    let have = Object.fromEntries(first.items.map(({ key, digest }) => [key, digest]));
    await vi.waitFor(
      async () => {
        const { items } = await ask(have);
        have = Object.fromEntries(items.map(({ key, digest }) => [key, digest]));
        expect(items.filter(({ text }) => text !== undefined).map(({ key }) => key)).toEqual([]);
      },
      { timeout: 60_000, interval: 500 },
    );
  });
});
