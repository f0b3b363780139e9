import { millisecondsInHour } from "date-fns/constants";
import {
  type EverydayAmount,
  type Measurement,
  massIn,
  QUANTITIES,
  type Quantity,
  temperatureIn,
  UNIT_SYSTEMS,
  type Unit,
  type UnitSystem,
  volumeIn,
  type WeatherDay,
} from "#core";
import { bracketText, durationText, everydayUnit, formatter, numberText, words } from "../words";

/** Numbers as the firm's units have them. Inside everything is metric; this is the edge. */

/** Decimals that a drop test of each quantity can tell apart. */
const DECIMALS: Partial<Record<Quantity, [least: number, most: number]>> = {
  freeChlorine: [1, 2],
  combinedChlorine: [1, 2],
  totalChlorine: [1, 2],
  ph: [1, 2],
  phosphate: [1, 2],
  iron: [1, 2],
  copper: [1, 2],
  temperature: [0, 1],
  acidDemand: [2, 2],
  baseDemand: [2, 2],
};

/** A bare value of a quantity, in the firm's unit. */
export function valueText(quantity: Quantity, value: number, units: UnitSystem): string {
  const [least, most] = DECIMALS[quantity] ?? [0, 1];
  const shown = quantity === "temperature" ? temperatureIn(value, UNIT_SYSTEMS[units].heat) : value;
  return numberText(shown, most, least);
}

const CHLORINES: readonly Quantity[] = ["freeChlorine", "combinedChlorine", "totalChlorine"];

/**
 * A limit as it is told: worked-out chlorine floors have digits that no test has. From 1 ppm on they
 * go to a tenth, under it to two figures.
 */
export const toldLimit = (quantity: Quantity, limit: number): number =>
  CHLORINES.includes(quantity) && limit > 0
    ? Number(limit >= 1 ? limit.toFixed(1) : limit.toPrecision(2))
    : limit;

const UNIT_TEXT: Record<Unit, string> = { "mg/L": "ppm", pH: "", "°C": "°C", "meq/L": "meq/L" };

export const unitText = (quantity: Quantity, units: UnitSystem): string =>
  quantity === "temperature" ? `°${UNIT_SYSTEMS[units].heat}` : UNIT_TEXT[QUANTITIES[quantity].unit];

/** How a bounded value is marked before its number. */
export const BOUND_SIGN = { within: "", "at-least": "≥ ", "at-most": "≤ " } as const;

/** A value with its unit: "4.6 ppm", "7.5". */
export const withUnit = (quantity: Quantity, value: number, units: UnitSystem): string =>
  `${valueText(quantity, value, units)} ${unitText(quantity, units)}`.trim();

/** A value with what is known of its error, for a line of text: "4.4 to 4.6". */
export const bracket = (quantity: Quantity, measured: Measurement, units: UnitSystem): string =>
  bracketText(
    measured,
    measured.low === null ? "" : valueText(quantity, measured.low, units),
    measured.high === null ? "" : valueText(quantity, measured.high, units),
  );

/** A basin's volume in the firm's unit, to three figures or so. */
export function volumeText(litres: number, units: UnitSystem): string {
  const amount = volumeIn(litres, UNIT_SYSTEMS[units].water);
  const step = amount >= 1000 ? 10 : 1;
  return `${numberText(Math.round(amount / step) * step, 0)} ${waterUnit(units)}`;
}

/** What a basin's water is counted in. @example waterUnit("imperial") // "imp gal" */
export const waterUnit = (units: UnitSystem): string => words.waterUnits[UNIT_SYSTEMS[units].water];

/** "1 lb 6 oz" */
export const amountText = (amount: EverydayAmount): string =>
  amount.parts.map((part) => `${numberText(part.amount, 2)} ${everydayUnit(part.unit)}`).join(" ");

export const plain = numberText;

/** "$45.22": money of the firm's currency. */
export const moneyText = (amount: number, currency: string): string =>
  formatter(
    `money ${currency}`,
    (locale) => new Intl.NumberFormat(locale, { style: "currency", currency }),
  ).format(amount);

/** "$45": where pennies would say more than is known. */
export const wholeMoneyText = (amount: number, currency: string): string =>
  formatter(
    `wholeMoney ${currency}`,
    (locale) => new Intl.NumberFormat(locale, { style: "currency", currency, maximumFractionDigits: 0 }),
  ).format(amount);

/** An amount as finely as anybody weighs or pours it: three figures. */
export const figures = (value: number): string => numberText(Number(value.toPrecision(3)), 2);

