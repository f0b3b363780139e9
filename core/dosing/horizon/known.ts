import type { DriftPlace, Habits } from "../../drift/habits";
import type { Location } from "../../drift/sun";
import { surroundingsOf, type WeatherOfDay } from "../../drift/surroundings";
import type { LoggedVisit } from "../../learning/log";
import { type Posterior, ratesIn } from "../../learning/posterior";
import { posteriorAt } from "../../learning/resume";
import { habitAt } from "../../learning/unknowns";
import { NINETY } from "../../uncertainty/normal";
import type { Spread } from "../../uncertainty/spread";
import type { Sample, Totals } from "../../water/sample";
import type { Steered } from "../plan/goals";
import type { Believed } from "./problem";
import { believedBy, ratesFrom, type ToldHabits, USUAL_VOLUME } from "./rates";

/** What a plan goes by: what a log taught, or habits as they are told, or what is usual. */
export interface KnownBy {
  posterior?: Posterior | null | undefined;
  habits?: ToldHabits | null | undefined;
}

/** Where and when a plan is made, and what was read. */
export interface Today {
  place: DriftPlace;
  water: Sample;
  spreads?: Record<Steered, Spread> | undefined;
  /** What a posterior takes in: this visit's readings, temperature and all, and what was poured between them. */
  visits: readonly LoggedVisit[];
  fill: Totals;
  from: number;
  location: Location;
  weather: readonly WeatherOfDay[];
}

export interface Known {
  /** At their medians. */
  rates: Habits;
  believed: Believed;
  /** What the feeder gives over what its setting is meant to give. */
  gives: number;
}

/**
 * The water, its rates and its volume as one belief of today.
 * @example knownToday({}, today).gives // 1
 */
export function knownToday({ posterior, habits }: KnownBy, today: Today): Known {
  const { place, water, spreads, visits, fill, from, location, weather } = today;
  if (posterior) {
    const now = posteriorAt(posterior, from, { visits, weather, location });
    const gives = now.setting === null ? 1 : Math.exp(now.mean[habitAt("feeder")] as number);
    return { rates: ratesIn(now), believed: now, gives };
  }
  const told = habits ?? {};
  const around = surroundingsOf(place, location, weather, [{ at: from, value: water.temperature }]);
  const known = ratesFrom(told, place, water, fill, around, from);
  const { litres } = told;
  const unsureVolume = litres
    ? Math.max(0.02, (litres.high - litres.low) / (2 * NINETY * litres.value))
    : USUAL_VOLUME;
  return { rates: known.rates, believed: believedBy(water, known, unsureVolume, spreads), gives: 1 };
}
