import { parse } from "devalue";
import fc from "fast-check";
import { v7 as uuid } from "uuid";
import { asFirm, type Database } from "#server/db/connection";
import type { SyncAnswer } from "../app/device/take-commands.server";
import type { Client } from "./client";
import type { Firm } from "./firm";

/** Batches of commands as devices, broken devices and people who mean ill send them, and what came of them. */

/** Somebody who sends. */
export interface Sender {
  memberId: string;
  http: Client;
}

export interface Found {
  batches: number;
  /** Answers of 5xx. */
  broken: number;
  /** Commands that stand in the book under somebody else than who sent them. */
  underOthers: number;
  /** Commands that were acknowledged and stand nowhere. */
  lost: number;
  /** Doses that stand more often than they were given. */
  doubled: number;
  acknowledged: number;
  refused: number;
}

const SEEN = { version: 0, plans: 0, readings: [], looked: false, sampled: false };
const LOOK = { see: [], hear: [], smell: [], feel: [], note: "" };

/** What is well mostly, and something else now and then: one such command has all of its batch refused. */
const rarely = <T>(mostly: fc.Arbitrary<T>, other: fc.Arbitrary<T>) =>
  fc.oneof({ weight: 40, arbitrary: mostly }, { weight: 1, arbitrary: other });

/** What one command is about; ids are put in when it is sent, so that the same seed is the same story. */
const knownArb = fc.oneof(
  {
    weight: 4,
    arbitrary: fc.record({ kind: fc.constant("read" as const), drops: fc.integer({ min: 1, max: 60 }) }),
  },
  {
    weight: 3,
    arbitrary: fc.record({ kind: fc.constant("count" as const), drops: fc.integer({ min: 0, max: 500 }) }),
  },
  {
    weight: 2,
    arbitrary: fc.record({ kind: fc.constant("look" as const), note: fc.string({ maxLength: 40 }) }),
  },
  {
    weight: 2,
    arbitrary: fc.record({ kind: fc.constant("give" as const), grams: fc.integer({ min: 1, max: 900 }) }),
  },
  {
    weight: 1,
    arbitrary: fc.record({ kind: fc.constant("nonsense" as const), given: fc.object({ maxDepth: 3 }) }),
  },
);

const nameArb = fc.record({ kind: fc.constant("name" as const), name: fc.string({ maxLength: 20 }) });
type What = (typeof knownArb extends fc.Arbitrary<infer T> ? T : never) | { kind: "name"; name: string };
const commandArb = rarely<What>(knownArb, nameArb);

const batchArb = fc.record({
  commands: fc.array(
    fc.record({
      what: commandArb,
      /** Which of the visits; the last is another firm's. */
      visit: fc.nat({ max: 4 }),
      /** Sent again under the key of one before. */
      again: fc.oneof({ weight: 4, arbitrary: fc.constant(null) }, { weight: 1, arbitrary: fc.nat() }),
      sequence: rarely(fc.nat({ max: 1e9 }), fc.constantFrom(-1, 3e9)),
      clock: fc.integer({ min: -1000, max: 1000 }),
    }),
    { maxLength: 12 },
  ),
  /** Says that it is another's. */
  other: rarely(fc.constant(false), fc.constant(true)),
  sender: fc.nat({ max: 1 }),
  /** What is sent in place of it. */
  body: rarely<string | null>(
    fc.constant(null),
    fc.oneof(fc.string(), fc.json(), fc.constant('{"sentAt":"x","commands":[]}')),
  ),
});

type Batch = typeof batchArb extends fc.Arbitrary<infer T> ? T : never;

interface Place {
  visits: readonly string[];
  productId: string;
}

function commandOf(
  one: Batch["commands"][number],
  { visits, productId }: Place,
  before: readonly Sent[],
): Sent {
  const repeated = one.again === null ? undefined : before[one.again % Math.max(1, before.length)];
  if (repeated) return repeated;
  const { what } = one;
  const id = uuid();
  const read = { id, methodId: "total-alkalinity", confirmed: ["unlikely-change", "far-from-expected"] };
  const givenOf = (): [string, object] => {
    switch (what.kind) {
      case "read":
        return ["read", { tests: [{ ...read, seen: { kind: "drops", count: what.drops, sample: 25 } }] }];
      case "count":
        return ["count", { methodId: "salt", drops: what.drops, sample: 10, sequence: what.drops }];
      case "look":
        return ["look", { ...LOOK, note: what.note }];
      case "give":
        return ["give", { code: `code ${id}`, productId, givenGrams: what.grams }];
      case "nonsense":
        return ["read", what.given];
      case "name":
        return [what.name, {}];
    }
  };
  const [name, given] = givenOf();
  const at = new Date(Date.now() + one.clock * 3_600_000);
  const made = { device: "a phone", sequence: one.sequence, at, seen: SEEN };
  return { id, name, visitId: visits[one.visit % visits.length] ?? id, given, made };
}

