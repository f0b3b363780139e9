import { millisecondsInDay, millisecondsInHour } from "date-fns/constants";
import { carbonDioxideAtRest, carbonDioxideShare } from "../products/effects";
import { effectPerGram, type ProductId } from "../products/products";
import { normal, seeded } from "../random";
import { solvePh } from "../water/equilibrium";
import { molar } from "../water/molar";
import { activity, conditionsOf, readingsAt, type Totals, totalsOf } from "../water/sample";
import type { BasinLog, FirmLog, Learned, LoggedDose, LoggedReading } from "./log";

/**
 * A firm whose waters are known, to hold what is learned against. Its physics are not the learner's: an hour
 * at a time, a sun of its own, bathers by the day with weekends, feeders that fail, pumps that stand still,
 * gas exchange that follows the wind, bottles and deliveries of their own strength, counts in whole drops.
 */
export interface FirmPlan {
  seed: number;
  basins?: number;
  weeks?: number;
  /** Share of the volumes that are wrong in the book. */
  wrongVolumes?: number;
  /** A titrant of the first kit that loses so much of its strength a day from half the time on. */
  weakeningBottle?: number;
  /** The strength of one delivery over its label's. */
  weakDelivery?: number;
}

export interface SimulatedFirm {
  /** Up to each cut, with the next call as what lies ahead, and the true water then. */
  cutAt(share: number): { log: FirmLog; truth: Record<Learned, number>[]; at: number };
  factors: number[];
  badBottle: string | null;
  badDelivery: string | null;
  /** When each began to be bad, ms. */
  badFrom: { bottle: number; delivery: number };
}

interface Basin {
  log: BasinLog;
  factor: number;
  totals: Totals;
  fill: Totals;
  dark: number;
  unbound: number;
  bound: number;
  gas: number;
  evaporation: number;
  splash: number;
  fed: number;
  outageUntil: number;
  kit: number;
  offset: number;
  bathers: number;
}

const START = Date.UTC(2026, 3, 6);
const KITS = 3;
const DROPS = { freeChlorine: 0.2, totalAlkalinity: 10, calciumHardness: 10 } as const;
const PH_STANDARDS = [6.8, 7.0, 7.2, 7.4, 7.6, 7.8, 8.0, 8.2];
const TUBE = [20, 25, 30, 35, 40, 45, 50, 60, 70, 80, 90, 100];
const TEMPERATURE_OF = { pool: 26, spa: 38 } as const;

