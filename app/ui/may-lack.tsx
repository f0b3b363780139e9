import { words } from "../words";

/** Says that a page was read from what is some seconds behind; where it is not, nothing. */
export function MayLack({ seconds }: { seconds: number | null | undefined }) {
  return seconds ? (
    <p role="note" className="text-sm text-soft">
      {words.mayLack({ seconds })}
    </p>
  ) : null;
}
