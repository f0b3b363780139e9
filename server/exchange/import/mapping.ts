import Joi from "joi";
import { HARDNESS_UNITS, type HardnessUnit, QUANTITY_NAMES, type Quantity } from "#core";
import { CSV_COLUMNS } from "../book-csv";

/** Which column of a spreadsheet is what, and in which units and dates it speaks. */

/** What a column may be. Doses are told by the product that they came from. */
export type Target =
  | "date"
  | "time"
  | "site"
  | "basin"
  | "member"
  | "note"
  | `reading.${Quantity}`
  | `dose.${string}`;

const DATE_FORMS = ["iso", "day-month", "month-day", "serial-1900", "serial-1904"] as const;
export type DateForm = (typeof DATE_FORMS)[number];
const DOSE_UNITS = ["g", "kg", "oz", "lb"] as const;

export interface Mapping {
  /** By the place of the column; what is not named is left out. */
  columns: Record<string, Target>;
  dates: DateForm;
  decimal: "." | ",";
  temperature: "C" | "F";
  /** Of alkalinity and hardness alike. */
  hardness: HardnessUnit;
  doses: (typeof DOSE_UNITS)[number];
  /** The basin of every row, where no column tells it. */
  basinId: string | null;
}

const TARGET = new RegExp(
  `^(date|time|site|basin|member|note|reading\\.(${QUANTITY_NAMES.join("|")})|dose\\.[0-9a-f-]{36})$`,
);

export const mappingSchema = Joi.object<Mapping>({
  columns: Joi.object()
    .pattern(/^\d{1,3}$/, Joi.string().pattern(TARGET))
    .required(),
  dates: Joi.valid(...DATE_FORMS).required(),
  decimal: Joi.valid(".", ",").required(),
  temperature: Joi.valid("C", "F").required(),
  hardness: Joi.valid(...HARDNESS_UNITS).required(),
  doses: Joi.valid(...DOSE_UNITS).required(),
  basinId: Joi.string().guid({ separator: "-" }).allow(null).required(),
});

/** Whether a heading is that of our own CSV. */
export const isOwnCsv = (heading: string[]): boolean =>
  heading.length === CSV_COLUMNS.length && CSV_COLUMNS.every((name, index) => heading[index] === name);

/** Names under which people keep these columns. */
const NAMES: [RegExp, Target][] = [
  [/^(date|day|datum|visited|when)\b/i, "date"],
  [/^(time|hour)\b/i, "time"],
  [/^(site|customer|address|property|client)\b/i, "site"],
  [/^(basin|pool|spa|tub|body of water)\b/i, "basin"],
  [/^(tech|technician|by|member|who)\b/i, "member"],
  [/^(note|notes|remarks?|comment)/i, "note"],
  [/^(fc|free (chlorine|cl)\b)/i, "reading.freeChlorine"],
  [/^(cc|combined)/i, "reading.combinedChlorine"],
  [/^(tc|total (chlorine|cl)\b)/i, "reading.totalChlorine"],
  [/^br(omine)?\b/i, "reading.bromine"],
  [/^ph\b/i, "reading.ph"],
  [/^(ta\b|alk|total alk)/i, "reading.totalAlkalinity"],
  [/^(ch\b|calcium|cal hard)/i, "reading.calciumHardness"],
  [/^(total hard|hardness)/i, "reading.totalHardness"],
  [/^(cya|cyan|stabili[sz]er)/i, "reading.cyanuricAcid"],
  [/^salt/i, "reading.salt"],
  [/^bor(ate|on|ax)/i, "reading.borate"],
  [/^(phos|po4)/i, "reading.phosphate"],
  [/^(iron|fe)\b/i, "reading.iron"],
  [/^(copper\b|cu$)/i, "reading.copper"],
  [/^(tds|dissolved)/i, "reading.totalDissolvedSolids"],
  [/^(temp|water temp)/i, "reading.temperature"],
];

/** A first guess from the heading and the first rows, for a person to look over. */
export function guessMapping(heading: string[], sample: string[][], fahrenheit: boolean): Mapping {
  const columns: Mapping["columns"] = {};
  const taken = new Set<string>();
  for (const [index, name] of heading.entries()) {
    const target = NAMES.find(([pattern, to]) => pattern.test(name) && !taken.has(to))?.[1];
    if (!target) continue;
    taken.add(target);
    columns[index] = target;
  }
  const cellsOf = (target: Target) => {
    const index = Number(Object.keys(columns).find((place) => columns[place] === target) ?? -1);
    return sample.map((row) => (row[index] ?? "").trim()).filter(Boolean);
  };
  const readings = Object.values(columns)
    .filter((target) => target.startsWith("reading."))
    .flatMap(cellsOf);
  return {
    columns,
    dates: guessDates(cellsOf("date")),
    decimal: readings.some((cell) => /^\d+,\d+$/.test(cell)) ? "," : ".",
    temperature: guessTemperature(cellsOf("reading.temperature"), fahrenheit),
    hardness: "ppm",
    doses: fahrenheit ? "oz" : "g",
    basinId: null,
  };
}

function guessDates(cells: string[]): DateForm {
  if (cells.length > 0 && cells.every((cell) => /^\d{5}([.,]\d+)?$/.test(cell)))
    // Days since 1900 of our years lie over 36 500; since 1904 they may lie under.
    return cells.every((cell) => Number(cell.slice(0, 5)) < 43_831) ? "serial-1904" : "serial-1900";
  const parts = cells.map((cell) => /^(\d{1,2})[./-](\d{1,2})[./-]\d{2,4}/.exec(cell));
  if (parts.every((part) => part === null)) return "iso";
  if (parts.some((part) => part && Number(part[1]) > 12)) return "day-month";
  return parts.some((part) => part && Number(part[2]) > 12) || !cells.some((cell) => cell.includes("."))
    ? "month-day"
    : "day-month";
}

const guessTemperature = (cells: string[], fahrenheit: boolean): "C" | "F" => {
  const values = cells
    .map((cell) => Number(cell.replace(",", ".")))
    .filter((value) => Number.isFinite(value));
  if (values.length === 0) return fahrenheit ? "F" : "C";
  return Math.max(...values) > 45 ? "F" : "C";
};
