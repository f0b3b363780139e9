import { v7 as uuid, v5 as uuidFrom } from "uuid";
import {
  type DatedReading,
  findings,
  placeOf,
  QUANTITIES,
  type Quantity,
  setForBasin,
  waterFromValues,
} from "#core";
import type { FirmScope } from "../../db/connection";
import { writeRows } from "../../db/exchange-rows";
import { OF_VISIT, type Row, VISIT } from "../shape";
import type { Importing } from "./importing";
import { type Setting, SPACE, type VisitIn } from "./visit-in";

/** Visits out of a table on their way into the database. */

const MINUTE = 60_000;
/** A visit whose end nobody wrote down is taken to have lasted so long. */
const LASTED = 30 * MINUTE;

/** Visits whose key is here already stay as they are. */
export async function writeVisits(
  scope: FirmScope,
  importing: Importing,
  visits: VisitIn[],
  setting: Setting,
): Promise<void> {
  const { firmId } = importing;
  const fresh = await writeRows(scope, VISIT, firmId, visits.map(visitRow));
  importing.counted(fresh.size, visits.length - fresh.size);
  const added = visits.filter((visit) => fresh.has(visit.id));
  const parts = added.map((visit) => ({ id: visit.id, ...partsOf(visit, setting) }));
  for (const name of ["readings", "findings", "doses"] as const) {
    const rows = parts.flatMap((part) => part[name]);
    await writeRows(
      scope,
      OF_VISIT[name],
      firmId,
      rows,
      parts.flatMap((part) => part[name].map(() => ({ visit_id: part.id }))),
    );
  }
}

const visitRow = ({ id, basin, memberId, at, note }: VisitIn): Row => ({
  id,
  basinId: basin.id,
  memberId,
  kitId: basin.kitId,
  rangeSetId: basin.rangeSetId,
  rangeOverrides: basin.rangeOverrides,
  litres: basin.litres,
  startedAt: at,
  finishedAt: new Date(at.getTime() + LASTED),
  note,
  look: null,
  sampling: null,
  weather: null,
  notices: null,
});

/** Rows of a visit's readings and doses, and what they break of the basin's ranges. */
function partsOf(visit: VisitIn, { sets }: Setting): Record<"readings" | "findings" | "doses", Row[]> {
  const { basin, memberId } = visit;
  const newest = new Map(visit.readings.map((reading) => [reading.quantity, reading]));
  const readings = Object.fromEntries(
    [...newest.values()].map(({ quantity, value, low, high, bound }) => [
      quantity,
      { value, low, high, bound, unit: QUANTITIES[quantity].unit, kind: "meter" },
    ]),
  ) as Partial<Record<Quantity, DatedReading>>;
  const set = sets.get(basin.rangeSetId);
  const found = set
    ? findings(
        readings,
        setForBasin(set, basin, basin.rangeOverrides),
        basin.surface,
        waterFromValues([...newest.values()], placeOf(basin)).water,
      )
    : [];
  return {
    readings: [...newest.values()].map(({ quantity, value, low, high, bound, at, methodId }) => ({
      id: uuidFrom(`${visit.id} ${quantity}`, SPACE),
      memberId,
      kitId: basin.kitId,
      quantity,
      value,
      low,
      high,
      bound,
      methodId,
      observation: { kind: "number", value },
      doubts: [],
      takenAt: at,
      recordedAt: new Date(),
      round: 0,
      used: true,
      supersedes: null,
      supersededAt: null,
      why: "",
    })),
    findings: found.map((finding, position) => ({
      id: uuid(),
      position,
      code: finding.code,
      detail: finding,
    })),
    doses: visit.doses.map(({ productId, grams, at, code }) => ({
      id: uuidFrom(`${visit.id} ${code}`, SPACE),
      memberId,
      productId,
      code,
      plannedGrams: grams,
      givenGrams: grams,
      givenAt: at,
      supersedes: null,
      supersededAt: null,
    })),
  };
}
