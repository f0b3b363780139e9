import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm } from "#server/db/connection";
import { openVisit } from "#server/visits/open";
import { type Client, faultText } from "../client";
import { visitWith } from "../visit";
import { openWorld, type World } from "../world";

/** What was practised, told to the firm by whoever did it, and their scatter in their own readings. */
let world: World;
let owner: Client;
beforeAll(async () => {
  world = await openWorld();
  owner = await world.as(world.ours.ownerEmail);
});
afterAll(() => world.close());

const test = (change: object = {}) => ({
  methodId: "total-alkalinity",
  runs: 12,
  trapsSeen: 2,
  trapsMissed: 1,
  lastOn: "2031-03-05",
  bias: 0.0312,
  scatter: 0.0917,
  ...change,
});
const tell = (client: Client, tests: object[], used: boolean) =>
  client.postJson("/settings/practice.data", { command: "tell-practice", tests, used });
const page = async (client: Client) => (await client.get("/settings/practice")).text();

/** A visit of our technician's with alkalinity read, as its pages have it. */
async function readAlkalinity() {
  const id = await visitWith(world.db, world.ours, world.http, { alkalinity: 100, chlorine: 3 });
  const opened = await asFirm(world.db, world.ours.id, (scope) =>
    openVisit(scope, { id, memberId: world.ours.memberId }, new Date()),
  );
  await world.http.post(`/visits/${id}/close`, new URLSearchParams({ note: "" }));
  const [alkalinity, chlorine] = (["totalAlkalinity", "freeChlorine"] as const).map((quantity) =>
    opened?.readings.find((one) => one.quantity === quantity),
  );
  return { opened, alkalinity, chlorine };
}

describe("what was practised", () => {
  it("is shown with figures to whoever told it, and to an owner without", async () => {
    expect((await tell(world.http, [test()], false)).status).toBe(200);
    expect(await page(world.http)).toMatch(/9\.2%/);
    const told = await page(owner);
    expect(told).toMatch(/Tech/);
    expect(told).toMatch(/12 runs/);
    expect(told).toMatch(/traps seen 2, missed 1/);
    expect(told).not.toMatch(/9\.2%|0\.0917|0\.0312/);
    // A technician sees nobody else's, another firm nothing.
    expect(await page(world.http)).not.toMatch(/Who practiced what/);
    expect(await page(await world.as(world.theirs.ownerEmail))).not.toMatch(/12 runs/);
  });

  it("stands in nobody's readings without their yes, and in their own with it", async () => {
    const before = await readAlkalinity();
    expect(before.alkalinity?.scatter).toBeUndefined();
    expect(before.opened?.known.spreads.totalAlkalinity.deviation).toBeCloseTo(Math.hypot(0.05, 0.02), 6);

    await tell(world.http, [test()], true);
    const own = await readAlkalinity();
    expect(own.alkalinity?.scatter).toBeCloseTo(0.0917, 6);
    // What was not practised enough scatters as usual.
    expect(own.chlorine?.scatter).toBeUndefined();
    expect(own.opened?.known.spreads.totalAlkalinity.deviation).toBeCloseTo(Math.hypot(0.0917, 0.02), 6);
    // Another's yes is theirs.
    const theirs = await asFirm(world.db, world.theirs.id, (scope) =>
      scope.selectFrom("practised").select("method_id").execute(),
    );
    expect(theirs).toEqual([]);

    // After a few runs it is hardly known.
    await tell(world.http, [test({ runs: 6 })], true);
    expect((await readAlkalinity()).alkalinity?.scatter).toBeUndefined();
    await tell(world.http, [], false);
    expect((await readAlkalinity()).alkalinity?.scatter).toBeUndefined();
    expect(await page(owner)).toMatch(/Nobody has shared anything yet/);
  });

  it("is nobody else's to read: not in a visit, nor in what a device takes along, nor in what it is answered", async () => {
    const { db, ours, http } = world;
    await tell(http, [test({ scatter: 0.08312 })], true);
    await tell(owner, [test({ scatter: 0.04217 })], true);
    const visit = await visitWith(db, ours, http, { chlorine: 3 });
    const seen = { version: 0, plans: 0, readings: [], looked: false, sampled: false };
    const look = { see: [], hear: [], smell: [], feel: [], note: "" };
    const made = { device: "a phone", sequence: 1, at: new Date(), seen };
    for (const [who, mine, other] of [
      [http, "0.08312", "0.04217"],
      [owner, "0.04217", "0.08312"],
    ] as const) {
      const commands = [{ id: uuid(), name: "look", visitId: visit, given: look, made }];
      const told = [
        await (await who.get(`/visits/${visit}/judge`)).text(),
        await (await who.postJson("/bundle", { have: {}, basins: [ours.basinId] })).text(),
        await (await who.postJson("/sync", { sentAt: new Date(), commands })).text(),
      ];
      for (const text of told) {
        expect(text).toContain(mine);
        expect(text).not.toContain(other);
      }
    }
    await tell(http, [], false);
    await tell(owner, [], false);
  });

  it("is refused with its field where it cannot be", async () => {
    for (const [change, field] of [
      [{ runs: 0 }, /runs|Runs/],
      [{ scatter: 1.4 }, /scatter|Scatter/],
      [{ lastOn: "yesterday" }, /lastOn|day/],
    ] as const) {
      const answer = await tell(world.http, [test(change)], true);
      expect(answer.status).toBe(422);
      expect(await faultText(answer)).toMatch(field);
    }
    expect((await tell(world.http, [test(), test()], true)).status).toBe(422);
  });
});
