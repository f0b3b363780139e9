import { describe, expect, it } from "vitest";
import { learnPace } from "#core";
import { takesOf } from "./takes";

const MINUTE = 60_000;
const timed = (basinId: string, siteId: string, from: number, minutes: number) => ({
  memberId: "w",
  basinId,
  siteId,
  startedAt: from * MINUTE,
  finishedAt: (from + minutes) * MINUTE,
});
/** Many of one: what is usual hardly counts beside it. Two basins at one site, one at another twenty minutes off. */
const PACE = learnPace(
  Array.from({ length: 200 }, (_, day) => [
    timed("a", "s", day * 1440, 30),
    timed("b", "s", day * 1440 + 40, 10),
    timed("c", "t", day * 1440 + 70, 60),
  ]).flat(),
  (at) => `${Math.floor(at / MINUTE / 1440)}`,
);

type Call = Parameters<typeof takesOf>[1][number];
const call = (id: string, site: string, change: Partial<Call> = {}) =>
  ({ basin: { id, site: { id: site } }, memberId: "w", done: false, skipped: null, ...change }) as Call;

describe("what a day takes", () => {
  it("is each stop with the way to it, and their sum", () => {
    const { stops, whole } = takesOf(PACE, [call("a", "s"), call("b", "s"), call("c", "t")]);
    expect(stops).toEqual([
      { way: null, call: 30 },
      { way: 0, call: 10 },
      { way: 20, call: 60 },
    ]);
    expect(whole).toBe(120);
  });
  it("goes on from what was made, and not by what is left out", () => {
    const made = takesOf(PACE, [call("a", "s", { done: true }), call("c", "t")]);
    expect(made.stops).toEqual([null, { way: 20, call: 60 }]);
    const leftOut = { by: "w", why: "gate locked" } as NonNullable<Call["skipped"]>;
    const without = takesOf(PACE, [call("c", "t", { skipped: leftOut }), call("b", "s")]);
    expect(without).toEqual({ stops: [null, { way: null, call: 10 }], whole: 10 });
  });
  it("adds nobody's way to another's, and sums no two people up", () => {
    const { stops, whole } = takesOf(PACE, [call("a", "s"), call("c", "t", { memberId: "j" })]);
    expect(stops[1]).toEqual({ way: null, call: 60 });
    expect(whole).toBeNull();
  });
  it("is not told of a day that was kept before it was known", () => {
    expect(takesOf(undefined, [call("a", "s")])).toEqual({ stops: [null], whole: null });
  });
});
