import pino, { type Logger } from "pino";

/** What is written down about requests and faults: never a secret that opens something. */

let logger: Logger = pino({ level: "warn" });

/** The log of this process: a line of JSON an event. */
export const log = (): Logger => logger;

/** @param level "fatal" to "debug", or "silent"; see the README */
export function logFrom(level: string): void {
  logger = pino({ level });
}

/** Links and tokens are 43 letters of base64url; what is left of one opens nothing. */
const TOKEN = /(?<![\w-])[\w-]{6}[\w-]{37}(?![\w-])/g;

const shortened = (text: string): string => text.replace(TOKEN, (token) => `${token.slice(0, 6)}…`);

/** A text, or a fault with its message and stack, without the tokens in it. */
export function withoutTokens(given: unknown): unknown {
  if (typeof given === "string") return shortened(given);
  if (!(given instanceof Error)) return given;
  const { code } = given as { code?: unknown };
  return { message: shortened(given.message), stack: shortened(given.stack ?? ""), code };
}
