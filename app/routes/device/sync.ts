import { stringify } from "devalue";
import Joi from "joi";
import { checked } from "#core/schemas";
import { uuidSchema } from "#server/commands/fields";
import { attempt, memberContext, whoIs, workerOnly } from "../../context";
import { takeCommands, type Waited, waitedSchema } from "../../device/take-commands.server";
import { othersWork } from "../../device/whose";
import { jsonBody } from "../../request";
import type { Route } from "./+types/sync";

const MOST = 50;

const syncSchema = Joi.object<{ member?: string; sentAt: string; commands: Waited[] }>({
  /** Whose commands these are, by the device; builds of before did not say. */
  member: uuidSchema.optional(),
  /** By the clock that the commands were given by. */
  sentAt: Joi.string().isoDate().required(),
  commands: Joi.array().items(waitedSchema).max(MOST).required(),
});

export { onlyPosted as loader } from "../../request";

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
    let isFirst = true;
    const answer = await takeCommands(context, {
      commands,
      sentAt,
      async mayGoOn() {
        // The request itself has just been asked.
        if (!isFirst) await stillThere(request, context);
        isFirst = false;
      },
    });
    return new Response(stringify(answer), { headers: { "Content-Type": "application/json" } });
  });

/** Somebody may be removed, or become a reader, while a batch of theirs runs: each command asks anew. */
async function stillThere(request: Request, context: Route.ActionArgs["context"]): Promise<void> {
  const member = await whoIs(request, context);
  if (!member) throw new Response("Signed out", { status: 401 });
  workerOnly(member);
}
