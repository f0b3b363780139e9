import { addDays, dayIn, InputFault, isDay, MOST_DAYS, numberWithin } from "#core";
import { firmOf } from "#server/db/firms";
import { USUAL_CHANGE_WORTH, USUAL_MINUTE_WORTH, weekProblemOn } from "#server/week/week";
import { attemptJson, inFirm } from "../../context";
import type { Route } from "./+types/problem";

/** What a changed stop may have to bring: nothing, to more right days than any water is worth. */
const MOST_CHANGE_WORTH = 10;

/** The next weeks as a problem, for the worker that draws them up. */
export const loader = ({ request, context }: Route.LoaderArgs) =>
  attemptJson(() =>
    inFirm(context, async (scope, _, now) => {
      const asked = new URL(request.url).searchParams;
      const number = (field: string, usual: number, low: number, high: number) =>
        numberWithin(field, Number(asked.get(field) ?? usual), low, high);
      const firm = await firmOf(scope);
      const from = asked.get("from") ?? addDays(dayIn(now, firm.timeZone), 1);
      if (!isDay(from)) throw new InputFault("malformed", "day", from);
      const days = number("days", 7, 1, MOST_DAYS);
      const changeWorth = number("change", USUAL_CHANGE_WORTH, 0, MOST_CHANGE_WORTH);
      return weekProblemOn(
        scope,
        firm,
        {
          from,
          days: Math.round(days),
          minuteWorth: USUAL_MINUTE_WORTH,
          changeWorth,
          without: asked.get("without"),
        },
        now,
      );
    }),
  );
