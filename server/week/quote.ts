import { subDays } from "date-fns";
import { callTakes, type Firm, mixesLike, type Quote, quoteOf, type SitePlace, waysOf } from "#core";
import type { FirmScope } from "../db/connection";
import { costsSince } from "../db/series";
import { placesOf } from "../db/week";
import { rhythmsOn } from "./regular";

/** What a new customer would take, by the basins of this firm that are like theirs. */

export interface QuoteInput {
  kind: string;
  litres: number;
  indoors: boolean;
  place: SitePlace | null;
  /** Calls a week; null for what the water asks for. */
  calls: number | null;
}

/** Products over these days make a month's. */
const COST_DAYS = 90;
const DAYS_A_MONTH = 30;
const NEW_SITE = "new";

export async function quoteOn(
  scope: FirmScope,
  firm: Firm,
  asked: QuoteInput,
  now: Date,
): Promise<(Omit<Quote, "options"> & { options: (Quote["options"][number] & { name: string })[] }) | null> {
  const { known, problem } = await rhythmsOn(scope, firm, now);
  const costs = await costsSince(scope, subDays(now, COST_DAYS));
  const places = await placesOf(scope);
  if (asked.place) places.set(NEW_SITE, asked.place);
  const sites = [...new Set(known.basins.map(({ site }) => site.id)), NEW_SITE];
  const like = known.basins.flatMap((basin) => {
    const kept = known.worths.get(basin.id);
    if (!kept || mixesLike(basin.kind) !== mixesLike(asked.kind) || basin.indoors !== asked.indoors)
      return [];
    return [
      {
        litres: basin.litres,
        minutes: callTakes(known.pace, basin.id).minutes,
        products: ((costs.get(basin.id) ?? 0) * DAYS_A_MONTH) / COST_DAYS,
        worth: kept.worth,
      },
    ];
  });
  const quote = quoteOf(
    { litres: asked.litres, site: NEW_SITE, allowed: null, calls: asked.calls },
    like,
    { ...problem, ways: waysOf(known.pace, places, sites) },
    firm.callPrice,
  );
  if (!quote) return null;
  const names = new Map(known.members.map(({ id, name }) => [id, name]));
  return {
    ...quote,
    options: quote.options.map((option) => ({ ...option, name: names.get(option.person) ?? "" })),
  };
}
