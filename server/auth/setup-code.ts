import { randomInt, timingSafeEqual } from "node:crypto";
import { plainCode } from "./plain-code";

/**
 * The one-time code with which the first visitor sets up the firm of a fresh instance. It is printed wherever a server
 * of the instance is started, and is good for nothing once a firm is there, whoever made that.
 */

/** A code of fewer letters and figures is none: nobody sets a firm up with it. */
export const LEAST_SIGNS = 8;

/** Letters and figures that nobody takes for one another. */
const SIGNS = "ABCDEFGHJKMNPQRSTUVWXYZ23456789";

/** @example newCode() // "Q7RXK-4MNHB", another each time */
export function newCode(): string {
  const part = () => Array.from({ length: 5 }, () => SIGNS[randomInt(SIGNS.length)]).join("");
  return `${part()}-${part()}`;
}

/** Whether what was typed is the code. @example isCode("abcd efgh", "ABCD-EFGH") // true */
export function isCode(typed: string, code: string): boolean {
  const [given, own] = [Buffer.from(plainCode(typed)), Buffer.from(plainCode(code))];
  return own.length >= LEAST_SIGNS && given.length === own.length && timingSafeEqual(given, own);
}