/** A mass in the firm's unit, to two figures: "430 g", "1.2 kg", "2.6 lb". */
export function massText(grams: number, units: UnitSystem): string {
  const [amount, unit] =
    UNIT_SYSTEMS[units].doses === "us"
      ? grams < 453.6
        ? [massIn(grams, "oz"), "oz"]
        : [massIn(grams, "lb"), "lb"]
      : grams < 1000
        ? [grams, "g"]
        : [grams / 1000, "kg"];
  return `${numberText(Number(amount.toPrecision(2)), 2)} ${unit}`;
}

/** "1:05" for a wait that runs, "3 h 20 min" for a long one. */
export function leftText(seconds: number): string {
  const whole = Math.max(0, Math.ceil(seconds));
  if (whole < 3600) return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
  const hours = Math.floor(whole / 3600);
  return hours < 36
    ? words.durations.hoursMinutes({ hours, minutes: Math.floor((whole % 3600) / 60) })
    : words.durations.days({ count: Math.round(hours / 24) });
}

/** The formatter of some options in a time zone. */
const dates = (options: Intl.DateTimeFormatOptions, timeZone: string): Intl.DateTimeFormat =>
  formatter(
    `${timeZone} ${Object.entries(options)}`,
    (locale) => new Intl.DateTimeFormat(locale, { ...options, timeZone }),
  );

export const timeText = (date: Date, timeZone: string): string =>
  dates({ timeStyle: "short" }, timeZone).format(date);

/** An index with its sign: "+0.05", "−0.31". */
export const signed = (value: number): string =>
  formatter(
    "signed",
    (locale) =>
      new Intl.NumberFormat(locale, {
        maximumFractionDigits: 2,
        minimumFractionDigits: 2,
        signDisplay: "exceptZero",
      }),
  ).format(value);

/** "3 days ago"; whole days count from midnight to midnight in the firm's zone only roughly. */
export function ago(then: Date, now: Date): string {
  const relative = formatter("ago", (locale) => new Intl.RelativeTimeFormat(locale, { numeric: "auto" }));
  const minutes = Math.round((then.getTime() - now.getTime()) / 60_000);
  if (Math.abs(minutes) < 60) return relative.format(minutes, "minute");
  if (Math.abs(minutes) < 36 * 60) return relative.format(Math.round(minutes / 60), "hour");
  const days = Math.round(minutes / 1440);
  return Math.abs(days) < 60
    ? relative.format(days, "day")
    : relative.format(Math.round(days / 30.4), "month");
}

export const dateText = (date: Date, timeZone: string): string =>
  dates({ dateStyle: "medium" }, timeZone).format(date);

/** A date in the year that goes without saying: "Dec 14". */
export const nearDateText = (date: Date, timeZone: string): string =>
  dates({ month: "short", day: "numeric" }, timeZone).format(date);

export const dateTimeText = (date: Date, timeZone: string): string =>
  dates({ dateStyle: "medium", timeStyle: "short" }, timeZone).format(date);

export const longDateText = (date: Date, timeZone: string): string =>
  dates({ weekday: "long", month: "long", day: "numeric" }, timeZone).format(date);

/** "5 h", "3 d": an age where there is little room. */
export function agoShort(then: Date, now: Date): string {
  const hours = (now.getTime() - then.getTime()) / millisecondsInHour;
  return hours < 36
    ? words.durations.shortHours({ count: Math.max(0, Math.round(hours)) })
    : words.durations.shortDays({ count: Math.round(hours / 24) });
}

/** "40 minutes", "3 hours", "2 days" */
export const hoursText = (hours: number): string => durationText(Math.max(60, hours * 3600));

/** An interval whose ends may be open: "4.1 to 4.9", "at least 5". */
export const bracketOf = (
  { low, high }: { low: number | null; high: number | null },
  text: (value: number) => string,
): string =>
  bracketText(
    { bound: high === null ? "at-least" : low === null ? "at-most" : "within" },
    low === null ? "" : text(low),
    high === null ? "" : text(high),
  );

/** The day of the week, for days that are near: "Saturday". */
export const weekdayText = (day: string): string =>
  dates({ weekday: "long" }, "UTC").format(new Date(`${day}T12:00:00Z`));

/** A calendar day as "Apr 1, 2026"; `day` is 2026-04-01, in no time zone. */
export const dayText = (day: string): string => dateText(new Date(`${day}T12:00:00Z`), "UTC");

/** A day's weather in the firm's units. */
export const weatherText = ({ low, high, sun, rain, evaporation }: WeatherDay, units: UnitSystem): string =>
  words.visit.weather({
    low: valueText("temperature", low, units),
    high: withUnit("temperature", high, units),
    sun: numberText(sun, 0),
    rain: rain < 0.05 ? null : numberText(rain, 1),
    evaporation: numberText(evaporation, 1),
  });
