import {
  addDays,
  callTakes,
  dayIn,
  type Firm,
  NO_WISHES,
  type Proposal,
  type RegularProblem,
  regularDays,
} from "#core";
import type { FirmScope } from "../db/connection";
import { type Gathered, gather, mostBetween, USUAL_MINUTE_WORTH } from "./week";

/** Regular days that would be better than those that somebody chose, of basins of which something was learned. */

/** What a change of rhythm has to bring a week, in days that the water is right longer. */
const CHANGE_WORTH = 0.25;
const DAYS_A_MONTH = 30;

export interface RegularProposal extends Proposal {
  name: string;
  site: string;
  /** Money in 30 days for calls, more than now. */
  money: number;
}

/** The firm's rhythms as a problem, of basins of which something was learned. */
export async function rhythmsOn(
  scope: FirmScope,
  firm: Firm,
  now: Date,
): Promise<{ known: Gathered; problem: RegularProblem }> {
  const today = dayIn(now, firm.timeZone);
  const known = await gather(scope, firm, today, addDays(today, 6), now);
  const basins = known.basins.flatMap((basin) => {
    const kept = known.worths.get(basin.id);
    if (!kept) return [];
    const wishes = known.wishes.get(basin.id) ?? NO_WISHES;
    return [
      {
        id: basin.id,
        site: basin.site.id,
        minutes: callTakes(known.pace, basin.id).minutes,
        worth: kept.worth,
        allowed: wishes.allowed,
        fixed: wishes.fixed,
        daily: wishes.daily,
        least: wishes.least ?? 1,
        // Less often is for the customer to say; what strangers bathe in stays as it is seen to now.
        most: wishes.most ?? (basin.isPublic === false ? null : mostBetween(basin, today)),
        now: { days: basin.calls.callDays, everyWeeks: basin.calls.everyWeeks },
        person: basin.callerId,
      },
    ];
  });
  const problem = {
    basins,
    people: known.members.map(({ id, week }) => ({ id, hours: week.hours })),
    ways: known.ways,
    minuteWorth: USUAL_MINUTE_WORTH,
    changeWorth: CHANGE_WORTH,
  };
  return { known, problem };
}

export async function regularOn(scope: FirmScope, firm: Firm, now: Date): Promise<RegularProposal[]> {
  const { known, problem } = await rhythmsOn(scope, firm, now);
  return regularDays(problem).flatMap((proposal) => {
    const basin = known.basins.find(({ id }) => id === proposal.basin);
    const calls = proposal.proposed.calls - proposal.now.calls;
    return basin
      ? [
          {
            ...proposal,
            name: basin.name,
            site: basin.site.name,
            money: (calls * firm.callPrice * DAYS_A_MONTH) / 7,
          },
        ]
      : [];
  });
}
