import Joi from "joi";
import type { RouterContextProvider } from "react-router";
import {
  type Brought,
  COMMAND_NAMES,
  type CommandName,
  type DeviceStamp,
  InputFault,
  type Written,
} from "#core";
import { givenAtSchema } from "#core/schemas";
import { uuidSchema } from "#server/commands/fields";
import type { PhotoBytes } from "#server/db/visit-facts";
import { readVisit } from "#server/db/visit-record";
import { syncedCommands } from "#server/metrics";
import type { CountDone } from "#server/visits/count";
import { performCommand } from "../commands";
import { inFirm } from "../context";
import { type FaultView, faultView } from "../fault";
import { carriedOut, countedOut } from "./action.server";

/** Commands that were given on a device, taken in one after another. */

/** A command that waited on a device. */
export interface Waited {
  id: string;
  name: CommandName | "start";
  visitId: string;
  given: object;
  made: Omit<DeviceStamp, "at"> & { at: string };
}

export const waitedSchema = Joi.object<Waited>({
  id: uuidSchema,
  name: Joi.valid("start", ...COMMAND_NAMES).required(),
  visitId: uuidSchema,
  given: Joi.object().required(),
  made: givenAtSchema.required(),
});

/** How one command ended; one that is not told of is to be sent again. */
export type SyncResult = { id: string; visitId: string } & ({ answer: string | null } | { fault: FaultView });

/** What a device is answered: how each command ended, counts as they stand, and visits that changed otherwise. */
export interface SyncAnswer {
  results: SyncResult[];
  counts: CountDone[];
  visits: { brought: Brought; written: Written }[];
}

export interface Taking {
  commands: readonly Waited[];
  /** By the clock that the commands were given by. */
  sentAt: string;
  /** Asked before each: whoever sends them may have been removed meanwhile. @throws Response where they were */
  mayGoOn: () => Promise<void>;
  /** For a photo, which comes by itself. */
  photo?: PhotoBytes | undefined;
}

/**
 * Takes commands in their order, each in a transaction of its own, as the member whom the context names. One that is
 * refused does not hold up the rest; where the server cannot go on, what was done so far is told.
 */
export async function takeCommands(
  context: Readonly<RouterContextProvider>,
  { commands, sentAt, mayGoOn, photo }: Taking,
): Promise<SyncAnswer> {
  const results: SyncResult[] = [];
  const counts: CountDone[] = [];
  const changed = new Set<string>();
  for (const { id, name, visitId, given, made } of commands) {
    const at = new Date(made.at);
    const late = { ...made, at, late: Date.parse(sentAt) - at.getTime() };
    try {
      await mayGoOn();
      if (name === "count") {
        const done = await countedOut(context, visitId, given);
        counts.push(done);
        results.push({ id, visitId: done.visitId, answer: null });
        continue;
      }
      if (name === "start") {
        const started = await performCommand(context, "start-visit", { ...given, id: visitId }, late);
        results.push({ id, visitId: started, answer: started });
        changed.add(started);
        continue;
      }
      const done = await carriedOut(context, { id, name, visitId, given, made: late, photo });
      const { id: doneIn } = done.record.brought.visit;
      results.push({ id, visitId: doneIn, answer: done.answer });
      changed.add(doneIn);
    } catch (fault) {
      const told = toldFault(fault);
      if (!told) {
        // Away, broken, or sent away meanwhile: what was done is told, the rest comes again.
        if (results.length > 0) break;
        throw fault;
      }
      results.push({ id, visitId, fault: told });
      // As it stands, for whoever had it otherwise.
      changed.add(visitId);
    }
  }
  results.forEach((result, index) => {
    const command = commands[index]?.name ?? "none";
    syncedCommands.inc({ command, outcome: "fault" in result ? result.fault.code : "taken" });
  });
  const visits = changed.size === 0 ? [] : await visitsAsTheyStand(context, [...changed]);
  const answer: SyncAnswer = { results, counts, visits };
  return answer;
}

/** Visits for whoever sent something to them; where the server cannot go on, the next answer has them. */
const visitsAsTheyStand = (
  context: Readonly<RouterContextProvider>,
  ids: readonly string[],
): Promise<SyncAnswer["visits"]> =>
  inFirm(context, async (scope, { memberId }, now) => {
    const found = [];
    for (const id of ids) {
      const record = await readVisit(scope, { id, memberId }, now);
      if (record) found.push({ brought: record.brought, written: record.written });
    }
    return found;
  }).catch(() => []);

/** What is wrong with a command itself; null for what may go better another time. */
function toldFault(fault: unknown): FaultView | null {
  if (fault instanceof InputFault) return faultView(fault);
  // Whoever reads along sends nothing for a firm.
  if (fault instanceof Response && fault.status === 403)
    return { code: "inconsistent", field: "sender", value: "reader", limit: null };
  if (fault instanceof Response && fault.status >= 400 && fault.status < 500 && fault.status !== 401)
    return { code: "malformed", field: "command", value: `${fault.status}`, limit: null };
  return null;
}
