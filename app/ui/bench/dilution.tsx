import { words } from "../../words";
import { Button } from "../button";

/** One part sample with none, one or three parts of tap water. */
const DILUTIONS = [1, 2, 4] as const;

interface Props {
  dilution: number;
  /** A sample mixed anew is read anew. */
  change: (times: number) => void;
}

/** How many times the sample is diluted, for a reading over its range. */
export function Dilution({ dilution, change }: Props) {
  return (
    <fieldset className="flex flex-wrap gap-2">
      <legend className="mb-1 text-soft">{words.bench.dilution}</legend>
      {DILUTIONS.map((times) => (
        <Button
          key={times}
          type="button"
          quiet={times !== dilution}
          aria-pressed={times === dilution}
          onClick={() => times !== dilution && change(times)}
        >
          {words.bench.dilutions[times]}
        </Button>
      ))}
    </fieldset>
  );
}
