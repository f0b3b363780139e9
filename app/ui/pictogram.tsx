import type { ReactNode } from "react";

/** What must be understood without reading, drawn for this product: no mixing, goggles, gloves, keep out, cover on. */
export type PictogramName = "no-mixing" | "goggles" | "gloves" | "keep-out" | "cover-on";

const slash = <path d="M5 27 27 5" strokeWidth="3" />;

const DRAWINGS: Record<PictogramName, ReactNode> = {
  // Two bottles that lean together, struck out.
  "no-mixing": (
    <>
      <path d="M6 12h5v3l2 3v8H4v-8l2-3zM21 12h5v3l2 3v8h-9v-8l2-3z" />
      <path d="M11 8c2-3 8-3 10 0" />
      {slash}
    </>
  ),
  goggles: (
    <>
      <path d="M3 13c4-3 22-3 26 0v6c-2 3-8 4-11 1l-2-3-2 3c-3 3-9 2-11-1z" />
      <path d="M6 16h5M21 16h5" />
    </>
  ),
  // A cuff and a hand with its fingers up.
  gloves: (
    <path d="M10 29v-7l-4-6c-1-2 1-3 3-2l3 3V6c0-2 3-2 3 0v8-9c0-2 3-2 3 0v9-7c0-2 3-2 3 0v8-5c0-2 3-2 3 0v9c0 4-2 6-3 7v3zM10 26h11" />
  ),
  // A swimmer's head and arm over the water line, struck out.
  "keep-out": (
    <>
      <circle cx="22" cy="10" r="3" />
      <path d="M6 18l7-6 7 6M3 22c3-2 5-2 8 0s5 2 8 0 5-2 8 0M3 27c3-2 5-2 8 0s5 2 8 0 5-2 8 0" />
      {slash}
    </>
  ),
  // A cover flat on the water, with a lock.
  "cover-on": (
    <>
      <path d="M3 17h26M5 17v-3h22v3M3 23c3-2 5-2 8 0s5 2 8 0 5-2 8 0M3 28c3-2 5-2 8 0s5 2 8 0 5-2 8 0" />
      <path d="M12 10h8v-4a4 4 0 0 0-8 0zM16 10v-1" />
    </>
  ),
};

export function Pictogram({ name, size = 32 }: { name: PictogramName; size?: number }) {
  return (
    <svg
      viewBox="0 0 32 32"
      width={size}
      height={size}
      fill="none"
      stroke="currentColor"
      strokeWidth="2"
      strokeLinecap="round"
      strokeLinejoin="round"
      aria-hidden="true"
      className="shrink-0"
    >
      {DRAWINGS[name]}
    </svg>
  );
}
