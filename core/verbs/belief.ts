import { millisecondsInDay } from "date-fns/constants";
import type { DriftPlace } from "../drift/habits";
import { InputFault, numberWithin } from "../fault";
import { LEARNED, type Learned } from "../learning/log";
import { POSTERIOR_NAMES, POSTERIOR_VERSION, type Posterior } from "../learning/posterior";
import { factorOf } from "../uncertainty/gaussian";
import { SAMPLE_LIMITS, type Sample } from "../water/sample";
import { fieldsOf, flagOf, givenOr, listOf, oneOf, onlyKeys } from "./fields";
import { type Fields, isGiven } from "./verb";
import { timeOf } from "./when";

/** A belief as one line carries it from `learn` to `plan`. */

const KEYS = [
  "version",
  "basin",
  "at",
  "kind",
  "outdoors",
  "feeder",
  "litres",
  "fill",
  "setting",
  "names",
  "mean",
  "covariance",
  "scales",
  "still",
  "temperature",
  "newest",
] as const;
/** A volume by the book that differs by more is another basin's. */
const SAME_VOLUME = 0.001;
/** A dose at the end of a call comes some hours after its readings. */
const LATER_DAYS = 1;
/** mmol/L of a total, and logarithms: none of them is larger. */
const MOST = 1e4;

/**
 * A belief of a line, for the basin and the day that the line plans for.
 * @param setting what its feeder is set to now, where the line says so
 * @throws InputFault for a belief of another version, basin or later day, and for a covariance that is none
 */
export function beliefOf(
  line: Fields,
  place: DriftPlace,
  litres: number,
  from: number,
  setting: number | undefined,
): Posterior | null {
  if (!isGiven(line, "belief")) return null;
  const fields = fieldsOf("belief", line.belief);
  onlyKeys("belief.", fields, KEYS);
  const belief = posteriorOf(fields);
  for (const name of ["kind", "outdoors", "feeder"] as const)
    if (belief[name] !== place[name])
      throw new InputFault("inconsistent", `belief.${name}`, belief[name], String(place[name]));
  if (Math.abs(belief.litres / litres - 1) > SAME_VOLUME)
    throw new InputFault("inconsistent", "belief.litres", belief.litres, litres);
  if (belief.at > from + LATER_DAYS * millisecondsInDay)
    throw new InputFault(
      "too-high",
      "belief.at",
      new Date(belief.at).toISOString(),
      new Date(from).toISOString(),
    );
  const id = fieldsOf("basin", givenOr(line, "basin", {})).id;
  if (id !== undefined && id !== null && String(id) !== belief.basin)
    throw new InputFault("inconsistent", "belief.basin", belief.basin, String(id));
  return setting === undefined || belief.setting === null ? belief : { ...belief, setting };
}

/** As `learn` answers it. */
export const beliefAnswer = (posterior: Posterior | null): object | null =>
  posterior && {
    ...posterior,
    at: new Date(posterior.at).toISOString(),
    temperature: posterior.temperature && {
      at: new Date(posterior.temperature.at).toISOString(),
      value: posterior.temperature.value,
    },
    newest: Object.fromEntries(
      Object.entries(posterior.newest).map(([quantity, { at, value }]) => [
        quantity,
        { at: new Date(at).toISOString(), value },
      ]),
    ),
  };

function posteriorOf(fields: Fields): Posterior {
  if (fields.version !== POSTERIOR_VERSION)
    throw new InputFault("inconsistent", "belief.version", fields.version, POSTERIOR_VERSION);
  const names = listOf("belief.names", fields.names);
  if (names.length !== POSTERIOR_NAMES.length || names.some((name, index) => name !== POSTERIOR_NAMES[index]))
    throw new InputFault("inconsistent", "belief.names", names.join(" "), POSTERIOR_NAMES.join(" "));
  const row = (at: string, value: unknown): number[] => {
    const list = listOf(at, value);
    if (list.length !== POSTERIOR_NAMES.length)
      throw new InputFault("malformed", at, list.length, POSTERIOR_NAMES.length);
    return list.map((one, index) => numberWithin(`${at}.${index}`, one, -MOST, MOST));
  };
  const rows = listOf("belief.covariance", fields.covariance);
  if (rows.length !== POSTERIOR_NAMES.length)
    throw new InputFault("malformed", "belief.covariance", rows.length, POSTERIOR_NAMES.length);
  const covariance = rows.map((one, index) => row(`belief.covariance.${index}`, one));
  factorOf(covariance, "belief.covariance");
  const still = fieldsOf("belief.still", fields.still);
  const within = (name: "totalDissolvedSolids" | "borate") =>
    numberWithin(`belief.still.${name}`, still[name], SAMPLE_LIMITS[name].low, SAMPLE_LIMITS[name].high);
  const scales = fieldsOf("belief.scales", fields.scales);
  const newest = fieldsOf("belief.newest", fields.newest);
  const { basin } = fields;
  if (typeof basin !== "string") throw new InputFault("malformed", "belief.basin", basin, "text");
  return {
    version: POSTERIOR_VERSION,
    basin,
    at: timeOf("belief.at", fields.at),
    kind: oneOf("belief.kind", fields.kind, ["pool", "spa"] as const),
    outdoors: flagOf("belief.outdoors", fields.outdoors, true),
    feeder: oneOf("belief.feeder", fields.feeder, ["none", "tablets", "saltCell", "pump"] as const),
    litres: numberWithin("belief.litres", fields.litres, 1, 1e9),
    fill: fillOf(fields.fill),
    setting: isGiven(fields, "setting") ? numberWithin("belief.setting", fields.setting, 0, 100) : null,
    names: POSTERIOR_NAMES,
    mean: row("belief.mean", fields.mean),
    covariance,
    scales: Object.fromEntries(
      LEARNED.map((name) => [name, numberWithin(`belief.scales.${name}`, scales[name], 1e-3, 1e3)]),
    ) as Record<Learned, number>,
    still: { totalDissolvedSolids: within("totalDissolvedSolids"), borate: within("borate") },
    temperature: isGiven(fields, "temperature") ? temperatureOf(fields.temperature) : null,
    newest: Object.fromEntries(
      LEARNED.flatMap((name) => {
        if (!isGiven(newest, name)) return [];
        const read = fieldsOf(`belief.newest.${name}`, newest[name]);
        const value = numberWithin(`belief.newest.${name}.value`, read.value, -50, 100_000);
        return [[name, { at: timeOf(`belief.newest.${name}.at`, read.at), value }]];
      }),
    ),
  };
}

function temperatureOf(value: unknown): Posterior["temperature"] {
  const fields = fieldsOf("belief.temperature", value);
  const { low, high } = SAMPLE_LIMITS.temperature;
  return {
    at: timeOf("belief.temperature.at", fields.at),
    value: numberWithin("belief.temperature.value", fields.value, low, high),
  };
}

function fillOf(value: unknown): Partial<Sample> {
  const fields = fieldsOf("belief.fill", givenOr({ value }, "value", {}));
  return Object.fromEntries(
    Object.entries(SAMPLE_LIMITS).flatMap(([name, { low, high }]) =>
      isGiven(fields, name) ? [[name, numberWithin(`belief.fill.${name}`, fields[name], low, high)]] : [],
    ),
  );
}
