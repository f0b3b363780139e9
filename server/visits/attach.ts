import { millisecondsInDay } from "date-fns/constants";
import { v5 as uuidFrom } from "uuid";
import { InputFault, methodById, type TestInput } from "#core";
import type { NamedAuthor } from "../author";
import { basinById } from "../db/basins";
import type { FirmScope } from "../db/connection";
import { kitsOf } from "../db/kits";
import { startVisit } from "../db/visits";
import { carryOut } from "./carry-out";

/** A result that was made without a basin. */
export interface LooseResult {
  basinId: string;
  /** When it was made, ISO. */
  at: string;
  /** Names the kit when nobody was signed in and no version is known. */
  kitName: string;
  observation: TestInput;
}

/** A result older than this is no longer about this water. */
const OLDEST_DAYS = 7;

/** Saves a loose result in the basin's visit under way, or in a new one; returns that visit. */
export async function attachResult(
  scope: FirmScope,
  author: NamedAuthor,
  { basinId, at, kitName, observation }: LooseResult,
): Promise<string> {
  const made = new Date(at);
  const age = (author.now.getTime() - made.getTime()) / millisecondsInDay;
  if (age > OLDEST_DAYS) throw new InputFault("too-high", "ageDays", Math.floor(age), OLDEST_DAYS);
  if (!(await basinById(scope, basinId))) throw new InputFault("unknown", "basinId", basinId);
  const kitId = observation.kitId ?? (await kitByName(scope, kitName, observation.methodId));
  const visitId = await startVisit(scope, {
    // Begun with the result, under a key made of the result's: sent again, it is the same visit.
    id: uuidFrom("visit", observation.id),
    basinId,
    memberId: author.memberId,
    startedAt: author.now,
  });
  if (!visitId) throw new InputFault("unknown", "basinId", basinId);
  const then = age > 0 ? made : author.now;
  const test = { ...observation, kitId };
  await carryOut(scope, author, { visitId, name: "read", given: { tests: [test] }, at: then });
  return visitId;
}

async function kitByName(scope: FirmScope, name: string, methodId: string): Promise<string> {
  const kits = await kitsOf(scope);
  const found = kits.find(({ kit }) => kit.name === name && methodById(kit, methodId));
  if (!found)
    throw new InputFault(
      "unknown",
      "kit",
      name,
      kits.map(({ kit }) => kit.name),
    );
  return found.id;
}
