import { millisecondsInDay } from "date-fns/constants";
import { useEffect, useMemo, useState } from "react";
import { useFetcher } from "react-router";
import {
  type ForecastPoint,
  fullPressure,
  type Learned,
  PLANT_KINDS,
  type PlantKind,
  QUANTITY_NAMES,
  type Quantity,
  type Range,
  waterUse,
} from "#core";
import { LEAST_SPAN } from "../../ui/charts/least-span";
import { LinkedCharts } from "../../ui/charts/linked";
import { type ChartMark, type ChartPoint, type FanPoint, ReadingChart } from "../../ui/charts/reading-chart";
import { bracketOf, dateText, massText, plain, unitText, valueText, volumeText } from "../../ui/format";
import { gaugeOf } from "../../ui/gauge-text";
import { MayLack } from "../../ui/may-lack";
import { useFirm, useMoney } from "../../ui/use-firm";
import { listText, quantityName, words } from "../../words";
import type { loader } from "./series";

const SPANS = [30, 90, 365, 1830] as const;
const NOT_CHARTED: readonly Quantity[] = ["totalChlorine", "acidDemand", "baseDemand"];

type Series = NonNullable<ReturnType<typeof useFetcher<typeof loader>>["data"]>;

interface Props {
  basinId: string;
  ranges: Partial<Record<Quantity, Range>>;
  /** What is expected of the days to come; null where nothing is. */
  ahead: { forecast: readonly ForecastPoint[]; next: string | null; call: number } | null;
}

/**
 * The basin over time: every reading on the same span with one cursor, doses marked, what is expected drawn
 * on, money by month.
 */
export function OverTime({ basinId, ranges, ahead }: Props) {
  const fetcher = useFetcher<typeof loader>();
  const [days, setDays] = useState<number>(90);
  const { load } = fetcher;
  useEffect(() => {
    void load(`/basins/${basinId}/series?days=${days}`);
  }, [load, basinId, days]);
  const said = words.overTime;
  return (
    <section className="sheet mt-4 grid gap-4 p-4">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h2 className="text-xl font-semibold">{said.title}</h2>
        <fieldset className="flex flex-wrap gap-2">
          <legend className="sr-only">{said.span}</legend>
          {SPANS.map((span) => (
            <button
              key={span}
              type="button"
              aria-pressed={span === days}
              className={span === days ? "action" : "quiet-action"}
              onClick={() => setDays(span)}
            >
              {said.spans[span]}
            </button>
          ))}
        </fieldset>
      </div>
      <MayLack seconds={fetcher.data?.behind} />
      {fetcher.data ? (
        <Charts key={days} series={fetcher.data} ranges={ranges} ahead={ahead} />
      ) : (
        <p role="status" className="text-soft">
          {said.loading}
        </p>
      )}
    </section>
  );
}

/** Beside years a fortnight is a line, and not drawn. Days */
const FAN_WITHIN = 400;

/** What is expected of a reading, drawn on from where it was read last. */
function fanOf(ahead: Props["ahead"], quantity: Quantity, last: ChartPoint | undefined): FanPoint[] {
  const fan = (ahead?.forecast ?? []).flatMap((point) => {
    const figure = point[quantity as Learned];
    return figure && point.at > (last?.at ?? 0) ? [{ at: point.at, ...figure }] : [];
  });
  if (fan.length === 0 || !last) return fan;
  return [
    { at: last.at, value: last.value, low: last.low ?? last.value, high: last.high ?? last.value },
    ...fan,
  ];
}

