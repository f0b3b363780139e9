import type { Chart, ChartConfiguration, Plugin } from "chart.js";
import { useEffect, useRef } from "react";
import { dateText, plain } from "../format";
import { inkOf, letters, loadCharts } from "./load";

export interface WayLine {
  name: string;
  /** The way that is in use: drawn the strongest. */
  own: boolean;
  points: readonly { at: number; value: number }[];
}

interface Props {
  title: string;
  unit: string;
  lines: readonly WayLine[];
  limit: number | undefined;
  timeZone: string;
}

/** Lines are told apart by how they are broken, and by their names at their ends. */
const DASHES = [[], [8, 4], [2, 3], [10, 3, 2, 3], [5, 2]] as const;

/** One quantity over the months ahead under each way of chlorinating, with the limit that it must not pass. */
export function WaysChart(props: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<Chart | null>(null);
  const latest = useRef(props);
  latest.current = props;
  const { title, unit, lines, limit } = props;
  useEffect(() => {
    let gone = false;
    void loadCharts().then((Charts) => {
      if (!gone && canvas.current) chart.current = new Charts(canvas.current, configuration(latest.current));
    });
    return () => {
      gone = true;
      chart.current?.destroy();
      chart.current = null;
    };
  }, []);
  useEffect(() => {
    const drawn = chart.current;
    if (!drawn) return;
    const next = configuration({ ...latest.current, lines, limit });
    drawn.data = next.data;
    drawn.config.plugins?.splice(0, 99, ...(next.plugins ?? []));
    drawn.update("none");
  }, [lines, limit]);
  return (
    <figure className="min-w-0">
      <figcaption className="text-sm font-semibold">
        {title} <span className="font-normal text-soft">{unit}</span>
      </figcaption>
      <div className="relative h-56">
        <canvas
          ref={canvas}
          role="img"
          aria-label={`${title}: ${lines.map(({ name }) => name).join(", ")}`}
        />
      </div>
    </figure>
  );
}

const NAMES_WIDTH = 92;
const NAME_HEIGHT = 14;

function configuration({ lines, limit, timeZone }: Props): ChartConfiguration<"line"> {
  const soft = inkOf("soft");
  return {
    type: "line",
    data: {
      datasets: lines.map(({ points, own }, index) => ({
        data: points.map(({ at, value }) => ({ x: at, y: value })),
        borderColor: inkOf("ink"),
        borderWidth: own ? 2.6 : 1.3,
        borderDash: [...(DASHES[index % DASHES.length] ?? [])],
        pointRadius: 0,
        pointHitRadius: 6,
      })),
    },
    options: {
      animation: false,
      responsive: true,
      maintainAspectRatio: false,
      parsing: false,
      normalized: true,
      layout: { padding: { right: NAMES_WIDTH } },
      interaction: { mode: "nearest", axis: "x", intersect: false },
      scales: {
        x: {
          type: "linear",
          min: lines[0]?.points[0]?.at ?? 0,
          max: lines[0]?.points.at(-1)?.at ?? 1,
          grid: { color: inkOf("rule") },
          ticks: {
            color: soft,
            maxTicksLimit: 4,
            maxRotation: 0,
            callback: (value) => dateText(new Date(Number(value)), timeZone).replace(/, \d{4}$/, ""),
          },
        },
        y: {
          grace: "8%",
          suggestedMax: limit,
          grid: { color: inkOf("rule") },
          ticks: { color: soft, maxTicksLimit: 5 },
        },
      },
      plugins: {
        legend: { display: false },
        tooltip: {
          displayColors: false,
          callbacks: {
            title: ([item]) => dateText(new Date(item?.parsed.x ?? 0), timeZone),
            label: (item) => `${lines[item.datasetIndex]?.name ?? ""}: ${plain(item.parsed.y ?? 0, 0)}`,
          },
        },
      },
    },
    plugins: [limitLine(limit), names(lines)],
  };
}

const limitLine = (limit: number | undefined): Plugin<"line"> => ({
  id: "limit",
  beforeDatasetsDraw: ({ ctx, chartArea, scales: { y } }) => {
    if (limit === undefined || !y) return;
    const height = y.getPixelForValue(limit);
    if (height < chartArea.top || height > chartArea.bottom) return;
    ctx.save();
    ctx.strokeStyle = inkOf("above");
    ctx.lineWidth = 1.5;
    ctx.beginPath();
    ctx.moveTo(chartArea.left, height);
    ctx.lineTo(chartArea.right, height);
    ctx.stroke();
    ctx.restore();
  },
});

/** Each way's name at the end of its line; names that would lie on one another move apart. */
const names = (lines: readonly WayLine[]): Plugin<"line"> => ({
  id: "names",
  afterDatasetsDraw: ({ ctx, chartArea, scales: { y } }) => {
    if (!y) return;
    const placed = lines
      .map(({ name, own, points }) => ({ name, own, at: y.getPixelForValue(points.at(-1)?.value ?? 0) }))
      .sort((a, b) => a.at - b.at);
    const last = Math.max(0, placed.length - 1);
    placed.forEach((one, index) => {
      const above = placed[index - 1];
      const least = above ? above.at + NAME_HEIGHT : chartArea.top + 4;
      const most = chartArea.bottom - (last - index) * NAME_HEIGHT;
      one.at = Math.min(Math.max(one.at, least), most);
    });
    ctx.save();
    ctx.fillStyle = inkOf("ink");
    ctx.textBaseline = "middle";
    for (const { name, own, at } of placed) {
      ctx.font = `${own ? "600 " : ""}${letters(12)}`;
      ctx.fillText(name, chartArea.right + 6, at);
    }
    ctx.restore();
  },
});
