import { memo } from "react";
import {
  type Measurement,
  type Quantity,
  type Range,
  temperatureIn,
  UNIT_SYSTEMS,
  type UnitSystem,
} from "#core";
import { figuresText, quantityName, quantityShort, words } from "../words";
import { ReadingFigure } from "./figures";
import { BOUND_SIGN, bracket, unitText, valueText } from "./format";
import { useUnits } from "./units";

/** What each rod spans before a reading makes it longer. */
const SPAN: Record<Quantity, [number, number]> = {
  freeChlorine: [0, 6],
  combinedChlorine: [0, 1],
  totalChlorine: [0, 6],
  bromine: [0, 12],
  ph: [6.8, 8.2],
  totalAlkalinity: [0, 200],
  calciumHardness: [0, 500],
  cyanuricAcid: [0, 100],
  salt: [0, 6000],
  totalDissolvedSolids: [0, 3000],
  totalHardness: [0, 1000],
  borate: [0, 80],
  phosphate: [0, 1],
  iron: [0, 1],
  copper: [0, 1],
  temperature: [0, 42],
  acidDemand: [0, 1],
  baseDemand: [0, 1],
};

const TOP = 14;
const FOOT = 206;
const STEP = (FOOT - TOP) / 10;
/** Every second tenth of the rod is a dark block, as on a surveyor's staff. */
const BLOCKS = [0, 2, 4, 6, 8].map((tenth) => FOOT - tenth * STEP);

/** The ends of a rod are written short. */
const endText = (quantity: Quantity, value: number, units: UnitSystem): string => {
  if (value >= 1000) return `${figuresText(value / 1000, 2)}k`;
  const text = valueText(quantity, value, units);
  const shown = quantity === "temperature" ? temperatureIn(value, UNIT_SYSTEMS[units].heat) : value;
  return text.length > 3 ? figuresText(shown, shown < 100 ? 2 : 3) : text;
};

interface Props {
  quantity: Quantity;
  measured: Measurement | null;
  range: Range | undefined;
  /** The reading before this one. */
  ghost?: number | undefined;
  /** Where a plan's doses take it, with the interval it promises: a hollow float. */
  target?: { value: number; low: number; high: number } | undefined;
  place: "low" | "within" | "high";
  closes?: boolean;
}

/**
 * The staff: a graduated rod with the basin's band on it, the reading as a float with its bracket as
 * whiskers, the last visit's float ghosted, and a hollow float where a plan takes it.
 */
export function Staff({ quantity, measured, range, ghost, target, place, closes = false }: Props) {
  const units = useUnits();
  const [least, most] = SPAN[quantity];
  const values = [measured?.value, measured?.high, range?.high, ghost, target?.high].flatMap(
    (value) => value ?? [],
  );
  const low = Math.min(least, measured?.value ?? least, ghost ?? least, target?.low ?? least);
  const high = Math.max(most, ...values.map((value) => value * (value > most ? 1.08 : 1)));
  const y = (value: number) =>
    FOOT - ((Math.min(high, Math.max(low, value)) - low) / (high - low)) * (FOOT - TOP);
  const ink =
    place === "within" ? "var(--ink)" : place === "low" && !closes ? "var(--below)" : "var(--above)";
  const unit = unitText(quantity, units);
  const label = measured
    ? words.staff.reading({
        name: quantityName(quantity),
        value: `${BOUND_SIGN[measured.bound]}${valueText(quantity, measured.value, units)} ${unit}`.trim(),
        place,
      })
    : words.staff.none({ name: quantityName(quantity) });
  return (
    <figure className="grid content-start justify-items-center gap-1 text-center">
      <figcaption className="font-semibold" title={quantityName(quantity)}>
        {quantityShort(quantity)}
      </figcaption>
      <svg viewBox="0 0 96 220" className="h-52 w-24" role="img" aria-label={label}>
        {range ? <Band top={y(range.high ?? high)} foot={y(range.low ?? low)} /> : null}
        <Rod quantity={quantity} low={low} high={high} units={units} />
        {ghost === undefined ? null : (
          <path
            d={`M48 ${y(ghost)}l11 -7v14z`}
            fill="none"
            stroke="var(--soft)"
            strokeWidth="1.4"
            strokeDasharray="2.5 2"
          />
        )}
        {target === undefined ? null : (
          <g stroke="var(--ink)" fill="var(--sheet)">
            <path d={`M84 ${y(target.low)}V${y(target.high)}`} strokeWidth="4" strokeOpacity="0.35" />
            <path d={`M47 ${y(target.value)}l16 -8v16z`} strokeWidth="1.8" />
          </g>
        )}
        {measured ? (
          <g>
            <path
              d={`M72 ${y(measured.low ?? low)}V${y(measured.high ?? high)}M68 ${y(measured.low ?? low)}h8M68 ${y(measured.high ?? high)}h8`}
              stroke={ink}
              strokeWidth="1.8"
            />
            <path d={`M47 ${y(measured.value)}l20 -9v18z`} fill={ink} />
          </g>
        ) : null}
      </svg>
      <p className="text-2xl leading-none font-bold" style={{ color: ink }}>
        {measured ? (
          <ReadingFigure quantity={quantity} value={measured.value} bound={measured.bound}>
            {`${BOUND_SIGN[measured.bound]}${valueText(quantity, measured.value, units)}`}
          </ReadingFigure>
        ) : (
          "–"
        )}
      </p>
      <p className="text-sm text-soft">
        {measured ? `${bracket(quantity, measured, units)} ${unit}`.trim() : ""}
      </p>
      {place === "within" || !measured ? null : (
        <p className="font-semibold" style={{ color: ink }}>
          {place === "low" ? words.compare.low : words.compare.high}
        </p>
      )}
    </figure>
  );
}

// The rod and its band stand still while a reading moves along them, and are not drawn again.

const Band = memo(function Band({ top, foot }: { top: number; foot: number }) {
  return (
    <g>
      <rect x="30" y={top} width="34" height={Math.max(2, foot - top)} fill="var(--band)" />
      <path d={`M30 ${top}h34M30 ${foot}h34`} stroke="var(--band-edge)" strokeWidth="2" fill="none" />
    </g>
  );
});

const Rod = memo(function Rod({
  quantity,
  low,
  high,
  units,
}: {
  quantity: Quantity;
  low: number;
  high: number;
  units: UnitSystem;
}) {
  return (
    <g>
      <rect x="36" y={TOP} width="10" height={FOOT - TOP} fill="var(--sheet)" stroke="var(--soft)" />
      {BLOCKS.map((foot) => (
        <rect
          key={foot}
          x="36"
          y={foot - STEP}
          width="5"
          height={STEP}
          fill="var(--soft)"
          fillOpacity="0.55"
        />
      ))}
      <text x="26" y={TOP + 5} className="fill-soft text-[13px]" textAnchor="end">
        {endText(quantity, high, units)}
      </text>
      <text x="26" y={FOOT + 3} className="fill-soft text-[13px]" textAnchor="end">
        {endText(quantity, low, units)}
      </text>
    </g>
  );
});
