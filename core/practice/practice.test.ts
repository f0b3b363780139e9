import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { seeded } from "../random";
import { TITRATION_KIT } from "../testing/kits/titration-kit";
import { DRILLS, drillOf } from "./drills";
import { figuresOverWeeks, ownFigures, type Practised } from "./figures";
import { dropSize, scoopAsItComes } from "./hands";
import { hiddenWater, phWith, STORIES } from "./hidden";
import { atTheEnd, methodOf, possible, SCRIPTED, scripted } from "./practice.fixtures";
import { costOf, scoreOf } from "./score";
import { type SlipCode, slipsOf } from "./slips";
import { answered, type Card, dueCards } from "./spacing";
import { afterHand, afterSeconds, dotGoneAt, endOf, lineAt, lookOf, newVessel } from "./vessel";

const IDS = [
  "free-chlorine-fas-dpd",
  "total-alkalinity",
  "calcium-hardness",
  "salt",
  "ph-phenol-red",
  "total-chlorine-dpd",
  "cyanuric-acid-tube",
];
const lineOf = (id: string): number => {
  const method = methodOf(id);
  return method.kind === "titration"
    ? (method.samples[0]?.millilitres ?? 25)
    : method.kind === "meter"
      ? 0
      : method.sample;
};

describe("hidden waters", () => {
  it("are the same for a seed, and a water that there can be", () => {
    for (const story of STORIES)
      for (let seed = 0; seed < 30; seed++) {
        const water = hiddenWater(story, seed);
        expect(hiddenWater(story, seed)).toEqual(water);
        expect(phWith(water, 0)).toBeCloseTo(water.ph, 6);
        // Acid up to the alkalinity brings it to the end of that count, around pH 4.7.
        const end = phWith(water, water.totalAlkalinity / 50.04);
        expect(end).toBeGreaterThan(4.2);
        expect(end).toBeLessThan(5.2);
      }
  });
});

describe("hands", () => {
  it("that slant a bottle by 45° make drops a fifth smaller, and the count is off by that", () => {
    expect(dropSize(0)).toBe(1);
    expect(dropSize(45)).toBeCloseTo(0.8, 9);
    const method = methodOf("total-alkalinity");
    const counted = (slips: SlipCode[]) =>
      Array.from({ length: 20 }, (_, seed) => {
        const { counted } = scripted(method, hiddenWater("ordinary", seed), 25, { slips }, seeded(1));
        return counted ?? 0;
      }).reduce((sum, one) => sum + one, 0);
    // Counts are whole: a drop is half too many on the mean, either way.
    expect((counted(["slanted"]) - 10) / (counted([]) - 10)).toBeCloseTo(1 / 0.8, 1);
  });

  it("that do not level a scoop take too much as often as too little", () => {
    const scoops = Array.from({ length: 300 }, (_, turn) => scoopAsItComes(turn));
    const share = (is: (one: number) => boolean) => scoops.filter(is).length / scoops.length;
    expect(share((one) => one > 1.25)).toBeCloseTo(
      share((one) => one < 0.75),
      2,
    );
    expect(share((one) => one === 1)).toBeLessThan(0.5);
  });

  it("that do not swirl hide the end for one to three drops", () => {
    const method = methodOf("total-alkalinity");
    for (const seconds of [1.3, 2, 3, 4]) {
      let vessel = afterHand(newVessel(method, hiddenWater("ordinary", 5), 25), {
        kind: "fill",
        millilitres: 25,
        after: 1,
      });
      for (let drop = 0; drop < 20; drop++)
        vessel = afterHand(vessel, { kind: "drop", angle: 0, after: seconds });
      const hidden = afterSeconds(vessel, seconds).plume;
      expect(hidden).toBeGreaterThan(0.6);
      expect(hidden).toBeLessThan(3.2);
      const swirled = afterHand(vessel, { kind: "mix", how: "swirl", seconds: 2, after: 0 });
      expect(swirled.plume).toBeLessThan(0.1);
    }
  });

  it("that fill past the line, or let chlorine stand in the sun, read it low", () => {
    const method = methodOf("free-chlorine-fas-dpd");
    const water = hiddenWater("ordinary", 2);
    const read = (slips: SlipCode[]) => scripted(method, water, 25, { slips }, seeded(2)).counted ?? 0;
    // More water in the sample takes more drops; what has faded takes fewer.
    expect(read(["over-filled"])).toBeGreaterThanOrEqual(read([]));
    expect(read(["waited"])).toBeLessThan(read([]));
    expect(read(["waited", "sun"])).toBeLessThan(read(["waited"]));
  });
});

