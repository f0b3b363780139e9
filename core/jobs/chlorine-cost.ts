import type { PlanProduct } from "../dosing/plan/input";
import { gramsForChange } from "../dosing/single";
import { greenChlorine } from "../recipes/green-pool";

/** Money for a milligram of free chlorine in each litre of a basin; 0 where no plain chlorine is to be had. */
export function chlorineCost(products: readonly PlanProduct[], litres: number): number {
  const product = greenChlorine(products);
  return product ? (gramsForChange(product, "freeChlorine", 1, litres) / 1000) * product.pricePerKg : 0;
}
