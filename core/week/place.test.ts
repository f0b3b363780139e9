import { describe, expect, it } from "vitest";
import { normal, seeded } from "../random";
import { learnPace, pairOf, type TimedVisit } from "../schedule/pace";
import { type SitePlace, waysOf } from "./place";

const MINUTE = 60_000;

/** A town of sites and who drove from one to the next on a day, at 6 minutes and 1.7 a kilometer. */
function town(seed: number, sites: number, days: number) {
  const random = seeded(seed);
  const places = new Map<string, SitePlace>(
    Array.from({ length: sites }, (_, index) => [
      `site-${index}`,
      { latitude: 40 + 0.15 * random(), longitude: -105 + 0.2 * random() },
    ]),
  );
  const km = (a: SitePlace, b: SitePlace) =>
    // By the flat earth, to hold the package against: 111.2 km a degree.
    111.2 * Math.hypot(a.latitude - b.latitude, (a.longitude - b.longitude) * Math.cos((40 * Math.PI) / 180));
  const truth = (one: string, other: string) =>
    6 + 1.7 * km(places.get(one) as SitePlace, places.get(other) as SitePlace);
  const visits: TimedVisit[] = [];
  for (let day = 0; day < days; day++) {
    let at = day * 1440 * MINUTE + 480 * MINUTE;
    let here = "";
    for (let stop = 0; stop < 5; stop++) {
      // Only the first half of them is ever driven to.
      const there = `site-${Math.floor((random() * sites) / 2)}`;
      if (here !== "" && here !== there) at += truth(here, there) * Math.exp(0.2 * normal(random)) * MINUTE;
      visits.push({
        memberId: "wren",
        basinId: there,
        siteId: there,
        startedAt: at,
        finishedAt: at + 30 * MINUTE,
      });
      at += 30 * MINUTE;
      here = there;
    }
  }
  const pace = learnPace(visits, (at) => `${Math.floor(at / MINUTE / 1440)}`);
  return { places, truth, pace, sites: [...places.keys()] };
}

const medianOf = (values: readonly number[]): number =>
  [...values].sort((a, b) => a - b)[values.length >> 1] as number;

describe("ways", () => {
  it("that were never driven are told by where sites lie, within a quarter in the median", () => {
    const errors = [1, 2, 3].flatMap((seed) => {
      const { places, truth, pace, sites } = town(seed, 24, 60);
      const { known } = waysOf(pace, places, sites);
      const never = sites.slice(12);
      return never.flatMap((one, index) =>
        never
          .slice(index + 1)
          .map((other) => Math.abs((known[pairOf(one, other)] as number) / truth(one, other) - 1)),
      );
    });
    expect(medianOf(errors)).toBeLessThan(0.25);
  });

  it("that were driven are as they were, and a site without a place is as far as is usual", () => {
    const { places, truth, pace, sites } = town(5, 8, 200);
    const { known, usual } = waysOf(pace, places, [...sites, "nowhere"]);
    const driven = sites
      .slice(0, 4)
      .flatMap((one, index, all) =>
        all
          .slice(index + 1)
          .map((other) => Math.abs((known[pairOf(one, other)] as number) / truth(one, other) - 1)),
      );
    expect(medianOf(driven)).toBeLessThan(0.1);
    expect(known[pairOf("site-0", "nowhere")]).toBeUndefined();
    expect(usual).toBe(pace.usualWay.minutes);
  });
});
