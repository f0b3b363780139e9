import {
  type DoseCheck,
  isProductId,
  TELLING,
  type Telling,
  type VisitReading,
  type VolumeByDose,
  volumeTold,
} from "#core";
import type { FirmScope } from "../db/connection";
import { dosesOfVisits } from "../db/doses";
import { newestPlansAt } from "../db/plans";
import { productNames } from "../db/products";
import { readingsOfVisits } from "../db/readings";

/** What a plan's dose and its retest tell of the volume. */
export interface VolumeCheck extends VolumeByDose {
  visitId: string;
  at: Date;
  quantity: Telling;
  before: number;
  after: number;
  /** What was given that tells it. */
  product: string;
  compound: string;
  grams: number;
}

const MOST = 12;

/** Every dose at a basin that was tested before and after, the newest first. */
export async function volumeChecks(scope: FirmScope, basinId: string): Promise<VolumeCheck[]> {
  const plans = await newestPlansAt(scope, basinId, MOST);
  if (plans.length === 0) return [];
  const visits = [...new Set(plans.map((plan) => plan.visitId))];
  const readings = (await readingsOfVisits(scope, visits)).filter((one) => one.used);
  const doses = await dosesOfVisits(scope, visits);
  const products = new Map((await productNames(scope)).map((one) => [one.id, one]));
  return plans.flatMap((plan) => {
    const given = doses
      .filter((dose) => dose.code.startsWith(`plan.${plan.id}.`) && dose.givenGrams > 0)
      .flatMap((dose) => {
        const product = products.get(dose.productId);
        return product && isProductId(product.compound)
          ? [
              {
                product: product.compound,
                strength: product.strength,
                grams: dose.givenGrams,
                name: product.name,
              },
            ]
          : [];
      });
    return TELLING.flatMap((quantity): VolumeCheck[] => {
      const own = readings.filter((one) => one.visitId === plan.visitId && one.quantity === quantity);
      const before = bracketed(newest(own.filter((one) => one.round <= plan.round)));
      const after = bracketed(newest(own.filter((one) => one.round === plan.round + 1)));
      if (!before || !after) return [];
      const check: DoseCheck = { quantity, given, before, after };
      const told = volumeTold(check);
      const main = given
        .filter((one) => one.product !== "cyanuric-acid")
        .sort((a, b) => b.grams - a.grams)[0];
      return told && main
        ? [
            {
              ...told,
              visitId: plan.visitId,
              at: plan.at,
              quantity,
              before: before.value,
              after: after.value,
              product: main.name,
              compound: main.product,
              grams: main.grams,
            },
          ]
        : [];
    });
  });
}

const newest = (readings: VisitReading[]): VisitReading | undefined =>
  readings.reduce<VisitReading | undefined>(
    (best, one) => (best && best.round > one.round ? best : one),
    undefined,
  );

const bracketed = (reading: VisitReading | undefined) =>
  reading && reading.low !== null && reading.high !== null
    ? { value: reading.value, low: reading.low, high: reading.high }
    : null;
