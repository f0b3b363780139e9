import type { ShouldRevalidateFunctionArgs } from "react-router";

/**
 * Runs a server action from the page. When the server cannot be reached the page is told so and keeps
 * what was typed, instead of giving way to an error page.
 */
export async function offlineAware<T>(serverAction: () => Promise<T>): Promise<T | { offline: true }> {
  try {
    return await serverAction();
  } catch (fault) {
    // A fetch that found nobody rejects with a TypeError; everything else has been answered.
    if (fault instanceof TypeError) return { offline: true };
    throw fault;
  }
}

/** With the server away there is nothing to read again, and what is shown stays. */
export const stayWhenOffline = ({ actionResult, defaultShouldRevalidate }: ShouldRevalidateFunctionArgs) =>
  actionResult?.offline ? false : defaultShouldRevalidate;
