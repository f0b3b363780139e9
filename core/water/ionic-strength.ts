/** g/mol of the ions that a water is known to hold (IUPAC 2021 abridged atomic weights). */
const ION = { calcium: 40.078, bicarbonate: 61.017, sulfate: 96.06, chloride: 35.45, sodium: 22.99 } as const;
const SODIUM_CHLORIDE = 58.443;

/** What is known of the salts in a water: mol/L (eq/L for alkalinity), solids in mg/L. */
export interface Salts {
  calcium: number;
  alkalinity: number;
  sulfate: number;
  /** Sodium chloride by its own test; zero where none was made. */
  salt: number;
  totalDissolvedSolids: number;
}

/**
 * Ionic strength from what is known, mol/L: ½ Σ c z² over calcium, alkalinity (as bicarbonate) and sulfate,
 * with the sodium or chloride that balances them; what the dissolved solids hold besides counts as sodium
 * chloride, and so does what the salt test found, whichever is more.
 *
 * @example ionicStrength({ calcium: 0.003, alkalinity: 0.002, sulfate: 0, salt: 0, totalDissolvedSolids: 1000 }) // 0.0195
 */
export function ionicStrength({ calcium, alkalinity, sulfate, salt, totalDissolvedSolids }: Salts): number {
  const bicarbonate = Math.max(0, alkalinity);
  const balance = 2 * calcium - bicarbonate - 2 * sulfate;
  const mass =
    ION.calcium * calcium +
    ION.bicarbonate * bicarbonate +
    ION.sulfate * sulfate +
    (balance > 0 ? ION.chloride : -ION.sodium) * balance;
  const bySolids = (totalDissolvedSolids / 1000 - mass) / SODIUM_CHLORIDE;
  // The salt test counts every chloride, those that balance the calcium too.
  const bySalt = salt - Math.max(0, balance);
  const sodiumChloride = Math.max(0, bySolids, bySalt);
  return 0.5 * (4 * calcium + bicarbonate + 4 * sulfate + Math.abs(balance)) + sodiumChloride;
}
