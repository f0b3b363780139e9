import { MoveRight } from "lucide-react";
import { memo } from "react";
import type { Method } from "#core";
import { shipped, words } from "../../words";

/** The colour to watch for, before and after, as swatches with words. */
export const Endpoint = memo(function Endpoint({ method }: { method: Method }) {
  const { before, after } = method;
  if (!before || !after) return null;
  const swatch = (colour: typeof before) => (
    <span className="grid justify-items-center gap-1 text-center leading-tight">
      <svg width="72" height="30" aria-hidden="true">
        <rect x="1" y="1" width="70" height="28" rx="3" fill={colour.swatch} stroke="var(--soft)" />
      </svg>
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
