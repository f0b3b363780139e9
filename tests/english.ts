import { LANGUAGES } from "../app/messages/compiled/all";
import { speak } from "../app/words";

/** What a page or a request sets, set for tests that call words themselves. */
speak(() => {
  const { en } = LANGUAGES;
  if (!en) throw new Error("There is no English.");
  return en;
});
