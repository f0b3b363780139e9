import { millisecondsInDay } from "date-fns/constants";
import Joi from "joi";
import { BASIN_LITRES } from "#core";
import { testSchema } from "#core/schemas";
import { startVisit } from "../db/visits";
import { attachResult, type LooseResult } from "../visits/attach";
import { command, NotThere, WORKERS } from "./command";
import { keySchema, uuidSchema } from "./fields";

/** A visit that begins, under the id that it will have, and what a device brought to it that began it by itself. */
interface Start {
  id: string;
  basinId: string;
  kitId?: string;
  rangeSetId?: string;
  litres?: number;
}

/** A visit that was begun longer ago is no visit of today. */
const OLDEST_DAYS = 60;

/** What makes a visit; what happens in one is decided by the core's table. */
export const VISIT_COMMANDS = {
  /** Answers with the visit's id: another one's, where one was under way at the basin already. */
  "start-visit": command({
    may: WORKERS,
    schema: Joi.object<Start>({
      id: uuidSchema,
      basinId: uuidSchema,
      kitId: keySchema,
      rangeSetId: keySchema,
      litres: Joi.number().min(BASIN_LITRES.low).max(BASIN_LITRES.high),
    }),
    once: ({ id, basinId }) => ({ key: id, content: ["start", basinId] }),
    async carryOut({ scope, author: { memberId, now }, made }, { id, basinId, ...brought }) {
      const oldest = now.getTime() - OLDEST_DAYS * millisecondsInDay;
      // A device's clock may be years off: what it says counts as so long before its moment of sending.
      const begun = now.getTime() - Math.max(0, made?.late ?? 0);
      const startedAt = new Date(Math.max(oldest, begun));
      const started = await startVisit(scope, {
        id,
        basinId,
        memberId,
        startedAt,
        ...(made ? { brought } : {}),
      });
      if (!started) throw new NotThere();
      return started;
    },
  }),
  /** Puts a result of the quick bench to a basin: into its visit under way, or into a new one. */
  "attach-result": command({
    may: WORKERS,
    schema: Joi.object<LooseResult>({
      basinId: uuidSchema,
      at: Joi.string().isoDate().required(),
      kitName: Joi.string().max(80).required(),
      observation: testSchema.required(),
    }),
    once: (result) => ({ key: result.observation.id, content: ["attach", result] }),
    carryOut: ({ scope, author }, result) => attachResult(scope, author, result),
  }),
};
