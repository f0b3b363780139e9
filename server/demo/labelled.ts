import { millisecondsInDay } from "date-fns/constants";
import { hasJets, labelCode } from "#core";

import type { DemoVisit } from "./history";
import { PRODUCTS } from "./shelf";

/** Days back from which on the label was kept. */
const KEPT_DAYS = 120;
/** Before closing a visit, after everything else was poured. ms */
const BEFORE_LEAVING = 3 * 60_000;

/**
 * What went in by its label: at the pools under the sky, as often as it says; at every other of them it has
 * come due again.
 */
export function labelledIn<Visit extends DemoVisit>(
  year: readonly Visit[],
  now: Date,
  productIds: ReadonlyMap<string, string>,
): Map<Visit, DemoVisit["doses"]> {
  const given = new Map<Visit, DemoVisit["doses"]>();
  const last = new Map<string, number>();
  const basins = [...new Set(year.map(({ basin }) => basin.key))];
  for (const { product, label } of PRODUCTS) {
    if (!label?.everyDays) continue;
    for (const visit of year) {
      const { basin } = visit;
      if (basin.indoors || hasJets(basin)) continue;
      const at = visit.finishedAt.getTime() - BEFORE_LEAVING;
      const daysAgo = (now.getTime() - at) / millisecondsInDay;
      const isLeft = basins.indexOf(basin.key) % 2 === 0 && daysAgo < label.everyDays;
      const before = last.get(basin.key) ?? Number.NEGATIVE_INFINITY;
      if (daysAgo > KEPT_DAYS || isLeft || at - before < label.everyDays * millisecondsInDay) continue;
      last.set(basin.key, at);
      const grams = Math.round((label.perCubicMetre * visit.litres) / 1000);
      const code = labelCode(productIds.get(product) ?? "");
      const dose = { product, code, planned: grams, given: grams, at: new Date(at) };
      given.set(visit, [...(given.get(visit) ?? []), dose]);
    }
  }
  return given;
}
