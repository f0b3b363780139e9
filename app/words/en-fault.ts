import { type InputFault, temperatureIn, type UnitSystem } from "#core";
import { notOverText } from "./en-safety";

/** A fault as a sentence that names the field, what stood there and the limit. */
export function faultSentence(
  fault: { code: InputFault["code"]; field: string; value: string; limit: unknown },
  units: UnitSystem = "metric",
): string {
  const last = fault.field.split(".").pop() ?? "";
  const name = FIELD[last] ?? fault.field;
  // The core speaks °C; a limit is told in what was typed.
  const degrees = (celsius: unknown) =>
    units === "us" ? `${Math.round(temperatureIn(Number(celsius), "F"))} °F` : `${celsius} °C`;
  const isDegrees = last === "temperature" && typeof fault.limit === "number";
  const given = fault.value === "" ? "nothing" : isDegrees ? degrees(fault.value) : fault.value;
  const list = Array.isArray(fault.limit)
    ? fault.limit.join(", ")
    : isDegrees
      ? degrees(fault.limit)
      : String(fault.limit ?? "");
  switch (fault.code) {
    case "missing":
      return fault.field === "freeChlorine"
        ? "Free chlorine is missing. Test it first: combined chlorine is total minus free."
        : `${name} is missing.`;
    case "too-low":
      return `${name} is ${given}. The least allowed is ${list}.`;
    case "too-high":
      if (fault.field === "tries") return tooManyTries(Number(fault.value));
      return `${name} is ${given}. The most allowed is ${list}.`;
    case "not-a-number":
      return `${name} is "${given}". Enter a number.`;
    case "not-a-whole-number":
      return `${name} is ${given}. Enter a whole number.`;
    case "too-long":
      if (fault.limit === null)
        return fault.field === "photo" ? "The photo is too large to send." : `${name} is too large to send.`;
      return `${name} is too long. Use at most ${list} characters.`;
    case "inconsistent":
      if (typeof fault.limit === "string" && fault.limit in IN_FILE)
        return IN_FILE[fault.limit]?.(fault.field, given) ?? "";
      return fault.field === "totalChlorine"
        ? `Total chlorine ${given} is less than free chlorine ${list}, which is not possible. Test both again.`
        : fault.field === "sender"
          ? "You can no longer send work for this firm. Ask an owner. Your entries stay here until then."
          : fault.field === "visit"
            ? "This visit is already finished. Nothing was changed."
            : `${name} (${given}) does not fit${list ? ` with ${list}` : ""}.`;
    case "unconfirmed":
      return fault.field === "sampling"
        ? "There is a problem with this sample. Reload the page and confirm that you take it anyway."
        : fault.field === "incident"
          ? notOverText(Array.isArray(fault.limit) ? fault.limit : [])
          : `${name} ${given}: this may be wrong. Save again and answer the question.`;
    case "changed":
      return "Someone else saved another version. What you typed is still here: copy it, reload the page and enter it again.";
    case "key-taken":
      return "Something else is already saved with this key. Nothing was changed. What you typed is still here: copy it, reload the page and enter it again.";
    case "not-there":
      return `${name} is not known here.`;
    case "unknown":
      return list ? `${name} is ${given}. Choose one of: ${list}.` : `${name} is not known here.`;
    default:
      return `${name} cannot be read.`;
  }
}

/** What is wrong with a file as a whole; the part is named as it stands there. */
const IN_FILE: Record<string, (part: string, count: string) => string> = {
  "another-firm": (part, count) =>
    `The file's ${part} (${count}) belong to another firm on this server, so this book cannot be imported here. Import it into that firm, or on another server.`,
  "names-nothing": (part) => `Something in ${part} refers to a row that is not in this file and not here.`,
  twice: (part) => `Two rows in ${part} are the same thing.`,
  "beyond-limits": (part) => `A value in ${part} is outside its limits.`,
};

