import { type InputFault, JOB_CHECKS, temperatureIn, UNIT_SYSTEMS, type UnitSystem, volumeIn } from "#core";
import { words } from "./language";
import { durationText, figuresText, listText, numberText } from "./numbers";
import { notOverText } from "./safety";

/** A fault as a sentence that names the field, what stood there and the limit. */
export function faultSentence(
  fault: { code: InputFault["code"]; field: string; value: string; limit: unknown },
  units: UnitSystem = "metric",
): string {
  const said = words.faults;
  // The third of a list is named as the list is, and so is one by its id.
  const last =
    fault.field.split(".").findLast((part) => !/^(\d+|[\da-f]{8}-[\da-f-]{27})$/i.test(part)) ?? "";
  const name = last in said.fields ? said.fields[last as keyof typeof said.fields] : fault.field;
  const measure = measureOf(last, fault, units);
  const given = fault.value === "" ? said.nothing : (measure?.given ?? fault.value);
  const limit = Array.isArray(fault.limit)
    ? listText(fault.limit.map(String))
    : typeof fault.limit === "number"
      ? (measure?.limit ?? numberText(fault.limit, 6))
      : String(fault.limit ?? "");
  switch (fault.code) {
    case "missing":
      return fault.field === "freeChlorine" ? said.freeChlorineMissing : said.missing({ name });
    case "too-low":
      return said.tooLow({ name, given, limit });
    case "too-high":
      return fault.field === "tries"
        ? tooManyTries(Number(fault.value))
        : said.tooHigh({ name, given, limit });
    case "not-a-number":
      return said.notANumber({ name, given });
    case "not-a-whole-number":
      return said.notAWholeNumber({ name, given });
    case "too-long":
      return fault.limit === null ? said.tooLargeToSend({ name }) : said.tooLong({ name, limit });
    case "inconsistent":
      if (isInFile(fault.limit)) return said.inFile[fault.limit]({ part: fault.field, count: given });
      if (fault.field === "totalChlorine") return said.totalBelowFree({ given, limit });
      if (fault.field === "sender") return said.sender;
      if (fault.field === "visit") return said.finished;
      return said.doesNotFit({ name, given, limit: limit || null });
    case "unconfirmed":
      if (fault.field === "sampling") return said.sampling;
      if (fault.field === "job") return jobNotDone(Array.isArray(fault.limit) ? fault.limit.map(String) : []);
      if (fault.field === "incident") return notOverText(Array.isArray(fault.limit) ? fault.limit : []);
      return said.unconfirmed({ name, given });
    case "changed":
      if (fault.field === "round") return said.changedDay;
      if (fault.field === "quote") return words.repairs.changed({ amount: limit });
      return said.changed;
    case "key-taken":
      return said.keyTaken;
    case "not-there":
      return said.notThere({ name });
    case "unknown":
      return limit ? said.chooseOneOf({ name, given, choices: limit }) : said.notThere({ name });
    default:
      return said.unreadable({ name });
  }
}

/** What a job still has to show. */
const jobNotDone = (missing: readonly string[]): string =>
  words.jobs.tried({
    missing: listText(
      JOB_CHECKS.filter((code) => missing.includes(code)).map((code) => words.jobs.short[code]),
    ),
  });

/** Fields that hold litres, typed in gallons by who counts in them. */
const LITRES = new Set(["volume", "litres", "fillRate"]);

/**
 * What was given and its limit in the unit that it was typed in, where the core goes by another.
 * A limit is rounded to the side on which it is taken: who types what the sentence names gets through.
 */
function measureOf(
  field: string,
  { code, value, limit }: { code: InputFault["code"]; value: string; limit: unknown },
  units: UnitSystem,
): { given: string; limit: string } | undefined {
  const { heat, water } = UNIT_SYSTEMS[units];
  if (typeof limit !== "number" || !Number.isFinite(Number(value))) return undefined;
  if (field === "temperature") {
    const degrees = (celsius: number) =>
      heat === "F" ? `${numberText(temperatureIn(celsius, "F"), 0)} °F` : `${numberText(celsius, 1)} °C`;
    return { given: degrees(Number(value)), limit: degrees(limit) };
  }
  if (field === "hours")
    return { given: numberText(Number(value) / 60, 2), limit: numberText(limit / 60, 2) };
  if (!LITRES.has(field) || water === "L") return undefined;
  const gallons = volumeIn(limit, water);
  const step = 10 ** (Math.floor(Math.log10(Math.abs(gallons) || 1)) - 2);
  const taken = (code === "too-low" ? Math.ceil(gallons / step) : Math.floor(gallons / step)) * step;
  const unit = words.waterUnits[water];
  return {
    given: `${figuresText(volumeIn(Number(value), water), 6)} ${unit}`,
    limit: `${figuresText(taken)} ${unit}`,
  };
}

/** What is wrong with a file as a whole; the part is named as it stands there. */
const isInFile = (limit: unknown): limit is keyof typeof words.faults.inFile =>
  typeof limit === "string" && limit in words.faults.inFile;

/** A brake on guessing has taken hold. @param seconds until another try is taken */
export const tooManyTries = (seconds: number): string =>
  words.signIn.slow({
    time:
      seconds < 90 ? words.durations.seconds({ count: seconds }) : durationText(Math.ceil(seconds / 60) * 60),
  });
