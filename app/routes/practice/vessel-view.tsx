import { useEffect, useRef } from "react";
import { type Vessel, watched } from "#core";
import { numberText, words } from "../../words";
import { drawScene } from "./draw";
import type { Hands } from "./use-hands";

interface Props {
  hands: Hands;
  standards: readonly number[];
  /** When the last drop fell, as performance.now(). */
  droppedAt: { current: number };
  weakEye: boolean;
  label: string;
}

const isQuiet = (): boolean => matchMedia("(prefers-reduced-motion: reduce)").matches;

/** The vessel, at sixty frames a second; held it swirls. */
export function VesselView({ hands, standards, droppedAt, weakEye, label }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const scene = useRef({ hands, standards, weakEye });
  scene.current = { hands, standards, weakEye };
  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext("2d");
    if (!element || !context) return;
    const quiet = isQuiet();
    let frame = 0;
    let size = { width: 0, height: 0, ratio: 0 };
    // Told by the system when it changes: asked for in each frame it would lay the page out anew.
    const observer = new ResizeObserver(([entry]) => {
      const { width = 0, height = 0 } = entry?.contentRect ?? {};
      const ratio = Math.min(2, devicePixelRatio);
      element.width = Math.round(width * ratio);
      element.height = Math.round(height * ratio);
      size = { width, height, ratio };
    });
    observer.observe(element);
    const draw = (time: number) => {
      const { hands: now, standards: marks, weakEye: weak } = scene.current;
      if (size.width > 0) {
        const { vessel, swirling } = now.now();
        context.setTransform(size.ratio, 0, 0, size.ratio, 0, 0);
        drawScene(context, size.width, size.height, {
          vessel,
          time,
          swirling,
          angle: now.angle,
          droppedAt: droppedAt.current,
          still: quiet,
          shade: weak ? shadeOf(vessel) : null,
          standards: marks,
        });
      }
      frame = requestAnimationFrame(draw);
    };
    frame = requestAnimationFrame(draw);
    return () => {
      cancelAnimationFrame(frame);
      observer.disconnect();
    };
  }, [droppedAt]);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={label}
      className="block h-64 w-full cursor-grab touch-none rounded-sm border border-rule bg-white wide:h-[21rem]"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        hands.hold("swirl");
      }}
      onPointerUp={hands.release}
      onPointerCancel={hands.release}
    />
  );
}

/** Of a comparator its own place among the standards; of a count how far along it is. */
function shadeOf(vessel: Vessel): number {
  const { share } = watched(vessel);
  if (share !== null) return share;
  const { method, water } = vessel;
  if (method.kind !== "comparator") return 0.5;
  const [low, high] = [method.marks[0] ?? 0, method.marks.at(-1) ?? 1];
  const value =
    method.quantity === "ph"
      ? water.ph
      : method.quantity === "totalChlorine"
        ? water.freeChlorine + water.combinedChlorine
        : water.freeChlorine;
  return (value - low) / (high - low);
}

/** The words for what is seen. */
export const labelOf = (vessel: Vessel): string => {
  const { name, share } = watched(vessel);
  const colour = words.colours[name];
  return share === null ? colour : words.practice.colour({ name: colour, share: numberText(100 * share, 0) });
};
