import { type BasinShape, floorProfile, outlineOf } from "#core";
import { words } from "../../words";

const WIDTH = 360;
const PAD = 14;

/** The basin to scale, from above and along its middle, with a ruler of one metre or five feet. */
export function ShapeDrawing({ shape, unit }: { shape: BasinShape; unit: "m" | "ft" }) {
  const outline = outlineOf(shape.outline);
  const xs = outline.map(([x]) => x);
  const ys = outline.map(([, y]) => y);
  const left = Math.min(...xs);
  const top = Math.min(...ys);
  const length = Math.max(...xs) - left;
  const breadth = Math.max(...ys) - top;
  const floor = floorProfile(shape.floor, Math.max(...xs));
  const deepest = Math.max(shape.waterLine + 0.1, ...floor.map(({ depth }) => depth));
  // One scale for both drawings, so that they can be held against each other.
  const scale = (WIDTH - 2 * PAD) / Math.max(length, breadth * 0.6);
  const x = (metres: number) => PAD + (metres - left) * scale;
  const planHeight = breadth * scale;
  const sectionTop = planHeight + 3 * PAD + 12;
  const depthAt = (metres: number) => sectionTop + metres * scale;
  const height = depthAt(deepest) + 34;
  const ruler = unit === "m" ? 1 : 5 * 0.3048;
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${height}`}
      className="w-full max-w-xl"
      role="img"
      aria-label={`${words.volume.plan}; ${words.volume.section}`}
    >
      <path
        d={`${outline.map(([px, py], index) => `${index === 0 ? "M" : "L"}${x(px).toFixed(1)} ${(PAD + (py - top) * scale).toFixed(1)}`).join("")}z`}
        fill="var(--band)"
        stroke="var(--ink)"
        strokeWidth="1.8"
      />
      <text x={PAD} y={planHeight + 2 * PAD + 10} className="fill-soft text-[12px]">
        {words.volume.section}
      </text>
      <path
        d={`M${x(floor[0]?.at ?? 0)} ${depthAt(shape.waterLine)}${floor.map(({ at, depth }) => `L${x(at).toFixed(1)} ${depthAt(Math.max(depth, shape.waterLine)).toFixed(1)}`).join("")}L${x(floor.at(-1)?.at ?? 0)} ${depthAt(shape.waterLine)}z`}
        fill="var(--band)"
      />
      <path
        d={`M${x(floor[0]?.at ?? 0)} ${depthAt(0)}${floor.map(({ at, depth }) => `L${x(at).toFixed(1)} ${depthAt(depth).toFixed(1)}`).join("")}L${x(floor.at(-1)?.at ?? 0)} ${depthAt(0)}`}
        fill="none"
        stroke="var(--ink)"
        strokeWidth="1.8"
      />
      <path
        d={`M${PAD} ${height - 18}h${ruler * scale}M${PAD} ${height - 22}v8M${PAD + ruler * scale} ${height - 22}v8`}
        stroke="var(--soft)"
        strokeWidth="1.4"
      />
      <text x={PAD} y={height - 3} className="fill-soft text-[12px]">
        {unit === "m" ? "1 m" : "5 ft"}
      </text>
    </svg>
  );
}
