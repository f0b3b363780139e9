import type { BookPlace } from "../db/book";

export interface Page<T> {
  rows: T[];
  /** Where the next page goes on; null after the last. */
  next: BookPlace | null;
}

/** Pages one after the other; while one is written out, the database makes the next. */
export async function* pagesAhead<T>(
  read: (after: BookPlace | null) => Promise<Page<T>>,
): AsyncGenerator<T[], void> {
  let coming = read(null);
  for (;;) {
    const { rows, next } = await coming;
    if (next) {
      coming = read(next);
      // Whoever stops listening does not hear its fault; whoever goes on meets it above.
      coming.catch(() => {});
    }
    if (rows.length > 0) yield rows;
    if (!next) return;
  }
}
