import { millisecondsInDay } from "date-fns/constants";
import { describe, expect, it } from "vitest";
import { normal, seeded } from "../random";
import { FirmLearner, learnFirm } from "./learn";
import { type BasinLog, type FirmLog, LEARNED, type Learned, type LoggedReading } from "./log";
import { simulatedFirm } from "./simulated-firm.fixtures";

/** A firm with known waters, smaller than the one whose table stands in docs/learning.md. */
const SMALL = { basins: 12, weeks: 14 } as const;

describe("a firm whose waters are known", () => {
  const errors = Object.fromEntries(
    LEARNED.map((quantity) => [quantity, { learned: 0, last: 0, usual: 0, count: 0, inside: 0, half: 0 }]),
  ) as Record<Learned, Record<"learned" | "last" | "usual" | "count" | "inside" | "half", number>>;
  for (const seed of [11, 12, 13]) {
    const firm = simulatedFirm({ seed, ...SMALL });
    for (const share of [0.7, 1]) {
      const { log, truth } = firm.cutAt(share);
      const learned = learnFirm(log);
      log.basins.forEach((basin, index) => {
        const forecast = learned?.basins[index]?.forecast[0];
        const real = truth[index];
        if (!forecast || !real) return;
        for (const quantity of LEARNED) {
          const read = basin.visits.flatMap(({ readings }) =>
            readings.filter((one) => one.quantity === quantity).map(({ value }) => value),
          );
          if (read.length === 0) continue;
          const error = errors[quantity];
          const figure = forecast[quantity];
          expect(figure, `${basin.id} ${quantity}`).toBeDefined();
          if (!figure) continue;
          error.count++;
          error.learned += Math.abs(figure.value - real[quantity]);
          error.last += Math.abs((read.at(-1) as number) - real[quantity]);
          error.usual += Math.abs(read.reduce((a, b) => a + b, 0) / read.length - real[quantity]);
          error.inside += figure.low <= real[quantity] && real[quantity] <= figure.high ? 1 : 0;
          error.half += (figure.high - figure.low) / 2;
        }
      });
    }
  }
  it.each([
    ["freeChlorine", 0.7, 1],
    ["ph", 0.55, 0.3],
    ["totalAlkalinity", 0.35, 7],
    ["calciumHardness", 0.8, 22],
    ["cyanuricAcid", 0.5, 7],
  ] as const)("is forecast in %s better than by its last or its usual reading", (quantity, ratio, half) => {
    const { learned, last, usual, count, inside, half: width } = errors[quantity];
    expect(count).toBeGreaterThan(30);
    expect(learned / Math.min(last, usual)).toBeLessThan(ratio);
    expect(inside / count).toBeGreaterThan(0.82);
    expect(width / count).toBeLessThan(half);
  });

  it("learns no habit from a green pool: its chlorine goes for what no other week asks", () => {
    const { log } = simulatedFirm({ seed: 15, basins: 4, weeks: 14 }).cutAt(1);
    const [first, ...others] = log.basins as [BasinLog, ...BasinLog[]];
    const from = first.visits[9]?.at ?? 0;
    // Mornings found with none and left with twelve parts; the last just before a call of the log, and as it reads.
    const then = first.visits[10] as BasinLog["visits"][number];
    const won = then.readings.filter(({ quantity }) => quantity === "freeChlorine");
    const days = [
      ...Array.from({ length: 5 }, (_, day) => from + (day + 1) * millisecondsInDay),
      then.at - millisecondsInDay / 24,
    ];
    const week = (green: boolean): BasinLog => ({
      ...first,
      visits: [
        ...first.visits,
        ...days.map((at, day) => ({
          at,
          ...(green ? { green } : {}),
          readings: day < 5 ? [{ quantity: "freeChlorine" as const, value: 0, low: 0, high: 0.2 }] : won,
          doses:
            day < 5
              ? [
                  {
                    at,
                    product: "sodium-hypochlorite" as const,
                    strength: 0.125,
                    grams: (12 * first.litres) / 125,
                  },
                ]
              : [],
        })),
      ].sort((a, b) => a.at - b.at),
    });
    const habits = (basin: BasinLog) => learnFirm({ ...log, basins: [basin, ...others] })?.basins[0]?.habits;
    const lossOf = (basin: BasinLog) => habits(basin)?.chlorineLoss.value ?? Number.NaN;
    const usual = lossOf(first);
    expect(Math.abs(lossOf(week(true)) / usual - 1)).toBeLessThan(0.05);
    expect(Math.abs(lossOf(week(false)) / usual - 1)).toBeGreaterThan(0.3);
  });

  it("learns nothing from a call at which nobody tested, and nothing wrong", () => {
    const { log } = simulatedFirm({ seed: 15, basins: 4, weeks: 6 }).cutAt(1);
    const withRepairs: FirmLog = {
      ...log,
      basins: log.basins.map((basin) => ({
        ...basin,
        visits: basin.visits
          .flatMap((visit) => [visit, { at: visit.at + 1.5 * millisecondsInDay, readings: [], doses: [] }])
          .sort((a, b) => a.at - b.at),
      })),
    };
    const [without, beside] = [learnFirm(log), learnFirm(withRepairs)];
    expect(beside?.suspicions.length).toBe(without?.suspicions.length);
    without?.basins.forEach((basin, index) => {
      for (const [name, figure] of Object.entries(basin.forecast[0] ?? {})) {
        const other = beside?.basins[index]?.forecast[0]?.[name as Learned];
        if (typeof figure === "number" || !figure || !other) continue;
        // The day goes by in two steps instead of one: what is expected moves little beside its spread.
        expect(Math.abs(other.value - figure.value), name).toBeLessThan(
          0.15 * (figure.high - figure.low) + 1e-6,
        );
      }
    });
  });

  it("is learned the same each time, and stops when it is told", () => {
    const { log } = simulatedFirm({ seed: 14, basins: 4, weeks: 6 }).cutAt(1);
    expect(learnFirm(log)).toEqual(learnFirm(structuredClone(log)));
    const shares: number[] = [];
    expect(
      learnFirm(log, (share) => {
        shares.push(share);
        return share < 0.5;
      }),
    ).toBeNull();
    expect(shares.at(-1)).toBeGreaterThanOrEqual(0.5);
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
  });

  it("takes one more visit in without beginning anew", () => {
    const firm = simulatedFirm({ seed: 15, basins: 4, weeks: 8 });
    const { log } = firm.cutAt(1);
    const basin = log.basins[0] as BasinLog;
    const last = basin.visits.at(-1);
    if (!last) throw new Error("a basin without visits");
    const shorter = {
      ...log,
      basins: [{ ...basin, visits: basin.visits.slice(0, -1) }, ...log.basins.slice(1)],
    };
    const learner = FirmLearner.learn(shorter);
    learner?.takeIn(basin.id, last);
    const times = basin.ahead;
    const grown = learner?.answerOf(0, undefined, times).forecast[0];
    const anew = FirmLearner.learn(log)?.answerOf(0, undefined, times).forecast[0];
    for (const quantity of ["freeChlorine", "ph", "totalAlkalinity"] as const) {
      const figure = anew?.[quantity];
      if (!figure) throw new Error(quantity);
      expect(Math.abs((grown?.[quantity]?.value ?? 0) - figure.value)).toBeLessThan(
        (figure.high - figure.low) / 4,
      );
    }
  });
});