export function simulatedFirm({
  seed,
  basins: count = 24,
  weeks = 18,
  wrongVolumes = 0.25,
  weakeningBottle = 0,
  weakDelivery = 1,
}: FirmPlan): SimulatedFirm {
  const random = seeded(seed * 7919 + 13);
  const gauss = () => normal(random);
  const logNormal = (median: number, deviation: number) => median * Math.exp(deviation * gauss());
  const between = (low: number, high: number) => low + (high - low) * random();
  const days = weeks * 7;
  // Weather: a season with fronts.
  const air: number[] = [];
  const clear: number[] = [];
  let front = 0;
  for (let day = 0; day < days + 14; day++) {
    front = 0.7 * front + 0.7 * gauss();
    air.push(19 + 6 * Math.sin(((day - 20) / 365) * 2 * Math.PI) + 2 * front);
    clear.push(Math.min(1, Math.max(0.1, 0.72 + 0.16 * front)));
  }
  const weather = air.map((mean, day) => ({
    day: new Date(START + day * millisecondsInDay).toISOString().slice(0, 10),
    air: Math.round(mean * 10) / 10,
    sun: Math.round((clear[day] as number) * 100) / 100,
  }));
  // Bottles: every kit has one of each titrant, changed every five to seven weeks.
  const bottles = new Map<string, { lot: string; worth: number; until: number }>();
  let bottleNumber = 0;
  let badBottle: string | null = null;
  let badBottleFrom = Number.POSITIVE_INFINITY;
  const bottleOf = (kit: number, quantity: string, at: number) => {
    const key = `${kit} ${quantity}`;
    let held = bottles.get(key);
    if (!held || at > held.until) {
      held = {
        lot: `${quantity}-${++bottleNumber}`,
        worth: Math.exp(0.025 * gauss()),
        until: at + between(34, 50) * millisecondsInDay,
      };
      const isLate = at > START + 0.3 * days * millisecondsInDay;
      if (weakeningBottle > 0 && isLate && kit === 0 && quantity === "totalAlkalinity" && !badBottle) {
        badBottle = held.lot;
        badBottleFrom = at;
        held.until = Number.POSITIVE_INFINITY;
      }
      bottles.set(key, held);
    }
    const age = (at - badBottleFrom) / millisecondsInDay;
    const worth = held.lot === badBottle ? held.worth * Math.exp(-weakeningBottle * age) : held.worth;
    return { lot: held.lot, worth };
  };
  // Deliveries: each product comes anew every three to five weeks.
  const deliveries = new Map<ProductId, { lot: string; strength: number; came: number; until: number }>();
  let deliveryNumber = 0;
  let badDelivery: string | null = null;
  let badDeliveryFrom = Number.POSITIVE_INFINITY;
  const deliveryOf = (product: ProductId, at: number) => {
    let held = deliveries.get(product);
    if (!held || at > held.until) {
      held = {
        lot: `${product}-${++deliveryNumber}`,
        strength: Math.exp(0.035 * gauss()),
        came: at,
        until: at + between(21, 36) * millisecondsInDay,
      };
      const isLate = at > START + 0.5 * days * millisecondsInDay;
      if (weakDelivery !== 1 && isLate && product === "sodium-hypochlorite" && !badDelivery) {
        badDelivery = held.lot;
        badDeliveryFrom = at;
        held.strength *= weakDelivery;
      }
      deliveries.set(product, held);
    }
    const months = (at - held.came) / millisecondsInDay / 30;
    const kept = product === "sodium-hypochlorite" ? Math.exp(-0.06 * months) : 1;
    return { lot: held.lot, strength: held.strength * kept };
  };
  const basins = Array.from({ length: count }, (_, index): Basin => {
    const kind = index % 6 === 5 ? "spa" : "pool";
    const outdoors = index % 8 !== 7;
    const spa = kind === "spa";
    const feeder = spa
      ? "none"
      : (["none", "none", "tablets", "saltCell", "none", "pump"] as const)[index % 5];
    const wrong = random() < wrongVolumes;
    const wide = random() < 0.5 ? between(0.74, 0.87) : between(1.15, 1.32);
    const factor = wrong ? wide : Math.exp(0.02 * gauss());
    const litres = spa ? between(900, 2500) : between(25_000, 110_000);
    const fillReadings = {
      ph: between(7.3, 7.9),
      totalAlkalinity: between(50, 160),
      calciumHardness: between(40, 260),
      cyanuricAcid: 0,
      freeChlorine: 0,
      borate: 0,
      temperature: 15,
      totalDissolvedSolids: 300,
    };
    const sample = {
      ph: between(7.3, 7.8),
      totalAlkalinity: between(70, 140),
      calciumHardness: spa ? between(120, 220) : between(180, 380),
      cyanuricAcid: spa || !outdoors ? 0 : between(25, 65),
      freeChlorine: between(1, 5),
      borate: 0,
      temperature: TEMPERATURE_OF[kind],
      totalDissolvedSolids: 1100,
    };
    return {
      log: {
        id: `basin-${index}`,
        kind,
        outdoors,
        feeder: feeder ?? "none",
        litres: litres / factor,
        fill: fillReadings,
        visits: [],
        ahead: [],
      },
      factor,
      totals: totalsOf(sample),
      fill: totalsOf(fillReadings),
      dark: spa ? between(0.3, 1.2) : between(0.05, 0.4),
      unbound: outdoors ? (spa ? 2 : between(5.5, 13)) : 0,
      bound: outdoors ? (spa ? 0.1 : between(0.15, 0.7)) : 0,
      gas: logNormal(spa ? 0.9 : 0.4, 0.6),
      evaporation: logNormal(spa ? 0.006 : 0.0026, 0.4),
      splash: logNormal(spa ? 0.007 : 0.003, 0.5),
      fed: feeder && feeder !== "none" ? logNormal(1.6, 0.35) : 0,
      outageUntil: 0,
      kit: index % KITS,
      offset: Math.floor(random() * 7),
      bathers: between(0.2, 0.45),
    };
  });
  const truths: { at: number; basin: number; visit: number; truth: Record<Learned, number> }[] = [];
  const read = (basin: Basin): { ph: number; sample: ReturnType<typeof readingsAt> } => {
    const conditions = conditionsOf(basin.totals);
    const { ph } = solvePh(conditions, basin.totals, basin.totals.alkalinity);
    return { ph, sample: readingsAt(basin.totals, ph) };
  };
  const drops = (
    value: number,
    drop: number,
    worth: number,
  ): { low: number; high: number; value: number } => {
    const apparent = (Math.max(0, value) / worth) * (1 + 0.025 * gauss());
    const counted = Math.max(0, Math.ceil(apparent / drop));
    return { value: counted * drop, low: Math.max(0, (counted - 1) * drop), high: counted * drop };
  };
  const visit = (basin: Basin, index: number, at: number): void => {
    const { sample } = read(basin);
    truths.push({
      at,
      basin: index,
      visit: basin.log.visits.length,
      truth: {
        freeChlorine: sample.freeChlorine,
        ph: sample.ph,
        totalAlkalinity: sample.totalAlkalinity,
        calciumHardness: sample.calciumHardness,
        cyanuricAcid: sample.cyanuricAcid,
      },
    });
    const readings: LoggedReading[] = [];
    const counted = (quantity: keyof typeof DROPS) => {
      const { lot, worth } = bottleOf(basin.kit, quantity, at);
      readings.push({ quantity, lot, ...drops(sample[quantity], DROPS[quantity], worth) });
    };
    const visits = basin.log.visits.length;
    counted("freeChlorine");
    const seen = sample.ph + 0.05 * gauss();
    const above = PH_STANDARDS.findIndex((one) => one >= seen);
    const nearest = PH_STANDARDS.reduce((a, b) => (Math.abs(b - seen) < Math.abs(a - seen) ? b : a));
    if (above < 0) readings.push({ quantity: "ph", value: 8.2, low: 8.2, high: Number.POSITIVE_INFINITY });
    else if (above === 0)
      readings.push({ quantity: "ph", value: 6.8, low: Number.NEGATIVE_INFINITY, high: 6.8 });
    else
      readings.push({
        quantity: "ph",
        value: nearest,
        low: Math.max(6.8, nearest - 0.1),
        high: Math.min(8.2, nearest + 0.1),
      });
    counted("totalAlkalinity");
    if (visits % 2 === 0) counted("calciumHardness");
    if (visits % 4 === 2 && basin.log.kind === "pool" && basin.log.outdoors) {
      const apparent = sample.cyanuricAcid * (1 + 0.04 * gauss());
      const place = TUBE.reduce((a, b) => (Math.abs(b - apparent) < Math.abs(a - apparent) ? b : a));
      const at = TUBE.indexOf(place);
      readings.push({
        quantity: "cyanuricAcid",
        value: place,
        low: at > 0 ? (place + (TUBE[at - 1] as number)) / 2 : 0,
        high: at < TUBE.length - 1 ? (place + (TUBE[at + 1] as number)) / 2 : Number.POSITIVE_INFINITY,
      });
    }
    readings.push({
      quantity: "temperature",
      value: Math.round(basin.totals.temperature * 2) / 2,
      low: basin.totals.temperature - 0.5,
      high: basin.totals.temperature + 0.5,
    });
    // Doses, by the book's volume and the readings alone.
    const doses: LoggedDose[] = [];
    const value = (quantity: string) => readings.find((one) => one.quantity === quantity)?.value;
    const give = (product: ProductId, strength: number, gramsByBook: number, minutes: number) => {
      if (gramsByBook <= 0) return;
      const { lot, strength: real } = deliveryOf(product, at);
      const grams = Math.round(gramsByBook);
      doses.push({ at: at + minutes * 60_000, product, strength, grams, lot });
      const effect = effectPerGram({ product, strength });
      const share = (grams * real * (1 + 0.03 * gauss())) / (basin.log.litres * basin.factor);
      basin.totals.alkalinity += effect.alkalinity * share;
      basin.totals.inorganicCarbon += effect.inorganicCarbon * share;
      basin.totals.calcium += effect.calcium * share;
      basin.totals.cyanurate += effect.cyanurate * share;
      basin.totals.chlorine += effect.chlorine * share;
      basin.totals.totalDissolvedSolids += effect.dissolved * share * 1000;
    };
    const litres = basin.log.litres;
    const chlorine = value("freeChlorine") ?? 2;
    const ph = value("ph") ?? 7.5;
    const alkalinity = value("totalAlkalinity");
    const target = basin.fed > 0 ? 3 : basin.log.kind === "spa" ? 5 : 6;
    if (ph >= 7.7) {
      const drop = (ph - 7.4) * (0.28 + 0.0022 * (alkalinity ?? 100));
      give("hydrochloric-acid", 0.3145, (drop * 1.0 * litres) / 1000 / 0.0086257, 10);
    }
    if (ph <= 7.1) give("sodium-carbonate", 0.99, 0.012 * litres, 10);
    if (chlorine < target - 0.5)
      give("sodium-hypochlorite", 0.107, ((target - chlorine) * litres) / 1000 / 0.107, 25);
    if (alkalinity !== undefined && alkalinity < 75)
      give("sodium-bicarbonate", 0.99, ((95 - alkalinity) * litres * 1.69) / 1000, 35);
    const calcium = value("calciumHardness");
    if (calcium !== undefined && calcium < 180)
      give("calcium-chloride", 0.77, ((220 - calcium) * litres * 1.44) / 1000, 45);
    const stabiliser = value("cyanuricAcid");
    if (stabiliser !== undefined && stabiliser <= 30)
      give("cyanuric-acid", 0.99, ((45 - stabiliser) * litres) / 1000, 50);
    basin.log.visits.push({ at, readings, doses });
  };
  const hour = (basin: Basin, at: number, bathing: number, wind: number): void => {
    const day = Math.floor((at - START) / millisecondsInDay);
    const clock = (at % millisecondsInDay) / millisecondsInHour;
    const season = 0.62 + 0.24 * Math.sin(((day + 15) / 365) * 2 * Math.PI);
    const height =
      Math.max(0, Math.sin(((clock - 5.5) / 13.5) * Math.PI)) * (clock > 5.5 && clock < 19 ? 1 : 0);
    const sun = height * (0.8 + 0.3 * season) * (clear[day] as number);
    const { totals } = basin;
    const dt = 1 / 24;
    totals.temperature =
      basin.log.kind === "spa"
        ? 38
        : basin.log.outdoors
          ? 0.985 * totals.temperature + 0.015 * ((air[day] as number) + 4)
          : 28;
    const conditions = conditionsOf(totals);
    const { ph, hypochlorous } = solvePh(conditions, totals, totals.alkalinity);
    const h = activity(ph);
    const unbound =
      totals.chlorine > 0
        ? Math.min(1, (hypochlorous * (1 + conditions.hypochlorous / h)) / totals.chlorine)
        : 1;
    const warmth = 2 ** ((totals.temperature - 27) / 10);
    const rate =
      basin.dark * warmth * bathing + sun * (basin.unbound * unbound + basin.bound * (1 - unbound));
    if (basin.fed > 0 && at > basin.outageUntil && random() < 0.02 / 24)
      basin.outageUntil = at + between(1, 3) * millisecondsInDay;
    const running = clock >= 8 && clock < 20 ? 2 : 0;
    const fed = at > basin.outageUntil ? molar.chlorine(basin.fed) * running * dt : 0;
    const spent = totals.chlorine * (1 - Math.exp(-rate * dt));
    totals.chlorine += fed - spent;
    totals.alkalinity += (basin.log.feeder === "tablets" ? 0 : fed) - spent;
    if (basin.log.feeder === "tablets") totals.cyanurate += fed / 3;
    const excess =
      totals.inorganicCarbon * carbonDioxideShare(conditions, h) - carbonDioxideAtRest(totals.temperature);
    totals.inorganicCarbon -= excess * basin.gas * wind * dt;
    const evaporated = basin.evaporation * (0.4 + sun * 1.6) * dt;
    const lost = basin.splash * bathing * dt;
    for (const key of ["alkalinity", "inorganicCarbon", "calcium"] as const)
      totals[key] += evaporated * basin.fill[key] + lost * (basin.fill[key] - totals[key]);
    totals.cyanurate *= 1 - (lost + 0.0009 * dt);
  };
  for (let day = 0; day < days + 8; day++) {
    const wind = Math.exp(0.35 * gauss());
    const weekend = day % 7 >= 5 ? 1.35 : 0.88;
    const bathing = basins.map(
      (basin) => weekend * Math.exp(basin.bathers * gauss() - basin.bathers ** 2 / 2),
    );
    const calls = basins.map((basin, index) => {
      const every = index % 3 === 0 ? [0, 3] : [0];
      return every.includes((day + basin.offset) % 7) ? 8 + Math.floor(random() * 8) : -1;
    });
    for (let clock = 0; clock < 24; clock++)
      basins.forEach((basin, index) => {
        const at = START + day * millisecondsInDay + clock * millisecondsInHour;
        if (calls[index] === clock) visit(basin, index, at);
        hour(basin, at, bathing[index] as number, wind);
      });
  }
  return {
    factors: basins.map(({ factor }) => factor),
    badBottle,
    badDelivery,
    badFrom: { bottle: badBottleFrom, delivery: badDeliveryFrom },
    cutAt(share) {
      const at = START + share * days * millisecondsInDay;
      const truth: Record<Learned, number>[] = [];
      const logs = basins.map((basin, index): BasinLog => {
        const visits = basin.log.visits.filter((one) => one.at <= at);
        const next = truths.find((one) => one.basin === index && one.at > at);
        truth.push(next?.truth as Record<Learned, number>);
        return { ...basin.log, visits, ahead: next ? [next.at] : [] };
      });
      return { log: { basins: logs, weather, location: { latitude: 40, longitude: 0 } }, truth, at };
    },
  };
}
