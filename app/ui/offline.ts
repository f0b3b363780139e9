import { isRouteErrorResponse, type ShouldRevalidateFunctionArgs } from "react-router";

/** What a write met instead of an answer: nobody, or a server that could not do it just now. */
export type Unanswered = { offline: true } | { trouble: number };

/**
 * Runs a server action from the page. When the server cannot be reached, or breaks on the way, the page is
 * told so and keeps what was typed, instead of giving way to an error page.
 */
export async function offlineAware<T>(serverAction: () => Promise<T>): Promise<T | Unanswered> {
  try {
    return await serverAction();
  } catch (fault) {
    // A fetch that found nobody rejects with a TypeError; everything else has been answered.
    if (fault instanceof TypeError) return { offline: true };
    const status = isRouteErrorResponse(fault) || fault instanceof Response ? fault.status : 500;
    if (fault instanceof Response && status < 400) throw fault;
    return status === 401 || status === 404 ? Promise.reject(fault) : { trouble: status };
  }
}

/** With the server away there is nothing to read again, and what is shown stays. */
export const stayWhenOffline = ({ actionResult, defaultShouldRevalidate }: ShouldRevalidateFunctionArgs) =>
  actionResult?.offline || actionResult?.trouble ? false : defaultShouldRevalidate;
