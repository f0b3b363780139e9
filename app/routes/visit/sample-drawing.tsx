import { words } from "../../words";

/** Where to take the sample: elbow deep, mouth down, away from the return. */
export function SampleDrawing() {
  const said = words.sampling.drawing;
  return (
    <svg viewBox="0 0 220 170" className="w-full max-w-56" role="img" aria-label={said.label}>
      <path d="M14 30v126h192V30" fill="none" stroke="var(--ink)" strokeWidth="4" />
      <path d="M16 46h188" stroke="var(--soft)" strokeWidth="2" />
      <g stroke="var(--soft)" strokeWidth="1.5" fill="none">
        <path d="M206 92h-22M184 92l6 -4M184 92l6 4" />
      </g>
      <text x="182" y="84" textAnchor="end" className="fill-soft text-[13px]">
        {said.inlet}
      </text>
      <path d="M100 8L88 112" stroke="var(--ink)" strokeWidth="9" strokeLinecap="round" opacity="0.35" />
      <path d="M80 112h18l-3 26h-12z" fill="var(--sheet)" stroke="var(--ink)" strokeWidth="2.5" />
      <path d="M122 46v80M116 46h12M116 126h12" stroke="var(--ink)" strokeWidth="1.8" />
      <text x="130" y="122" className="fill-ink text-[15px] font-semibold">
        {said.depth}
      </text>
    </svg>
  );
}
