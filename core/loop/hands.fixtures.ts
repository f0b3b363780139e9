import { millisecondsInDay } from "date-fns/constants";
import { adviseEach } from "../dosing/advice";
import { STEERED } from "../dosing/plan/goals";
import { onShelf, WHOLE_SHELF } from "../dosing/plan/plan.fixtures";
import { InputFault } from "../fault";
import { findings } from "../judging/findings";
import type { Readings } from "../measure/quantity";
import { addTo } from "../products/effects";
import type { ProductId } from "../products/products";
import { readingsOf } from "../water/equilibrium";
import { crossing } from "../water/root";
import { type Sample, totalsOf } from "../water/sample";
import { saturation } from "../water/saturation";
import { type Deed, type Hand, limitsOf } from "./firm.fixtures";
import { type HiddenBasin, pour, truthOf } from "./hidden-basin.fixtures";
import { type Hour, WORLDS, type World } from "./physics.fixtures";

/** The hands that a plan is held against. Each pours in whole grams what its rule says. */

const strengthOf = (product: ProductId) => onShelf(product).strength;
const one = (product: ProductId, grams: number, minute = 0): Deed["pours"][number] => ({
  product,
  strength: strengthOf(product),
  grams,
  minute,
});

/** Each reading by its own table, nothing of what one dose does to another. */
export const byTable = (): Hand => ({
  call({ basin, read }) {
    const readings = Object.fromEntries(
      [...STEERED, "temperature" as const].map((name) => [
        name,
        { value: read[name], unit: "", low: read[name], high: read[name], bound: "within" },
      ]),
    ) as unknown as Readings;
    const standing = Object.fromEntries([...STEERED, "temperature"].map((name) => [name, "read"]));
    const pours: Deed["pours"] = [];
    try {
      for (const told of adviseEach({
        findings: findings(readings, basin.set, basin.surface, read),
        readings,
        known: { water: read, standing, possible: true } as never,
        litres: basin.litres,
        products: WHOLE_SHELF,
        fill: { calciumHardness: basin.fillReadings.calciumHardness },
      }))
        if (told.kind === "dose")
          pours.push(
            one(
              WHOLE_SHELF.find(({ key }) => key === told.product)?.product ?? (told.product as ProductId),
              told.grams,
            ),
          );
    } catch (fault) {
      if (!(fault instanceof InputFault)) throw fault;
    }
    return { pours, minutes: 0 };
  },
});

/** Acid that brings a water to a pH, g of the usual acid. */
function acidTo(read: Sample, ph: number, litres: number): number {
  const totals = totalsOf(read);
  const strength = strengthOf("hydrochloric-acid");
  const at = (grams: number) =>
    readingsOf(addTo(totals, [{ product: "hydrochloric-acid", strength, grams }], litres).totals).ph - ph;
  return at(0) <= 0 ? 0 : (crossing(at, 0, litres / 8, 1) ?? 0);
}

/**
 * A good hand: leaves its floor, one more, and what this basin lost a day lately for every day to come; acid by
 * the equilibrium to 7.4; bicarbonate when alkalinity is low; the feeder a fifth up or down when chlorine was
 * out twice running.
 */
export function goodHand(): Hand {
  const left = new Map<string, { at: number; chlorine: number }>();
  const losses = new Map<string, number[]>();
  const off = new Map<string, number>();
  return {
    call({ basin, read, at, next }) {
      const { id, litres } = basin;
      const before = left.get(id);
      const lost = losses.get(id) ?? [];
      if (before)
        lost.push(
          (before.chlorine - read.freeChlorine) / Math.max(0.5, (at - before.at) / millisecondsInDay),
        );
      losses.set(id, lost.slice(-5));
      const sorted = [...lost.slice(-5)].sort((a, b) => a - b);
      const daily =
        sorted.length > 0
          ? Math.max(0, sorted[sorted.length >> 1] as number)
          : basin.kind === "spa"
            ? 1.5
            : 0.5;
      const days = ((next[0] ?? at + 7 * millisecondsInDay) - at) / millisecondsInDay;
      const { low, high } = limitsOf(basin, { ...read, ph: 7.5 }, "freeChlorine");
      const pours: Deed["pours"] = [];
      const wanted = Math.min(10, (low ?? 1) + 1 + days * daily);
      const short = wanted - read.freeChlorine;
      if (short > 0.3)
        pours.push(one("sodium-hypochlorite", (short * litres) / 1000 / strengthOf("sodium-hypochlorite")));
      left.set(id, { at, chlorine: Math.max(read.freeChlorine, wanted) });
      if (read.ph >= 7.6)
        pours.push(
          one(
            "hydrochloric-acid",
            acidTo({ ...read, freeChlorine: Math.max(read.freeChlorine, wanted) }, 7.4, litres),
            30,
          ),
        );
      raiseWhatIsLow(basin, read, pours);
      const out =
        low !== null && read.freeChlorine < low ? -1 : high !== null && read.freeChlorine > high ? 1 : 0;
      const twice = out !== 0 && off.get(id) === out;
      off.set(id, twice ? 0 : out);
      return {
        pours,
        minutes: 0,
        ...(twice && basin.feeder !== "none" ? { setting: basin.setting * (out < 0 ? 1.2 : 0.8) } : {}),
      };
    },
  };
}