function Charts({ series, ranges, ahead }: { series: Series } & Omit<Props, "basinId">) {
  const { units, timeZone } = useFirm();
  const said = words.overTime;
  const [linked] = useState(() => new LinkedCharts());
  const [cursor, setCursor] = useState<number | null>(null);
  useEffect(() => linked.listen(setCursor), [linked]);
  const drawn = useMemo(() => {
    const charted = QUANTITY_NAMES.filter(
      (quantity) =>
        !NOT_CHARTED.includes(quantity) && series.readings.some((one) => one.quantity === quantity),
    );
    const [from, to] = [series.from.getTime(), series.to.getTime()];
    const isFanned = to - from < FAN_WITHIN * millisecondsInDay;
    const end = (isFanned && ahead?.forecast.at(-1)?.at) || to;
    return {
      span: { from, to: Math.max(to, end) },
      doses: series.doses.map((dose): ChartMark => ({ at: dose.at.getTime(), text: dose.product })),
      events: series.volumes.map((one): ChartMark => ({ at: one.knownFrom.getTime(), text: "" })),
      charts: charted.map((quantity) => {
        const points = series.readings
          .filter((one) => one.quantity === quantity)
          .map(
            ({ at, value, low, high, bound }): ChartPoint => ({
              at: at.getTime(),
              value,
              low,
              high,
              bounded: bound !== "within",
            }),
          );
        return { quantity, points, fan: isFanned ? fanOf(ahead, quantity, points.at(-1)) : [] };
      }),
    };
  }, [series, ahead]);
  if (drawn.charts.length === 0) return <p className="text-soft">{said.none}</p>;
  const near = cursor === null ? [] : dosesNear(series, cursor);
  return (
    <>
      <p className="min-h-[3rem] text-sm text-soft">
        {near.length > 0
          ? `${dateText(near[0]?.at ?? series.to, timeZone)}: ${listText(near.map((dose) => words.amountOf({ amount: massText(dose.grams, units), product: dose.product })))}`
          : `${said.hint}${drawn.charts.some(({ fan }) => fan.length > 0) ? ` ${said.ahead}` : ""}`}
      </p>
      <div className="grid gap-x-6 gap-y-4 wide:grid-cols-2">
        {drawn.charts.map(({ quantity, points, fan }) => (
          <ReadingChart
            key={quantity}
            axis={{
              name: quantityName(quantity),
              unit: unitText(quantity, units),
              text: (value) => valueText(quantity, value, units),
              least: LEAST_SPAN[quantity],
            }}
            points={points}
            doses={drawn.doses}
            events={drawn.events}
            fan={fan}
            call={ahead?.next && fan.length > 0 ? ahead.call : null}
            range={ranges[quantity]}
            span={drawn.span}
            linked={linked}
            timeZone={timeZone}
          />
        ))}
      </div>
      <GaugeCharts series={series} span={drawn.span} linked={linked} />
      <button
        type="button"
        className="quiet-action justify-self-start"
        onClick={() => linked.span(drawn.span.from, drawn.span.to)}
      >
        {said.whole}
      </button>
      <Costs series={series} />
      <Promises series={series} />
      <DataTable series={series} />
    </>
  );
}

/** What the equipment showed, on the same span: a filter beside what it may rise to, a meter as water a day. */
function GaugeCharts({
  series,
  span,
  linked,
}: {
  series: Series;
  span: { from: number; to: number };
  linked: LinkedCharts;
}) {
  const { units, timeZone } = useFirm();
  const charts = useMemo(() => gaugeCharts(series.plant ?? []), [series.plant]);
  if (charts.length === 0) return null;
  return (
    <section className="grid gap-2" aria-label={words.gauges.title}>
      <h3 className="font-semibold">{words.gauges.title}</h3>
      <div className="grid gap-x-6 gap-y-4 wide:grid-cols-2">
        {charts.map(({ kind, points, range }) => {
          const { unit, to, digits } = gaugeOf(kind, units);
          return (
            <ReadingChart
              key={kind}
              axis={{
                name: kind === "waterMeter" ? words.gauges.waterUse : words.gauges.names[kind],
                unit,
                text: (value) => plain(to(value), digits),
              }}
              points={points}
              doses={NO_MARKS}
              events={NO_MARKS}
              fan={NO_FAN}
              call={null}
              range={range}
              span={span}
              linked={linked}
              timeZone={timeZone}
            />
          );
        })}
      </div>
    </section>
  );
}

const NO_MARKS: readonly ChartMark[] = [];
const NO_FAN: readonly FanPoint[] = [];
/** A line needs two points. */
const LEAST_POINTS = 2;

function gaugeCharts(plant: NonNullable<Series["plant"]>) {
  const of = (kind: PlantKind) => plant.filter((one) => one.kind === kind);
  const pointAt = (at: number, value: number): ChartPoint => ({
    at,
    value,
    low: value,
    high: value,
    bounded: false,
  });
  const clean = of("cleanPressure").at(-1)?.value;
  return PLANT_KINDS.flatMap(
    (kind): { kind: PlantKind; points: ChartPoint[]; range: Range | undefined }[] => {
      if (kind === "cleanPressure" || kind === "basinFall" || kind === "bucketFall") return [];
      const points =
        kind === "waterMeter"
          ? waterUse(of(kind).map((one) => ({ ...one, at: one.at.getTime() }))).map(({ at, perDay }) =>
              pointAt(at, perDay),
            )
          : of(kind).map(({ at, value }) => pointAt(at.getTime(), value));
      const range =
        kind === "filterPressure" && clean !== undefined
          ? { low: clean, high: fullPressure(clean) }
          : undefined;
      return points.length < LEAST_POINTS ? [] : [{ kind, points, range }];
    },
  );
}

