import { callTakes, type Pace, wayTakes } from "#core";
import type { RoundData } from "../../pages/round.server";

type Call = RoundData["round"]["calls"][number];

/** Minutes of a stop: the way from the one before it, null where there is none, and at the water. */
export interface StopTakes {
  way: number | null;
  call: number;
}

/**
 * What each stop takes, and the whole day where it is one person's: what is made, or left out, takes nothing more.
 * @param pace left out by a day that was kept before it was told
 */
export function takesOf(
  pace: Pace | undefined,
  calls: readonly Call[],
): { stops: (StopTakes | null)[]; whole: number | null } {
  if (!pace) return { stops: calls.map(() => null), whole: null };
  let here: Call | null = null;
  const stops = calls.map((call): StopTakes | null => {
    if (call.skipped) return null;
    const before = here;
    here = call;
    if (call.done) return null;
    const isOnes =
      before !== null && (before.memberId ?? call.memberId) === (call.memberId ?? before.memberId);
    return {
      way: isOnes ? Math.round(wayTakes(pace, before.basin.site.id, call.basin.site.id).minutes) : null,
      call: Math.round(callTakes(pace, call.basin.id).minutes),
    };
  });
  const people = new Set(calls.flatMap(({ memberId }) => memberId ?? []));
  const whole = stops.reduce((sum, stop) => sum + (stop ? (stop.way ?? 0) + stop.call : 0), 0);
  return { stops, whole: people.size > 1 || whole === 0 ? null : whole };
}
