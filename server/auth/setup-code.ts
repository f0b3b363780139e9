import { randomInt, timingSafeEqual } from "node:crypto";
import type { Database } from "../db/connection";
import { asGate } from "../db/connection";
import { plainCode } from "./plain-code";

/**
 * The one-time code with which the first visitor sets up the firm of a fresh instance. It is printed where the
 * server was started, lives in memory, and is good for nothing once a firm is there, whoever made that.
 */
export class SetupCode {
  private taken = false;
  constructor(readonly code: string = newCode()) {}

  /**
   * Whether a firm may still be set up with it.
   * @param hasFirm asks whether one is there: a command beside this process may have made it a moment ago
   */
  async isOpen(hasFirm: () => Promise<boolean>): Promise<boolean> {
    this.taken ||= await hasFirm();
    return !this.taken;
  }

  /** @example new SetupCode("ABCD-EFGH").is("abcd efgh") // true */
  is(typed: string): boolean {
    const [given, own] = [Buffer.from(plainCode(typed)), Buffer.from(plainCode(this.code))];
    return own.length >= LEAST_SIGNS && given.length === own.length && timingSafeEqual(given, own);
  }

  /** Of two who come at once one sets it up; where that fails the code is good again. */
  async use<T>(work: () => Promise<T>): Promise<T | null> {
    if (this.taken) return null;
    this.taken = true;
    try {
      return await work();
    } catch (fault) {
      this.taken = false;
      throw fault;
    }
  }
}

/** A code of fewer letters and figures is none: nobody sets a firm up with it. */
export const LEAST_SIGNS = 8;

/** Letters and figures that nobody takes for one another. */
const SIGNS = "ABCDEFGHJKMNPQRSTUVWXYZ23456789";

function newCode(): string {
  const part = () => Array.from({ length: 5 }, () => SIGNS[randomInt(SIGNS.length)]).join("");
  return `${part()}-${part()}`;
}

/** Whether somebody's own firm is there; the demo's is none. */
export async function hasOwnFirm(db: Database): Promise<boolean> {
  const row = await asGate(db, (scope) =>
    scope.selectFrom("firm").select("id").where("demo", "=", false).executeTakeFirst(),
  );
  return row !== undefined;
}
