import { TZDate } from "@date-fns/tz";
import { millisecondsInDay } from "date-fns/constants";
import {
  type Bound,
  hardnessFrom,
  InputFault,
  isDay,
  numberFrom,
  numberWithin,
  QUANTITIES,
  type Quantity,
} from "#core";
import type { DateForm, Mapping } from "./mapping";

/** One cell of a spreadsheet as what it means; each throws an `InputFault` that names what stood there. */

const OF_HARDNESS: readonly Quantity[] = ["totalAlkalinity", "calciumHardness", "totalHardness"];

/** A number with the decimal sign of the sheet; groups of three may be parted by the other sign or a blank. */
export function numberIn(text: string, decimal: "." | ",", field: string): number {
  const value = numberFrom(text, decimal);
  if (Number.isNaN(value)) throw new InputFault("not-a-number", field, text);
  return value;
}

export interface Cell {
  value: number;
  bound: Bound;
}

const BOUNDS: Record<string, Bound> = { "<": "at-most", "≤": "at-most", ">": "at-least", "≥": "at-least" };

/** A reading in the canonical unit; "<", "≤", ">" and "≥" bound it. */
export function readingIn(text: string, quantity: Quantity, mapping: Mapping): Cell {
  const [, sign = "", rest = ""] = /^\s*([<>≤≥])?=?\s*(.*)$/s.exec(text) ?? [];
  const typed = numberIn(rest, mapping.decimal, quantity);
  const value = OF_HARDNESS.includes(quantity)
    ? hardnessFrom(typed, mapping.hardness)
    : quantity === "temperature" && mapping.temperature === "F"
      ? (typed - 32) / 1.8
      : typed;
  const { low, high } = QUANTITIES[quantity];
  numberWithin(quantity, value, low, high);
  return { value: Number(value.toPrecision(10)), bound: BOUNDS[sign] ?? "within" };
}

/** Days are counted from here; the sheet's own 29 February 1900 never was, so 1900 begins a day early. */
const FIRST_DAY = { "serial-1900": Date.UTC(1899, 11, 30), "serial-1904": Date.UTC(1904, 0, 1) } as const;

/** The calendar day and, where the cell holds one, the minute of the day. */
export function dateIn(text: string, form: DateForm, field = "date"): { day: string; minute: number | null } {
  const plain = text.trim();
  const wrong = () => new InputFault("malformed", field, text, form);
  if (form === "serial-1900" || form === "serial-1904") {
    if (!/^\d{1,6}([.,]\d+)?$/.test(plain)) throw wrong();
    const serial = Number(plain.replace(",", "."));
    const day = new Date(FIRST_DAY[form] + Math.floor(serial) * millisecondsInDay).toISOString().slice(0, 10);
    if (!isDay(day)) throw wrong();
    const part = serial - Math.floor(serial);
    return { day, minute: part === 0 ? null : Math.round(part * 1440) };
  }
  const found = /^(\d{1,4})[./-](\d{1,2})[./-](\d{1,4})(?:[T ,]+(.+))?$/.exec(plain);
  if (!found) throw wrong();
  const [, a = "", b = "", c = "", clock] = found;
  const [year, month, date] = form === "iso" ? [a, b, c] : form === "day-month" ? [c, b, a] : [c, a, b];
  const full = year.length === 2 ? `20${year}` : year;
  const day = `${full}-${month.padStart(2, "0")}-${date.padStart(2, "0")}`;
  if (!isDay(day)) throw wrong();
  return { day, minute: clock === undefined ? null : minuteIn(clock, field) };
}

/** A time of day: 14:05, 2:05 pm, or a share of the day as spreadsheets keep it. */
export function minuteIn(text: string, field = "time"): number {
  const plain = text.trim();
  const share = /^0?[.,]\d+$/.test(plain) ? Number(plain.replace(",", ".")) : null;
  if (share !== null) return Math.round(share * 1440);
  const found = /^(\d{1,2})[:.](\d{2})(?:[:.]\d{2}(?:\.\d+)?)?\s*(am|pm)?Z?$/i.exec(plain);
  const hour = Number(found?.[1]);
  const minute = Number(found?.[2]);
  const half = found?.[3]?.toLowerCase();
  if (!found || hour > 23 || minute > 59 || (half && (hour < 1 || hour > 12)))
    throw new InputFault("malformed", field, text, "14:05");
  const hours = half === "pm" ? (hour % 12) + 12 : half === "am" ? hour % 12 : hour;
  return hours * 60 + minute;
}

/** The instant of a day and a minute in a time zone. */
export function instantOf(day: string, minute: number, timeZone: string): Date {
  const [year = 0, month = 1, date = 1] = day.split("-").map(Number);
  return new Date(
    new TZDate(year, month - 1, date, Math.floor(minute / 60), minute % 60, timeZone).getTime(),
  );
}
