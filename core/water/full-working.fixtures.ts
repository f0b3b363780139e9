import type { Sample } from "./sample";

/** Fourteen waters from soft mountain water to a salt pool, cold to hot, with and without sulfate. */
export const WATERS: Partial<Sample>[] = [
  { ph: 7.6, totalAlkalinity: 40, calciumHardness: 40, totalDissolvedSolids: 300, temperature: 5 },
  { ph: 7.8, totalAlkalinity: 80, calciumHardness: 120, totalDissolvedSolids: 300, temperature: 10 },
  { ph: 7.4, totalAlkalinity: 100, calciumHardness: 150, totalDissolvedSolids: 450, temperature: 38 },
  { ph: 7.5, totalAlkalinity: 100, calciumHardness: 300, totalDissolvedSolids: 1000, temperature: 25 },
  {
    ph: 7.2,
    totalAlkalinity: 60,
    calciumHardness: 400,
    totalDissolvedSolids: 1200,
    temperature: 28,
    cyanuricAcid: 40,
  },
  {
    ph: 7.8,
    totalAlkalinity: 120,
    calciumHardness: 500,
    totalDissolvedSolids: 1500,
    temperature: 30,
    sulfate: 150,
  },
  {
    ph: 7.5,
    totalAlkalinity: 150,
    calciumHardness: 250,
    totalDissolvedSolids: 1800,
    temperature: 37,
    sulfate: 300,
  },
  { ph: 8.2, totalAlkalinity: 180, calciumHardness: 350, totalDissolvedSolids: 1400, temperature: 26 },
  {
    ph: 7.4,
    totalAlkalinity: 90,
    calciumHardness: 600,
    totalDissolvedSolids: 2500,
    temperature: 20,
    sulfate: 800,
  },
  {
    ph: 7.6,
    totalAlkalinity: 100,
    calciumHardness: 400,
    totalDissolvedSolids: 3000,
    temperature: 25,
    sulfate: 1200,
  },
  {
    ph: 7.6,
    totalAlkalinity: 80,
    calciumHardness: 300,
    totalDissolvedSolids: 4000,
    temperature: 27,
    salt: 3300,
    cyanuricAcid: 70,
  },
  {
    ph: 7.2,
    totalAlkalinity: 60,
    calciumHardness: 250,
    totalDissolvedSolids: 5000,
    temperature: 32,
    salt: 4200,
  },
  {
    ph: 7.8,
    totalAlkalinity: 110,
    calciumHardness: 800,
    totalDissolvedSolids: 6000,
    temperature: 15,
    sulfate: 1200,
    salt: 2500,
  },
  {
    ph: 7.5,
    totalAlkalinity: 70,
    calciumHardness: 350,
    totalDissolvedSolids: 6000,
    temperature: 38,
    salt: 5400,
  },
];

/**
 * The index of a water by all its ions: composition from what is known, the rest sodium chloride; seven
 * pairs; activities by Davies at the ionic strength of what is left free, turned over until nothing moves.
 * Written from the literature's constants and sharing no line with the code that it is held against.
 */
