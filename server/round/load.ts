import {
  adviseSample,
  type Basin,
  type Due,
  dayIn,
  isLabelled,
  methodsAt,
  type ReagentUse,
  rangeFor,
  reagentsNeeded,
  type ShelfProduct,
  setForBasin,
} from "#core";
import type { LateDose } from "../db/recent";
import { grouped } from "../grouped";
import type { DayContext } from "./context";

export interface Load {
  productId: string;
  grams: number;
}

/** What the calls take of a product, as a list to load by has it. */
export type LoadLine = Load &
  Pick<ShelfProduct, "name" | "product" | "density" | "left"> & {
    /** Money; null where the price is not known. */
    cost: number | null;
  };

/** What a call there takes: as its last plan thought of it, else as it has been lately. */
export const usualLoad = (basin: Basin, day: string, known: DayContext): Load[] =>
  plannedAt(basin, day, known) ?? habitOf(balancing(known, basin.id));

/** What was given lately to balance the water: what goes in by its label comes round by itself. */
const balancing = ({ doses, compounds }: DayContext, basinId: string): LateDose[] =>
  (doses.get(basinId) ?? []).filter(({ productId }) => {
    const compound = compounds.get(productId);
    return compound === undefined || !isLabelled(compound);
  });

/** What the basin's last plan thought of for this day; null where it said nothing of it. */
function plannedAt(basin: Basin, day: string, { planned, firm }: DayContext): Load[] | null {
  const call = planned.get(basin.id)?.find(({ at }) => dayIn(new Date(at), firm.timeZone) === day);
  return call ? call.doses.map(({ product, grams }) => ({ productId: product, grams })) : null;
}

/** What a call usually takes: each product's share of the calls of the last weeks at which anything was given. */
function habitOf(doses: LateDose[]): Load[] {
  const calls = new Set(doses.map((dose) => dose.visitId)).size;
  return [...grouped(doses, (dose) => dose.productId)].map(([productId, given]) => ({
    productId,
    grams: given.reduce((sum, dose) => sum + dose.grams, 0) / calls,
  }));
}

/** What the calls take together, of what stands on the shelf. */
export function loadOf(calls: readonly { load: readonly Load[] }[], products: ShelfProduct[]): LoadLine[] {
  const total = new Map<string, number>();
  for (const { load } of calls)
    for (const { productId, grams } of load) total.set(productId, (total.get(productId) ?? 0) + grams);
  return products.flatMap(({ id, name, product, density, left, pricePerKg }) => {
    const grams = total.get(id);
    return grams
      ? [
          {
            productId: id,
            grams,
            name,
            product,
            density,
            left,
            cost: pricePerKg === null ? null : (grams / 1000) * pricePerKg,
          },
        ]
      : [];
  });
}

/** Drops left out of a test whose last reading is not known. */
const UNKNOWN_DROPS = 10;

/** What the due tests of the calls take out of the bottles. */
export function reagentsOf(
  calls: readonly { basin: Basin; due: readonly Due[] }[],
  { kits, sets, readings }: DayContext,
): ReagentUse[] {
  const uses = calls.flatMap(({ basin, due }) => {
    const kit = kits.get(basin.kitId);
    const set = sets.get(basin.rangeSetId);
    if (!kit || !set) return [];
    const limits = setForBasin(set, basin, basin.rangeOverrides);
    return due.flatMap(({ station, due: isDue }) => {
      const method = isDue ? methodsAt(kit, station)[0] : undefined;
      if (!method) return [];
      if (method.kind !== "titration") return reagentsNeeded(method, null, 0);
      const value =
        (readings.get(basin.id) ?? []).find((one) => one.quantity === method.quantity)?.value ?? null;
      const advice = adviseSample(method, value, rangeFor(limits, method.quantity, basin.surface));
      return reagentsNeeded(method, advice.millilitres, advice.expected ?? UNKNOWN_DROPS);
    });
  });
  return [...grouped(uses, (use) => use.reagent).values()]
    .flatMap((group) => {
      const [first] = group;
      return first ? [{ ...first, amount: group.reduce((sum, use) => sum + use.amount, 0) }] : [];
    })
    .sort((a, b) => a.reagent.localeCompare(b.reagent));
}
