import { CircleHelp, TriangleAlert } from "lucide-react";
import type { Doubt, Quantity } from "#core";
import { doubtBack, doubtKeep, doubtText } from "../../words";
import { Button } from "../button";
import { useUnits } from "../units";

/** What to mind with a test, quietly. */
export function Told({ doubts, quantity }: { doubts: readonly Doubt[]; quantity: Quantity }) {
  const units = useUnits();
  if (doubts.length === 0) return null;
  return (
    <ul className="grid gap-1">
      {doubts.map((doubt) => (
        <li
          key={doubt.code + (doubt.because ?? "")}
          className="grid grid-cols-[1.3rem_1fr] gap-2 border-l-4 border-rule pl-2"
        >
          <TriangleAlert size={18} className="mt-1" aria-hidden="true" />
          {doubtText(doubt, quantity, units)}
        </li>
      ))}
    </ul>
  );
}

interface AskProps {
  /** Open questions; the first is asked. */
  doubts: readonly Doubt[];
  quantity: Quantity;
  keep: () => void;
  back: () => void;
}

/** One question before a result is saved: keep it, or go back to the bench. */
export function Ask({ doubts, quantity, keep, back }: AskProps) {
  const units = useUnits();
  const [doubt] = doubts;
  if (!doubt) return null;
  return (
    <div
      role="alertdialog"
      aria-labelledby="doubt"
      aria-modal="false"
      className="grid gap-3 border-4 border-below bg-below-wash p-4 text-below"
    >
      <p id="doubt" className="grid grid-cols-[1.6rem_1fr] gap-2 text-lg font-semibold">
        <CircleHelp aria-hidden="true" />
        {doubtText(doubt, quantity, units)}
      </p>
      <p className="flex flex-wrap gap-2">
        <Button type="button" autoFocus className="min-h-[60px]" onClick={back}>
          {doubtBack(doubt.code)}
        </Button>
        <Button type="button" quiet className="min-h-[60px]" onClick={keep}>
          {doubtKeep(doubt.code)}
        </Button>
      </p>
    </div>
  );
}
