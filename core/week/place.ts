import haversine from "haversine-distance";
import { type Pace, pairOf, wayTakes } from "../schedule/pace";

/** Where a site lies, in degrees. */
export interface SitePlace {
  latitude: number;
  longitude: number;
}

export const PLACE_LIMITS = {
  latitude: { low: -90, high: 90 },
  longitude: { low: -180, high: 180 },
} as const;

/** Minutes of a way that do not grow with it: out of the yard, park, unload; and of a kilometer as the crow flies. */
const USUAL_ROAD = { fixed: 4, perKm: 2 } as const;
/** So many driven pairs tell a firm's own roads. */
const ENOUGH = 4;

const kmBetween = (a: SitePlace, b: SitePlace): number =>
  haversine({ lat: a.latitude, lon: a.longitude }, { lat: b.latitude, lon: b.longitude }) / 1000;

/**
 * Minutes between all pairs of sites: as they were driven, else by how far they lie apart, else as is usual.
 * @param places of the sites that have one
 * @example waysOf(learnPace([], () => ""), new Map(), ["a", "b"]).usual // 12
 */
export function waysOf(
  pace: Pace,
  places: ReadonlyMap<string, SitePlace>,
  sites: readonly string[],
): { known: Record<string, number>; usual: number } {
  const road = roadOf(pace, places);
  const known: Record<string, number> = {};
  sites.forEach((one, index) => {
    for (const other of sites.slice(index + 1)) {
      const driven = wayTakes(pace, one, other);
      const [a, b] = [places.get(one), places.get(other)];
      if (driven.times > 0) known[pairOf(one, other)] = driven.minutes;
      else if (a && b) known[pairOf(one, other)] = road.fixed + road.perKm * kmBetween(a, b);
    }
  });
  return { known, usual: pace.usualWay.minutes };
}

/** What a kilometer takes on this firm's roads: the median over the pairs that were driven. */
function roadOf({ ways }: Pace, places: ReadonlyMap<string, SitePlace>): { fixed: number; perKm: number } {
  const { fixed } = USUAL_ROAD;
  const each = Object.entries(ways).flatMap(([pair, { minutes }]) => {
    const [one = "", other = ""] = pair.split(" ");
    const [a, b] = [places.get(one), places.get(other)];
    const km = a && b ? kmBetween(a, b) : 0;
    return km > LEAST_KM ? [Math.max(0.5, (minutes - fixed) / km)] : [];
  });
  if (each.length < ENOUGH) return USUAL_ROAD;
  each.sort((a, b) => a - b);
  return { fixed, perKm: each[each.length >> 1] as number };
}

/** Nearer sites tell nothing of a kilometer. */
const LEAST_KM = 0.3;
