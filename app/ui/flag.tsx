import { ArrowDown, ArrowUp, OctagonX } from "lucide-react";
import type { ReactNode } from "react";

/** What needs a person: a shape, a word and a colour, never the colour alone. */
export function Flag({
  place,
  closes = false,
  children,
}: {
  place: "low" | "high";
  closes?: boolean;
  children: ReactNode;
}) {
  const Shape = closes ? OctagonX : place === "low" ? ArrowDown : ArrowUp;
  const look =
    closes || place === "high"
      ? "border-above bg-above-wash text-above"
      : "border-below bg-below-wash text-below";
  return (
    <span className={`inline-flex items-center gap-1 rounded-sm border px-2 py-0.5 font-medium ${look}`}>
      <Shape size={16} strokeWidth={2.6} aria-hidden="true" />
      {children}
    </span>
  );
}
