import Joi from "joi";
import { CARD_DAYS, type CardContent, chlorineIn, dayIn, InputFault, LAYMAN_CHOICE } from "#core";
import { basinById } from "../db/basins";
import { makeCard, withdrawCard } from "../db/cards";
import { feedsOf, makeFeed, withdrawFeed } from "../db/feeds";
import { firmOf } from "../db/firms";
import { showPhoto } from "../db/photos";
import { makeShare, SHARE_DAYS, withdrawShare } from "../db/shares";
import { customerSheet } from "../visits/customer-sheet";
import { type CommandContext, command, NotThere, WORKERS } from "./command";
import { uuidSchema } from "./fields";

/** Of one dose on a card, g as sold; and mg/L that it may raise chlorine by: nobody there tests before it. */
const MOST_GRAMS = 20_000;
const MOST_CARD_CHLORINE = 5;

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
  /** A photo is put on the sheet of the customer, or taken off: a link that was sent shows what is on it now. */
  "show-photo": command({
    may: WORKERS,
    schema: Joi.object<{ visitId: string; photoId: string; isShown: boolean }>({
      visitId: uuidSchema,
      photoId: uuidSchema,
      isShown: Joi.boolean().required(),
    }),
    async carryOut({ scope, author }, { isShown, ...photo }) {
      if (!(await showPhoto(scope, photo, isShown ? author.now : null))) throw new NotThere();
    },
  }),
  /** A dose between the calls, for the people at a basin. */
  "make-card": command({
    may: WORKERS,
    schema: Joi.object<{ id: string; basinId: string } & CardContent>({
      id: uuidSchema,
      basinId: uuidSchema,
      product: Joi.valid(...LAYMAN_CHOICE).required(),
      strength: Joi.number().greater(0).max(1).required(),
      grams: Joi.number().min(1).max(MOST_GRAMS).required(),
      everyDays: Joi.number()
        .valid(...CARD_DAYS)
        .required(),
    }),
    async carryOut({ scope, author }, { id, basinId, ...content }) {
      const basin = await basinById(scope, basinId);
      if (!basin) throw new NotThere();
      const { laymen } = await firmOf(scope);
      if (!laymen.includes(content.product))
        throw new InputFault("unknown", "product", content.product, laymen);
      const most = MOST_CARD_CHLORINE * basin.litres;
      const chlorine = chlorineIn(content) * content.grams * 1000;
      if (chlorine > most)
        throw new InputFault(
          "too-high",
          "grams",
          content.grams,
          Math.floor((content.grams * most) / chlorine),
        );
      return {
        token: await makeCard(scope, author, {
          id,
          basinId,
          name: basin.name,
          ...content,
          language: basin.site.language,
        }),
      };
    },
  }),
  "withdraw-card": command({
    may: WORKERS,
    schema: Joi.object<{ basinId: string }>({ basinId: uuidSchema }),
    async carryOut({ scope, author }, { basinId }) {
      const basin = await basinById(scope, basinId);
      if (!basin) throw new NotThere();
      await withdrawCard(scope, author, { basinId, name: basin.name });
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
