import { dayIn, isDay } from "#core";
import { reading } from "#server/db/batch";
import type { FirmScope } from "#server/db/connection";
import { firmOf, membersOf } from "#server/db/firms";
import { firstStepsOf } from "#server/db/first-steps";
import { reminderOn } from "#server/db/reminders";
import type { SignedIn } from "#server/db/sessions";
import { type RoundDay, roundOn } from "#server/round/day";

/** The page of a day's calls; of today where no day is asked for, or none that there is. */
export const roundPage = (
  scope: FirmScope,
  member: SignedIn,
  now: Date,
  asked: { day: string | null; by: string | null },
) =>
  reading(scope, async (reads) => {
    const [firm, everybody, first] = await Promise.all([
      firmOf(reads),
      membersOf(reads),
      firstStepsOf(reads),
    ]);
    const day = asked.day && isDay(asked.day) ? asked.day : dayIn(now, firm.timeZone);
    const [round, reminder] = await Promise.all([roundOn(reads, firm, day, now), reminderOn(reads, day)]);
    const members = everybody.filter((one) => one.role !== "reader");
    return {
      now,
      own: member.memberId,
      by: members.find((one) => one.id === asked.by)?.id ?? null,
      members: members.map(({ id, name }) => ({ id, name })),
      round: shown(round),
      reminder,
      first,
    };
  });

/** What the page needs of each call: a day of thirty is read on a phone at the pool's edge. */
const shown = ({ calls, ...round }: RoundDay) => ({
  ...round,
  calls: calls.map(({ basin, due, ...call }) => ({
    ...call,
    basin: {
      id: basin.id,
      name: basin.name,
      kind: basin.kind,
      litres: basin.litres,
      site: {
        id: basin.site.id,
        name: basin.site.name,
        street: basin.site.street,
        district: basin.site.district,
      },
    },
    due: due.flatMap((one) => (one.due ? [one.station] : [])),
  })),
});

export type RoundData = Awaited<ReturnType<typeof roundPage>>;