export function fullWorking(water: Sample): number {
  const T = water.temperature + 273.15;
  const log = Math.log10;
  const vantHoff = (at25: number, kilocalories: number) =>
    at25 + ((kilocalories * 4184) / (8.314 * Math.LN10)) * (1 / 298.15 - 1 / T);
  // Plummer and Busenberg 1982
  const pK2 = 107.8871 + 0.03252849 * T - 5151.79 / T - 38.92561 * log(T) + 563713.9 / T ** 2;
  const pKsp = 171.9065 + 0.077993 * T - 2839.319 / T - 71.595 * log(T);
  const pKw = 4787.3 / T + 7.1321 * log(T) + 0.010365 * T - 22.801;
  const pairs = {
    CaHCO3: 10 ** (1209.12 + 0.31294 * T - 34765.05 / T - 478.782 * log(T)),
    CaCO3: 10 ** (-1228.732 - 0.299444 * T + 35512.75 / T + 485.818 * log(T)),
    // Nordstrom and others 1990
    CaSO4: 10 ** vantHoff(2.3, 1.65),
    NaSO4: 10 ** vantHoff(0.7, 1.12),
    NaCO3: 10 ** vantHoff(1.27, 8.91),
    NaHCO3: 10 ** -0.25,
    CaOH: 10 ** (-12.78 + pKw),
  };
  const A = 1.82e6 * ((60954 / (T + 116) - 68.937) * T) ** -1.5;
  const gamma = (z: number, I: number) => 10 ** (-A * z * z * (Math.sqrt(I) / (1 + Math.sqrt(I)) - 0.3 * I));

  // Composition, mol/L: chloride or sodium balances what is known, sodium chloride makes up the solids.
  const Ca = water.calciumHardness / 100_090;
  const alkalinity = water.totalAlkalinity / 50_040;
  const SO4 = (water.sulfate ?? 0) / 96_060;
  const Cy = water.cyanuricAcid / 129_075;
  const charge = 2 * Ca - alkalinity - 2 * SO4;
  const known =
    Ca * 40_078 + alkalinity * 61_017 + SO4 * 96_060 + (charge > 0 ? charge * 35_450 : -charge * 22_990);
  const salt = Math.max(
    0,
    (water.totalDissolvedSolids - known) / 58_443,
    (water.salt ?? 0) / 58_443 - Math.max(0, charge),
  );
  const Na = salt + Math.max(0, -charge);
  const Cl = salt + Math.max(0, charge);

  const H = 10 ** -water.ph;
  const free = { Ca, Na, SO4, HCO3: alkalinity, CO3: 0, OH: 0 };
  let index = 0;
  for (let turn = 0; turn < 200; turn++) {
    const I =
      0.5 * (4 * free.Ca + free.Na + Cl + 4 * free.SO4 + free.HCO3 + 4 * free.CO3 + H) +
      0.5 * (free.Ca * free.HCO3 * pairs.CaHCO3 + free.Na * free.SO4 * pairs.NaSO4);
    const [g1, g2] = [gamma(1, I), gamma(2, I)];
    const k2 = (10 ** -pK2 * g1) / g2;
    free.OH = 10 ** -pKw / H / g1;
    const cyanurate = (Cy * 10 ** -6.88) / g1 / (10 ** -6.88 / g1 + H);
    const inPair = {
      CaHCO3: pairs.CaHCO3 * g2,
      CaCO3: pairs.CaCO3 * g2 * g2,
      CaSO4: pairs.CaSO4 * g2 * g2,
      NaSO4: pairs.NaSO4 * g2,
      NaCO3: pairs.NaCO3 * g2,
      NaHCO3: pairs.NaHCO3 * g1 * g1,
      CaOH: pairs.CaOH * g2,
    };
    // What a titration finds as carbonate, paired or not.
    const titrated = alkalinity - free.OH - cyanurate + H / g1;
    const perCarbonate =
      (H / k2) * (1 + inPair.CaHCO3 * free.Ca + inPair.NaHCO3 * free.Na) +
      2 * (1 + inPair.CaCO3 * free.Ca + inPair.NaCO3 * free.Na);
    free.CO3 = titrated / perCarbonate;
    free.HCO3 = (free.CO3 * H) / k2;
    free.SO4 = SO4 / (1 + inPair.CaSO4 * free.Ca + inPair.NaSO4 * free.Na);
    free.Ca =
      Ca /
      (1 +
        inPair.CaHCO3 * free.HCO3 +
        inPair.CaCO3 * free.CO3 +
        inPair.CaSO4 * free.SO4 +
        inPair.CaOH * free.OH);
    free.Na = Na / (1 + inPair.NaSO4 * free.SO4 + inPair.NaCO3 * free.CO3 + inPair.NaHCO3 * free.HCO3);
    const now = log(g2 * g2 * free.Ca * free.CO3) + pKsp;
    if (Math.abs(now - index) < 1e-12) break;
    index = now;
  }
  return index;
}
