import {
  BASIN_LITRES,
  type BasinShape,
  type Figure,
  farFrom,
  InputFault,
  type VolumeUnit,
  volumeByMeter,
  volumeOf,
} from "#core";
import type { VolumeWay } from "../db/volumes";
import type { VolumeCheck } from "./volume-check";

/** A volume by one of the ways it is found; what it comes to is worked out by the server. */
export interface VolumeInput {
  id: string;
  /** The volume is meant, far as it is from the last. */
  sure?: boolean;
  how: VolumeWay;
  shape?: BasinShape | undefined;
  litres?: number | undefined;
  meter?: { before: number; after: number; unit: VolumeUnit } | undefined;
  /** The visit whose dose told it. */
  visitId?: string | undefined;
  /** Of what the log taught: the day from which it is to hold; today when it is left out. */
  from?: string | undefined;
}

/**
 * What a volume that was sent comes to, by the way it was found.
 * @param byLog litres by the basin's own log, where that speaks against the book
 */
export function volumeFound(
  sent: VolumeInput,
  checks: readonly VolumeCheck[],
  byLog: Figure | null,
): { litres: number; low: number | null; high: number | null; shape: BasinShape | null } {
  switch (sent.how) {
    case "shape": {
      if (!sent.shape) throw new InputFault("missing", "shape", undefined);
      const { litres, low, high } = volumeOf(sent.shape);
      return { ...within(litres), low, high, shape: sent.shape };
    }
    case "meter": {
      if (!sent.meter) throw new InputFault("missing", "meter", undefined);
      const { litres, low, high } = volumeByMeter(sent.meter.before, sent.meter.after, sent.meter.unit);
      return { ...within(litres), low, high, shape: null };
    }
    case "dose": {
      const check = checks.find((one) => one.visitId === sent.visitId && near(one.litres, sent.litres ?? 0));
      if (!check) throw new InputFault("unknown", "visitId", sent.visitId);
      return { ...within(check.litres), low: check.low, high: check.high, shape: null };
    }
    case "log": {
      if (!byLog) throw new InputFault("unknown", "how", sent.how);
      return { ...within(byLog.value), low: byLog.low, high: byLog.high, shape: null };
    }
    case "entered":
      return { ...within(sent.litres ?? Number.NaN), low: null, high: null, shape: null };
  }
}

/**
 * Asks once about a volume far from the basin's last or from the firm's others.
 * @throws InputFault "unconfirmed" with the volume that it is far from, unless it was said to be so
 */
export function askWhenFar(
  { litres, sure }: { litres: number; sure?: boolean },
  beside: Parameters<typeof farFrom>[1],
): void {
  const far = sure ? null : farFrom(litres, beside);
  if (far !== null) throw new InputFault("unconfirmed", "volume", Math.round(litres), Math.round(far));
}

const near = (a: number, b: number) => Math.abs(a - b) <= 1e-6 * Math.max(a, b);

/** Basins that hold less or more than `BASIN_LITRES` are a slip of the tape. */
function within(litres: number): { litres: number } {
  if (!(litres >= BASIN_LITRES.low)) throw new InputFault("too-low", "volume", litres, BASIN_LITRES.low);
  if (litres > BASIN_LITRES.high) throw new InputFault("too-high", "volume", litres, BASIN_LITRES.high);
  return { litres };
}
