import {
  type Basin,
  fillWater,
  lastWater,
  mayActOn,
  type PlanProduct,
  plannedProducts,
  type Quantity,
  type Range,
  type RangeSet,
  rangesOf,
  type Sample,
  type ShelfProduct,
  setForBasin,
  type VisitReading,
  type WaterEstimate,
  whyNoPlan,
} from "#core";
import { basinById } from "../db/basins";
import { reading } from "../db/batch";
import type { FirmScope } from "../db/connection";
import { productsOf } from "../db/products";
import { rangeSetVersion } from "../db/range-sets";
import { lastReadings, readingsOfVisits } from "../db/readings";
import { openVisitAt, type Visit } from "../db/visits";
import { methodsOf } from "./methods";

/** A basin's water as it was last read: of the visit under way where one is, with what was read before. */
export interface BasinWater {
  basin: Basin;
  open: Visit | null;
  readings: VisitReading[];
  rangeSet: RangeSet;
  ranges: Partial<Record<Quantity, Range>>;
  products: ShelfProduct[];
  planned: PlanProduct[];
  fill: Sample | null;
  water: WaterEstimate;
  /** Whether the readings are enough to say what a dose would do. */
  enough: boolean;
}

export const basinWater = (scope: FirmScope, basinId: string, now: Date): Promise<BasinWater | undefined> =>
  reading(scope, (reads) => readWater(reads, basinId, now));

async function readWater(scope: FirmScope, basinId: string, now: Date): Promise<BasinWater | undefined> {
  const [basin, underWay, last, products] = await Promise.all([
    basinById(scope, basinId),
    openVisitAt(scope, basinId),
    lastReadings(scope, basinId, now),
    productsOf(scope),
  ]);
  if (!basin) return undefined;
  const open = underWay ?? null;
  const [version, written] = await Promise.all([
    rangeSetVersion(scope, basin.rangeSetId),
    open ? readingsOfVisits(scope, [open.id]) : [],
  ]);
  const today = written.filter((one) => one.used && mayActOn(one.doubts));
  const newest = new Map<Quantity, VisitReading>();
  for (const one of [...last, ...today.sort((a, b) => a.round - b.round)]) newest.set(one.quantity, one);
  const readings = [...newest.values()];
  const rangeSet = setForBasin(version, basin, basin.rangeOverrides);
  const water = lastWater(basin, readings, await methodsOf(scope, readings));
  const enough = whyNoPlan(water) === null;
  const { fillAlkalinity, fillHardness } = basin.site;
  return {
    basin,
    open,
    readings,
    rangeSet,
    ranges: rangesOf(rangeSet, basin.surface, water.water),
    products,
    planned: plannedProducts({ products, basin }),
    fill:
      fillAlkalinity === null || fillHardness === null || !enough
        ? null
        : fillWater(
            { totalAlkalinity: fillAlkalinity, calciumHardness: fillHardness },
            water.water.temperature,
          ),
    water,
    enough,
  };
}
