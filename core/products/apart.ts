import type { ProductId } from "./products";
import { TRAITS } from "./traits";

/**
 * What rides and stands apart from what: acids from everything that holds chlorine, the dry chlorines from each
 * other and from liquid chlorine, other oxidisers from all of them. The rest is food for a fire at worst.
 */
export const STORAGE_GROUPS = [
  "acid",
  "liquid-chlorine",
  "cal-hypo",
  "stabilised-chlorine",
  "bromine",
  "oxidiser",
  "other",
] as const;
export type StorageGroup = (typeof STORAGE_GROUPS)[number];

/**
 * Where a product stands on a shelf and in a truck.
 * @example storageGroup("dichlor") // "stabilised-chlorine"
 */
export function storageGroup(product: ProductId): StorageGroup {
  if (product === "sodium-hypochlorite") return "liquid-chlorine";
  if (product === "calcium-hypochlorite") return "cal-hypo";
  if (product === "bromine-tablets" || product === "bromine-granules") return "bromine";
  // An acid salt, and an oxidiser first of all.
  if (product === "potassium-monopersulfate") return "oxidiser";
  const { acid, chlorine } = TRAITS[product];
  return chlorine ? "stabilised-chlorine" : acid ? "acid" : "other";
}

/**
 * Products by the group that they stand in, groups without one left out.
 * @example storedApart([{ product: "dichlor" }, { product: "borax" }]).map(([group]) => group) // ["stabilised-chlorine", "other"]
 */
export const storedApart = <Kept extends { product: ProductId }>(
  products: readonly Kept[],
): [StorageGroup, Kept[]][] =>
  STORAGE_GROUPS.flatMap((group): [StorageGroup, Kept[]][] => {
    const own = products.filter(({ product }) => storageGroup(product) === group);
    return own.length > 0 ? [[group, own]] : [];
  });
