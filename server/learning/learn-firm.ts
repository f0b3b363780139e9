import { subDays } from "date-fns";
import { millisecondsInHour } from "date-fns/constants";
import {
  addDays,
  type Basin,
  type BasinLearned,
  type CallWorth,
  dayIn,
  type HoldBasis,
  type LoggedVisit,
  learnMinutes,
  learnPace,
  loggedOf,
  noonIn,
  setForBasin,
  slotsBetween,
  type WeatherDay,
} from "#core";
import { allBasins } from "../db/basins";
import { type Card, cardsSince, entriesOf } from "../db/cards";
import { asFirm, type Database } from "../db/connection";
import { deliveriesOf } from "../db/deliveries";
import { firmIds, firmOf } from "../db/firms";
import { holdsOf, isLearned, type KeptHold, type LogRow, logSince, saveLearned } from "../db/learned";
import { isPaceFresh, savePace, timedVisits } from "../db/pace";
import { productsOf } from "../db/products";
import { rangeSetVersion } from "../db/range-sets";
import { trucksOf } from "../db/trucks";
import { tellOf } from "../db/webhooks";
import { worthsOf } from "../db/week";
import { saveWorkMinutes, workMoments } from "../db/work";
import { learnedNow } from "../webhooks/happened";
import type { Workbench } from "../work/workbench";
import { firmLogOf, LOG_DAYS, MOST_AHEAD_DAYS } from "./firm-log";

/** What learning needs beside the book: a thread, and where there is a service the weather of days to come. */
export interface LearnWith {
  learn: Workbench["learn"];
  hold: Workbench["hold"];
  weatherBetween(district: string, from: string, to: string): Promise<WeatherDay[]>;
}

/** Puts a firm into the queue of those to be learned. */
export interface LearnSoon {
  learnSoon(firmId: string): Promise<void>;
}

/** Learns a firm from its book, in a thread, and keeps what came of it. No row is held meanwhile. */
export async function learnOneFirm(db: Database, firmId: string, work: LearnWith, now: Date): Promise<void> {
  await asFirm(db, firmId, async (scope) => {
    if (await isPaceFresh(scope, now)) return;
    const { timeZone } = await firmOf(scope);
    const from = subDays(now, PACE_DAYS);
    await saveWorkMinutes(scope, learnMinutes(await workMoments(scope, from)));
    const visits = await timedVisits(scope, from);
    await savePace(
      scope,
      learnPace(visits, (at) => dayIn(new Date(at), timeZone)),
      now,
    );
  });
  const since = subDays(now, LOG_DAYS);
  const { basins, rows, deliveries, firm, cards, entries, products, sets, before, worths } = await asFirm(
    db,
    firmId,
    async (scope) => {
      const basins = await allBasins(scope);
      const cards = await cardsSince(scope, since);
      return {
        basins,
        rows: await logSince(scope, since),
        deliveries: await deliveriesOf(scope),
        firm: await firmOf(scope),
        cards,
        entries: await entriesOf(
          scope,
          cards.map(({ id }) => id),
        ),
        products: await productsOf(scope),
        before: await holdsOf(scope),
        worths: await worthsOf(scope),
        sets: new Map(
          await Promise.all(
            [...new Set(basins.map(({ rangeSetId }) => rangeSetId))].map(
              async (id) => [id, await rangeSetVersion(scope, id)] as const,
            ),
          ),
        ),
      };
    },
  );
  const { timeZone } = firm;
  const theirs = theirsOf(cards, entries, rows, now, timeZone);
  const today = dayIn(now, timeZone);
  const expected = await work.weatherBetween(districtOf(basins), today, addDays(today, MOST_AHEAD_DAYS));
  const log = firmLogOf(basins, rows, deliveries, expected, theirs, now, timeZone);
  if (log.basins.every(({ visits }) => visits.length === 0)) return;
  const learned = await work.learn(log);
  const visits = new Map(
    basins.map(({ id }) => [id, rows.filter(({ basinId }) => basinId === id).length] as const),
  );
  const basisOf = ({ posterior, id }: BasinLearned): HoldBasis | null => {
    const basin = basins.find((one) => one.id === id);
    const set = basin && sets.get(basin.rangeSetId);
    if (!basin || !set || !posterior || (visits.get(id) ?? 0) < HOLD_VISITS) return null;
    return {
      basin,
      firm,
      rangeSet: setForBasin(set, basin, basin.rangeOverrides),
      products,
      posterior,
      between: cards.find((card) => card.basinId === id && card.withdrawnAt === null) ?? null,
      now,
    };
  };
  // It takes a second or two a basin: after a close only where something came in, all of them once a day.
  const holds = new Map<string, { hold: KeptHold | null; worth: CallWorth | null }>();
  const bases = learned.basins.flatMap((one): { basis: HoldBasis; workedOut: KeptHold["workedOut"] }[] => {
    const basis = basisOf(one);
    if (!basis) return [];
    const card =
      cards.find(({ basinId, withdrawnAt }) => basinId === one.id && withdrawnAt === null)?.id ?? null;
    const workedOut = { at: now.getTime(), visits: visits.get(one.id) ?? 0, card };
    const kept = before.get(one.id);
    const worth = worths.get(one.id)?.worth;
    if (kept && worth && isFresh(kept, workedOut)) {
      holds.set(one.id, { hold: kept, worth });
      return [];
    }
    return [{ basis, workedOut }];
  });
  const answers = await work.hold(bases.map(({ basis }) => basis));
  bases.forEach(({ basis, workedOut }, index) => {
    const answer = answers[index];
    const worked = answer?.hold;
    holds.set(basis.basin.id, {
      hold: worked ? { ...worked, workedOut } : null,
      worth: answer?.worth ?? null,
    });
  });
  await asFirm(db, firmId, async (scope) => {
    await saveLearned(
      scope,
      firmId,
      {
        basins: learned.basins
          .map((content) => ({
            content,
            visits: visits.get(content.id) ?? 0,
            hold: holds.get(content.id)?.hold ?? null,
            worth: holds.get(content.id)?.worth ?? null,
          }))
          .filter((one) => one.visits > 0),
        suspicions: learned.suspicions,
      },
      now,
    );
    await tellOf(scope, firmId, now, async () =>
      learnedNow(
        { ...learned, visits },
        { firm, basins, sets, products, trucks: await trucksOf(scope), now },
      ),
    );
  });
}

