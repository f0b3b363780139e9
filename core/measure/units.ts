import { convert } from "convert";
import { numberWithin } from "../fault";

/** Plain unit conversion at the edge; inside, everything is litres, grams and °C. */
export type VolumeUnit = "L" | "m3" | "us-gal" | "imp-gal";
export type MassUnit = "g" | "kg" | "oz" | "lb";
export type TemperatureUnit = "C" | "F";

const NAMES = {
  L: "litre",
  m3: "cubic metre",
  "us-gal": "gallon",
  "imp-gal": "imperial gallon",
  g: "gram",
  kg: "kilogram",
  oz: "ounce",
  lb: "pound",
} as const;

/** A basin holds between a bucket and a lake of five Olympic pools. Litres. */
export const BASIN_LITRES = { low: 20, high: 15_000_000 } as const;

/** @example litresFrom(10_000, "us-gal") // 37854.11784 */
export const litresFrom = (amount: number, unit: VolumeUnit): number =>
  convert(amount, NAMES[unit]).to("litre");

/** @example volumeIn(37854.11784, "us-gal") // 10000 */
export const volumeIn = (litres: number, unit: VolumeUnit): number =>
  convert(litres, "litre").to(NAMES[unit]);

/** @example gramsFrom(2, "lb") // 907.18 */
export const gramsFrom = (amount: number, unit: MassUnit): number => convert(amount, NAMES[unit]).to("gram");
/** @example massIn(1000, "lb") // 2.2046 */
export const massIn = (grams: number, unit: MassUnit): number => convert(grams, "gram").to(NAMES[unit]);

/** A jug's marks. @example millilitresFrom(8, "fl oz") // 236.59 */
export const millilitresFrom = (amount: number, unit: "mL" | "fl oz"): number =>
  unit === "mL" ? amount : convert(amount, "fl oz").to("millilitre");
/** @example millilitresIn(236.588, "fl oz") // 8 */
export const millilitresIn = (millilitres: number, unit: "mL" | "fl oz"): number =>
  unit === "mL" ? millilitres : convert(millilitres, "millilitre").to("fl oz");

/** @example celsiusFrom(104, "F") // 40 */
export const celsiusFrom = (degrees: number, unit: TemperatureUnit): number =>
  unit === "C" ? degrees : (degrees - 32) / 1.8;
/** @example temperatureIn(40, "F") // 104 */
export const temperatureIn = (celsius: number, unit: TemperatureUnit): number =>
  unit === "C" ? celsius : celsius * 1.8 + 32;

/** mg/L as CaCO3 in one of each: a US grain a gallon, a German and a French degree, a mmol of Ca a litre. */
const HARDNESS = {
  ppm: 1,
  // 64.798 91 mg in a grain (exact), 3.785 411 784 L in a US gallon (exact)
  grains: 64.79891 / 3.785411784,
  // 10 mg CaO a litre; 100.087 and 56.077 g/mol
  german: (10 * 100.087) / 56.077,
  french: 10,
  mmol: 100.087,
} as const;

/** Units in which hardness and alkalinity are told beside mg/L of calcium carbonate. */
export type HardnessUnit = keyof typeof HARDNESS;
export const HARDNESS_UNITS = Object.keys(HARDNESS) as HardnessUnit[];

/** @returns mg/L as CaCO3 @example hardnessFrom(10, "german") // 178.48 */
export const hardnessFrom = (amount: number, unit: HardnessUnit): number => amount * HARDNESS[unit];
/** @param ppm mg/L as CaCO3 @example hardnessIn(178.48, "german") // 10 */
export const hardnessIn = (ppm: number, unit: HardnessUnit): number => ppm / HARDNESS[unit];

/** A basin's volume in litres, or an `InputFault` that names the field. */
export const basinLitres = (field: string, litres: unknown): number =>
  numberWithin(field, litres, BASIN_LITRES.low, BASIN_LITRES.high);
