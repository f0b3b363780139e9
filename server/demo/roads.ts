import haversine from "haversine-distance";
import { normal, type Random, type SitePlace, seeded } from "#core";

/** Where the demo's sites lie in Orrin Vale, and what its roads take: up the valley the upper town, down at the mere the lower. */

export const PLACES: Record<string, SitePlace> = {
  lodge: { latitude: 40.4312, longitude: -105.5521 },
  hotel: { latitude: 40.4268, longitude: -105.5433 },
  bracken: { latitude: 40.4391, longitude: -105.5287 },
  rowan: { latitude: 40.4402, longitude: -105.5241 },
  school: { latitude: 40.3857, longitude: -105.4978 },
  clinic: { latitude: 40.3921, longitude: -105.5043 },
  gym: { latitude: 40.3889, longitude: -105.4871 },
  club: { latitude: 40.3764, longitude: -105.4802 },
  heron: { latitude: 40.3803, longitude: -105.4889 },
};

/** Out of the yard, park, unload; and a kilometer as the crow flies. Minutes */
const ROAD = { fixed: 4, perKm: 2.1 } as const;
/** Deviation of the logarithm: how unlike one another roads are, and one day another. */
const UNLIKE = { roads: 0.2, days: 0.18 } as const;

/** Minutes from one site to another on a day; none within one. */
export function drive(from: string, to: string, random: Random): number {
  const [a, b] = [PLACES[from], PLACES[to]];
  if (from === to || !a || !b) return 0;
  const km = haversine({ lat: a.latitude, lon: a.longitude }, { lat: b.latitude, lon: b.longitude }) / 1000;
  const bends = normal(seeded(seedOf([from, to].sort().join(" "))));
  return (ROAD.fixed + ROAD.perKm * km) * Math.exp(UNLIKE.roads * bends + UNLIKE.days * normal(random));
}

/** A road stays as it is: a number from its name. */
const seedOf = (name: string): number =>
  [...name].reduce((sum, letter) => (31 * sum + letter.charCodeAt(0)) % 1_000_003, 7);
