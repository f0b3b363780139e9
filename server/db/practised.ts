import { sql } from "kysely";
import { maySpeak } from "#core";
import type { Author } from "../author";
import type { FirmScope } from "./connection";

/** What people practised, as they told their firm. It is no part of the book. */

/** Of one test. */
export interface PractisedTest {
  methodId: string;
  /** Tests alone that were worked to their end. */
  runs: number;
  trapsSeen: number;
  trapsMissed: number;
  /** Calendar day of the last one. */
  lastOn: string;
  /** Relative; null after too few runs. */
  bias: number | null;
  scatter: number | null;
}

/** Tells the firm what somebody practised, in place of what they told before. */
export async function tellPractised(
  scope: FirmScope,
  { firmId, memberId, now }: Author,
  tests: readonly PractisedTest[],
  used: boolean,
): Promise<void> {
  await scope.deleteFrom("practised").where("member_id", "=", memberId).execute();
  if (tests.length === 0) return;
  await scope
    .insertInto("practised")
    .values(
      tests.map((one) => ({
        firm_id: firmId,
        member_id: memberId,
        method_id: one.methodId,
        runs: one.runs,
        traps_seen: one.trapsSeen,
        traps_missed: one.trapsMissed,
        last_on: one.lastOn,
        bias: one.bias,
        scatter: one.scatter,
        used: used && maySpeak(one),
        told_at: now,
      })),
    )
    .execute();
}

const LAST_ON = sql<string>`last_on::text`.as("lastOn");

/** What somebody told, their own figures among it. */
export async function practisedBy(scope: FirmScope, memberId: string) {
  return scope
    .selectFrom("practised")
    .select(["method_id as methodId", "runs", LAST_ON, "bias", "scatter", "used", "told_at as toldAt"])
    .where("member_id", "=", memberId)
    .orderBy("method_id")
    .execute();
}

/** Who practised what, by name: no figures of anybody, and no order among people but the alphabet's. */
export async function practisedInFirm(scope: FirmScope) {
  return scope
    .selectFrom("practised")
    .innerJoin("member", "member.id", "practised.member_id")
    .select([
      "member.id as memberId",
      "member.name as name",
      "method_id as methodId",
      "runs",
      "traps_seen as trapsSeen",
      "traps_missed as trapsMissed",
      LAST_ON,
    ])
    .where("member.disabled_at", "is", null)
    .orderBy("member.name")
    .orderBy("method_id")
    .execute();
}

/**
 * Scatters that stand in for the default, by test, as an object under whose they are. One member's alone: a figure of
 * somebody's hand is nobody else's to read.
 */
export const scattersQuery = (memberId: string) => sql`(
  select coalesce(json_object_agg(one.member_id, one.tests), '{}'::json) from (
    select practised.member_id, json_object_agg(practised.method_id, practised.scatter) as tests
    from practised
    where practised.used and practised.scatter is not null and practised.member_id = ${memberId}::uuid
    group by practised.member_id
  ) as one)`;
