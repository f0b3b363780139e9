import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { type CountState, countStep, dropsNotIn, laterCount, newCount } from "./counting";

const counted = (drops: number, state = newCount(25, "a")): CountState =>
  Array.from({ length: drops }).reduce<CountState>((now) => countStep(now, { kind: "drop" }), state);

describe("a count", () => {
  it("goes up, comes back, and says what changed nothing", () => {
    const five = counted(5);
    expect(five).toMatchObject({ drops: 5, sequence: 5 });
    expect(countStep(five, { kind: "take-back" })).toMatchObject({ drops: 4, idle: 0, sequence: 6 });
    // The sixth drop changed nothing: five is the count, and six drops have left the bottle.
    expect(countStep(counted(6), { kind: "no-change" })).toMatchObject({ drops: 5, idle: 1 });
    expect(countStep(newCount(25, "a"), { kind: "take-back" })).toEqual(newCount(25, "a"));
  });

  it("starts afresh with a new sample, or with titrant ahead of the indicator", () => {
    expect(countStep(counted(7), { kind: "sample", millilitres: 10 })).toMatchObject({
      drops: 0,
      sample: 10,
    });
    const ahead = countStep(counted(7), { kind: "ahead", drops: 4 });
    expect(ahead).toMatchObject({ drops: 4, ahead: 4 });
    // What went in ahead of the indicator cannot be taken back out.
    expect(countStep(ahead, { kind: "take-back" })).toBe(ahead);
    expect(countStep(counted(2, ahead), { kind: "take-back" })).toMatchObject({ drops: 5 });
  });

  it("stops at what a vessel holds", () => {
    const full = { ...newCount(25, "a"), drops: 500, sequence: 900 };
    expect(countStep(full, { kind: "drop" })).toBe(full);
  });
});

describe("two copies of a count", () => {
  it("leave the holder's later one", () => {
    expect(laterCount(counted(3), counted(5))).toEqual(counted(5));
    expect(laterCount(counted(5), counted(3))).toEqual(counted(5));
  });
  it("give way to a screen that took it over, and to no other", () => {
    const taken = counted(2, countStep(counted(5), { kind: "take-over", holder: "b" }));
    expect(laterCount(counted(5), taken)).toBe(taken);
    // The first screen never heard of it and tapped on: nothing gets in by itself, and it is told.
    const unaware = counted(9);
    expect(laterCount(taken, unaware)).toBe(taken);
    expect(dropsNotIn(unaware, taken)).toBe(2);
    // Taking over from a stale copy does not undo what was counted since.
    const stale = countStep(counted(1), { kind: "take-over", holder: "c" });
    expect(laterCount(counted(5), stale)).toEqual(counted(5));
  });
});

/**
 * A technician taps; everything else goes wrong. The page may be reloaded (it reads the device), the
 * device's storage may be wiped (it reads the server), messages to the server may be lost, late or
 * doubled, the tab may be closed and another opened, which takes the count over.
 */
describe("a thousand interruptions", () => {
  const event = fc.oneof(
    { weight: 8, arbitrary: fc.constant("tap" as const) },
    { weight: 1, arbitrary: fc.constant("take-back" as const) },
    { weight: 1, arbitrary: fc.constant("no-change" as const) },
    { weight: 4, arbitrary: fc.constant("arrives" as const) },
    { weight: 2, arbitrary: fc.constant("arrives-twice" as const) },
    { weight: 2, arbitrary: fc.constant("late" as const) },
    { weight: 2, arbitrary: fc.constant("lost" as const) },
    { weight: 2, arbitrary: fc.constant("reload" as const) },
    { weight: 1, arbitrary: fc.constant("new-tab" as const) },
    { weight: 1, arbitrary: fc.constant("storage-wiped-after-sync" as const) },
  );

  it("lose no drop and double none", () => {
    fc.assert(
      fc.property(fc.array(event, { minLength: 20, maxLength: 120 }), (events) => {
        let page = newCount(25, "tab0");
        let device: CountState | null = null;
        let server: CountState | null = null;
        let onTheWay: CountState[] = [];
        let truth = 0;
        let tabs = 0;
        const arrive = (state: CountState | undefined) => {
          if (!state) return;
          server = server === null ? state : laterCount(server, state);
        };
        const act = (kind: "drop" | "take-back" | "no-change") => {
          const next = countStep(page, { kind });
          if (next === page) return;
          truth += kind === "drop" ? 1 : -1;
          const held = countStep(page, { kind: "take-over", holder: `tab${tabs}` });
          page = countStep(held, { kind });
          device = page;
          onTheWay.push(page);
        };
        const open = () => {
          // The later of device and server, as a page that opens takes them.
          const known: CountState[] = [device, server].flatMap((copy) => copy ?? []);
          page = known.reduce(
            (best, copy) => (copy.sequence > best.sequence ? copy : best),
            newCount(25, `tab${tabs}`),
          );
        };
        for (const happens of events) {
          switch (happens) {
            case "tap":
              act("drop");
              break;
            case "take-back":
            case "no-change":
              act(happens);
              break;
            case "arrives":
              arrive(onTheWay.shift());
              break;
            case "arrives-twice":
              arrive(onTheWay[0]);
              arrive(onTheWay.shift());
              break;
            case "late":
              onTheWay = [...onTheWay.slice(1), ...onTheWay.slice(0, 1)];
              break;
            case "lost":
              onTheWay.shift();
              break;
            case "reload":
              open();
              break;
            case "new-tab":
              tabs++;
              open();
              break;
            case "storage-wiped-after-sync":
              // The page shows "kept" once the server has what it shows; only then is this harmless.
              arrive(page.sequence > 0 ? page : undefined);
              device = null;
              open();
              break;
          }
          expect(page.drops).toBe(truth);
        }
        // The page sends its newest state until the server answers.
        if (page.sequence > 0) arrive(page);
        for (const state of onTheWay) arrive(state);
        expect((server as CountState | null)?.drops ?? 0).toBe(truth);
      }),
      { numRuns: 1000 },
    );
  });
});
