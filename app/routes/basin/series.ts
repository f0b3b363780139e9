import { basinById } from "#server/db/basins";
import { firmOf } from "#server/db/firms";
import { outcomesAt } from "#server/db/plans";
import { costByMonth, doseSeries, readingSeries } from "#server/db/series";
import { volumesOf } from "#server/db/volumes";
import { uuidSchema } from "#server/visits/schemas";
import { inFirm, notFound } from "../../context";
import type { Route } from "./+types/series";

const DAY = 86_400_000;
const MOST_DAYS = 3660;
const MOST_OUTCOMES = 40;

/** A basin over the last so many days, for its charts. */
export const loader = ({ params, request, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, member, now) => {
    const basin = uuidSchema.validate(params.basinId).error
      ? undefined
      : await basinById(scope, params.basinId);
    if (!basin) return notFound();
    const asked = Number(new URL(request.url).searchParams.get("days") ?? 365);
    const days = Number.isFinite(asked) ? Math.min(MOST_DAYS, Math.max(1, asked)) : 365;
    const from = new Date(now.getTime() - days * DAY);
    const { timeZone } = await firmOf(scope);
    return {
      from,
      to: now,
      readings: await readingSeries(scope, basin.id, from),
      doses: await doseSeries(scope, basin.id, from),
      // What the firm pays is not a customer's.
      costs: member.role === "reader" ? [] : await costByMonth(scope, basin.id, from, timeZone),
      outcomes: await outcomesAt(scope, basin.id, MOST_OUTCOMES),
      volumes: (await volumesOf(scope, basin.id)).filter((one) => one.knownFrom >= from),
    };
  });