describe("the score", () => {
  it("finds each slip that was made and none that was not, over 200 sessions", () => {
    const random = seeded(11);
    let made = 0;
    for (let session = 0; session < 200; session++) {
      const id = IDS[session % IDS.length] as string;
      const method = methodOf(id);
      const line = lineOf(id);
      const water = hiddenWater("ordinary", session);
      const can = possible(method, SCRIPTED, line);
      // One slip or two that do not stand in one another's way, or none.
      const picked = [can[Math.floor(random() * can.length)], can[Math.floor(random() * can.length)]]
        .slice(0, session % 3)
        .filter((slip): slip is SlipCode => slip !== undefined);
      const slips = compatible([...new Set(picked)]);
      const worked = scripted(method, water, line, { slips }, random);
      made += slips.length;
      const found = slipsOf(worked).map(({ code }) => code);
      expect([...new Set(found)].sort(), `${session} ${id} ${slips.join()}`).toEqual([...slips].sort());
    }
    expect(made).toBeGreaterThan(120);
  });

  it("holds a faultless count against the water within its last drop", () => {
    fc.assert(
      fc.property(
        fc.constantFrom("free-chlorine-fas-dpd", "total-alkalinity", "calcium-hardness", "salt"),
        fc.nat(500),
        (id, seed) => {
          const method = methodOf(id);
          const line = lineOf(id);
          const worked = scripted(method, hiddenWater("ordinary", seed), line, { slips: [] }, seeded(seed));
          const seen = { kind: "drops" as const, count: worked.counted ?? 0, sample: line };
          const score = scoreOf(worked, { seen, setAside: false });
          expect(score.inBracket).toBe(true);
          expect(score.slips).toEqual([]);
          expect(score.trap).toBeNull();
        },
      ),
      { numRuns: 60 },
    );
  });

  it("tells a trap that was missed from one that was seen", () => {
    const method = methodOf("calcium-hardness");
    const water = hiddenWater("copper", 4);
    const worked = scripted(method, water, 25, { slips: [] }, seeded(4));
    const seen = { kind: "drops" as const, count: worked.counted ?? 0, sample: 25 };
    expect(scoreOf(worked, { seen, setAside: false }).trap).toEqual({ story: "copper", seen: false });
    expect(scoreOf(worked, { seen, setAside: true }).trap?.seen).toBe(true);
    const ahead = [1, 2, 3].map(() => ({ kind: "drop" as const, angle: 0, after: 1 }));
    const [fill, ...rest] = worked.events;
    const careful = { ...worked, events: fill ? [fill, ...ahead, ...rest] : [] };
    expect(scoreOf(careful, { seen, setAside: false }).trap?.seen).toBe(true);
  });

  it("says what an error would have cost", () => {
    // 20 mg/L of alkalinity in 40 m³: 0.2 meq/L × 40,000 L × 84.007 g/eq × (20/50.04)/0.4… by the mole: 16 eq.
    const { grams, product } = costOf("totalAlkalinity", 80, 100) ?? { grams: 0, product: null };
    expect(product).toBe("sodium-bicarbonate");
    expect(grams).toBeCloseTo(((20 / 50.04) * 40 * 84.007) / 0.99, 0);
    expect(costOf("freeChlorine", 1.4, 0.4)?.risk).toBe("low-chlorine-unseen");
    expect(costOf("freeChlorine", 0, 30)?.risk).toBe("high-chlorine-unseen");
    expect(costOf("ph", 7.6, 8.5)?.risk).toBe("ph-unseen");
    expect(costOf("ph", 7.6, 7.5)?.risk).toBeNull();
  });
});

/** Slips of which each can still be told when both are made. */
function compatible(slips: SlipCode[]): SlipCode[] {
  const apart: readonly (readonly SlipCode[])[] = [
    ["over-filled", "under-filled"],
    ["heaped", "scant", "left-out"],
    ["sun", "tinted"],
    ["past-end", "short-of-end", "not-swirled", "slanted", "left-out"],
    ["left-out", "wrong-amount", "wrong-order", "not-mixed", "shaken", "too-short", "wrong-reagent"],
    ["waited", "past-end", "short-of-end"],
    ["heaped", "scant", "past-end", "short-of-end"],
  ];
  return slips.filter(
    (slip, index) =>
      !slips
        .slice(0, index)
        .some((other) => apart.some((group) => group.includes(slip) && group.includes(other))),
  );
}