/** A brake on guessing has taken hold. @param seconds until another try is taken */
export const tooManyTries = (seconds: number): string =>
  `Too many tries. Wait ${seconds < 90 ? `${seconds} seconds` : `${Math.ceil(seconds / 60)} minutes`}, then try again.`;

const FIELD: Record<string, string> = {
  photoPixels: "The number of pixels in the photo",
  count: "The count",
  who: "Who decided that it is over",
  kind: "What happened",
  isPublic: "Who bathes there",
  cellSalt: "The salt on the cell's plate",
  drops: "The count",
  sample: "The sample size",
  value: "The reading",
  givenGrams: "The amount given",
  note: "The note",
  readings: "A reading",
  id: "The key",
  methodId: "The test",
  productId: "The product",
  freeChlorine: "Free chlorine",
  combinedChlorine: "Combined chlorine",
  totalChlorine: "Total chlorine",
  ph: "pH",
  totalAlkalinity: "Total alkalinity",
  calciumHardness: "Calcium hardness",
  cyanuricAcid: "Cyanuric acid",
  temperature: "Temperature",
  totalHardness: "Total hardness",
  acidDemand: "Acid demand",
  baseDemand: "Base demand",
  bromine: "Bromine",
  salt: "Salt",
  totalDissolvedSolids: "Dissolved solids",
  ageDays: "The result's age in days",
  kit: "The kit",
  basinId: "The basin",
  photo: "The photo",
  photoId: "The photo",
  visit: "This visit",
  photoBytes: "The photo's size in bytes",
  reagent: "The reagent",
  full: "The amount in the bottle",
  lot: "The lot",
  openedOn: "The day it was opened",
  expiresOn: "The day it expires",
  name: "The name",
  file: "The file",
  fileBytes: "The file's size in bytes",
  rows: "The number of rows",
  columns: "The number of columns",
  date: "The date",
  time: "The time",
  basin: "The basin",
  format: "The format",
  version: "The version",
  passwordLength: "The password's length",
  current: "The current password",
  reset: "The link",
  imports: "The number of imports under way",
  nesting: "The depth of the data",
  run: "The job",
  siteIds: "The sites a reader sees",
  siteId: "The site",
  kitId: "The kit",
  rangeSetId: "The range set",
  role: "The role",
  round: "The round",
  day: "The day",
  memberId: "The person",
  basinIds: "The order of stops",
  weeksFrom: "A day in a week with a visit",
  everyWeeks: "The number of weeks",
  from: "The first day of the season",
  to: "The last day of the season",
  pumpHours: "The pump's hours",
  cellGrams: "The cell's output",
  fillAlkalinity: "The fill water's alkalinity",
  fillHardness: "The fill water's hardness",
  invite: "The invitation",
  marks: "The marks",
  millilitres: "The sample size",
  factor: "The value of a drop",
  units: "The unit system",
  email: "The email",
  why: "The reason",
  stock: "The stock",
  strength: "The strength",
  density: "The density",
  code: "The code",
  perCubicMetre: "The dose on the label",
  everyDays: "Days between doses",
  apartHours: "Hours apart from a shock",
  pricePerKg: "The price",
  mostReplaced: "The share of water",
  grams: "An amount",
  fill: "The fill water",
  plan: "The plan",
  recipe: "The recipe",
  low: "The lower limit",
  high: "The upper limit",
  aim: "The aim",
  closeBelow: "The lower closing limit",
  closeAbove: "The upper closing limit",
  purpose: "What it is for",
  ranges: "The ranges",
  saturation: "The saturation window",
  length: "The length",
  width: "The width",
  diameter: "The diameter",
  depth: "The depth",
  shallow: "The shallow depth",
  deep: "The deep depth",
  waterLine: "Rim to water level",
  volume: "The volume",
  litres: "The volume",
  currency: "The currency",
  fillRate: "The fill rate",
  seasonStart: "The season's start",
  persulfateDose: "The persulfate dose",
  callMinutes: "The minutes for dosing",
  callPrice: "The cost of a visit",
  laymen: "The chemicals",
  feederSetting: "The feeder setting",
};
