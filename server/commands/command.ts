import type Joi from "joi";
import type { DeviceStamp, Role } from "#core";
import type { NamedAuthor } from "../author";
import type { FirmScope } from "../db/connection";
import type { SignedIn } from "../db/sessions";

/** Where, when and in which order a device gave a command, and how long ago that was by its own clock. */
export type LateStamp = DeviceStamp & { late: number };

/** What a command is carried out with: the firm's rows, and who gives it. */
export interface CommandContext {
  scope: FirmScope;
  author: NamedAuthor;
  member: SignedIn;
  /** With which passwords are sealed; null where this instance has none. */
  secretsKey?: string | null | undefined;
  /** Where it was given on a device without the server. */
  made?: LateStamp | undefined;
  /** The key under which whoever sends it counts it once, where it has none of its own. */
  key?: string | undefined;
}

/**
 * One way in which a firm's rows change: what it carries, who may give it, what it does. A command of a
 * visit has a row in the core's table as well, where it is decided.
 */
export interface Command<Given, Answer> {
  may: readonly Role[];
  schema: Joi.Schema<Given>;
  /**
   * For a command that must not be carried out twice: its key, which the device made, and all that makes it
   * this command and no other. Sent again it is answered as it was the first time.
   */
  once?: (given: Given) => { key: string | undefined; content: unknown };
  /** Where what it is about stands: an id that is not this firm's there is not there, and nothing is done. */
  subject?: SubjectTable;
  carryOut(context: CommandContext, given: Given): Promise<Answer>;
}

export const OWNERS: readonly Role[] = ["owner"];
export const WORKERS: readonly Role[] = ["owner", "technician"];

/** Tables whose rows a command names by `id`. */
export type SubjectTable = "share" | "invite" | "product" | "truck" | "basin_event" | "api_token" | "webhook";

/** Fixes the types of a row of the table. */
export const command = <Given, Answer = void>(row: Command<Given, Answer>): Command<Given, Answer> => row;

/** What a command is about is not this firm's, or is not there any more. */
export class NotThere extends Error {}
