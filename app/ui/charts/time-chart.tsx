import type { Chart, ChartConfiguration, ChartOptions, Plugin } from "chart.js";
import { useEffect, useRef } from "react";
import { dateText, nearDateText } from "../format";
import { inkOf, loadCharts } from "./load";

interface Props {
  title: string;
  unit: string;
  /** What is told to whoever does not see it. */
  label: string;
  /** Its height, as a class. */
  height: string;
  /** Asked in the browser only: inks are the page's. */
  configuration: () => ChartConfiguration<"line">;
  /** It is drawn anew when this is another. */
  of: unknown;
}

/** A chart over time in its frame. */
export function TimeChart({ title, unit, label, height, configuration, of }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<Chart<"line"> | null>(null);
  const latest = useRef(configuration);
  latest.current = configuration;
  useEffect(() => {
    let gone = false;
    void loadCharts().then((Charts) => {
      if (!gone && canvas.current) chart.current = new Charts(canvas.current, latest.current());
    });
    return () => {
      gone = true;
      chart.current?.destroy();
      chart.current = null;
    };
  }, []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: drawn anew for other numbers
  useEffect(() => {
    const drawn = chart.current;
    if (!drawn) return;
    const next = latest.current();
    drawn.data = next.data;
    if (next.options) drawn.options = next.options;
    drawn.config.plugins?.splice(0, 99, ...(next.plugins ?? []));
    drawn.update("none");
  }, [of]);
  return (
    <figure className="min-w-0">
      <figcaption className="text-sm font-semibold">
        {title} <span className="font-normal text-soft">{unit}</span>
      </figcaption>
      <div className={`relative ${height}`}>
        <canvas ref={canvas} role="img" aria-label={label} />
      </div>
    </figure>
  );
}

/** Options of a quiet chart: nothing moves, no legend, days along its foot. */
export const quietOptions = (
  [from, to]: readonly [number, number],
  timeZone: string,
  tooltip: {
    filter?: (item: { datasetIndex: number }) => boolean;
    label: (item: { datasetIndex: number; parsed: { y: number | null } }) => string;
  },
  most?: number,
): ChartOptions<"line"> => ({
  animation: false,
  responsive: true,
  maintainAspectRatio: false,
  parsing: false,
  normalized: true,
  scales: {
    x: {
      type: "linear",
      min: from,
      max: to,
      grid: { color: inkOf("rule") },
      ticks: {
        color: inkOf("soft"),
        maxTicksLimit: 4,
        maxRotation: 0,
        callback: (value) => nearDateText(new Date(Number(value)), timeZone),
      },
    },
    y: {
      grace: "8%",
      ...(most === undefined ? {} : { suggestedMax: most }),
      grid: { color: inkOf("rule") },
      ticks: { color: inkOf("soft"), maxTicksLimit: 5 },
    },
  },
  plugins: {
    legend: { display: false },
    tooltip: {
      displayColors: false,
      ...(tooltip.filter ? { filter: tooltip.filter } : {}),
      callbacks: {
        title: ([item]) => dateText(new Date(item?.parsed.x ?? 0), timeZone),
        label: tooltip.label,
      },
    },
  },
});

/** Floor and ceiling of a range, across the chart. */
export const limitLines = ({
  low,
  high,
}: {
  low?: number | undefined;
  high?: number | undefined;
}): Plugin<"line"> => ({
  id: "limits",
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
