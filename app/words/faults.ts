import { type InputFault, temperatureIn, type UnitSystem } from "#core";
import { words } from "./language";
import { durationText, listText, numberText } from "./numbers";
import { notOverText } from "./safety";

/** A fault as a sentence that names the field, what stood there and the limit. */
export function faultSentence(
  fault: { code: InputFault["code"]; field: string; value: string; limit: unknown },
  units: UnitSystem = "metric",
): string {
  const said = words.faults;
  const last = fault.field.split(".").pop() ?? "";
  const name = last in said.fields ? said.fields[last as keyof typeof said.fields] : fault.field;
  // The core speaks °C; a limit is told in what was typed.
  const degrees = (celsius: unknown) =>
    units === "us"
      ? `${numberText(temperatureIn(Number(celsius), "F"), 0)} °F`
      : `${numberText(Number(celsius), 1)} °C`;
  const isDegrees = last === "temperature" && typeof fault.limit === "number";
  const given = fault.value === "" ? said.nothing : isDegrees ? degrees(fault.value) : fault.value;
  const limit = Array.isArray(fault.limit)
    ? listText(fault.limit.map(String))
    : isDegrees
      ? degrees(fault.limit)
      : typeof fault.limit === "number"
        ? numberText(fault.limit, 6)
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
      if (fault.field === "incident") return notOverText(Array.isArray(fault.limit) ? fault.limit : []);
      return said.unconfirmed({ name, given });
    case "changed":
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

/** What is wrong with a file as a whole; the part is named as it stands there. */
const isInFile = (limit: unknown): limit is keyof typeof words.faults.inFile =>
  typeof limit === "string" && limit in words.faults.inFile;

/** A brake on guessing has taken hold. @param seconds until another try is taken */
export const tooManyTries = (seconds: number): string =>
  words.signIn.slow({
    time:
      seconds < 90 ? words.durations.seconds({ count: seconds }) : durationText(Math.ceil(seconds / 60) * 60),
  });
