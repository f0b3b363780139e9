import { Form, Link, useSubmit } from "react-router";
import {
  findings,
  placeInRange,
  QUANTITY_NAMES,
  RANGE_SETS,
  type RangeSet,
  type Readings,
  rangesOf,
} from "#core";
import { isUuid } from "#server/commands/fields";
import { rangeSetsOf } from "#server/db/range-sets";
import { basinWater } from "#server/visits/basin-water";
import { inFirm, notFound } from "../../context";
import { Empty } from "../../ui/empty";
import { signed, toldLimit, valueText, withUnit } from "../../ui/format";
import { StartVisit } from "../../ui/start-visit";
import { useUnits } from "../../ui/units";
import { quantityName, rangeText, shipped, words } from "../../words";
import type { Route } from "./+types/compare";

/** The basin's water, and the two sets it is judged by. */
export const loader = ({ params, request, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, _, now) => {
    if (!isUuid(params.basinId)) return notFound();
    const found = await basinWater(scope, params.basinId, now);
    if (!found) return notFound();
    const own = (await rangeSetsOf(scope)).map(({ set }) => set);
    const sets: RangeSet[] = [
      found.rangeSet,
      ...[...own, ...Object.values(RANGE_SETS)].filter(
        (set, index, all) =>
          set.name !== found.rangeSet.name && all.findIndex((other) => other.name === set.name) === index,
      ),
    ];
    const asked = new URL(request.url).searchParams;
    const named = (key: string) => sets.find((set) => set.name === asked.get(key));
    const left = named("left") ?? sets[0];
    const right = named("right") ?? sets.find((set) => set !== left);
    if (!left || !right) return notFound();
    return {
      basin: found.basin,
      open: found.open?.id ?? null,
      readings: found.readings,
      hasWater: found.enough,
      water: found.water.water,
      names: sets.map((set) => set.name),
      left,
      right,
    };
  });

export const meta: Route.MetaFunction = () => [{ title: `${words.compare.title} · ${words.product}` }];

/** One water under two schools, side by side. */
export default function Compare({ loaderData }: Route.ComponentProps) {
  const { basin, open, readings, water, names, left, right } = loaderData;
  const units = useUnits();
  const submit = useSubmit();
  const said = words.compare;
  const byName: Readings = Object.fromEntries(readings.map((reading) => [reading.quantity, reading]));
  const sides = [left, right].map((set) => ({
    set,
    ranges: rangesOf(set, basin.surface, water),
    found: findings(byName, set, basin.surface, water),
  }));
  // What has its usual limit in every set is only worth a row where it was read.
  const shown = QUANTITY_NAMES.filter((quantity) =>
    sides.some(({ set, ranges }) => ranges[quantity] && (byName[quantity] || set.ranges[quantity])),
  );
  return (
    <>
      <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
      <p className="mb-4 text-soft">
        <Link to={open ? `/visits/${open}/judge` : `/basins/${basin.id}`} className="link">
          {basin.name}
        </Link>
        . {said.hint}
      </p>
      {readings.length === 0 ? (
        <div className="mb-4">
          <Empty text={said.noWater}>
            <StartVisit basinId={basin.id}>{words.basin.start}</StartVisit>
          </Empty>
        </div>
      ) : null}
      <Form className="mb-4 grid gap-3 wide:grid-cols-2" onChange={(event) => submit(event.currentTarget)}>
        {(["left", "right"] as const).map((side) => (
          <label key={side} className="grid gap-1 text-sm text-soft">
            {said[side]}
            <select name={side} defaultValue={side === "left" ? left.name : right.name} className="text-base">
              {names.map((name) => (
                <option key={name} value={name}>
                  {shipped(name)}
                </option>
              ))}
            </select>
          </label>
        ))}
        <noscript>
          <button type="submit" className="quiet-action">
            {said.show}
          </button>
        </noscript>
      </Form>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a table that scrolls sideways is reached by keyboard */}
      <div className="sheet relative overflow-x-auto p-4" tabIndex={0}>
        <table className="w-full min-w-[36rem] text-left">
          <thead className="text-soft">
            <tr>
              <th className="pr-4 font-medium">{words.visit.test}</th>
              <th className="pr-4 font-medium">{words.visit.value}</th>
              {sides.map(({ set }) => (
                <th key={set.name} className="pr-4 font-semibold text-ink">
                  {shipped(set.name)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody className="divide-y divide-rule">
            {shown.map((quantity) => {
              const reading = byName[quantity];
              const places = sides.map(({ ranges }) =>
                reading ? placeInRange(reading, ranges[quantity]) : null,
              );
              const apart = places[0] !== places[1];
              return (
                <tr key={quantity} className={apart ? "bg-below-wash" : ""}>
                  <td className="py-2 pr-4">{quantityName(quantity)}</td>
                  <td className="pr-4 font-semibold whitespace-nowrap">
                    {reading ? (
                      withUnit(quantity, reading.value, units)
                    ) : (
                      <span className="text-soft">{said.notRead}</span>
                    )}
                  </td>
                  {sides.map(({ set, ranges, found }, index) => {
                    const place = places[index];
                    const closes = found.some((one) => one.quantity === quantity && one.closes);
                    return (
                      <td key={set.name} className="pr-4">
                        {rangeText(ranges[quantity], (value) =>
                          valueText(quantity, toldLimit(quantity, value), units),
                        )}
                        {place && ranges[quantity] ? (
                          <span
                            className={`block font-semibold ${place === "low" ? "text-below" : place === "high" ? "text-above" : "text-soft"}`}
                          >
                            {place === "within" ? said.in : said[place]}
                            {closes ? `, ${said.closed}` : ""}
                          </span>
                        ) : null}
                      </td>
                    );
                  })}
                </tr>
              );
            })}
            <tr>
              <td className="py-2 pr-4">{said.saturation}</td>
              <td />
              {sides.map(({ set }) => (
                <td key={set.name} className="pr-4">
                  {set.saturation
                    ? words.brackets.between({
                        low: signed(set.saturation.low),
                        high: signed(set.saturation.high),
                      })
                    : said.none}
                </td>
              ))}
            </tr>
          </tbody>
        </table>
        <div className="mt-4 grid gap-4 wide:grid-cols-2">
          {sides.map(({ set }) => (
            <p key={set.name}>
              <b>{shipped(set.name)}</b>. <span className="text-soft">{shipped(set.purpose)}</span>
            </p>
          ))}
        </div>
      </div>
    </>
  );
}
