import type { FaultView } from "../context";
import { faultSentence, words } from "../words";

/** What a save may answer when it did not go through. */
export type SaveAnswer = { fault?: FaultView; offline?: true; trouble?: number } | undefined;

/** Says why something was not saved; what was typed is still there. */
export function Refused({ answer }: { answer: SaveAnswer }) {
  if (answer?.fault)
    return (
      <p role="alert" className="border-l-4 border-above bg-above-wash p-3 text-above">
        {faultSentence(answer.fault)}
      </p>
    );
  if (answer?.offline || answer?.trouble)
    return (
      <p role="alert" className="border-l-4 border-below bg-below-wash p-3 text-below">
        {answer.offline ? words.visit.offline : words.trouble.unsaved(answer.trouble ?? 500)}
      </p>
    );
  return null;
}