describe("what nobody wrote down", () => {
  const { log } = simulatedFirm({ seed: 16, basins: 6, weeks: 12 }).cutAt(1);
  const told = (of: FirmLog) => learnFirm(of)?.suspicions.filter(({ code }) => code === "unwritten") ?? [];

  it("is told of no basin where everything is written", () => {
    expect(told(log)).toEqual([]);
  });

  it("is told at the visit that found it, by the reading that shows it most", () => {
    // Somebody poured in bicarbonate for 60 mg/L between two visits: from then on all that is read is higher.
    const [basin, ...others] = log.basins as [BasinLog, ...BasinLog[]];
    const from = basin.visits[Math.floor(basin.visits.length * 0.7)]?.at ?? 0;
    const higher = (reading: LoggedReading): LoggedReading =>
      reading.quantity === "totalAlkalinity"
        ? { ...reading, value: reading.value + 60, low: reading.low + 60, high: reading.high + 60 }
        : reading;
    const visits = basin.visits.map((visit) =>
      visit.at < from ? visit : { ...visit, readings: visit.readings.map(higher) },
    );
    const first = visits.find(
      ({ at, readings }) => at >= from && readings.some(({ quantity }) => quantity === "totalAlkalinity"),
    );
    const found = told({ ...log, basins: [{ ...basin, visits }, ...others] });
    expect(found).toMatchObject([
      { code: "unwritten", basin: basin.id, quantity: "totalAlkalinity", at: first?.at },
    ]);
    expect(found[0]?.ratio.value).toBeGreaterThan(1.4);
    expect(found[0]?.ratio.low).toBeGreaterThan(1.1);
  });
});