/** Alkalinity, calcium and stabiliser to the middle of their ranges where they are low. */
function raiseWhatIsLow(basin: HiddenBasin, read: Sample, pours: Deed["pours"]): void {
  const grams: Record<string, [ProductId, number]> = {
    totalAlkalinity: ["sodium-bicarbonate", 1.69 / 1000],
    calciumHardness: ["calcium-chloride", 1.44 / 1000],
    cyanuricAcid: ["cyanuric-acid", 1 / 1000],
  };
  for (const quantity of ["totalAlkalinity", "calciumHardness", "cyanuricAcid"] as const) {
    const { low, aim } = limitsOf(basin, read, quantity);
    if (low === null || read[quantity] >= low) continue;
    const [product, each] = grams[quantity] as [ProductId, number];
    pours.push(one(product, (aim - read[quantity]) * each * basin.litres, 45));
  }
}

/** Hours of a usual day that a search walks through. */
const usualDay = { air: 21, clear: 0.72, wind: 1, rain: 0, bathing: 1 };
const STILL = () => 0.5;

/** Knows every rate and the water itself, and finds by search what leaves chlorine and pH right longest. */
export function whoKnows(world: World): Hand {
  const hour = WORLDS[world];
  return {
    call({ basin, read, at, next }) {
      const until = next[0] ?? at + 7 * millisecondsInDay;
      let best: { worth: number; pours: Deed["pours"] } | null = null;
      const alkalinity: Deed["pours"] = [];
      raiseWhatIsLow(basin, { ...read, totalAlkalinity: truthOf(basin).totalAlkalinity }, alkalinity);
      for (const leave of [0, 1, 2, 3, 4, 5, 6, 8, 10])
        for (const ph of [7.25, 7.35, 7.45, 7.6, 9]) {
          const pours = [...alkalinity];
          const now = truthOf(basin);
          const holds = basin.litres * basin.factor;
          if (leave > now.freeChlorine)
            pours.unshift(
              one(
                "sodium-hypochlorite",
                ((leave - now.freeChlorine) * holds) / 1000 / strengthOf("sodium-hypochlorite"),
              ),
            );
          const trial = trialOf(basin);
          for (const { product, strength, grams } of pours) pour(trial, product, strength, grams, 1);
          const acid = acidTo(readingsOf(trial.water), ph, holds);
          if (acid > 0) pour(trial, "hydrochloric-acid", strengthOf("hydrochloric-acid"), acid, 1);
          const all = acid > 0 ? [...pours, one("hydrochloric-acid", acid, 30)] : pours;
          const worth = outside(trial, hour, at, until) + 0.002 * all.length;
          if (!best || worth < best.worth) best = { worth, pours: all };
        }
      return { pours: best?.pours ?? [], minutes: 0 };
    },
  };
}

const trialOf = (basin: HiddenBasin): HiddenBasin => ({
  ...basin,
  water: { ...basin.water },
  own: { ...basin.own },
});

/** Share of the hours with chlorine or pH outside, the index a little. */
function outside(trial: HiddenBasin, hour: Hour, from: number, until: number): number {
  let wrong = 0;
  let hours = 0;
  for (let at = from; at < until; at += 3_600_000) {
    hour(trial, at, usualDay, STILL);
    if (++hours % 4 !== 0) continue;
    const water = truthOf(trial);
    const { low, high } = limitsOf(trial, water, "freeChlorine");
    if (low !== null && water.freeChlorine < low * 1.1) wrong += 4;
    if (high !== null && water.freeChlorine > high) wrong += 3;
    if (water.ph > 7.75) wrong += 4;
    if (water.ph < 7.22) wrong += 4;
    if (Math.abs(saturation(water).full.corrected) > 0.3) wrong += 0.4;
  }
  return wrong / Math.max(1, hours);
}
