import { describe, expect, it } from "vitest";
import { normal, seeded } from "../random";
import { callTakes, learnPace, pairOf, type TimedVisit, wayTakes } from "./pace";

const MINUTE = 60_000;
const DAY = 86_400_000;
const dayOf = (at: number) => `${Math.floor(at / DAY)}`;
const visit = (
  basinId: string,
  siteId: string,
  from: number,
  minutes: number,
  memberId = "wren",
): TimedVisit => ({
  memberId,
  basinId,
  siteId,
  startedAt: from * MINUTE,
  finishedAt: (from + minutes) * MINUTE,
});

describe("a firm's pace", () => {
  it("is what is usual before anything was timed", () => {
    const pace = learnPace([], dayOf);
    expect(callTakes(pace, "a")).toMatchObject({ minutes: expect.closeTo(40, 9), times: 0 });
    expect(wayTakes(pace, "here", "there").minutes).toBeCloseTo(12, 9);
    expect(wayTakes(pace, "here", "here").minutes).toBe(0);
  });

  it("draws what was timed once to the usual, by hand", () => {
    const pace = learnPace([visit("a", "s", 0, 20), visit("b", "t", 38, 20)], dayOf);
    // Of all calls: e^((2 ln 20 + 2 ln 40) / 4) = 28.28; of one basin e^((ln 20 + 2 ln 28.28) / 3) = 25.20.
    expect(pace.usualCall.minutes).toBeCloseTo(28.284, 3);
    expect(callTakes(pace, "a").minutes).toBeCloseTo(25.198, 3);
    // One way of 18: e^((ln 18 + 2 ln 12) / 3) = 13.74, and the same back.
    expect(pace.usualWay.minutes).toBeCloseTo(13.737, 3);
    expect(wayTakes(pace, "t", "s")).toEqual(wayTakes(pace, "s", "t"));
    expect(wayTakes(pace, "t", "s").times).toBe(1);
    expect(pairOf("t", "s")).toBe("s t");
  });

  it("takes no way into another day, between two people, within a site, or over a visit left open", () => {
    const none = (...visits: TimedVisit[]) => Object.keys(learnPace(visits, dayOf).ways);
    expect(none(visit("a", "s", 0, 20), visit("b", "t", 24 * 60 + 5, 20))).toEqual([]);
    expect(none(visit("a", "s", 0, 20), visit("b", "t", 30, 20, "jory"))).toEqual([]);
    expect(none(visit("a", "s", 0, 20), visit("b", "s", 30, 20))).toEqual([]);
    // Two under way at once: whoever began the second before the first was closed drove nowhere.
    expect(none(visit("a", "s", 0, 40), visit("b", "t", 30, 20))).toEqual([]);
    expect(learnPace([visit("a", "s", 0, 900)], dayOf).calls).toEqual({});
  });

  it("finds a town's ways and calls again from a month of rounds, lunches and slow days among them", () => {
    const random = seeded(8);
    const at = new Map(
      Array.from({ length: 9 }, (_, index) => [`s${index}`, [30 * random(), 30 * random()] as const]),
    );
    const minutesBetween = (one: string, other: string) => {
      const [[x, y], [u, v]] = [at.get(one) ?? [0, 0], at.get(other) ?? [0, 0]];
      return 3 + 0.8 * Math.hypot(x - u, y - v);
    };
    const callOf = (site: string) => 15 + 5 * Number(site.slice(1));
    const visits: TimedVisit[] = [];
    const driven = new Set<string>();
    for (let day = 0; day < 22; day++) {
      let now = day * 1440 + 480;
      let here: string | null = null;
      for (const site of [...at.keys()].sort(() => random() - 0.5).slice(0, 6)) {
        if (here) {
          driven.add(pairOf(here, site));
          now += minutesBetween(here, site) * Math.exp(0.15 * normal(random)) + (random() < 0.1 ? 35 : 0);
        }
        const minutes = callOf(site) * Math.exp(0.2 * normal(random));
        visits.push(visit(`b${site}`, site, now, minutes));
        now += minutes;
        here = site;
      }
    }
    const pace = learnPace(visits, dayOf);
    const off = (told: number, truth: number) => Math.abs(told / truth - 1);
    const ways = [...driven].map((pair) => {
      const [one = "", other = ""] = pair.split(" ");
      return off(wayTakes(pace, one, other).minutes, minutesBetween(one, other));
    });
    const calls = [...at.keys()].map((site) => off(callTakes(pace, `b${site}`).minutes, callOf(site)));
    const middle = (values: number[]) => [...values].sort((a, b) => a - b)[values.length >> 1] as number;
    expect(middle(ways)).toBeLessThan(0.25);
    expect(middle(calls)).toBeLessThan(0.15);
    // Wider where it was never driven.
    const spread = ({ high, low }: { high: number; low: number }) => high / low;
    const unknown = wayTakes(pace, "s0", "elsewhere");
    expect(unknown.times).toBe(0);
    const known = Object.values(pace.ways).filter(({ times }) => times >= 4);
    expect(known.length).toBeGreaterThan(5);
    expect(spread(unknown)).toBeGreaterThan(1.5 * middle(known.map(spread)));
  });
});
