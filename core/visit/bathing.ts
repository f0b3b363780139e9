import { millisecondsInHour } from "date-fns/constants";
import { FRESH_SHOCK } from "../dosing/labelled";
import { waterAfter } from "../dosing/plan/amounts";
import { chlorineRaised } from "../dosing/single";
import { InputFault } from "../fault";
import { type Bathing, bathingOf, type Closer } from "../judging/bathing";
import type { Quantity } from "../measure/quantity";
import { sanitiserReading } from "../measure/sanitiser";
import { isLabelled, LABELLED } from "../products/labels";
import { isChlorine } from "../products/traits";
import { mixesLike } from "../ranges/bathing-limits";
import type { Range } from "../ranges/range-set";
import { mayActOn } from "../testing/doubt";
import { closingTroubles, urgentTroubles } from "../testing/order/look";
import { MIXING_HOURS } from "../testing/order/sampling";
import { BROMINE_FACTOR } from "../water/chlorine";
import { readingsOf } from "../water/equilibrium";
import { findingsIn, findingsNow, type OpenedVisit, possibleNow } from "./visit";
import type { VisitReading } from "./written";

/**
 * Whether the water of a visit may be used, by all that was seen, read, given and has happened there.
 * @example bathingAt(opened).state // "untested"
 */
export function bathingAt(opened: OpenedVisit): Bathing {
  const { basin, visit, incidents, at } = opened;
  const acted = opened.readings.filter((reading) => mayActOn(reading.doubts));
  const mixed = mixedAt(opened);
  return bathingOf({
    sanitiser: basin.sanitiser,
    seen: visit.look && { closing: closingTroubles(visit.look), urgent: urgentTroubles(visit.look) },
    findings: findingsNow(opened),
    possible: possibleNow(opened),
    tested: Object.fromEntries(acted.map(({ quantity, takenAt }) => [quantity, takenAt.getTime()])),
    closers: closersIn(opened),
    incidents,
    // A green pool stays closed from its first call to the last, however it looks on the way.
    jobs: opened.jobs.flatMap(({ job }) => (job.kind === "green" && job.over === null ? [job.kind] : [])),
    until: mixed !== null && mixed > at.getTime() ? mixed : null,
  });
}

/** When the last dose has mixed, ms since 1970; null where none was given. */
function mixedAt({ doses, basin }: OpenedVisit): number | null {
  const given = doses.filter(({ givenGrams }) => givenGrams > 0).map(({ givenAt }) => givenAt.getTime());
  return given.length > 0
    ? Math.max(...given) + MIXING_HOURS[mixesLike(basin.kind)] * millisecondsInHour
    : null;
}

/** The moments of a visit after which only a test opens the basin again. */
export function closersIn(opened: OpenedVisit): Closer[] {
  const { visit, plans, incidents } = opened;
  const seen = visit.look?.closedAt;
  return [
    ...(seen === undefined ? [] : [{ what: "seen" as const, at: Date.parse(seen) }]),
    ...incidents.flatMap(({ over }): Closer[] => (over ? [{ what: "incident", at: over.at.getTime() }] : [])),
    ...plans.flatMap(({ origin, content, settled }): Closer[] =>
      settled.flatMap(({ position, state, at }): Closer[] => {
        const step = content.steps[position];
        if (state !== "done" || !step || step.kind === "retest") return [];
        if (step.kind === "replace-water" || (step.kind === "task" && step.task === "drain-part"))
          return [{ what: "water-replaced", at: at.getTime() }];
        // A recipe ends with its retest; until then what was begun is not done.
        return origin === "recipe" ? [{ what: "recipe", at: at.getTime() }] : [];
      }),
    ),
    ...dosesThatClose(opened),
  ];
}

