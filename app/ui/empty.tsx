import type { ReactNode } from "react";

/** What stands where nothing is yet: why, and the one next thing to press. */
export function Empty({ text, children }: { text: string; children?: ReactNode }) {
  return (
    <div className="sheet grid max-w-prose justify-items-start gap-3 p-5">
      <p>{text}</p>
      {children}
    </div>
  );
}
