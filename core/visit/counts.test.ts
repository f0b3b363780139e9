import { describe, expect, it } from "vitest";
import { type CountState, newCount } from "../testing/count/counting";
import { TITRATION_KIT } from "../testing/kits/titration-kit";
import { countIdOf, seenInCount, unsavedCounts } from "./counts";
import { commandOf, decide } from "./decide";
import { afterCommand } from "./facts";
import { visitOf } from "./visit";
import { brought, KIT, STARTED, uuidOf, WREN } from "./visit.fixtures";
import { NOTHING_WRITTEN, type Written } from "./written";

const OTHER_KIT = uuidOf(0xa9);
const BROUGHT = brought({
  kits: [
    { id: KIT, kit: TITRATION_KIT },
    { id: OTHER_KIT, kit: TITRATION_KIT },
  ],
});

/** What stands after these commands, one after another. */
const after = (...commands: [Parameters<typeof commandOf>[0], object][]): Written =>
  commands.reduce((written: Written, [name, given], index) => {
    const frame = { id: uuidOf(50 + index), by: WREN, at: STARTED };
    return afterCommand(written, decide(BROUGHT, written, commandOf(name, given as never, frame)));
  }, NOTHING_WRITTEN);
const counted = (countId: string, drops: number, change: Partial<CountState> = {}): ["count", object] => [
  "count",
  { methodId: countId, ...newCount(25, "a"), drops, sequence: drops, ...change },
];
const saved = (drops: number, kitId = KIT): ["read", object] => [
  "read",
  {
    tests: [
      {
        id: uuidOf(90 + drops),
        kitId,
        methodId: "total-alkalinity",
        seen: seenInCount({ drops, ahead: 0, idle: 0 }, 25),
      },
    ],
  },
];
const open = (...commands: Parameters<typeof after>) =>
  unsavedCounts(visitOf(BROUGHT, after(...commands), STARTED)).map(({ countId, state }) => [
    countId,
    state.drops,
  ]);

describe("a count that was begun and not saved", () => {
  it("is told until a reading has its drops", () => {
    expect(open(counted("total-alkalinity", 17))).toEqual([["total-alkalinity", 17]]);
    expect(open(counted("total-alkalinity", 17), saved(17))).toEqual([]);
    // Counted on after it was saved: the reading has 17, the count 18.
    expect(open(counted("total-alkalinity", 18), saved(17))).toEqual([["total-alkalinity", 18]]);
  });

  it("is none when it was started again, or never begun", () => {
    expect(open(counted("total-alkalinity", 17), counted("total-alkalinity", 0, { sequence: 18 }))).toEqual(
      [],
    );
    expect(open()).toEqual([]);
  });

  it("is its own kit's: the same method of another kit is another count", () => {
    const there = { kitId: OTHER_KIT, method: { id: "total-alkalinity" } };
    const countId = countIdOf({ kitId: KIT }, there, 0);
    expect(countId).not.toBe("total-alkalinity");
    expect(open(counted(countId, 6), counted("total-alkalinity", 6), saved(6, OTHER_KIT))).toEqual([
      ["total-alkalinity", 6],
    ]);
  });

  it("of a round before stays told: its water is gone, its drops are not", () => {
    const plans = [{ id: uuidOf(70), round: 0 }] as never;
    const visit = visitOf(BROUGHT, after(counted("salt", 4), counted("salt~1", 5)), STARTED);
    expect(unsavedCounts({ ...visit, plans }).map(({ countId, round }) => [countId, round])).toEqual([
      ["salt", 0],
      ["salt~1", 1],
    ]);
  });
});
