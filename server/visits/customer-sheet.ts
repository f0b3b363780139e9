import {
  type BasinKind,
  type Bathing,
  dayIn,
  isProductId,
  knownWater,
  nextCall,
  type ProductId,
  placeInRange,
  type Quantity,
  rangesOf,
  type Sanitiser,
  setForBasin,
  type UnitSystem,
  type Untested,
  type VisitReading,
} from "#core";
import { basinById } from "../db/basins";
import { reading } from "../db/batch";
import type { FirmScope } from "../db/connection";
import { defectsOf, isOpen, type KeptDefect } from "../db/defects";
import { dosesOfVisits } from "../db/doses";
import { firmOf } from "../db/firms";
import { sheetPhotosOf } from "../db/photos";
import { productNames } from "../db/products";
import { rangeSetVersion } from "../db/range-sets";
import { lastReadings, readingsOfVisits } from "../db/readings";
import { visitById } from "../db/visits";
import { workOfVisits } from "../db/work";
import { methodsOf } from "./methods";

/** What a customer is told of a finished visit: one page, nothing of the firm's own. */
export interface CustomerSheet {
  firm: { name: string; units: UnitSystem; timeZone: string; currency: string };
  site: string;
  /** What the customer reads; null as the browser asks. */
  language: string | null;
  basin: { name: string; kind: BasinKind; sanitiser: Sanitiser };
  litres: number;
  /** When the visit began, and when it ended. */
  from: Date;
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
  /** Why nobody tested the water; null where somebody did. */
  untested: Untested | null;
  /** What was done besides the water. */
  work: { key: string; name: string }[];
  given: { name: string; product: ProductId; density: number | null; grams: number }[];
  /** Photos that were chosen for the customer, the first taken first. */
  photos: string[];
  /** What is broken at the basin now, with what mending it is offered for. */
  repairs: { title: string; quote: KeptDefect["quote"] }[];
  /** Whether the water may be used, as the visit left it. */
  bathing: Bathing;
  /** The next day with a call by the basin's plan. */
  next: string | null;
}

/** A visit that was brought in from elsewhere: nothing says that anybody looked. */
const NOT_WORKED_OUT: Bathing = {
  state: "untested",
  because: [{ code: "not-looked" }],
  until: null,
  urgent: [],
};

/** The sheet of a finished visit, or undefined when these rows hold none under that id. */
export const customerSheet = (scope: FirmScope, visitId: string): Promise<CustomerSheet | undefined> =>
  reading(scope, (reads) => readSheet(reads, visitId));

async function readSheet(scope: FirmScope, visitId: string): Promise<CustomerSheet | undefined> {
  const [visit, firm, standing, given, products, work, photos] = await Promise.all([
    visitById(scope, visitId),
    firmOf(scope),
    readingsOfVisits(scope, [visitId]),
    dosesOfVisits(scope, [visitId]),
    productNames(scope),
    workOfVisits(scope, [visitId]),
    sheetPhotosOf(scope, visitId),
  ]);
  if (!visit?.finishedAt) return undefined;
  const [basin, earlier, version, defects] = await Promise.all([
    basinById(scope, visit.basinId),
    lastReadings(scope, visit.basinId, visit.startedAt),
    rangeSetVersion(scope, visit.rangeSetId),
    defectsOf(scope, [visit.basinId]),
  ]);
  if (!basin) return undefined;
  const readings = newestUsed(standing);
  const methodOf = await methodsOf(scope, [...readings, ...earlier]);
  const { water } = knownWater({ basin, today: readings, earlier, at: visit.startedAt, methodOf });
  const ranges = rangesOf(setForBasin(version, basin, visit.rangeOverrides), basin.surface, water);
  const doses = given.filter((dose) => dose.givenGrams > 0);
  return {
    firm: { name: firm.name, units: firm.units, timeZone: firm.timeZone, currency: firm.currency },
    site: basin.site.name,
    language: basin.site.language,
    basin: { name: basin.name, kind: basin.kind, sanitiser: basin.sanitiser },
    litres: visit.litres,
    from: visit.startedAt,
    at: visit.finishedAt,
    by: visit.memberName,
    note: visit.note,
    untested: visit.untested,
    repairs: defects.filter(isOpen).map(({ title, quote }) => ({ title, quote })),
    photos: photos.flatMap(({ id, isShown }) => (isShown ? [id] : [])),
    work: work.filter(({ state }) => state === "done").map(({ key, name }) => ({ key, name })),
    readings: readings.map((one) => {
      const range = ranges[one.quantity];
      const low = range?.low ?? range?.closeBelow ?? null;
      const high = range?.high ?? range?.closeAbove ?? null;
      return {
        quantity: one.quantity,
        value: one.value,
        bound: one.bound,
        range: low === null && high === null ? null : { low, high },
        place: placeInRange(one, range),
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
    bathing: visit.bathing ?? NOT_WORKED_OUT,
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
