/** On every answer of this server: a portal on the way has none, and what it says refuses nothing. */
export const OURS_HEADER = "X-Pelagon";

/** Commands that were made by somebody else than who is signed in are answered so, and none of them is done. */
export const FAULT_HEADER = "X-Pelagon-Fault";
export const OTHER_MEMBER = "other-member";

/**
 * The answer to commands that say whose they are, where that is not who is signed in; null where it is, and from a
 * build that did not say.
 * @example othersWork("a", "a") // null
 */
export const othersWork = (said: unknown, memberId: string): Response | null =>
  said === undefined || said === null || said === memberId
    ? null
    : new Response("These commands were made by somebody else than who is signed in.", {
        status: 409,
        headers: { [FAULT_HEADER]: OTHER_MEMBER, [OURS_HEADER]: "1", "Cache-Control": "no-store" },
      });
