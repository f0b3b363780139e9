/**
 * Runs a server action from the page. When the server cannot be reached the page is told so and keeps
 * what was typed, instead of giving way to an error page.
 */
export async function offlineAware<T>(serverAction: () => Promise<T>): Promise<T | { offline: true }> {
  try {
    return await serverAction();
  } catch (fault) {
    if (fault instanceof TypeError) return { offline: true };
    throw fault;
  }
}
