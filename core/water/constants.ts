import { numberWithin } from "../fault";

/**
 * Equilibrium constants at the water's temperature and ionic strength.
 *
 * Every constant is conditional: written for concentrations (mol/L) of dissolved species but the
 * ACTIVITY of H+, because that is what a pH reading is. For HA ⇌ A + H+ with charges zHA and zA,
 * K' = K · γ(zHA) / γ(zA).
 */
export interface Conditions {
  /** °C */
  temperature: number;
  /** mol/L */
  ionicStrength: number;
  /** Activity coefficients of ions of charge 1 and 2. */
  gamma1: number;
  gamma2: number;
  /** Carbonic acid, first and second step. */
  k1: number;
  k2: number;
  /** Water. */
  kw: number;
  /** Hypochlorous acid. */
  hypochlorous: number;
  /** Boric acid. */
  boric: number;
  /** Solubility product of calcite, thermodynamic (activities). */
  calcite: number;
  /** Ca++ + HCO3− ⇌ CaHCO3+, and the pairs with carbonate and sulfate, L/mol of concentrations. */
  calciumBicarbonate: number;
  calciumCarbonate: number;
  calciumSulfate: number;
  cyanurate: CyanurateConstants;
}

/** Dissociation (a1…) of each cyanurate, and loss of one HOCl to water by the neutral chlorinated ones. */
export interface CyanurateConstants {
  h3cy: number;
  h2cy: number;
  hcy: number;
  h2clcy: number;
  hclcy: number;
  hcl2cy: number;
  /** Cl3Cy → HCl2Cy + HOCl, mol/L */
  loseThird: number;
  /** HCl2Cy → H2ClCy + HOCl, mol/L */
  loseSecond: number;
  /** H2ClCy → H3Cy + HOCl, mol/L */
  loseFirst: number;
}

/** °C. The carbonate and calcite fits hold from 0 to 90; hypochlorite was measured from 5 to 35. */
const TEMPERATURE_LIMITS = { low: 0, high: 45 } as const;
/** mol/L. Davies is good to about 0.5; beyond it drifts, see docs/chemistry.md. */
const IONIC_STRENGTH_LIMITS = { low: 0, high: 2 } as const;

/** log10 of a constant, from 0 to 45 °C; T in K. */
const logK1 = (T: number) =>
  -356.3094 - 0.06091964 * T + 21834.37 / T + 126.8339 * Math.log10(T) - 1684915 / (T * T); // Plummer and Busenberg 1982
const logK2 = (T: number) =>
  -107.8871 - 0.03252849 * T + 5151.79 / T + 38.92561 * Math.log10(T) - 563713.9 / (T * T); // Plummer and Busenberg 1982
const logCalcite = (T: number) => -171.9065 - 0.077993 * T + 2839.319 / T + 71.595 * Math.log10(T); // Plummer and Busenberg 1982
const logKw = (T: number) => -4787.3 / T - 7.1321 * Math.log10(T) - 0.010365 * T + 22.801; // Stumm and Morgan, fit to Harned
// Association of calcium: Plummer and Busenberg 1982, whose solubility product goes with them
const logCalciumBicarbonate = (T: number) => 1209.12 + 0.31294 * T - 34765.05 / T - 478.782 * Math.log10(T);
const logCalciumCarbonate = (T: number) => -1228.732 - 0.299444 * T + 35512.75 / T + 485.818 * Math.log10(T);
/** 2.30 at 25 °C, 1.65 kcal/mol (Nordstrom and others 1990), by van 't Hoff. */
const logCalciumSulfate = (T: number) => 2.3 + ((1.65 * 4184) / (8.314 * Math.LN10)) * (1 / 298.15 - 1 / T);
const logHypochlorous = (T: number) => -(3000 / T - 10.0686 + 0.0253 * T); // Morris 1966

const logBoric = (T: number) => -(2237.94 / T + 0.016883 * T - 3.305); // Manov, DeLollis and Acree 1944, 0 to 60 °C; 9.235 at 25

// O'Brien, Morris and Butler 1974, 25 °C
const PK_H3CY = 6.88;
const PK_H2CY = 11.4;
const PK_HCY = 13.5; // of no weight below pH 12; it closes the set of ten species
const PK_H2CLCY = 5.33;
const PK_HCLCY = 10.12;
const PK_HCL2CY = 3.75;
const PK_LOSE_THIRD = 1.8;
const PK_LOSE_SECOND = 2.93;
const PK_LOSE_FIRST = 4.07;

/** Relative permittivity of water; T in K (Truesdell and Jones 1974). */
const permittivity = (T: number) => 60954 / (T + 116) - 68.937;

/**
 * log10 γ of an ion by Davies: −A z² (√I/(1+√I) − 0.3 I), A = 1.82·10⁶ (εT)^−1.5.
 */
function logGamma(charge: number, strength: number, T: number): number {
  const A = 1.82e6 * (permittivity(T) * T) ** -1.5;
  const root = Math.sqrt(strength);
  return -A * charge * charge * (root / (1 + root) - 0.3 * strength);
}

/**
 * The constants that hold in water of this temperature and ionic strength; see `ionicStrength`.
 *
 * @param temperature °C, 0…45
 * @param strength mol/L
 * @throws InputFault outside those limits
 */
export function conditionsAt(temperature: number, strength: number): Conditions {
  numberWithin("temperature", temperature, TEMPERATURE_LIMITS.low, TEMPERATURE_LIMITS.high);
  numberWithin("ionicStrength", strength, IONIC_STRENGTH_LIMITS.low, IONIC_STRENGTH_LIMITS.high);
  const T = temperature + 273.15;
  const unit = logGamma(1, strength, T);
  const gamma = (charge: number) => 10 ** (unit * charge * charge);
  const gamma1 = gamma(1);
  const gamma2 = gamma(2);
  const gamma3 = gamma(3);
  return {
    temperature,
    ionicStrength: strength,
    gamma1,
    gamma2,
    k1: 10 ** logK1(T) / gamma1,
    k2: (10 ** logK2(T) * gamma1) / gamma2,
    kw: 10 ** logKw(T) / gamma1,
    hypochlorous: 10 ** logHypochlorous(T) / gamma1,
    boric: 10 ** logBoric(T) / gamma1,
    calcite: 10 ** logCalcite(T),
    calciumBicarbonate: 10 ** logCalciumBicarbonate(T) * gamma2,
    calciumCarbonate: 10 ** logCalciumCarbonate(T) * gamma2 * gamma2,
    calciumSulfate: 10 ** logCalciumSulfate(T) * gamma2 * gamma2,
    cyanurate: {
      h3cy: 10 ** -PK_H3CY / gamma1,
      h2cy: (10 ** -PK_H2CY * gamma1) / gamma2,
      hcy: (10 ** -PK_HCY * gamma2) / gamma3,
      h2clcy: 10 ** -PK_H2CLCY / gamma1,
      hclcy: (10 ** -PK_HCLCY * gamma1) / gamma2,
      hcl2cy: 10 ** -PK_HCL2CY / gamma1,
      loseThird: 10 ** -PK_LOSE_THIRD,
      loseSecond: 10 ** -PK_LOSE_SECOND,
      loseFirst: 10 ** -PK_LOSE_FIRST,
    },
  };
}
