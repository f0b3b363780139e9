import { meaningsOf } from "#core";
import { ungroupedText, words } from "../words";
import { Button } from "./button";

/** Whether a text means two numbers, and has to be answered before it is sent. */
export const isTwoNumbers = (text: string): boolean => meaningsOf(text) !== null;

/** Asks which of two numbers is meant by "1.250"; nothing where a text means one. */
export function WhichNumber({
  text,
  unit,
  set,
}: {
  text: string;
  unit: string;
  set: (text: string) => void;
}) {
  const meant = meaningsOf(text);
  if (!meant) return null;
  const said = words.whichNumber;
  return (
    <div role="alert" className="flex flex-wrap items-center gap-2 border-l-4 border-below bg-below-wash p-2">
      <p>{said.asks({ text })}</p>
      {meant.map((value) => (
        <Button key={value} type="button" quiet onClick={() => set(String(value))}>
          {said.is({ value: ungroupedText(value), unit })}
        </Button>
      ))}
    </div>
  );
}
