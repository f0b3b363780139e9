import { data, isRouteErrorResponse } from "react-router";

/** The one rule for which side answers a page: the server, and what lies here when it does not in time. */

/** A server that takes longer is out of reach for a page that lies here. */
export const PATIENCE_MS = 2500;

export interface Sides<T> {
  server: () => Promise<T>;
  /** What lies here; null when nothing does. */
  here: () => Promise<T | null>;
  /** Keeps what the server told. */
  keep?: (told: T) => Promise<unknown>;
}

/**
 * Asks the server first. Where it is silent, breaks or cannot be reached, what lies here answers; where
 * nothing does, a page that says so in words.
 */
export async function reachFirst<T>({ server, here, keep }: Sides<T>): Promise<T> {
  const asked = server();
  let late: ReturnType<typeof setTimeout> | undefined;
  const patience = new Promise<"late">((resolve) => {
    late = setTimeout(() => resolve("late"), PATIENCE_MS);
  });
  try {
    const told = await Promise.race([asked, patience]);
    if (told !== "late") {
      void keep?.(told);
      return told;
    }
    const found = await here();
    if (found !== null) {
      asked.then(keep, () => {});
      return found;
    }
    return await asked;
  } catch (fault) {
    if (!isUnreached(fault)) throw fault;
    const found = await here();
    if (found !== null) return found;
    throw outOfReach();
  } finally {
    clearTimeout(late);
  }
}

/** Nobody answered, or a server that could not; redirects and what is said of the request itself go on. */
function isUnreached(fault: unknown): boolean {
  if (fault instanceof TypeError) return true;
  const status = isRouteErrorResponse(fault) || fault instanceof Response ? fault.status : 0;
  return status >= 500 || (status === 0 && !(fault instanceof Response));
}

/** Told by the page as such; see `Trouble`. */
export const OUT_OF_REACH = 599;
export const outOfReach = () => data(null, { status: OUT_OF_REACH });