describe("bottles and deliveries", () => {
  it.each([3, 4])("that are bad are found in time, and no good one is accused (firm %d)", (seed) => {
    const firm = simulatedFirm({ seed, weakeningBottle: 0.01, weakDelivery: 0.6 });
    const start = Math.min(firm.badFrom.bottle, firm.badFrom.delivery);
    const days = 18 * 7;
    const began = Date.UTC(2026, 3, 6);
    const share = (at: number) => Math.min(1, (at - began) / millisecondsInDay / days);
    const accused = new Set<string>();
    const told = (at: number) => {
      const found = learnFirm(firm.cutAt(share(at)).log)?.suspicions ?? [];
      for (const { code, lot } of found)
        if (lot !== undefined && lot !== firm.badBottle && lot !== firm.badDelivery)
          accused.add(`${code} ${lot}`);
      return found;
    };
    expect(start).toBeLessThan(Number.POSITIVE_INFINITY);
    // A titrant that loses a hundredth a day is a third weak after forty days.
    const weak = told(firm.badFrom.bottle + 34 * millisecondsInDay);
    expect(weak.some(({ code, lot }) => code === "bottle" && lot === firm.badBottle)).toBe(true);
    const late = told(firm.badFrom.delivery + 14 * millisecondsInDay);
    const bad = late.find(({ code, lot }) => code === "product" && lot === firm.badDelivery);
    expect(bad?.ratio.value).toBeGreaterThan(0.45);
    expect(bad?.ratio.value).toBeLessThan(0.8);
    // Reading by reading its strength is told about a middle that is weak, at more than one basin.
    const said = (bad?.evidence ?? []).map(({ ratio }) => ratio).sort((a, b) => a - b);
    expect(new Set(bad?.evidence?.map(({ basin }) => basin)).size).toBeGreaterThan(1);
    expect(said[Math.floor(said.length / 2)]).toBeGreaterThan(0.4);
    expect(said[Math.floor(said.length / 2)]).toBeLessThan(0.8);
    expect([...accused]).toEqual([]);
  });
});

