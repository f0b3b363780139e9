import { millisecondsInHour } from "date-fns/constants";
import type { Location } from "../drift/sun";
import type { WeatherOfDay } from "../drift/surroundings";
import { readingsOf } from "../water/equilibrium";
import { asRead } from "../water/molar";
import type { Sample } from "../water/sample";
import { BasinLearner } from "./basin-learner";
import { Shared } from "./belief";
import { type BasinLog, isLearned, type LoggedVisit } from "./log";
import { Lots } from "./lots";
import { POSTERIOR_NAMES, POSTERIOR_VERSION, type Posterior } from "./posterior";
import { UNKNOWNS } from "./unknowns";

/** A learner's posterior out of it, and back into a learner: what happened since is taken in. */

/** Digits that are kept: a thousandth of a thousandth of any deviation. */
const DIGITS = 9;
const rounded = (value: number): number => Number(value.toPrecision(DIGITS));

/** What a learner believes at the end of its log; null before its first reading. */
export function posteriorOf(learner: BasinLearner, shared: Shared): Posterior | null {
  const { belief, log, at } = learner;
  if (!belief) return null;
  const mean = belief.mean(shared);
  const covariance = belief.covariance(shared);
  const { kind, outdoors, feeder } = log;
  return {
    version: POSTERIOR_VERSION,
    basin: log.id,
    at,
    kind,
    outdoors,
    feeder,
    litres: log.litres,
    fill: log.fill,
    setting: learner.setting,
    names: POSTERIOR_NAMES,
    mean: Array.from(mean, rounded),
    covariance: Array.from({ length: UNKNOWNS }, (_, row) =>
      Array.from(covariance.subarray(row * UNKNOWNS, (row + 1) * UNKNOWNS), rounded),
    ),
    scales: learner.scales,
    still: {
      totalDissolvedSolids: rounded(learner.base.totalDissolvedSolids),
      borate: rounded(asRead.borate(learner.base.borate)),
    },
    temperature: learner.temperature,
    newest: Object.fromEntries(learner.newest),
  };
}

/** The last temperature, as the visit that read it: the water's warmth goes on from there. */
const warmth = (temperature: Posterior["temperature"]): LoggedVisit[] =>
  temperature
    ? [
        {
          at: temperature.at,
          readings: [
            {
              quantity: "temperature",
              value: temperature.value,
              low: temperature.value,
              high: temperature.value,
            },
          ],
          doses: [],
        },
      ]
    : [];

/** The log of a posterior's basin from its end on. */
const logSince = (
  { basin, kind, outdoors, feeder, litres, fill, at, setting, temperature }: Posterior,
  visits: readonly LoggedVisit[],
): BasinLog => ({
  id: basin,
  kind,
  outdoors,
  feeder,
  litres,
  fill,
  visits: [...warmth(temperature), ...visits],
  ahead: [],
  ...(setting === null ? {} : { settings: [{ at, value: setting }] }),
});

/** Readings of the same value within these hours are one reading. */
const SAME_HOURS = 12;

/** What happened since a posterior's log ended, and the sky over it as far as anybody tells. */
export interface Since {
  visits: readonly LoggedVisit[];
  weather: readonly WeatherOfDay[];
  location: Location;
}

/**
 * A posterior of an earlier day at a moment: its water has drifted until then, and what was read and poured
 * since is taken in. A reading that it has already is not taken twice.
 * @example posteriorAt(posterior, now, { visits: [], weather: [], location }).at === now // true
 */
export function posteriorAt(
  posterior: Posterior,
  at: number,
  { visits, weather, location }: Since,
): Posterior {
  const shared = new Shared();
  const lots = new Lots(shared);
  const learner = BasinLearner.resumed(
    logSince(posterior, visits),
    { weather: [...weather], location },
    posterior,
  );
  for (const visit of visits) {
    const readings = visit.readings.filter(({ quantity, value }) => {
      const before = isLearned(quantity) ? posterior.newest[quantity] : undefined;
      return !before || before.value !== value || visit.at - before.at > SAME_HOURS * millisecondsInHour;
    });
    learner.visit({ ...visit, readings }, shared, lots);
    for (const { lot: _, ...dose } of visit.doses)
      learner.dose({ ...dose, at: Math.max(visit.at, dose.at) }, shared, lots);
  }
  learner.drift(at, shared);
  return posteriorOf(learner, shared) ?? posterior;
}

/**
 * The water that a posterior stands for at its moment.
 * @example sampleIn(posterior, posterior.at, { weather: [], location }).ph // 7.6
 */
export function sampleIn(
  posterior: Posterior,
  at: number,
  { weather, location }: Omit<Since, "visits">,
): Sample {
  const learner = BasinLearner.resumed(
    logSince(posterior, []),
    { weather: [...weather], location },
    posterior,
  );
  return readingsOf({
    ...learner.waterOf(Float64Array.from(posterior.mean)),
    temperature: learner.around.temperature(at),
  });
}
