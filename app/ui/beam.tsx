import { memo } from "react";
import { words } from "../words";
import { signed } from "./format";

const WIDTH = 340;
const MIDDLE = WIDTH / 2;
const LEVEL = 52;
const HALF = 128;
/** Pixels that an end of the beam moves for a whole point of the index. */
const TRAVEL = 46;
/** The beam lies on its stop beyond this. */
const STOP = 0.9;

const held = (index: number) => Math.max(-STOP, Math.min(STOP, index));

interface Props {
  index: number;
  /** The set's window. */
  low: number;
  high: number;
  /** The interval that holds the index, once it is known. */
  interval?: { low: number; high: number } | null;
}

/**
 * The beam: saturation as a level that dips to its etching or its scaling end. The notch on the gauge
 * at either end is as far as it may dip; the shade is how sure the readings make it.
 */
export function Beam({ index, low, high, interval = null }: Props) {
  const said = words.judge;
  const dip = TRAVEL * held(index);
  const verdict = index < low ? said.low : index > high ? said.high : said.level;
  const ink = index < low ? "var(--below)" : index > high ? "var(--above)" : "var(--ink)";
  const at = (value: number) => TRAVEL * held(value);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} 118`}
      className="w-full max-w-md"
      role="img"
      aria-label={said.beam({ index: signed(index), verdict, low: signed(low), high: signed(high) })}
    >
      <Gauge x={MIDDLE - HALF - 12} notch={LEVEL - TRAVEL * low} />
      <Gauge x={MIDDLE + HALF + 12} notch={LEVEL + TRAVEL * high} />
      {interval ? (
        <path
          d={`M${MIDDLE - HALF} ${LEVEL - at(interval.low)}L${MIDDLE + HALF} ${LEVEL + at(interval.low)}V${LEVEL + at(interval.high)}L${MIDDLE - HALF} ${LEVEL - at(interval.high)}z`}
          fill="var(--soft)"
          fillOpacity="0.22"
        />
      ) : null}
      <path
        d={`M${MIDDLE - HALF} ${LEVEL - dip}L${MIDDLE + HALF} ${LEVEL + dip}`}
        stroke={ink}
        strokeWidth="5"
        strokeLinecap="round"
      />
      <path d={`M${MIDDLE} ${LEVEL + 3}l-15 40h30z`} fill="none" stroke="var(--ink)" strokeWidth="2" />
      <circle cx={MIDDLE} cy={LEVEL} r="4" fill="var(--sheet)" stroke="var(--ink)" strokeWidth="2" />
      <text x="4" y="112" className="fill-soft text-[14px]">
        {said.etching}
      </text>
      <text x={WIDTH - 4} y="112" className="fill-soft text-[14px]" textAnchor="end">
        {said.scaling}
      </text>
    </svg>
  );
}

/** A gauge beside an end of the beam: its level, and the notch that it may dip to. */
const Gauge = memo(function Gauge({ x, notch }: { x: number; notch: number }) {
  return (
    <g stroke="var(--band-edge)" fill="none">
      <rect x={x - 6} y={LEVEL} width="12" height={notch - LEVEL} fill="var(--band)" stroke="none" />
      <path d={`M${x} ${LEVEL - 42}V${LEVEL + 44}`} stroke="var(--soft)" strokeWidth="1.4" />
      <path d={`M${x - 4} ${LEVEL}h8`} stroke="var(--soft)" strokeWidth="1.4" />
      <path d={`M${x - 8} ${notch}h16`} strokeWidth="2.6" />
    </g>
  );
});
