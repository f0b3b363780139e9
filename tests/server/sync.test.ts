import { parse } from "devalue";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Brought, Seen, Written } from "#core";
import { asFirm } from "#server/db/connection";
import type { Bundle } from "../../app/device/bundle.server";
import type { SyncResult } from "../../app/routes/device/sync";
import type { Client } from "../client";
import { openWorld, type World } from "../world";

/** What devices send when they come back into reach, and what they take along. */
let world: World;
let http: Client;
beforeAll(async () => {
  world = await openWorld();
  http = world.http;
});
afterAll(() => world.close());

interface Told {
  results: SyncResult[];
  visits: { brought: Brought; written: Written }[];
}

const NOTHING_SEEN: Seen = { version: 0, plans: 0, readings: [], looked: false, sampled: false };

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
      { seen = {}, id = uuid(), ago = 0 }: { seen?: Partial<Seen>; id?: string; ago?: number } = {},
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
    const have = Object.fromEntries(first.items.map(({ key, digest }) => [key, digest]));
    const second = await ask(have);
    expect(second.items.filter(({ text }) => text !== undefined).map(({ key }) => key)).toEqual([]);
  });
});
