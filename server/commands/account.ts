import Joi from "joi";
import { InputFault, UNIT_SYSTEM_NAMES, type UnitSystem } from "#core";
import { LONGEST_PASSWORD, SHORTEST_PASSWORD } from "../auth/password-length";
import type { NamedAuthor } from "../author";
import type { Database } from "../db/connection";
import { changePassword } from "../db/passwords";
import { chooseUnits, endSession, leaveEverywhere } from "../db/sessions";
import { NotThere } from "./command";

/** What somebody changes about their own way in: it goes through the gate, not through the firm's rows. */
export interface AccountContext {
  db: Database;
  author: NamedAuthor;
  /** Token of the session that gives the command. */
  session: string;
}

interface AccountCommand<Given> {
  schema: Joi.Schema<Given>;
  carryOut(context: AccountContext, given: Given): Promise<void>;
}

const command = <Given>(row: AccountCommand<Given>): AccountCommand<Given> => row;

export const ACCOUNT_COMMANDS = {
  "end-session": command({
    schema: Joi.object<{ id: string }>({ id: Joi.string().max(64).required() }),
    async carryOut({ db, author }, { id }) {
      if (!(await endSession(db, author.memberId, id, author.now))) throw new NotThere();
    },
  }),
  "leave-everywhere": command({
    schema: Joi.object<object>({}),
    carryOut: ({ db, author }) => leaveEverywhere(db, author),
  }),
  "set-own-units": command({
    schema: Joi.object<{ units: UnitSystem | "" }>({ units: Joi.valid(...UNIT_SYSTEM_NAMES, "").required() }),
    carryOut: ({ db, author }, { units }) => chooseUnits(db, author, units || null),
  }),
  "change-password": command({
    schema: Joi.object<{ current: string; next: string }>({
      current: Joi.string().allow("").required(),
      next: Joi.string().allow("").required(),
    }),
    // No fault carries a password back: what is too long is cut, and then is a wrong one.
    carryOut: ({ db, author, session }, { current, next }) =>
      changePassword(
        db,
        author,
        { current: current.slice(0, LONGEST_PASSWORD), next: newPassword(next) },
        session,
      ),
  }),
};

export type AccountCommandName = keyof typeof ACCOUNT_COMMANDS;

/**
 * A password that somebody chose; told by its length when it will not do: it is never sent back.
 * @throws InputFault with the length and what it must be
 */
export function newPassword(password: string): string {
  if (password.length < SHORTEST_PASSWORD)
    throw new InputFault("too-low", "passwordLength", password.length, SHORTEST_PASSWORD);
  if (password.length > LONGEST_PASSWORD)
    throw new InputFault("too-high", "passwordLength", password.length, LONGEST_PASSWORD);
  return password;
}
