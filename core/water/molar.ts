/** Molar masses, g/mol (IUPAC 2021 abridged atomic weights), and the ways readings count them. */
export const MOLAR_MASS = {
  calciumCarbonate: 100.09,
  cyanuricAcid: 129.075,
  /** Chlorine readings are "as Cl2": one mole of Cl(+1) reads as one mole of Cl2. */
  chlorineGas: 70.906,
  boron: 10.81,
  carbonDioxide: 44.009,
  sodiumChloride: 58.443,
  sulfate: 96.06,
} as const;

/** mg of CaCO3 that stand for one meq of alkalinity: half a mole. */
const ALKALINITY_WEIGHT = 50.04;

/** mg/L as read → mol/L (eq/L for alkalinity), and back. */
export const molar = {
  alkalinity: (ppm: number) => ppm / (ALKALINITY_WEIGHT * 1000),
  calcium: (ppm: number) => ppm / (MOLAR_MASS.calciumCarbonate * 1000),
  cyanurate: (ppm: number) => ppm / (MOLAR_MASS.cyanuricAcid * 1000),
  chlorine: (ppm: number) => ppm / (MOLAR_MASS.chlorineGas * 1000),
  borate: (ppm: number) => ppm / (MOLAR_MASS.boron * 1000),
  salt: (ppm: number) => ppm / (MOLAR_MASS.sodiumChloride * 1000),
  sulfate: (ppm: number) => ppm / (MOLAR_MASS.sulfate * 1000),
} as const;

export const asRead = {
  alkalinity: (eq: number) => eq * ALKALINITY_WEIGHT * 1000,
  calcium: (mol: number) => mol * MOLAR_MASS.calciumCarbonate * 1000,
  cyanurate: (mol: number) => mol * MOLAR_MASS.cyanuricAcid * 1000,
  chlorine: (mol: number) => mol * MOLAR_MASS.chlorineGas * 1000,
  borate: (mol: number) => mol * MOLAR_MASS.boron * 1000,
  salt: (mol: number) => mol * MOLAR_MASS.sodiumChloride * 1000,
  sulfate: (mol: number) => mol * MOLAR_MASS.sulfate * 1000,
} as const;
