import type { ReactNode } from "react";
import { words } from "../words";

/** A line whose reason is told on demand. */
export function Why({ says, children }: { says?: ReactNode; children: ReactNode }) {
  return (
    <details>
      <summary className="min-h-[36px] cursor-pointer list-none content-center [&::-webkit-details-marker]:hidden">
        {says}{" "}
        <span className="text-soft underline decoration-dotted underline-offset-4">{words.judge.why}</span>
      </summary>
      <div className="max-w-prose pb-1 text-soft">{children}</div>
    </details>
  );
}
