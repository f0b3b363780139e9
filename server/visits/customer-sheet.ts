import {
  type BasinKind,
  type Bathing,
  bathingAt,
  dayIn,
  nextCall,
  type ProductId,
  placeInRange,
  type Quantity,
  type Sanitiser,
  type UnitSystem,
  type VisitReading,
  visitOf,
} from "#core";
import type { FirmScope } from "../db/connection";
import { readVisit } from "../db/visit-record";

/** What a customer is told of a finished visit: one page, nothing of the firm's own. */
export interface CustomerSheet {
  firm: { name: string; units: UnitSystem; timeZone: string };
  site: string;
  basin: { name: string; kind: BasinKind; sanitiser: Sanitiser };
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
  /** Whether the water may be used, as the visit left it. */
  bathing: Bathing;
  /** The next day with a call by the basin's plan. */
  next: string | null;
}

/** The sheet of a finished visit, or undefined when these rows hold none under that id. */
export async function customerSheet(scope: FirmScope, visitId: string): Promise<CustomerSheet | undefined> {
  const record = await readVisit(scope, visitId, new Date());
  if (!record?.written.finishedAt) return undefined;
  const { brought, written } = record;
  const opened = visitOf(brought, written, record.written.finishedAt);
  const { basin, firm, visit, readings, ranges, products } = opened;
  return {
    firm: { name: firm.name, units: firm.units, timeZone: firm.timeZone },
    site: basin.site.name,
    basin: { name: basin.name, kind: basin.kind, sanitiser: basin.sanitiser },
    litres: visit.litres,
    at: record.written.finishedAt,
    by: visit.memberName,
    note: visit.note,
    readings: readings.map((reading) => {
      const range = ranges[reading.quantity];
      const low = range?.low ?? range?.closeBelow ?? null;
      const high = range?.high ?? range?.closeAbove ?? null;
      return {
        quantity: reading.quantity,
        value: reading.value,
        bound: reading.bound,
        range: low === null && high === null ? null : { low, high },
        place: placeInRange(reading, range),
      };
    }),
    given: opened.doses.flatMap((dose) => {
      const product = products.find((one) => one.id === dose.productId);
      return product && dose.givenGrams > 0
        ? [
            {
              name: product.name,
              product: product.product,
              density: product.density,
              grams: dose.givenGrams,
            },
          ]
        : [];
    }),
    bathing: bathingAt(opened),
    next: nextCall(basin.calls, dayIn(visit.startedAt, firm.timeZone)),
  };
}
