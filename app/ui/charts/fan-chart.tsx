import type { ChartConfiguration } from "chart.js";
import type { Figure } from "#core";
import { plain } from "../format";
import { inkOf } from "./load";
import { limitLines, quietOptions, TimeChart } from "./time-chart";

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
  const { title, unit, given, left, names, digits } = props;
  const last = (of: readonly Figure[]) => plain(of.at(-1)?.value ?? 0, digits);
  return (
    <TimeChart
      title={title}
      unit={unit}
      label={`${title}: ${names.given} ${last(given)}, ${names.left} ${last(left)}`}
      height="h-40"
      configuration={() => configuration(props)}
      of={JSON.stringify([props.at, given, left])}
    />
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
    options: quietOptions([at[0] ?? 0, at.at(-1) ?? 1], timeZone, {
      filter: ({ datasetIndex }) => datasetIndex < 2,
      label: ({ datasetIndex, parsed }) =>
        `${datasetIndex === 0 ? names.given : names.left}: ${plain(parsed.y ?? 0, digits)}`,
    }),
    plugins: [limitLines(range)],
  };
}
