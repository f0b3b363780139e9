import { type HelpDrawing, helpFor } from "../words/help";

/** What the screen at hand is for: ten lines at most, and the drawing that belongs to them. */
export default function ScreenHelp({ path }: { path: string }) {
  const help = helpFor(path);
  if (!help) return null;
  return (
    <section className="mb-4 grid gap-3" aria-label={help.title}>
      <p className="font-semibold">{help.title}</p>
      <Drawing of={help.drawing} />
      <ol className="list-inside list-disc">
        {help.lines.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ol>
    </section>
  );
}

const INK = "var(--ink)";
const SOFT = "var(--soft)";
const BAND = "var(--band)";

/** Small drawings in ink; what they show stands in the lines beside them. */
function Drawing({ of }: { of: HelpDrawing }) {
  return (
    <svg
      width="180"
      height="64"
      viewBox="0 0 180 64"
      aria-hidden="true"
      fill="none"
      stroke={INK}
      strokeWidth="2"
    >
      {DRAWINGS[of]}
    </svg>
  );
}

const DRAWINGS: Record<HelpDrawing, React.ReactNode> = {
  calls: [10, 28, 46].map((y, index) => (
    <g key={y}>
      <rect x="6" y={y - 6} width="12" height="12" rx="2" />
      {index === 0 ? <path d={`M8 ${y} l3 4 l6 -8`} /> : null}
      <path d={`M28 ${y} h${120 - index * 26}`} stroke={SOFT} />
    </g>
  )),
  sample: (
    <>
      <path d="M0 14 q12 -6 24 0 t24 0 t24 0 t24 0 t24 0 t24 0 t36 0" stroke={SOFT} />
      <path d="M84 6 v34" strokeDasharray="4 4" />
      <path d="M72 42 h24 v18 h-24 z" />
      <path d="M76 50 q8 5 16 0" />
    </>
  ),
  drop: (
    <>
      <path d="M20 4 h16 v14 l-5 8 h-6 l-5 -8 z" />
      <path d="M28 32 q5 8 0 10 q-5 -2 0 -10" fill={INK} />
      <path d="M12 44 h32 v16 h-32 z" />
      <path d="M70 32 h30" stroke={SOFT} />
      <path d="M94 26 l8 6 l-8 6" stroke={SOFT} />
      <text x="116" y="46" fontSize="40" fontWeight="700" fill={INK} stroke="none">
        n
      </text>
    </>
  ),
  comparator: (
    <>
      {[6, 40, 108, 142].map((x, index) => (
        <rect key={x} x={x} y="16" width="28" height="40" fill={BAND} opacity={0.4 + 0.18 * index} />
      ))}
      <rect x="74" y="8" width="28" height="50" strokeWidth="3" />
    </>
  ),
  staff: (
    <>
      <rect x="30" y="20" width="14" height="22" fill={BAND} stroke="none" />
      <rect x="30" y="2" width="14" height="60" />
      <path d="M48 32 l12 -6 v12 z" fill={INK} />
      <path d="M54 18 v28 M50 18 h8 M50 46 h8" />
      <path d="M112 34 L170 24" strokeWidth="4" />
      <path d="M141 30 l-8 28 h16 z" />
    </>
  ),
  pours: (
    <>
      <path d="M12 8 h18 v20 h-18 z M12 36 h18 v20 h-18 z" stroke={SOFT} />
      <path d="M40 18 h50" />
      <circle cx="118" cy="32" r="22" />
      <path d="M118 18 v14 l10 6" />
      <path d="M150 46 h24" />
    </>
  ),
  trend: (
    <>
      <rect x="4" y="22" width="172" height="20" fill={BAND} stroke="none" />
      <path d="M6 50 L40 38 L74 30 L108 34 L142 18 L174 26" />
      <path d="M74 60 v-8 M142 60 v-8" stroke={SOFT} />
    </>
  ),
  bottle: (
    <>
      <path d="M20 4 h12 v10 l8 8 v38 h-28 v-38 l8 -8 z" />
      <path d="M12 40 h28" stroke={SOFT} />
      <path d="M70 58 h96 M70 58 v-12 h20 v12 M98 58 v-26 h20 v26 M126 58 v-40 h20 v40" />
    </>
  ),
};
