import Joi from "joi";
import { dayIn, InputFault } from "#core";
import { feedsOf, makeFeed, withdrawFeed } from "../db/feeds";
import { makeShare, SHARE_DAYS, withdrawShare } from "../db/shares";
import { customerSheet } from "../visits/customer-sheet";
import { type CommandContext, command, NotThere, WORKERS } from "./command";
import { uuidSchema } from "./fields";

/** Links that somebody without a sign-in may open; a link answers with its secret, which is shown once. */
export const SHARING_COMMANDS = {
  "share-sheet": command({
    may: WORKERS,
    schema: Joi.object<{ id: string; visitId: string; days: number }>({
      id: uuidSchema,
      visitId: uuidSchema,
      days: Joi.valid(...SHARE_DAYS).required(),
    }),
    carryOut: async (context, { id, visitId, days }) => {
      const name = await sheetName(context, visitId);
      return { token: await makeShare(context.scope, context.author, { id, visitId, days, name }) };
    },
  }),
  "withdraw-share": command({
    may: WORKERS,
    subject: "share",
    schema: Joi.object<{ id: string; visitId: string }>({ id: uuidSchema, visitId: uuidSchema }),
    carryOut: async (context, { id, visitId }) => {
      const name = await sheetName(context, visitId);
      await withdrawShare(context.scope, context.author, { id, visitId, name });
    },
  }),
  "make-feed": command({
    may: WORKERS,
    schema: Joi.object<{ id: string; mine: boolean }>({ id: uuidSchema, mine: Joi.boolean().required() }),
    carryOut: async ({ scope, author }, { id, mine }) => ({
      token: await makeFeed(scope, author, { id, mine, name: mine ? author.memberName : "" }),
    }),
  }),
  "withdraw-feed": command({
    may: WORKERS,
    schema: Joi.object<{ id: string }>({ id: uuidSchema }),
    async carryOut({ scope, author, member }, { id }) {
      const own = await feedsOf(scope, member.role === "owner" ? null : member.memberId);
      if (!own.some((feed) => feed.id === id)) throw new InputFault("unknown", "id", id);
      await withdrawFeed(scope, author, id);
    },
  }),
};

/** A sheet as the log of changes names it. @example "Cedar spa, 2031-03-05" */
async function sheetName({ scope }: CommandContext, visitId: string): Promise<string> {
  const sheet = await customerSheet(scope, visitId);
  if (!sheet) throw new NotThere();
  return `${sheet.basin.name}, ${dayIn(sheet.at, sheet.firm.timeZone)}`;
}
