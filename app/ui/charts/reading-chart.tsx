import type { Chart, ChartConfiguration, Plugin } from "chart.js";
import { useEffect, useRef } from "react";
import type { Range } from "#core";
import { words } from "../../words";
import { BOUND_SIGN, dateText, nearDateText } from "../format";
import { axisEnds } from "./least-span";
import type { LinkedCharts } from "./linked";
import { inkOf, letters, loadCharts } from "./load";

export interface ChartPoint {
  at: number;
  value: number;
  low: number | null;
  high: number | null;
  bounded: boolean;
}

export interface FanPoint {
  at: number;
  value: number;
  low: number;
  high: number;
}

export interface ChartMark {
  at: number;
  text: string;
}

/** What an axis tells: a reading, or what a gauge shows. */
export interface ChartAxis {
  name: string;
  unit: string;
  /** A bare value, in the firm's unit. */
  text: (value: number) => string;
  /** What it spans at least; nothing where any change matters. */
  least?: number;
}

interface Props {
  axis: ChartAxis;
  points: readonly ChartPoint[];
  doses: readonly ChartMark[];
  /** Other things that happened: a volume written down anew. */
  events: readonly ChartMark[];
  /** What is expected after the last reading, with the interval that holds it nine times in ten. */
  fan: readonly FanPoint[];
  /** The next call, ms; null where there is none. */
  call: number | null;
  range: Range | undefined;
  span: { from: number; to: number };
  linked: LinkedCharts;
  timeZone: string;
}

/** One reading over time: its band, its brackets as whiskers, doses and events marked; zoomed with the others. */
export function ReadingChart(props: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const latest = useRef(props);
  latest.current = props;
  const { axis, points, doses, events, fan, range, span, linked } = props;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the rest does not change while a basin is open
  useEffect(() => {
    let chart: Chart | null = null;
    let gone = false;
    let leave = () => {};
    void loadCharts().then((Charts) => {
      if (gone || !canvas.current) return;
      chart = new Charts(canvas.current, configuration(latest.current));
      leave = linked.add(chart);
    });
    return () => {
      gone = true;
      leave();
      chart?.destroy();
    };
  }, [axis.name, points, doses, events, fan, range, span, linked]);
  const label = `${axis.name}: ${points.length}`;
  return (
    <figure className="min-w-0">
      <figcaption className="text-sm font-semibold">
        {axis.name} <span className="font-normal text-soft">{axis.unit}</span>
      </figcaption>
      <div className="relative h-36">
        <canvas ref={canvas} role="img" aria-label={label} />
      </div>
    </figure>
  );
}

function configuration({
  axis,
  points,
  doses,
  events,
  fan,
  call,
  range,
  span,
  linked,
  timeZone,
}: Props): ChartConfiguration<"line"> {
  const values = [...points.map(({ value }) => value), ...fan.flatMap(({ low, high }) => [low, high])];
  const ink = inkOf("ink");
  const soft = inkOf("soft");
  const follow = ({ chart }: { chart: Chart }) => {
    const { x } = chart.scales;
    if (x) linked.span(x.min, x.max);
  };
  return {
    type: "line",
    data: {
      datasets: [
        {
          data: points.map(({ at, value }) => ({ x: at, y: value })),
          borderColor: ink,
          borderWidth: 1.4,
          pointRadius: 3,
          pointHoverRadius: 6,
          pointBorderColor: ink,
          // A bound is not a number: it stays hollow.
          pointBackgroundColor: points.map(({ bounded }) => (bounded ? inkOf("sheet") : ink)),
        },
        ...fanOf(fan),
      ],
    },
    options: {
      animation: false,
      responsive: true,
      maintainAspectRatio: false,
      parsing: false,
      normalized: true,
      interaction: { mode: "nearest", axis: "x", intersect: false },
      onHover: (event, _, chart) => {
        const at = event.x === null ? undefined : chart.scales.x?.getValueForPixel(event.x);
        linked.point(at ?? null);
      },
      scales: {
        x: {
          type: "linear",
          min: span.from,
          max: span.to,
          grid: { color: inkOf("rule") },
          ticks: {
            color: soft,
            maxTicksLimit: 6,
            maxRotation: 0,
            callback: (value) => nearDateText(new Date(Number(value)), timeZone),
          },
        },
        y: {
          grace: "8%",
          ...(axis.least === undefined ? {} : axisEnds(values, axis.least)),
          grid: { color: inkOf("rule") },
          // Every axis is as wide as the others, so that one cursor runs straight through all.
          afterFit: (scale) => {
            scale.width = 52;
          },
          ticks: {
            color: soft,
            maxTicksLimit: 5,
            callback: (value) => axis.text(Number(value)),
          },
        },
      },
      plugins: {
        legend: { display: false },
        tooltip: {
          displayColors: false,
          callbacks: {
            title: ([item]) => dateText(new Date(item?.parsed.x ?? 0), timeZone),
            label: (item) => {
              const point = points[item.dataIndex];
              const ahead = fan[item.dataIndex];
              if (item.datasetIndex === EXPECTED)
                return ahead ? pointText(axis, { ...ahead, bounded: false }) : "";
              return point ? pointText(axis, point) : "";
            },
          },
          // The fan's two rims are told with its middle.
          filter: ({ datasetIndex }) => datasetIndex <= EXPECTED,
        },
        zoom: {
          zoom: {
            wheel: { enabled: true, modifierKey: "ctrl" },
            pinch: { enabled: true },
            drag: { enabled: true },
            mode: "x",
            onZoomComplete: follow,
          },
          pan: { enabled: false },
        },
      },
    },
    plugins: [band(range), whiskers(points), marks(doses, events), nextCall(call), cursor(linked)],
  };
}

