import type { Chart, ChartConfiguration, Plugin } from "chart.js";
import { useEffect, useRef } from "react";
import type { Figure } from "#core";
import { dateText, plain } from "../format";
import { inkOf, loadCharts } from "./load";

interface Props {
  title: string;
  unit: string;
  at: readonly number[];
  /** With what is poured today: its middle, and the central 90 %. */
  given: readonly Figure[];
  /** Without it. */
  left: readonly Figure[];
  range: { low?: number | undefined; high?: number | undefined };
  digits: number;
  timeZone: string;
  names: { given: string; left: string };
}

/** One reading until the next call: with today's pours as a line in its band, without them broken. */
export function FanChart(props: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const latest = useRef(props);
  latest.current = props;
  const { title, unit, given, left, names, digits } = props;
  const key = JSON.stringify([props.at, given, left]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: drawn anew for other numbers
  useEffect(() => {
    let gone = false;
    let chart: Chart | null = null;
    void loadCharts().then((Charts) => {
      if (!gone && canvas.current) chart = new Charts(canvas.current, configuration(latest.current));
    });
    return () => {
      gone = true;
      chart?.destroy();
    };
  }, [key]);
  const last = (of: readonly Figure[]) => plain(of.at(-1)?.value ?? 0, digits);
  return (
    <figure className="min-w-0">
      <figcaption className="text-sm font-semibold">
        {title} <span className="font-normal text-soft">{unit}</span>
      </figcaption>
      <div className="relative h-40">
        <canvas
          ref={canvas}
          role="img"
          aria-label={`${title}: ${names.given} ${last(given)}, ${names.left} ${last(left)}`}
        />
      </div>
    </figure>
  );
}

function configuration({
  at,
  given,
  left,
  range,
  digits,
  timeZone,
  names,
}: Props): ChartConfiguration<"line"> {
  const soft = inkOf("soft");
  const points = (of: (figure: Figure) => number) =>
    given.map((figure, index) => ({ x: at[index] ?? 0, y: of(figure) }));
  const edge = { borderWidth: 0, pointRadius: 0, pointHitRadius: 0 };
  return {
    type: "line",
    data: {
      // The first lies on top.
      datasets: [
        {
          data: points(({ value }) => value),
          borderColor: inkOf("ink"),
          borderWidth: 2.4,
          pointRadius: 2.5,
          pointBackgroundColor: inkOf("ink"),
        },
        {
          data: left.map(({ value }, index) => ({ x: at[index] ?? 0, y: value })),
          borderColor: inkOf("soft"),
          borderWidth: 1.6,
          borderDash: [5, 4],
          pointRadius: 0,
        },
        { data: points(({ high }) => high), ...edge, fill: "+1", backgroundColor: inkOf("band") },
        { data: points(({ low }) => low), ...edge },
      ],
    },
    options: {
      animation: false,
      responsive: true,
      maintainAspectRatio: false,
      parsing: false,
      normalized: true,
      scales: {
        x: {
          type: "linear",
          min: at[0] ?? 0,
          max: at.at(-1) ?? 1,
          grid: { color: inkOf("rule") },
          ticks: {
            color: soft,
            maxTicksLimit: 4,
            maxRotation: 0,
            callback: (value) => dateText(new Date(Number(value)), timeZone).replace(/, \d{4}$/, ""),
          },
        },
        y: { grace: "8%", grid: { color: inkOf("rule") }, ticks: { color: soft, maxTicksLimit: 5 } },
      },
      plugins: {
        legend: { display: false },
        tooltip: {
          displayColors: false,
          filter: ({ datasetIndex }) => datasetIndex < 2,
          callbacks: {
            title: ([item]) => dateText(new Date(item?.parsed.x ?? 0), timeZone),
            label: ({ datasetIndex, parsed }) =>
              `${datasetIndex === 0 ? names.given : names.left}: ${plain(parsed.y ?? 0, digits)}`,
          },
        },
      },
    },
    plugins: [edges(range)],
  };
}

/** Floor and ceiling of the range. */
const edges = ({ low, high }: Props["range"]): Plugin<"line"> => ({
  id: "edges",
  beforeDatasetsDraw: ({ ctx, chartArea, scales: { y } }) => {
    if (!y) return;
    ctx.save();
    ctx.lineWidth = 1.4;
    for (const [limit, ink] of [
      [low, "below"],
      [high, "above"],
    ] as const) {
      if (limit === undefined) continue;
      const height = y.getPixelForValue(limit);
      if (height < chartArea.top || height > chartArea.bottom) continue;
      ctx.strokeStyle = inkOf(ink);
      ctx.beginPath();
      ctx.moveTo(chartArea.left, height);
      ctx.lineTo(chartArea.right, height);
      ctx.stroke();
    }
    ctx.restore();
  },
});
