import type { DriftPlace } from "../drift/habits";
import type { WeatherOfDay } from "../drift/surroundings";
import type { Quantity } from "../measure/quantity";
import type { ProductId } from "../products/products";
import type { Sample } from "../water/sample";

/** A firm's log as learning reads it. Times are ms since 1970. */
export interface FirmLog {
  basins: BasinLog[];
  weather: WeatherOfDay[];
  location: { latitude: number; longitude: number };
}

export interface BasinLog extends DriftPlace {
  id: string;
  /** By the book. */
  litres: number;
  fill: Partial<Sample>;
  /** In the order of time. */
  visits: LoggedVisit[];
  /** What its feeder's setting is meant to give, mg/L of chlorine a day, and from when on; in the order of time. */
  settings?: FeederSetting[];
  /** Times at which the water is to be forecast, after the last visit. */
  ahead: number[];
}

export interface FeederSetting {
  at: number;
  value: number;
}

export interface LoggedVisit {
  at: number;
  /** In a green pool chlorine goes for what no habit of the basin asks: it is taken as it is read, and taught nothing. */
  green?: boolean | undefined;
  readings: LoggedReading[];
  doses: LoggedDose[];
  /** Share of the water that was replaced, 0…1. */
  replaced?: number | undefined;
  /** Fresh water by the meter since it was read before, without what was replaced. */
  fresh?: FreshWater | undefined;
}

export interface FreshWater {
  litresADay: number;
  days: number;
}

/** A reading as the interval that it is; an open end is infinite. */
export interface LoggedReading {
  quantity: Quantity;
  value: number;
  low: number;
  high: number;
  /** The bottle of its titrant. */
  lot?: string | undefined;
}

export interface LoggedDose {
  at: number;
  product: ProductId;
  strength: number;
  grams: number;
  /** How likely it was given at all, where the people there were to give it; given by us without it. */
  chance?: number | undefined;
  /** The delivery that it came from. */
  lot?: string | undefined;
}

/** Readings that are learned from and forecast. */
export const LEARNED = ["freeChlorine", "ph", "totalAlkalinity", "calciumHardness", "cyanuricAcid"] as const;
export type Learned = (typeof LEARNED)[number];

const LEARNED_NAMES: ReadonlySet<string> = new Set(LEARNED);
export const isLearned = (quantity: Quantity): quantity is Learned => LEARNED_NAMES.has(quantity);
