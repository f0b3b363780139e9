import type Joi from "joi";
import type { FirmScope } from "./connection";

/** Things that are kept in versions, each of which never changes: kits and range sets. */

/** Versions that are kept checked at most. */
const MOST = 500;

/** Reads versions of a table; what stands in one is read and checked once. */
export function versionReader<T>(table: "kit" | "range_set", schema: Joi.Schema<T>) {
  const known = new Map<string, T>();
  /** What a version holds, for whoever has seen that this firm has it. */
  async function contentOf(scope: FirmScope, id: string): Promise<T> {
    const before = known.get(id);
    if (before) return before;
    const { content } = await scope
      .selectFrom(table)
      .select("content")
      .where("id", "=", id)
      .executeTakeFirstOrThrow();
    return taken({ id, content });
  }
  /** Takes in what a statement brought along; content is null where `known` told it to leave that out. */
  async function taken({ id, content }: { id: string; content: unknown }): Promise<T> {
    const before = known.get(id);
    if (before) return before;
    const checked: T = await schema.validateAsync(content);
    const [oldest] = known.keys();
    if (known.size >= MOST && oldest) known.delete(oldest);
    known.set(id, checked);
    return checked;
  }
  /**
   * A version by its id; whether this firm has it is asked of the table each time.
   * @throws NoResultError when the firm has none under that id
   */
  async function version(scope: FirmScope, id: string): Promise<T> {
    if (known.has(id))
      await scope.selectFrom(table).select("id").where("id", "=", id).executeTakeFirstOrThrow();
    return contentOf(scope, id);
  }
  return {
    version,
    contentOf,
    taken,
    /** Of these, the versions whose content need not be read again. */
    known: (ids: readonly string[]): string[] => ids.filter((id) => known.has(id)),
  };
}
