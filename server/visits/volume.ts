import { type BasinShape, farFrom, InputFault, volumeByMeter, volumeOf } from "#core";
import type { SentVolume } from "./schemas";
import type { VolumeCheck } from "./volume-check";

/** What a volume that was sent comes to, by the way it was found. */
export function knownVolume(
  sent: SentVolume,
  checks: readonly VolumeCheck[],
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

/** Basins that hold less or more than this are a slip of the tape. Litres */
const LIMITS = { low: 20, high: 15_000_000 } as const;

function within(litres: number): { litres: number } {
  if (!(litres >= LIMITS.low)) throw new InputFault("too-low", "volume", litres, LIMITS.low);
  if (litres > LIMITS.high) throw new InputFault("too-high", "volume", litres, LIMITS.high);
  return { litres };
}
