import Joi from "joi";
import type { GivenAt } from "#core";
import { InputFault } from "#core";
import { checked } from "#core/schemas";
import type { NamedAuthor } from "../author";
import { once } from "../db/commands";
import type { FirmScope } from "../db/connection";
import { startVisit } from "../db/visits";
import { keySchema, uuidSchema } from "./schemas";

/** What a device brought to a visit that it began by itself: the visit keeps it. */
interface Begun {
  basinId: string;
  kitId?: string;
  rangeSetId?: string;
  litres?: number;
}

const begunSchema = Joi.object<Begun>({
  basinId: uuidSchema,
  kitId: keySchema,
  rangeSetId: keySchema,
  litres: Joi.number().min(20).max(15_000_000),
});

/** A visit that was begun so long ago is no visit of today. */
const OLDEST_DAYS = 60;

/**
 * Takes in a visit that was begun away from the server.
 * @returns the id of the visit: another one's, where one was under way at the basin already
 */
export function startAway(
  scope: FirmScope,
  author: NamedAuthor,
  { id, given, made }: { id: string; given: unknown; made: GivenAt & { late: number } },
): Promise<string> {
  const begun = checked(begunSchema, given);
  const oldest = author.now.getTime() - OLDEST_DAYS * 86_400_000;
  const startedAt = new Date(Math.max(oldest, author.now.getTime() - Math.max(0, made.late)));
  return once(scope, author, id, ["start", begun.basinId], async () => {
    const { basinId, ...brought } = begun;
    const started = await startVisit(scope, { id, basinId, memberId: author.memberId, startedAt, brought });
    if (!started) throw new InputFault("unknown", "basinId", basinId);
    return started;
  });
}
