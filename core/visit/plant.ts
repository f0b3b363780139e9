import { mixesLike } from "../ranges/bathing-limits";
import { dayIn } from "../schedule/days";
import { chlorineShares } from "../water/chlorine";
import type { Sample } from "../water/sample";
import {
  CONTROLLER_KINDS,
  type ControllerKind,
  type ControllerVerdict,
  controllerOff,
  filterIsFull,
  orpShape,
  PLANT_KINDS,
  type PlantKind,
} from "../work/plant";
import { type BucketVerdict, bucketTest, surfaceOf, usesMuch, waterUse } from "../work/water-use";
import type { Brought, PlantSeen } from "./brought";
import type { PlantReading, VisitReading, Written } from "./written";

/** What the plant beside a basin shows at a visit, held against the visits before and against the drops. */
export interface VisitPlant {
  /** Of what was ever read there, in the order in which it is always told. */
  gauges: PlantGauge[];
  /** The day of the last pressure, where that says that the filter wants cleaning; else null. */
  filterFullOn: string | null;
  /** Fresh water a day since the meter was read before, m³; null where nobody can say. */
  waterADay: number | null;
  /** Whether that is more than evaporation and splashing take. */
  usesMuch: boolean;
  /** Of a bucket test that was read here; null where there is none. */
  bucket: BucketVerdict | null;
}

export interface PlantGauge {
  kind: PlantKind;
  today: PlantReading | null;
  before: PlantSeen | null;
  /** Of a controller that shows something else than the drops; else null. */
  verdict: ControllerVerdict | null;
}

interface Water {
  readings: readonly VisitReading[];
  water: Sample;
}

export function plantOf(
  { plantBefore = [], firm, basin }: Brought,
  { plant = [] }: Written,
  water: Water,
): VisitPlant {
  const seenOf = (kind: PlantKind): PlantSeen[] => {
    const today = plant.find((one) => one.kind === kind);
    const earlier = plantBefore.filter((one) => one.kind === kind);
    return today ? [...earlier, { ...today, drops: dropsBeside(kind, water) }] : earlier;
  };
  const lastOf = (kind: PlantKind) => seenOf(kind).at(-1);
  const pressure = lastOf("filterPressure");
  const meter = plant.find((one) => one.kind === "waterMeter");
  const used = waterUse(
    seenOf("waterMeter").map(({ at, value, changed }) => ({ at: at.getTime(), value, changed })),
  ).findLast(({ at }) => at === meter?.at.getTime());
  const kind = mixesLike(basin.kind);
  const fall = (of: "basinFall" | "bucketFall") => plant.find((one) => one.kind === of)?.value;
  const [basinFall, bucketFall] = [fall("basinFall"), fall("bucketFall")];
  const isFull = filterIsFull(pressure?.value, lastOf("cleanPressure")?.value) === true;
  return {
    gauges: PLANT_KINDS.flatMap((kind) => {
      const today = plant.find((one) => one.kind === kind) ?? null;
      const before = plantBefore.findLast((one) => one.kind === kind) ?? null;
      return today || before
        ? [{ kind, today, before, verdict: today ? verdictOf(kind, seenOf(kind)) : null }]
        : [];
    }),
    filterFullOn: isFull && pressure ? dayIn(pressure.at, firm.timeZone) : null,
    waterADay: used?.perDay ?? null,
    usesMuch: used !== undefined && usesMuch(used.perDay, basin.litres, kind),
    bucket:
      basinFall === undefined || bucketFall === undefined
        ? null
        : bucketTest({ basinFall, bucketFall, surface: surfaceOf(basin.litres, kind) }),
  };
}

const isController = (kind: PlantKind): kind is ControllerKind =>
  CONTROLLER_KINDS.some((one) => one === kind);

function verdictOf(kind: PlantKind, seen: readonly PlantSeen[]): ControllerVerdict | null {
  // Without a test there is nothing to hold it against today.
  if (!isController(kind) || seen.at(-1)?.drops === null) return null;
  const pairs = seen.flatMap(({ at, value, drops }) =>
    drops === null ? [] : [{ at: at.getTime(), shown: value, drops }],
  );
  return controllerOff(kind, pairs);
}

/** What the drops of this visit came to beside a display; null where they were not counted, or it is no controller's. */
function dropsBeside(kind: PlantKind, { readings, water }: Water): number | null {
  const read = (quantity: VisitReading["quantity"]) =>
    readings.find((one) => one.quantity === quantity)?.value;
  const [ph, freeChlorine] = [read("ph"), read("freeChlorine")];
  return besideDisplay(kind, { ph, freeChlorine, water });
}

/**
 * What a display of a controller is held against.
 * @param water for what of its chlorine is HOCl: cyanuric acid, temperature and salt
 * @example besideDisplay("controllerPh", { ph: 7.5, freeChlorine: undefined, water }) // 7.5
 */
export function besideDisplay(
  kind: PlantKind,
  { ph, freeChlorine, water }: { ph: number | undefined; freeChlorine: number | undefined; water: Sample },
): number | null {
  if (kind === "controllerPh") return ph ?? null;
  if (kind === "controllerChlorine") return freeChlorine ?? null;
  if (kind !== "orp" || ph === undefined || freeChlorine === undefined) return null;
  return orpShape(chlorineShares({ ...water, ph, freeChlorine }).hypochlorousAcid, ph);
}
