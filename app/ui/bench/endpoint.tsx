import { MoveRight } from "lucide-react";
import { memo } from "react";
import type { Method } from "#core";
import { shipped, words } from "../../words";
import { plain } from "../format";

interface Props {
  method: Method;
  /** pH of the standard that the drops are matched to. */
  target?: number | null;
}

/** The colour to watch for, before and after, as swatches with words. */
export const Endpoint = memo(function Endpoint({ method, target = null }: Props) {
  const { before } = method;
  // What is matched to a standard of the scale beside it has that standard's color, not the kit's own.
  const after =
    target === null || (method.kind === "titration" && target === method.target)
      ? method.after
      : { word: words.bench.matchTo({ target: plain(target, 1) }), swatch: null };
  if (!before || !after) return null;
  const swatch = (colour: { word: string; swatch: string | null }) => (
    <span className="grid justify-items-center gap-1 text-center leading-tight">
      {colour.swatch === null ? null : (
        <svg width="72" height="30" aria-hidden="true">
          <rect x="1" y="1" width="70" height="28" rx="3" fill={colour.swatch} stroke="var(--soft)" />
        </svg>
      )}
      <span>{shipped(colour.word)}</span>
    </span>
  );
  return (
    <figure className="flex items-start gap-3" aria-label={words.bench.watch}>
      {swatch(before)}
      <MoveRight className="mt-1 shrink-0" aria-label={words.bench.till} />
      {swatch(after)}
    </figure>
  );
});
