import { millisecondsInHour } from "date-fns/constants";
import {
  type BasinKind,
  dayIn,
  type Finding,
  isProductId,
  knownWater,
  MIXING_HOURS,
  mixesLike,
  nextCall,
  type ProductId,
  placeInRange,
  type Quantity,
  rangesOf,
  type UnitSystem,
  type VisitReading,
  withOverrides,
} from "#core";
import { basinById } from "../db/basins";
import type { FirmScope } from "../db/connection";
import { dosesOfVisits, findingsOfVisits } from "../db/doses";
import { firmOf } from "../db/firms";
import { productNames } from "../db/products";
import { rangeSetVersion } from "../db/range-sets";
import { lastReadings, readingsOfVisits } from "../db/readings";
import { visitById } from "../db/visits";

/** What a customer is told of a finished visit: one page, nothing of the firm's own. */
export interface CustomerSheet {
  firm: { name: string; units: UnitSystem; timeZone: string };
  site: string;
  basin: { name: string; kind: BasinKind };
  litres: number;
  at: Date;
  by: string;
  note: string;
  readings: {
    quantity: Quantity;
    value: number;
    bound: VisitReading["bound"];
    range: { low: number | null; high: number | null } | null;
    place: ReturnType<typeof placeInRange>;
  }[];
  given: { name: string; product: ProductId; density: number | null; grams: number }[];
  findings: Finding[];
  swim: Swimming;
  /** The next day with a call by the basin's plan. */
  next: string | null;
}

/** When the water may be used again. */
export type Swimming =
  | { may: "now" }
  /** What was given has to mix first. */
  | { may: "from"; at: Date }
  /** Closed until it is tested again. */
  | { may: "not"; because: Finding["code"][] };

/** The sheet of a finished visit, or undefined when these rows hold none under that id. */
export async function customerSheet(scope: FirmScope, visitId: string): Promise<CustomerSheet | undefined> {
  const visit = await visitById(scope, visitId);
  if (!visit?.finishedAt) return undefined;
  const basin = await basinById(scope, visit.basinId);
  if (!basin) return undefined;
  const firm = await firmOf(scope);
  const readings = newestUsed(await readingsOfVisits(scope, [visitId]));
  const earlier = await lastReadings(scope, basin.id, visit.startedAt);
  const set = withOverrides(await rangeSetVersion(scope, visit.rangeSetId), visit.rangeOverrides);
  const { water } = knownWater({ basin, today: readings, earlier, at: visit.startedAt });
  const ranges = rangesOf(set, basin.surface, water);
  const findings = (await findingsOfVisits(scope, [visitId])).map(({ finding }) => finding);
  const doses = (await dosesOfVisits(scope, [visitId])).filter((dose) => dose.givenGrams > 0);
  const products = await productNames(scope);
  return {
    firm: { name: firm.name, units: firm.units, timeZone: firm.timeZone },
    site: basin.site.name,
    basin: { name: basin.name, kind: basin.kind },
    litres: visit.litres,
    at: visit.finishedAt,
    by: visit.memberName,
    note: visit.note,
    readings: readings.map((reading) => {
      const range = ranges[reading.quantity];
      return {
        quantity: reading.quantity,
        value: reading.value,
        bound: reading.bound,
        range: range ? { low: range.low ?? null, high: range.high ?? null } : null,
        place: placeInRange(reading, range),
      };
    }),
    given: doses.flatMap((dose) => {
      const product = products.find((one) => one.id === dose.productId);
      return product && isProductId(product.compound)
        ? [
            {
              name: product.name,
              product: product.compound,
              density: product.density,
              grams: dose.givenGrams,
            },
          ]
        : [];
    }),
    findings,
    swim: swimming(
      findings,
      doses.map((dose) => dose.givenAt),
      MIXING_HOURS[mixesLike(basin.kind)],
    ),
    next: nextCall(basin.calls, dayIn(visit.startedAt, firm.timeZone)),
  };
}

function newestUsed(standing: VisitReading[]): VisitReading[] {
  return standing.filter(
    (reading) =>
      reading.used &&
      !standing.some(
        (other) => other.used && other.quantity === reading.quantity && other.round > reading.round,
      ),
  );
}

/** Closed by what was found and not settled; else once what was given has mixed. The label may ask for longer. */
export function swimming(findings: Finding[], givenAt: Date[], mixingHours: number): Swimming {
  const closing = findings.filter((finding) => finding.closes && !finding.settled);
  if (closing.length > 0) return { may: "not", because: closing.map((finding) => finding.code) };
  const last = Math.max(...givenAt.map((at) => at.getTime()));
  return givenAt.length > 0
    ? { may: "from", at: new Date(last + mixingHours * millisecondsInHour) }
    : { may: "now" };
}