/** What was given within a day of the cursor. */
const dosesNear = (series: Series, at: number) =>
  series.doses.filter((dose) => Math.abs(dose.at.getTime() - at) < millisecondsInDay);

/** Money by month, and the volume where it was written down anew. */
function Costs({ series }: { series: Series }) {
  const money = useMoney();
  const { units, timeZone } = useFirm();
  const said = words.overTime;
  const most = Math.max(0, ...series.costs.map((one) => one.cost));
  if (most === 0) return null;
  return (
    <section className="grid gap-1">
      <h3 className="font-semibold">{said.costs}</h3>
      <table className="text-left">
        <tbody>
          {series.costs.map(({ month, cost, doses }) => (
            <tr key={month}>
              <th className="pr-4 font-normal whitespace-nowrap">{month}</th>
              <td className="pr-3 text-right font-semibold">{money(cost)}</td>
              <td className="w-full">
                <span
                  className="block h-3 bg-soft"
                  style={{ width: `${Math.max(1, (100 * cost) / most)}%` }}
                />
              </td>
              <td className="pl-3 text-sm whitespace-nowrap text-soft">{said.doses({ count: doses })}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {series.volumes.map((one) => (
        <p key={one.id} className="text-soft">
          {said.volume({ date: dateText(one.knownFrom, timeZone), volume: volumeText(one.litres, units) })}
        </p>
      ))}
    </section>
  );
}

/** What plans promised here, and what came. */
function Promises({ series }: { series: Series }) {
  const { units, timeZone } = useFirm();
  const said = words.plan;
  if (series.outcomes.length === 0) return null;
  return (
    <details>
      <summary className="min-h-[44px] cursor-pointer content-center font-semibold">
        {words.overTime.promises}
      </summary>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a table that scrolls sideways is reached by keyboard */}
      <div className="relative overflow-x-auto" tabIndex={0}>
        <table className="w-full text-left">
          <thead className="text-soft">
            <tr>
              {[
                words.basin.date,
                words.visit.test,
                said.beforeIt,
                said.promised,
                said.measured,
                said.ratio,
              ].map((title) => (
                <th key={title} className="pr-4 font-medium">
                  {title}
                </th>
              ))}
            </tr>
          </thead>
          <tbody className="divide-y divide-rule">
            {series.outcomes.map((one) => {
              const quantity = QUANTITY_NAMES.find((name) => name === one.quantity);
              if (!quantity) return null;
              const text = (value: number) => valueText(quantity, Number(value.toPrecision(3)), units);
              return (
                <tr key={one.visitId + one.begunAt.toISOString() + quantity}>
                  <td className="py-1.5 pr-4 whitespace-nowrap">{dateText(one.begunAt, timeZone)}</td>
                  <td className="pr-4">{quantityName(quantity)}</td>
                  <td className="pr-4">{text(one.before)}</td>
                  <td className="pr-4">{text(one.promised)}</td>
                  <td className="pr-4 font-semibold">{text(one.measured)}</td>
                  <td>{one.ratio === null ? said.noRatio : `${plain(one.ratio * 100, 0)}%`}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </details>
  );
}

/** The same data as a table, for reading aloud and for copying. */
function DataTable({ series }: { series: Series }) {
  const { units, timeZone } = useFirm();
  const [open, setOpen] = useState(false);
  return (
    <details onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="min-h-[44px] cursor-pointer content-center font-semibold">
        {words.overTime.table}
      </summary>
      {open ? (
        // biome-ignore lint/a11y/noNoninteractiveTabindex: a table that scrolls sideways is reached by keyboard
        <div className="relative max-h-96 overflow-auto" tabIndex={0}>
          <table className="w-full text-left">
            <thead className="text-soft">
              <tr>
                {[words.basin.date, words.visit.test, words.visit.value, words.visit.bracket].map((title) => (
                  <th key={title} className="pr-4 font-medium">
                    {title}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody className="divide-y divide-rule">
              {series.readings.toReversed().map((one) => {
                const text = (value: number) => valueText(one.quantity, value, units);
                return (
                  <tr key={one.quantity + one.at.toISOString()}>
                    <td className="pr-4 whitespace-nowrap">{dateText(one.at, timeZone)}</td>
                    <td className="pr-4">{quantityName(one.quantity)}</td>
                    <td className="pr-4 font-semibold">{text(one.value)}</td>
                    <td>{bracketOf(one, text)}</td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </div>
      ) : null}
    </details>
  );
}
