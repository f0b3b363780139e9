import ical from "ical-generator";
import { addDays, dayIn } from "#core";
import { feedBehind } from "#server/db/feeds";
import { firmOf } from "#server/db/firms";
import { callsAhead } from "#server/round/ahead";
import { byLink, openedByLink, servicesContext } from "../../context";
import { goOnIn } from "../../language.server";
import { dayText } from "../../ui/format";
import { words } from "../../words";
import type { Route } from "./+types/route";

const DAYS_BACK = 7;
const DAYS_AHEAD = 60;

/** The round as an iCalendar file, for a program that holds its secret address. */
export async function loader({ params, request, context }: Route.LoaderArgs) {
  const { now } = context.get(servicesContext);
  const token = /^([\w-]{43})\.ics$/.exec(params.file)?.[1];
  const feed = await openedByLink(context, async (db) => (token ? feedBehind(db, token) : null));
  // A calendar's own program says nothing of what its owner reads.
  goOnIn(feed.language);
  const text = await byLink(context, feed.firmId, async (scope) => {
    const firm = await firmOf(scope);
    const today = dayIn(now(), firm.timeZone);
    const calls = await callsAhead(scope, addDays(today, -DAYS_BACK), addDays(today, DAYS_AHEAD));
    const calendar = ical({
      name: words.calendar.name({ firm: firm.name }),
      prodId: { company: "Pelagon", product: "Round" },
      ttl: 3600,
    });
    for (const { day, basin, memberId, before } of calls) {
      if (feed.mine && memberId !== null && memberId !== feed.memberId) continue;
      calendar.createEvent({
        id: `${basin.id}-${day}@pelagon`,
        stamp: now(),
        // A day in no time zone: noon keeps it the same day wherever the server stands.
        start: new Date(`${day}T12:00:00`),
        allDay: true,
        summary: `${basin.site.name}, ${basin.name}`,
        location: [basin.site.street, basin.site.district].filter(Boolean).join(", "),
        description: [
          words.kinds[basin.kind],
          before ? words.calendar.before({ event: before.name, day: dayText(before.day) }) : "",
          basin.note,
        ]
          .filter(Boolean)
          .join("\n"),
        url: `${new URL(request.url).origin}/basins/${basin.id}`,
      });
    }
    return calendar.toString();
  });
  return new Response(text, {
    headers: { "Content-Type": "text/calendar; charset=utf-8" },
  });
}
