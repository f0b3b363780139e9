import { stringify } from "devalue";
import Joi from "joi";
import {
  type Brought,
  COMMAND_NAMES,
  type CommandName,
  type DeviceStamp,
  InputFault,
  type Written,
} from "#core";
import { checked, givenAtSchema } from "#core/schemas";
import { uuidSchema } from "#server/commands/fields";
import { readVisit } from "#server/db/visit-record";
import type { CountDone } from "#server/visits/count";
import { performCommand } from "../../commands";
import { attempt, inFirm, memberContext, whoIs, workerOnly } from "../../context";
import { carriedOut, countedOut } from "../../device/action.server";
import { othersWork } from "../../device/whose";
import { type FaultView, faultView } from "../../fault";
import { jsonBody } from "../../request";
import type { Route } from "./+types/sync";

/** A command that waited on a device. */
interface Waited {
  id: string;
  name: CommandName | "start";
  visitId: string;
  given: object;
  made: Omit<DeviceStamp, "at"> & { at: string };
}

const MOST = 50;

const syncSchema = Joi.object<{ member?: string; sentAt: string; commands: Waited[] }>({
  /** Whose commands these are, by the device; builds of before did not say. */
  member: uuidSchema.optional(),
  /** By the clock that the commands were given by. */
  sentAt: Joi.string().isoDate().required(),
  commands: Joi.array()
    .items(
      Joi.object({
        id: uuidSchema,
        name: Joi.valid("start", ...COMMAND_NAMES).required(),
        visitId: uuidSchema,
        given: Joi.object().required(),
        made: givenAtSchema.required(),
      }),
    )
    .max(MOST)
    .required(),
});

/** How one command ended; one that is not told of is to be sent again. */
export type SyncResult = { id: string; visitId: string } & ({ answer: string | null } | { fault: FaultView });

/** What a device is answered: how each command ended, counts as they stand, and visits that changed otherwise. */
export interface SyncAnswer {
  results: SyncResult[];
  counts: CountDone[];
  visits: { brought: Brought; written: Written }[];
}

/**
 * Takes commands from a device in their order, each in a transaction of its own, and answers with how each
 * ended and with the visits as they stand. One that is refused does not hold up the rest; where the server
 * cannot go on, it answers with what was done so far.
 */
export const action = ({ request, context }: Route.ActionArgs) =>
  attempt(async () => {
    const { member, sentAt, commands } = checked(syncSchema, await jsonBody(request));
    const others = othersWork(member, context.get(memberContext).memberId);
    if (others) return others;
    const results: SyncResult[] = [];
    const counts: CountDone[] = [];
    const changed = new Set<string>();
    for (const { id, name, visitId, given, made } of commands) {
      const at = new Date(made.at);
      const late = { ...made, at, late: Date.parse(sentAt) - at.getTime() };
      try {
        await stillThere(request, context);
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
        const done = await carriedOut(context, { id, name, visitId, given, made: late });
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
    const visits = await inFirm(context, async (scope, _, now) => {
      const found = [];
      for (const id of changed) {
        const record = await readVisit(scope, id, now);
        if (record) found.push({ brought: record.brought, written: record.written });
      }
      return found;
    }).catch(() => []);
    const answer: SyncAnswer = { results, counts, visits };
    return new Response(stringify(answer), { headers: { "Content-Type": "application/json" } });
  });

/** Somebody may be removed, or become a reader, while a batch of theirs runs: each command asks anew. */
async function stillThere(request: Request, context: Route.ActionArgs["context"]): Promise<void> {
  const member = await whoIs(request, context);
  if (!member) throw new Response("Signed out", { status: 401 });
  workerOnly(member);
}

/** What is wrong with a command itself; null for what may go better another time. */
function toldFault(fault: unknown): FaultView | null {
  if (fault instanceof InputFault) return faultView(fault);
  if (fault instanceof Response && fault.status >= 400 && fault.status < 500 && fault.status !== 401)
    return { code: "malformed", field: "command", value: `${fault.status}`, limit: null };
  return null;
}
