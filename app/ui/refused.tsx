import type { FaultView } from "../fault";
import { faultSentence, figuresText, unsavedText, words } from "../words";
import { Button } from "./button";
import { volumeText } from "./format";
import { useUnits } from "./units";
import { useFirm } from "./use-firm";

/** What a save may answer when it did not go through. */
export type SaveAnswer = { fault?: FaultView; offline?: true; trouble?: number } | undefined;

interface Props {
  answer: SaveAnswer;
  /** Saves it all the same, where the answer was a question. */
  sure?: () => void;
}

/** Says why something was not saved; what was typed is still there. */
export function Refused({ answer, sure }: Props) {
  const units = useUnits();
  if (answer?.fault?.code === "unconfirmed" && answer.fault.field === "volume" && sure)
    return <FarVolume fault={answer.fault} sure={sure} />;
  if (answer?.fault?.code === "unconfirmed" && answer.fault.field === "strength" && sure)
    return <OddStrength fault={answer.fault} sure={sure} />;
  if (answer?.fault)
    return (
      <p role="alert" className="border-l-4 border-above bg-above-wash p-3 text-above">
        {faultSentence(answer.fault, units)}
      </p>
    );
  if (answer?.offline || answer?.trouble)
    return (
      <p role="alert" className="border-l-4 border-below bg-below-wash p-3 text-below">
        {answer.offline ? words.visit.offline : unsavedText(answer.trouble ?? 500)}
      </p>
    );
  return null;
}

/** A strength at which nothing of the kind is sold: every dose would rest on it. */
function OddStrength({ fault, sure }: { fault: FaultView; sure: () => void }) {
  const percent = (share: unknown) => `${figuresText(100 * Number(share))}%`;
  const [low, high] = Array.isArray(fault.limit) ? fault.limit : [];
  const said = words.products;
  return (
    <div role="alert" className="grid gap-2 border-l-4 border-above bg-above-wash p-3 text-above">
      <p>{said.oddStrength({ typed: percent(fault.value), low: percent(low), high: percent(high) })}</p>
      <Button type="button" quiet className="justify-self-start" onClick={sure}>
        {said.oddSure({ typed: percent(fault.value) })}
      </Button>
    </div>
  );
}

/** A volume far from the basin's last or the firm's others: a question, and yes saves it. */
function FarVolume({ fault, sure }: { fault: FaultView; sure: () => void }) {
  const { units } = useFirm();
  return (
    <div role="alert" className="grid gap-2 border-l-4 border-below bg-below-wash p-3 text-below">
      <p>
        {words.volume.far({
          typed: volumeText(Number(fault.value), units),
          than: volumeText(Number(fault.limit), units),
        })}
      </p>
      <Button type="button" quiet className="justify-self-start" onClick={sure}>
        {words.volume.farSure}
      </Button>
    </div>
  );
}
