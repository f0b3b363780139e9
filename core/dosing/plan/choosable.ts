import { TRAITS } from "../../products/traits";
import type { PlanInput, PlanProduct } from "./input";

/**
 * The products that a plan may choose from a shelf: those with a use in it, at this basin, in this water.
 * Nothing is dosed for a reading that was not read.
 */
export const choosable = (
  input: Pick<PlanInput, "products" | "goals" | "water" | "stabilisedChlorine" | "tablets" | "cell">,
): PlanProduct[] => input.products.filter((product) => mayChoose(product, input));

function mayChoose(
  { product, stock }: PlanProduct,
  { goals, water, stabilisedChlorine, tablets, cell }: Parameters<typeof choosable>[0],
): boolean {
  const { use, stabilised } = TRAITS[product];
  if (use === null || stock === 0) return false;
  switch (use) {
    case "acid":
    case "base":
      return goals.ph.known;
    case "alkalinity":
      return goals.totalAlkalinity.known;
    case "calcium":
      return goals.calciumHardness.known;
    case "stabiliser":
      return goals.cyanuricAcid.known && goals.cyanuricAcid.low !== null;
    case "chlorine": {
      const { calciumHardness, cyanuricAcid, freeChlorine } = goals;
      if (!freeChlorine.known) return false;
      if (product === "calcium-hypochlorite")
        // Tablets and it burn together, in a shared feeder or skimmer; and calcium only climbs, and scales a cell.
        return (
          !tablets &&
          !cell &&
          !(calciumHardness.high !== null && water.calciumHardness >= calciumHardness.high)
        );
      if (stabilised)
        return (
          stabilisedChlorine === true && cyanuricAcid.known && water.cyanuricAcid < mostStabiliser(goals)
        );
      return true;
    }
  }
}

/**
 * Chlorine that brings stabiliser is chosen up to here: to its aim under the sun. A tub whose firm allows it bears it
 * up to its limit, though it has no use there; a pool indoors has none.
 */
function mostStabiliser({
  cyanuricAcid: { low, aim, high },
  chlorineCloses: { place },
}: PlanInput["goals"]): number {
  if (low !== null) return aim;
  return place.kind === "spa" ? (high ?? 0) : 0;
}