function dosesThatClose(opened: OpenedVisit): Closer[] {
  const { basin, doses, products, readings, before, visit, trail, ranges } = opened;
  const all = [...before, ...readings];
  // A basin that was closed by a reading opens by what is read after the doses, all of it.
  const closedFrom = Math.min(
    ...findingsIn(opened, before)
      .concat(findingsNow(opened))
      .filter(({ closes }) => closes)
      .flatMap(({ quantity }) => all.filter((one) => one.quantity === quantity))
      .map(({ takenAt }) => takenAt.getTime()),
  );
  // One that was read again in the same round stands in the trail, with the moment at which it was replaced; one
  // that was corrected afterward, with a reason, never was so.
  const closedUntil = Math.max(
    ...trail
      .filter(({ quantity, value, why }) => why === "" && closesAt(value, ranges[quantity]))
      .map(({ supersededAt }) => supersededAt.getTime()),
  );
  const given = doses.flatMap((dose) => {
    const product = products.find(({ id }) => id === dose.productId);
    return product && dose.givenGrams > 0
      ? [{ ...dose, compound: product.product, strength: product.strength, at: dose.givenAt.getTime() }]
      : [];
  });
  const closers: Closer[] = [];
  for (const { compound, code, at } of given) {
    if (at >= closedFrom || at < closedUntil) closers.push({ what: "closed-dose", at });
    if (compound === "sodium-thiosulfate") closers.push({ what: "chlorine-out", at });
    if (compound === "potassium-monopersulfate") closers.push({ what: "oxidiser", at });
    if (isLabelled(compound) && LABELLED[compound].clouds) closers.push({ what: "clouding", at });
    if (isChlorine(compound) && code.startsWith("combinedChlorine")) closers.push({ what: "shock", at });
  }
  const last = (quantity: Quantity) => readings.find((one) => one.quantity === quantity);
  // Sanitiser that comes to a shock, all of it since it was last read: chlorine makes bromine of bromide.
  const quantity = sanitiserReading(basin.sanitiser);
  const read = last(quantity);
  const added = given.filter(({ compound, at }) => isChlorine(compound) && at > timeOf(read));
  const chlorine = added.reduce(
    (sum, { compound, strength, givenGrams }) =>
      sum + chlorineRaised({ product: compound, strength }, givenGrams, visit.litres),
    0,
  );
  const raised = quantity === "bromine" ? chlorine * BROMINE_FACTOR : chlorine;
  const most = ranges[quantity]?.closeAbove ?? Number.POSITIVE_INFINITY;
  const final = added.at(-1);
  if (final && (chlorine >= FRESH_SHOCK - 1e-6 || (read?.value ?? 0) + raised > most))
    closers.push({ what: "shock", at: final.at });
  const moved = phMovedOut(opened, last("ph"), given);
  return moved === null ? closers : [...closers, { what: "ph-moved", at: moved }];
}

const closesAt = (value: number, range: Range | undefined): boolean =>
  value < (range?.closeBelow ?? Number.NEGATIVE_INFINITY) ||
  value > (range?.closeAbove ?? Number.POSITIVE_INFINITY);

const timeOf = (reading: VisitReading | undefined): number => reading?.takenAt.getTime() ?? 0;

/** When what was given since the pH was read takes it where the basin closes; null where it does not. */
function phMovedOut(
  { known, visit, products, ranges }: OpenedVisit,
  ph: VisitReading | undefined,
  given: readonly { productId: string; givenGrams: number; at: number }[],
): number | null {
  const since = given.filter(({ at }) => at > timeOf(ph));
  const final = since.at(-1);
  if (!ph || !final || !known.possible) return null;
  const grams = new Map<string, number>();
  for (const { productId, givenGrams } of since)
    grams.set(productId, (grams.get(productId) ?? 0) + givenGrams);
  const input = {
    water: known.water,
    litres: visit.litres,
    products: products.map((product) => ({ ...product, key: product.id, pricePerKg: 0, stock: null })),
    fill: null,
  };
  const { closeBelow = 0, closeAbove = 14 } = ranges.ph ?? {};
  try {
    const after = readingsOf(waterAfter(input, { grams, replaced: 0, aerated: 0 })).ph;
    return after < closeBelow || after > closeAbove ? final.at : null;
  } catch (fault) {
    // So much went in that no water comes of it.
    if (fault instanceof InputFault) return final.at;
    throw fault;
  }
}
