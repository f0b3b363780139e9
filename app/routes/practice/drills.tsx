import { useEffect, useMemo, useRef, useState } from "react";
import {
  type Drill,
  type DrillChoice,
  type DrillKind,
  drillOf,
  type Method,
  TITRATION_KIT,
  type Vessel,
} from "#core";
import { placeText } from "../../ui/bench/scale-sheet";
import { Button } from "../../ui/button";
import { plain, valueText, withUnit } from "../../ui/format";
import { useUnits } from "../../ui/units";
import { shipped, words } from "../../words";
import { drawScene } from "./draw";
import { labelOf } from "./vessel-view";

/** One question after another of a kind; each answer is told at once, with why. */
export function Drills({ kind, answered }: { kind: DrillKind; answered: (isRight: boolean) => void }) {
  const units = useUnits();
  const said = words.practice;
  const [seed, setSeed] = useState(() => Math.floor(Math.random() * 1e6));
  const [picked, pick] = useState<number | null>(null);
  const [score, setScore] = useState({ right: 0, of: 0 });
  const drill = useMemo(() => drillOf(kind, TITRATION_KIT.methods, seed), [kind, seed]);
  const { method, vessel, choices, right, expected } = drill;
  const answer = (index: number) => {
    if (picked !== null) return;
    pick(index);
    setScore({ right: score.right + Number(index === right), of: score.of + 1 });
    answered(index === right);
  };
  const next = () => {
    pick(null);
    setSeed(seed + 1);
  };
  const text = (choice: DrillChoice | undefined): string => {
    if (!choice) return "";
    if (choice.code === "place")
      return placeText(choice.place, "comparator", (mark) => valueText(method.quantity, mark, units));
    return choice.code === "millilitres"
      ? words.milliliters({ amount: plain(choice.millilitres, 1) })
      : said.choices[choice.code];
  };
  return (
    <section aria-label={said.drillNames[kind]} className="grid max-w-2xl gap-4">
      <h2 className="text-2xl font-bold">{said.drillNames[kind]}</h2>
      <p className="text-lg font-medium">
        {askOf(drill, expected === null ? "" : withUnit(method.quantity, expected, units))}
      </p>
      {vessel ? <VesselStill vessel={vessel} method={method} /> : null}
      <div className="flex flex-wrap gap-2">
        {choices.map((choice, index) => (
          <Button
            key={text(choice)}
            type="button"
            quiet={picked !== index}
            aria-pressed={picked === index}
            onClick={() => answer(index)}
          >
            {text(choice)}
          </Button>
        ))}
      </div>
      <div role="status" className="min-h-16">
        {picked === null ? null : (
          <p>
            <b className={picked === right ? "" : "text-below"}>
              {picked === right ? said.drillRight : `◆ ${said.drillWrong({ right: text(choices[right]) })}`}
            </b>{" "}
            {said.drillWhy[kind]}
          </p>
        )}
      </div>
      <p className="flex flex-wrap items-center gap-4">
        <Button type="button" quiet={picked === null} onClick={next}>
          {said.drillNext}
        </Button>
        <span className="text-soft">{said.drillSoFar({ right: score.right, of: score.of })}</span>
      </p>
    </section>
  );
}

function askOf({ kind, method }: Drill, last: string): string {
  const asks = words.practice.drillAsk;
  switch (kind) {
    case "endpoint":
      return asks.endpoint({ test: shipped(method.name) });
    case "sample-size":
      return asks["sample-size"]({ test: shipped(method.name), last });
    default:
      return asks[kind];
  }
}

/** A vessel that nobody touches: drawn once, and when its place changes size. */
function VesselStill({ vessel, method }: { vessel: Vessel; method: Method }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext("2d");
    if (!element || !context) return;
    const observer = new ResizeObserver(([entry]) => {
      const { width = 0, height = 0 } = entry?.contentRect ?? {};
      const ratio = Math.min(2, devicePixelRatio);
      element.width = Math.round(width * ratio);
      element.height = Math.round(height * ratio);
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      drawScene(context, width, height, {
        vessel,
        time: 0,
        swirling: false,
        angle: 0,
        droppedAt: Number.NEGATIVE_INFINITY,
        still: true,
        shade: null,
        standards: method.kind === "comparator" ? method.marks : [],
      });
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, [vessel, method]);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={labelOf(vessel)}
      className="block h-72 w-full rounded-sm border border-rule bg-white"
    />
  );
}
