import type { ChartConfiguration, Plugin } from "chart.js";
import { listText } from "../../words";
import { plain } from "../format";
import { inkOf, letters } from "./load";
import { limitLines, quietOptions, TimeChart } from "./time-chart";

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
  const { title, unit, lines } = props;
  return (
    <TimeChart
      title={title}
      unit={unit}
      label={`${title}: ${listText(lines.map(({ name }) => name))}`}
      height="h-56"
      configuration={() => configuration(props)}
      of={lines}
    />
  );
}

const NAMES_WIDTH = 92;
const NAME_HEIGHT = 14;

function configuration({ lines, limit, timeZone }: Props): ChartConfiguration<"line"> {
  const points = lines[0]?.points ?? [];
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
      ...quietOptions(
        [points[0]?.at ?? 0, points.at(-1)?.at ?? 1],
        timeZone,
        { label: (item) => `${lines[item.datasetIndex]?.name ?? ""}: ${plain(item.parsed.y ?? 0, 0)}` },
        limit,
      ),
      layout: { padding: { right: NAMES_WIDTH } },
      interaction: { mode: "nearest", axis: "x", intersect: false },
    },
    plugins: [limitLines({ high: limit }), names(lines)],
  };
}

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