/** Place of what is expected among the lines of a chart. */
const EXPECTED = 1;

/** What is expected as a broken line, and the fan that holds it. */
function fanOf(fan: readonly FanPoint[]): ChartConfiguration<"line">["data"]["datasets"] {
  if (fan.length === 0) return [];
  const line = (name: "value" | "low" | "high") => fan.map((point) => ({ x: point.at, y: point[name] }));
  const rim = { borderWidth: 0, pointRadius: 0, pointHitRadius: 0, pointHoverRadius: 0 };
  return [
    {
      data: line("value"),
      borderColor: inkOf("ink"),
      borderDash: [5, 4],
      borderWidth: 1.4,
      pointRadius: 0,
      pointHitRadius: 8,
    },
    { data: line("low"), ...rim },
    { data: line("high"), ...rim, fill: "-1", backgroundColor: `${inkOf("soft")}38` },
  ];
}

/** The day of the next call, as a dotted line with its name. */
const nextCall = (call: number | null): Plugin => ({
  id: "call",
  afterDatasetsDraw: ({ ctx, chartArea, scales: { x } }) => {
    if (call === null || !x) return;
    const across = x.getPixelForValue(call);
    if (across < chartArea.left || across > chartArea.right) return;
    ctx.save();
    ctx.strokeStyle = inkOf("soft");
    ctx.fillStyle = inkOf("soft");
    ctx.setLineDash([2, 3]);
    ctx.beginPath();
    ctx.moveTo(across, chartArea.top);
    ctx.lineTo(across, chartArea.bottom);
    ctx.stroke();
    ctx.font = letters(12);
    ctx.textAlign = "right";
    ctx.fillText(words.overTime.nextCall, across - 4, chartArea.top + 11);
    ctx.restore();
  },
});

const pointText = ({ text }: ChartAxis, point: ChartPoint): string => {
  const sign = point.bounded ? (point.high === null ? BOUND_SIGN["at-least"] : BOUND_SIGN["at-most"]) : "";
  const value = `${sign}${text(point.value)}`;
  return point.low === null || point.high === null || point.low === point.high
    ? value
    : words.bracketed({ value, low: text(point.low), high: text(point.high) });
};

/** The band that the reading should lie in. */
const band = (range: Range | undefined): Plugin => ({
  id: "band",
  beforeDatasetsDraw: ({ ctx, chartArea, scales: { y } }) => {
    if (!range || !y || (range.low === undefined && range.high === undefined)) return;
    const inside = (pixel: number) => Math.min(chartArea.bottom, Math.max(chartArea.top, pixel));
    const top = inside(range.high === undefined ? chartArea.top : y.getPixelForValue(range.high));
    const foot = inside(range.low === undefined ? chartArea.bottom : y.getPixelForValue(range.low));
    ctx.save();
    ctx.fillStyle = inkOf("band");
    ctx.fillRect(chartArea.left, top, chartArea.width, Math.max(1, foot - top));
    ctx.restore();
  },
});

/** What is known of each reading's error, as a thin line through it. */
const whiskers = (points: readonly ChartPoint[]): Plugin => ({
  id: "whiskers",
  beforeDatasetsDraw: ({ ctx, chartArea, scales: { x, y } }) => {
    if (!x || !y) return;
    ctx.save();
    ctx.beginPath();
    ctx.rect(chartArea.left, chartArea.top, chartArea.width, chartArea.height);
    ctx.clip();
    ctx.strokeStyle = inkOf("soft");
    for (const { at, low, high } of points) {
      const across = x.getPixelForValue(at);
      ctx.beginPath();
      ctx.moveTo(across, low === null ? chartArea.bottom : y.getPixelForValue(low));
      ctx.lineTo(across, high === null ? chartArea.top : y.getPixelForValue(high));
      ctx.stroke();
    }
    ctx.restore();
  },
});

/** Doses as small pegs on the foot of the chart, events as a line from top to foot. */
const marks = (doses: readonly ChartMark[], events: readonly ChartMark[]): Plugin => ({
  id: "marks",
  afterDatasetsDraw: ({ ctx, chartArea, scales: { x } }) => {
    if (!x) return;
    ctx.save();
    ctx.fillStyle = inkOf("below");
    for (const { at } of doses) {
      const across = x.getPixelForValue(at);
      if (across >= chartArea.left && across <= chartArea.right)
        ctx.fillRect(across - 1, chartArea.bottom - 7, 2, 7);
    }
    ctx.strokeStyle = inkOf("above");
    ctx.setLineDash([4, 3]);
    for (const { at } of events) {
      const across = x.getPixelForValue(at);
      if (across < chartArea.left || across > chartArea.right) continue;
      ctx.beginPath();
      ctx.moveTo(across, chartArea.top);
      ctx.lineTo(across, chartArea.bottom);
      ctx.stroke();
    }
    ctx.restore();
  },
});

/** The one cursor that runs through every chart. */
const cursor = (linked: LinkedCharts): Plugin => ({
  id: "cursor",
  afterDraw: ({ ctx, chartArea, scales: { x } }) => {
    if (linked.cursor === null || !x) return;
    const across = x.getPixelForValue(linked.cursor);
    if (across < chartArea.left || across > chartArea.right) return;
    ctx.save();
    ctx.strokeStyle = inkOf("ink");
    ctx.beginPath();
    ctx.moveTo(across, chartArea.top);
    ctx.lineTo(across, chartArea.bottom);
    ctx.stroke();
    ctx.restore();
  },
});