interface Sent {
  id: string;
  name: string;
  visitId: string;
  given: object;
  made: object;
}

/** Sends batches of a seed, one after another, and holds what the tables say against what was answered. */
export async function fuzzSync(
  { db, ours, senders, place }: { db: Database; ours: Firm; senders: readonly Sender[]; place: Place },
  seed: number,
  batches: number,
): Promise<Found> {
  const found: Found = {
    batches,
    broken: 0,
    underOthers: 0,
    lost: 0,
    doubled: 0,
    acknowledged: 0,
    refused: 0,
  };
  const before: Sent[] = [];
  /** Who was told that it is done, by the command's id. */
  const acked = new Map<string, { by: string; command: Sent }>();
  for (const batch of fc.sample(batchArb, { seed, numRuns: batches })) {
    const sender = senders[batch.sender % senders.length];
    if (!sender) throw new Error("nobody sends");
    const commands = batch.commands.map((one) => commandOf(one, place, before));
    before.push(...commands);
    const member = batch.other ? senders.find((one) => one !== sender)?.memberId : sender.memberId;
    const answer = await sender.http.postJson(
      "/sync",
      batch.body ?? { member, sentAt: new Date(), commands },
    );
    if (answer.status >= 500) found.broken += 1;
    if (answer.status !== 200) continue;
    const { results } = parse(await answer.text()) as SyncAnswer;
    for (const result of results) {
      const command = commands.find(({ id }) => id === result.id);
      if ("fault" in result || !command) found.refused += 1;
      else acked.set(result.id, { by: sender.memberId, command });
    }
  }
  found.acknowledged = acked.size;
  const kept = await asFirm(db, ours.id, async (scope) => ({
    commands: await scope.selectFrom("command").select(["id", "member_id"]).execute(),
    readings: await scope.selectFrom("reading").select(["id", "member_id"]).execute(),
    doses: await scope.selectFrom("dose").select(["code", "member_id"]).execute(),
  }));
  const commandsBy = new Map(kept.commands.map(({ id, member_id }) => [id, member_id]));
  const readingsBy = new Map(kept.readings.map(({ id, member_id }) => [id, member_id]));
  for (const [id, { by, command }] of acked) {
    // A count leaves no command behind.
    if (command.name === "count") continue;
    if (!commandsBy.has(id)) found.lost += 1;
    else if (commandsBy.get(id) !== by) found.underOthers += 1;
    if (command.name !== "read") continue;
    if (!readingsBy.has(id)) found.lost += 1;
    else if (readingsBy.get(id) !== by) found.underOthers += 1;
  }
  for (const [id, { by, command }] of acked) {
    if (command.name !== "give") continue;
    const doses = kept.doses.filter(({ code }) => code === `code ${id}`);
    if (doses.length === 0) found.lost += 1;
    if (doses.length > 1) found.doubled += 1;
    if (doses.some(({ member_id }) => member_id !== by)) found.underOthers += 1;
  }
  return found;
}

/** Visits of ours and one of theirs to send to, and a product to give. */
export async function placeToFuzz(db: Database, ours: Firm, theirs: Firm): Promise<Place> {
  const visitAt = async (firm: Firm): Promise<string> => {
    const [id, basin] = [uuid(), uuid()];
    await asFirm(db, firm.id, async (scope) => {
      const like = await scope
        .selectFrom("basin")
        .selectAll()
        .where("id", "=", firm.basinId)
        .executeTakeFirstOrThrow();
      const json = { equipment: null, cadence: null, range_overrides: null, shape: null };
      await scope
        .insertInto("basin")
        .values({ ...like, ...json, id: basin, name: basin })
        .execute();
      await scope
        .insertInto("visit")
        .values({
          id,
          firm_id: firm.id,
          basin_id: basin,
          member_id: firm.memberId,
          kit_id: firm.kitId,
          range_set_id: firm.rangeSetId,
          litres: 10_000,
          started_at: new Date(Date.now() - 3_600_000),
        })
        .execute();
    });
    return id;
  };
  const visits = [
    await visitAt(ours),
    await visitAt(ours),
    await visitAt(ours),
    await visitAt(ours),
    await visitAt(theirs),
  ];
  const { id: productId } = await asFirm(db, ours.id, (scope) =>
    scope.selectFrom("product").select("id").limit(1).executeTakeFirstOrThrow(),
  );
  return { visits, productId };
}
