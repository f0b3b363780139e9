import {
  type Basin,
  type BasinLearned,
  crossingsBefore,
  dayIn,
  type Firm,
  nextCall,
  noonIn,
  type RangeSet,
  rangeFor,
  type ShelfProduct,
  type Suspicion,
} from "#core";
import type { FirmScope } from "../db/connection";
import type { Truck } from "../db/trucks";
import { closedVisit, type Happened } from "../db/webhooks";
import { lowProducts } from "../shelf/low";

/** What happened, as other programs are told it: ids and numbers, never a gate code and never a name of a customer. */

/** A visit that was closed; and that nobody may bathe there, where it was left so. */
export async function visitClosed(scope: FirmScope, visitId: string): Promise<Happened[]> {
  const visit = await closedVisit(scope, visitId);
  if (!visit) return [];
  const { basinId, bathing } = visit;
  return [
    { key: `visit-closed ${visitId}`, kind: "visit-closed", content: { visitId, ...visit } },
    ...(bathing === "closed"
      ? [{ key: `basin-closed ${visitId}`, kind: "basin-closed" as const, content: { visitId, basinId } }]
      : []),
  ];
}

/** Something happened at a basin that closes it at once. */
export const incidentReported = (incidentId: string, visitId: string, basinId: string): Happened => ({
  key: `basin-closed ${incidentId}`,
  kind: "basin-closed",
  content: { visitId, basinId, incidentId },
});

interface Learned {
  basins: readonly BasinLearned[];
  suspicions: readonly Suspicion[];
  visits: ReadonlyMap<string, number>;
}

interface Known {
  firm: Firm;
  basins: readonly Basin[];
  sets: ReadonlyMap<string, RangeSet>;
  products: readonly ShelfProduct[];
  trucks: readonly Truck[];
  now: Date;
}

/** A suspicion that stands, or a product that is low, is told again when a month has gone. */
const monthOf = (now: Date): string => now.toISOString().slice(0, 7);

/** What a firm's log tells once it was learned: chlorine that will not last, what is suspected, what runs out. */
export function learnedNow(learned: Learned, known: Known): Happened[] {
  const { firm, basins, sets, products, trucks, now } = known;
  const today = dayIn(now, firm.timeZone);
  const short = learned.basins.flatMap(({ id, forecast }): Happened[] => {
    const basin = basins.find((one) => one.id === id);
    const set = basin && sets.get(basin.rangeSetId);
    const next = basin && nextCall(basin.calls, today);
    const range = basin && set ? rangeFor(set, "freeChlorine", basin.surface) : undefined;
    if (!next || !range) return [];
    const crossing = crossingsBefore(forecast, { freeChlorine: range }, noonIn(next, firm.timeZone)).find(
      ({ quantity, edge }) => quantity === "freeChlorine" && edge === "low",
    );
    if (!crossing) return [];
    const { limit, at, chance } = crossing;
    return [
      {
        key: `chlorine-short ${id} ${learned.visits.get(id) ?? 0}`,
        kind: "chlorine-short",
        content: { basinId: id, limit, at: new Date(at), chance, nextStop: next },
      },
    ];
  });
  const suspected = learned.suspicions.map(
    ({ code, basin, lot, ratio, chance }): Happened => ({
      key: `suspicion ${code} ${basin ?? lot ?? ""} ${monthOf(now)}`.slice(0, 200),
      kind: "suspicion-raised",
      content: { code, basinId: basin ?? null, lot: lot ?? null, ratio, chance },
    }),
  );
  const low = lowProducts(products, trucks).map(
    ({ id, left, reorder }): Happened => ({
      key: `stock-low ${id} ${monthOf(now)}`,
      kind: "stock-low",
      content: { productId: id, leftGrams: left, reorderGrams: reorder },
    }),
  );
  return [...short, ...suspected, ...low];
}
