import type { Migration } from "kysely";
import * as fieldBook from "./0001-field-book";
import * as bench from "./0002-bench";

/** Every migration in order; compiled into the server so that a build carries its own. */
export const MIGRATIONS: Record<string, Migration> = {
  "0001-field-book": fieldBook,
  "0002-bench": bench,
};