describe("figures of one's own", () => {
  it.each([
    { bias: 0.08, scatter: 0.06 },
    { bias: -0.1, scatter: 0.05 },
  ])("measure a scripted learner to within a fifth after 20 runs: %o", ({ bias, scatter }) => {
    // Many learners: the mean of what is told, and for most of them each.
    const method = methodOf("total-alkalinity");
    const told = Array.from({ length: 40 }, (_, learner) => {
      const random = seeded(900 + learner);
      const runs = Array.from({ length: 20 }, (_, run): Practised => {
        const water = hiddenWater("ordinary", 1000 * learner + run);
        const worked = scripted(method, water, 25, { slips: [], bias, scatter }, random);
        const seen = { kind: "drops" as const, count: worked.counted ?? 0, sample: 25 };
        const { error, truth } = scoreOf(worked, { seen, setAside: false });
        return { error, step: 10, truth };
      });
      const figures = ownFigures(runs);
      if (!figures) throw new Error("too few");
      return figures;
    });
    const mean = (of: (one: (typeof told)[number]) => number) =>
      told.reduce((sum, one) => sum + of(one), 0) / told.length;
    expect(mean(({ bias: one }) => one.value) / bias).toBeGreaterThan(0.8);
    expect(mean(({ bias: one }) => one.value) / bias).toBeLessThan(1.2);
    expect(mean(({ scatter: one }) => one.value) / scatter).toBeGreaterThan(0.8);
    expect(mean(({ scatter: one }) => one.value) / scatter).toBeLessThan(1.2);
    const covered = told.filter(({ scatter: one }) => one.low <= scatter && scatter <= one.high).length;
    expect(covered).toBeGreaterThanOrEqual(30);
  });

  it("go over weeks, and a week with few runs goes together with those before it", () => {
    const run = (day: string, error: number) => ({
      error,
      step: 10,
      truth: 100,
      at: new Date(`${day}T12:00Z`),
    });
    // Mondays are 2 and 9 November 2026; Sundays belong to the week before.
    const first = ["02", "03", "04", "05", "08"].map((day, index) => run(`2026-11-${day}`, index - 2 + 10));
    const second = ["09", "10", "11", "12", "13"].map((day, index) => run(`2026-11-${day}`, index - 2));
    const weeks = figuresOverWeeks([...first, ...second]);
    expect(weeks.map(({ runs }) => runs)).toEqual([5, 5]);
    expect(weeks[0]?.bias.value).toBeCloseTo(0, 12);
    expect(weeks[1]?.bias.value).toBeCloseTo(0.1, 12);
    expect(weeks[1]?.to.toISOString()).toBe("2026-11-08T12:00:00.000Z");
    // Two runs of the week after stand with the ten before them only as far as it takes.
    const few = figuresOverWeeks([...first, ...second, run("2026-11-16", 4), run("2026-11-17", 5)]);
    expect(few.map(({ runs }) => runs)).toEqual([7, 5]);
    expect(figuresOverWeeks(first.slice(0, 3))).toEqual([]);
  });

  it("say nothing of few runs", () => {
    expect(ownFigures([{ error: 1, step: 1, truth: 100 }])).toBeNull();
  });
});

describe("what comes back", () => {
  it("brings a trap that was missed back within three sessions, and what was right later and later", () => {
    let cards: Card[] = [];
    const sessions = new Map<string, number[]>();
    for (let session = 1; session <= 40; session++) {
      const [card] = dueCards(
        cards,
        ["copper", "persulfate", "stabiliser-over", "bleaching-chlorine"],
        session,
      );
      if (!card) continue;
      sessions.set(card.name, [...(sessions.get(card.name) ?? []), session]);
      // Copper is missed the first three times it comes up.
      const isRight = card.name !== "copper" || (sessions.get("copper")?.length ?? 0) > 3;
      cards = [...cards.filter(({ name }) => name !== card.name), answered(card, session, isRight)];
    }
    const copper = sessions.get("copper") ?? [];
    for (let time = 1; time < 4; time++)
      expect((copper[time] ?? 99) - (copper[time - 1] ?? 0)).toBeLessThanOrEqual(3);
    const gaps = copper.slice(1).map((at, index) => at - (copper[index] ?? 0));
    expect(gaps.at(-1)).toBeGreaterThan(3);
  });
});

describe("drills", () => {
  it("ask something that has one right answer, by what is seen", () => {
    for (const kind of DRILLS) {
      const rights = new Map<string, number>();
      for (let seed = 0; seed < 120; seed++) {
        const drill = drillOf(kind, TITRATION_KIT.methods, seed);
        expect(drillOf(kind, TITRATION_KIT.methods, seed)).toEqual(drill);
        const right = drill.choices[drill.right];
        expect(right, `${kind} ${seed}`).toBeDefined();
        rights.set(JSON.stringify(right), (rights.get(JSON.stringify(right)) ?? 0) + 1);
        const { vessel } = drill;
        if (kind === "endpoint" && vessel)
          expect(right?.code).toBe(vessel.titrant >= endOf(vessel) ? "there" : "not-yet");
        if (kind === "dot" && vessel)
          expect(right?.code).toBe(lookOf(vessel).dot > 0.03 ? "dot-seen" : "dot-gone");
        if (kind === "standard" && right?.code === "place" && vessel)
          expect(((right.place.from ?? 0) + (right.place.to ?? 0)) / 2).toBeCloseTo(vessel.water.ph, 9);
      }
      // Every answer is right now and then.
      expect(rights.size, kind).toBeGreaterThanOrEqual(2);
      expect(Math.max(...rights.values())).toBeLessThan(100);
    }
  });
});

describe("a viewing tube", () => {
  it("has its lines wide apart at the low end and crowded at the high one", () => {
    expect(dotGoneAt(30)).toBe(1);
    expect(lineAt(dotGoneAt(70))).toBeCloseTo(70, 9);
    expect(dotGoneAt(30) - dotGoneAt(40)).toBeGreaterThan(5 * (dotGoneAt(90) - dotGoneAt(100)));
    const method = methodOf("cyanuric-acid-tube");
    const read = (slips: SlipCode[], temperature = 25) =>
      atTheEnd(scripted(method, { ...hiddenWater("ordinary", 1), temperature }, 7, { slips }, seeded(1)));
    expect(read([]).level).toBe(0.5);
    expect(endOf(read([]))).toBe(0);
  });
});