/** Hands get quicker, lists change and roads are built: what is older says little of how long a thing takes now. Days */
const PACE_DAYS = 180;

/** Worked out anew once a day, and when a visit or another card came in between. Milliseconds */
const HOLD_FRESH = 20 * millisecondsInHour;
const isFresh = ({ workedOut }: KeptHold, now: KeptHold["workedOut"]): boolean =>
  workedOut.visits === now.visits &&
  workedOut.card === now.card &&
  now.at >= workedOut.at &&
  now.at - workedOut.at < HOLD_FRESH;

/** A log of fewer visits tells too little of what would hold a water. */
const HOLD_VISITS = 4;
/** A dose of which nobody said when is taken to be of the evening, and of the morning. Hours of the day */
const EVENING = 18;
const MORNING = 8;

/** What the people at each basin gave and read, by the cards that hang or hung there. */
function theirsOf(
  cards: readonly Card[],
  entries: Awaited<ReturnType<typeof entriesOf>>,
  rows: readonly LogRow[],
  now: Date,
  timeZone: string,
): Map<string, LoggedVisit[]> {
  const theirs = new Map<string, LoggedVisit[]>();
  for (const card of cards) {
    const until = card.withdrawnAt ?? now;
    const calls = rows.filter(({ basinId }) => basinId === card.basinId).map(({ at }) => dayIn(at, timeZone));
    const madeOn = dayIn(card.madeAt, timeZone);
    const slots = slotsBetween(card.everyDays, {
      from: madeOn,
      to: dayIn(until, timeZone),
      madeOn,
      calls,
    })
      .map((slot) => ({
        ...slot,
        at: noonIn(slot.day, timeZone) + ((slot.half === "am" ? MORNING : EVENING) - 12) * millisecondsInHour,
      }))
      .filter(({ at }) => at < until.getTime());
    const own = entries.filter(({ cardId }) => cardId === card.id);
    theirs.set(card.basinId, [...(theirs.get(card.basinId) ?? []), ...loggedOf(card, slots, own)]);
  }
  return theirs;
}

/** Where most of a firm's basins stand. */
const districtOf = (basins: readonly Basin[]): string => {
  const count = new Map<string, number>();
  for (const { site } of basins) count.set(site.district, (count.get(site.district) ?? 0) + 1);
  return [...count].sort((a, b) => b[1] - a[1])[0]?.[0] ?? "";
};

/** Has every firm learned that has a book and was never learned, or by another version of the learner. */
export async function learnUnlearned(db: Database, jobs: LearnSoon): Promise<void> {
  for (const id of await firmIds(db)) {
    const isKnown = await asFirm(db, id, isLearned);
    if (!isKnown) await jobs.learnSoon(id);
  }
}
