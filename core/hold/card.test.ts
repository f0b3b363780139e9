import { describe, expect, it } from "vitest";
import { learnFirm } from "../learning/learn";
import type { FirmLog, LoggedVisit } from "../learning/log";
import { loggedOf, slotsAfter, slotsBetween } from "./card";

const names = (slots: { name: string }[]) => slots.map(({ name }) => name);

describe("doses by the people there", () => {
  it("are due between two calls and on none of their days", () => {
    expect(names(slotsAfter("2026-05-04", 1, "2026-05-07"))).toEqual(["2026-05-05", "2026-05-06"]);
    expect(names(slotsAfter("2026-05-04", 2, "2026-05-11"))).toEqual([
      "2026-05-06",
      "2026-05-08",
      "2026-05-10",
    ]);
    expect(names(slotsAfter("2026-05-04", 0.5, "2026-05-06"))).toEqual([
      "2026-05-04 pm",
      "2026-05-05 am",
      "2026-05-05 pm",
    ]);
    expect(slotsAfter("2026-05-04", 1, "2026-05-04")).toEqual([]);
    // Over the end of a month and of a year.
    expect(names(slotsAfter("2026-12-30", 1, "2027-01-02"))).toEqual(["2026-12-31", "2027-01-01"]);
  });

  it("begin anew with each call, and before the card there are none", () => {
    const asked = {
      from: "2026-05-01",
      to: "2026-05-10",
      madeOn: "2026-05-04",
      calls: ["2026-04-27", "2026-05-07"],
    };
    expect(names(slotsBetween(2, asked))).toEqual(["2026-05-06", "2026-05-09"]);
    expect(names(slotsBetween(2, { ...asked, from: "2026-05-08" }))).toEqual(["2026-05-09"]);
  });

  it("come to the log by how likely they were given, each once, and strips with their own scatter", () => {
    const card = { product: "dichlor", strength: 0.56, grams: 10, everyDays: 1 } as const;
    const slots = [
      { name: "a", day: "a", half: null, at: 1 },
      { name: "b", day: "b", half: null, at: 2 },
    ];
    const logged = loggedOf(card, slots, [
      { kind: "given", slot: "b", at: 3, read: {} },
      { kind: "strip", slot: "b", at: 4, read: { freeChlorine: 5, ph: 7.4 } },
    ]);
    expect(logged.flatMap(({ doses }) => doses.map(({ at, chance }) => [at, chance]))).toEqual([
      [1, 0.5],
      [3, 0.98],
    ]);
    // 40 % of 5 to either side; four tenths of a pH.
    expect(logged.at(-1)?.readings).toEqual([
      { quantity: "freeChlorine", value: 5, low: 3, high: 7 },
      { quantity: "ph", value: 7.4, low: 7, high: 7.800000000000001 },
    ]);
  });

  it("are believed half where nobody said a word, and the learner is less sure of the water then", () => {
    const day = 86_400_000;
    const read = (at: number, value: number): LoggedVisit => ({
      at,
      readings: [
        { quantity: "freeChlorine", value, low: value - 0.2, high: value },
        { quantity: "ph", value: 7.5, low: 7.4, high: 7.6 },
        { quantity: "totalAlkalinity", value: 100, low: 90, high: 100 },
      ],
      doses: [],
    });
    const firm = (dosed: LoggedVisit[]): FirmLog => ({
      location: { latitude: 40, longitude: 0 },
      weather: [],
      basins: [
        {
          id: "tub",
          kind: "spa",
          outdoors: false,
          feeder: "none",
          litres: 1500,
          fill: {},
          visits: [...Array.from({ length: 8 }, (_, call) => read(call * 2 * day, 3)), ...dosed],
          ahead: [14.2 * day],
        },
      ],
    });
    // 10 g of dichlor at 56 % in 1500 L: 3.7 mg/L.
    const with_ = (chance: number) =>
      firm([
        {
          at: 14.1 * day,
          readings: [],
          doses: [{ at: 14.1 * day, product: "dichlor", strength: 0.56, grams: 10, chance }],
        },
      ]);
    const told = (log: FirmLog) => learnFirm(log)?.basins[0]?.forecast[0]?.freeChlorine;
    const [none, half, whole] = [told(firm([])), told(with_(0.5)), told(with_(0.98))];
    expect((whole?.value ?? 0) - (none?.value ?? 0)).toBeGreaterThan(3);
    expect((half?.value ?? 0) - (none?.value ?? 0)).toBeGreaterThan(1.4);
    expect((half?.value ?? 0) - (none?.value ?? 0)).toBeLessThan(2.3);
    const width = (figure: typeof none) => (figure ? figure.high - figure.low : 0);
    expect(width(half)).toBeGreaterThan(1.5 * width(whole));
  });
});
