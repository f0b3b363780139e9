import { gasLock, type ProductId } from "#core";
import { useSecondsLeft } from "../../ui/countdown";
import { leftText } from "../../ui/format";
import { Pictogram } from "../../ui/pictogram";
import { words } from "../../words";
import { useVisit } from "./use-visit";

/** Seconds for which a product must wait because acid and chlorine would meet; 0 where it may go in. */
export function useGasWait(compound: ProductId | null): number {
  const { doses, products, now } = useVisit();
  return useSecondsLeft(compound === null ? null : gasLock({ doses, products }, compound), now);
}

/** Says for how long; nothing where nothing has to wait. */
export function GasWait({ left }: { left: number }) {
  if (left <= 0) return null;
  return (
    <p
      role="alert"
      className="flex items-center gap-3 border-l-4 border-above bg-above-wash p-3 font-semibold text-above"
    >
      <Pictogram name="no-mixing" /> {words.plan.gasWait({ left: leftText(left) })}
    </p>
  );
}
