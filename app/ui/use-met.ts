import { useCallback } from "react";
import type { ProductId } from "#core";
import { useFirm } from "./use-firm";
import { useStored } from "./use-stored";

/** Which products somebody has poured before on this device: their cautions need not all stand open each time. */

const isList = (value: unknown): value is string[] =>
  Array.isArray(value) && value.every((one) => typeof one === "string");
const NONE: string[] = [];

/**
 * @param product null for what is no product
 * @returns whether this member has poured it on this device, and what to do once they have
 */
export function useMet(product: ProductId | null): { isMet: boolean; meet: () => void } {
  const { memberId } = useFirm();
  const [met, setMet] = useStored(`pelagon.met.${memberId}`, NONE, isList);
  const isMet = product !== null && met.includes(product);
  const meet = useCallback(() => {
    if (product !== null && !met.includes(product)) setMet([...met, product]);
  }, [product, met, setMet]);
  return { isMet, meet };
}
