import type Joi from "joi";
import type { Role } from "#core";
import { checked } from "#core/schemas";
import { once } from "../db/commands";
import type { FirmScope } from "../db/connection";
import { API_TOKEN_COMMANDS } from "./api-tokens";
import { BASIN_COMMANDS } from "./basins";
import { type Command, type CommandContext, NotThere, type SubjectTable } from "./command";
import { DEFECT_COMMANDS } from "./defects";
import { MAIL_COMMANDS } from "./mail";
import { PRACTICE_COMMANDS } from "./practice";
import { PRICE_COMMANDS } from "./prices";
import { ROUND_COMMANDS } from "./round";
import { SETTINGS_COMMANDS } from "./settings";
import { SHARING_COMMANDS } from "./sharing";
import { SHELF_COMMANDS } from "./shelf";
import { TEAM_COMMANDS } from "./team";
import { VISIT_COMMANDS } from "./visits";
import { WEBHOOK_COMMANDS } from "./webhooks";
import { WEEK_COMMANDS } from "./week";

export { NotThere } from "./command";

/** Every way in which a firm's rows change, but for what happens in a visit: the core's table has that. */
const FIRM_COMMANDS = {
  ...ROUND_COMMANDS,
  ...WEEK_COMMANDS,
  ...BASIN_COMMANDS,
  ...VISIT_COMMANDS,
  ...SHELF_COMMANDS,
  ...SHARING_COMMANDS,
  ...MAIL_COMMANDS,
  ...DEFECT_COMMANDS,
  ...SETTINGS_COMMANDS,
  ...TEAM_COMMANDS,
  ...API_TOKEN_COMMANDS,
  ...PRICE_COMMANDS,
  ...WEBHOOK_COMMANDS,
  ...PRACTICE_COMMANDS,
};

type Table = typeof FIRM_COMMANDS;
export type FirmCommandName = keyof Table;
/** What a command carries. */
export type GivenOf<Name extends FirmCommandName> =
  Table[Name] extends Command<infer Given, infer _> ? Given : never;
/** What it answers. */
export type AnswerOf<Name extends FirmCommandName> =
  Table[Name] extends Command<infer _, infer Answer> ? Answer : never;

/** What a command of this name carries. */
export const schemaOf = (name: FirmCommandName): Joi.ObjectSchema =>
  FIRM_COMMANDS[name].schema as Joi.ObjectSchema;

export const mayGive = (role: Role, name: FirmCommandName): boolean => FIRM_COMMANDS[name].may.includes(role);

/**
 * Carries out a command for somebody who may give it.
 * @throws InputFault where what it carries is not as its schema says, or is refused
 * @throws NotThere where what it is about is not this firm's
 * @example carryOutForFirm({ scope, author, member }, "skip-call", { day: "2031-03-05", basinId, why: "ice" })
 */
export async function carryOutForFirm<Name extends FirmCommandName>(
  context: CommandContext,
  name: Name,
  sent: unknown,
): Promise<AnswerOf<Name>> {
  const row = FIRM_COMMANDS[name] as unknown as Command<GivenOf<Name>, AnswerOf<Name>>;
  const given = checked(row.schema, sent);
  if (row.subject) await mustBeThere(context.scope, row.subject, (given as { id: string }).id);
  const own = row.once?.(given);
  const { key, content } = own?.key === undefined ? { key: context.key, content: [name, given] } : own;
  const work = () => row.carryOut(context, given);
  const { scope, author, made } = context;
  return key === undefined ? work() : once(scope, author, key, content, work, { name, made: made ?? null });
}

/** What was taken away stays there: the same command again is no fault. */
async function mustBeThere(scope: FirmScope, table: SubjectTable, id: string): Promise<void> {
  const row = await scope.selectFrom(table).select("id").where("id", "=", id).executeTakeFirst();
  if (!row) throw new NotThere();
}