describe("a log that says little", () => {
  const START = Date.UTC(2026, 4, 1);
  const day = (days: number) => START + days * millisecondsInDay;
  const reading = (quantity: Learned, value: number, width: number): LoggedReading => ({
    quantity,
    value,
    low: value - width / 2,
    high: value + width / 2,
  });
  const firmOf = (change: Partial<BasinLog>): FirmLog => ({
    basins: [
      {
        id: "one",
        kind: "pool",
        outdoors: true,
        feeder: "none",
        litres: 40_000,
        fill: {},
        visits: [],
        ahead: [day(1000)],
        ...change,
      },
    ],
    weather: [],
    location: { latitude: 40, longitude: 0 },
  });
  const full = (value: number) => [
    reading("freeChlorine", 3, 0.2),
    reading("ph", 7.5, 0.2),
    reading("totalAlkalinity", value, 10),
    reading("calciumHardness", 250, 10),
  ];
  const figuresOf = (firm: FirmLog) => {
    const learned = learnFirm(firm);
    const [basin] = learned?.basins ?? [];
    const figures = [
      ...Object.values({ ...basin?.habits, about: undefined }).filter((one) => one !== undefined),
      ...(basin?.forecast ?? []).flatMap(({ at: _, ...one }) => Object.values(one)),
    ];
    for (const { value, low, high } of figures) {
      expect([value, low, high].every(Number.isFinite)).toBe(true);
      expect(low).toBeLessThanOrEqual(value);
      expect(value).toBeLessThanOrEqual(high);
    }
    return { basin, suspicions: learned?.suspicions ?? [] };
  };

  it("of no visit at all is silent, and knows what is usual", () => {
    const { basin, suspicions } = figuresOf(firmOf({}));
    expect(basin?.forecast[0]).toEqual({ at: day(1000) });
    expect(basin?.habits.litres.low).toBeLessThan(30_000);
    expect(suspicions).toEqual([]);
  });

  it("of one visit is wide", () => {
    const { basin, suspicions } = figuresOf(
      firmOf({ visits: [{ at: day(0), readings: full(100), doses: [] }], ahead: [day(7)] }),
    );
    const { low = 0, high = 0 } = basin?.forecast[0]?.freeChlorine ?? {};
    expect(high - low).toBeGreaterThan(0.8);
    expect(suspicions).toEqual([]);
  });

  it("with gaps of months is wider after each", () => {
    const visits = [0, 7, 14, 150, 157].map((days) => ({ at: day(days), readings: full(100), doses: [] }));
    const { basin } = figuresOf(firmOf({ visits, ahead: [day(164), day(300)] }));
    const width = (index: number) => {
      const figure = basin?.forecast[index]?.totalAlkalinity;
      return (figure?.high ?? 0) - (figure?.low ?? 0);
    };
    expect(width(1)).toBeGreaterThan(width(0) * 1.5);
  });

  it("of chlorine alone forecasts chlorine alone, and leaves the volume as the book has it", () => {
    const visits = Array.from({ length: 20 }, (_, index) => ({
      at: day(index * 4),
      readings: [reading("freeChlorine", 1.5, 0.2)],
      doses: [{ at: day(index * 4), product: "sodium-hypochlorite" as const, strength: 0.107, grams: 1200 }],
    }));
    const { basin, suspicions } = figuresOf(firmOf({ visits, ahead: [day(84)] }));
    const { at: _, ...forecast } = basin?.forecast[0] ?? { at: 0 };
    expect(Object.keys(forecast)).toEqual(["freeChlorine"]);
    expect(suspicions).toEqual([]);
    expect((basin?.habits.litres.high ?? 0) / (basin?.habits.litres.low ?? 1)).toBeGreaterThan(1.05);
  });

  it("that contradicts itself, or is two years of nonsense, accuses nobody for sure and stays a number", () => {
    const random = seeded(5);
    const nonsense = Array.from({ length: 104 }, (_, index) => ({
      at: day(index * 7),
      readings: [
        reading("freeChlorine", Math.abs(5 * normal(random)), 0.2),
        reading("ph", 7.5 + 0.5 * normal(random), 0.2),
        reading("totalAlkalinity", 20 + Math.abs(120 * normal(random)), 10),
        reading("cyanuricAcid", Math.abs(60 * normal(random)), 10),
      ],
      doses: [
        {
          at: day(index * 7),
          product: "hydrochloric-acid" as const,
          strength: 0.3145,
          grams: 3000 * random(),
        },
      ],
    }));
    const { basin } = figuresOf(firmOf({ visits: nonsense, ahead: [day(735)] }));
    const { low = 0, high = 0 } = basin?.forecast[0]?.totalAlkalinity ?? {};
    expect(high - low).toBeGreaterThan(25);
    const twice = [0, 0, 0].map((days) => ({
      at: day(days),
      readings: [...full(80), ...full(180)],
      doses: [],
    }));
    figuresOf(firmOf({ visits: twice, ahead: [day(7)] }));
  });
});
