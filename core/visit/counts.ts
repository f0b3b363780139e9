import type { CountState } from "../testing/count/counting";
import type { Method, TitrationMethod } from "../testing/kit";
import type { Observation } from "../testing/result";
import type { OpenedVisit } from "./visit";

/** A way to test: a method of one version of a kit. */
export interface CountedWay {
  kitId: string;
  method: Pick<Method, "id">;
}

/**
 * The name of a count in its visit: by the method, the kit where it is not the visit's own, and the round where it
 * is not the first. After a plan's doses the water is another, and its count begins anew.
 * @example countIdOf({ kitId: "a" }, { kitId: "a", method: { id: "salt" } }, 1) // "salt~1"
 */
export function countIdOf(visit: { kitId: string }, { kitId, method }: CountedWay, round: number): string {
  // The end of a kit's id is its random part; its beginning is the moment it was made.
  const kit = kitId === visit.kitId ? "" : `@${kitId.slice(-12)}`;
  return `${method.id}${kit}${round === 0 ? "" : `~${round}`}`;
}

/** What a count that ends here has seen. @example seenInCount(newCount(25, "a"), 25).kind // "drops" */
export const seenInCount = (
  { drops, ahead, idle }: Pick<CountState, "drops" | "ahead" | "idle">,
  sample: number,
): Observation => ({
  kind: "drops",
  count: drops,
  sample,
  ...(ahead > 0 ? { ahead } : {}),
  ...(idle > 0 ? { idle } : {}),
});

/** A count that was begun in this visit and has become no reading. */
export interface UnsavedCount {
  /** Its name in the visit. */
  countId: string;
  kitId: string;
  method: TitrationMethod;
  round: number;
  state: CountState;
}

/**
 * Counts of a visit that hold drops which no reading has: never saved, or counted on since. Those of rounds before
 * come first; their water is gone, and they can only be dropped.
 * @example unsavedCounts(opened).length // 0
 */
export function unsavedCounts({
  visit,
  kit,
  otherKits,
  counts,
  plans,
  readings,
  beside,
  before,
}: Pick<
  OpenedVisit,
  "visit" | "kit" | "otherKits" | "counts" | "plans" | "readings" | "beside" | "before"
>): UnsavedCount[] {
  const all = [...readings, ...beside, ...before];
  const ways = [{ id: visit.kitId, kit }, ...otherKits].flatMap(({ id, kit: from }) =>
    from.methods.flatMap((method) => (method.kind === "titration" ? [{ kitId: id, method }] : [])),
  );
  // Before the first plan, and after each.
  const rounds = Array.from({ length: plans.length + 1 }, (_, round) => round);
  return rounds.flatMap((round) =>
    ways.flatMap(({ kitId, method }) => {
      const countId = countIdOf(visit, { kitId, method }, round);
      const state = counts[countId];
      if (!state || state.drops === 0) return [];
      const saved = all.some(
        (one) =>
          one.round === round &&
          one.kitId === kitId &&
          one.methodId === method.id &&
          one.observation.kind === "drops" &&
          one.observation.count === state.drops &&
          one.observation.sample === state.sample,
      );
      return saved ? [] : [{ countId, kitId, method, round, state }];
    }),
  );
}
