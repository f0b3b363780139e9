import { PLANT, type PlantKind, UNIT_SYSTEMS, type UnitSystem } from "#core";
import { words } from "../words";
import { plain } from "./format";

/** What gauges and displays show, as somebody reads them there; inside, everything is in the unit of `PLANT`. */

interface Shown {
  unit: string;
  /** Of the canonical unit to what is shown, and back. */
  to: (value: number) => number;
  from: (shown: number) => number;
  digits: 0 | 1 | 2;
}

const scaled = (unit: string, by: number, digits: Shown["digits"]): Shown => ({
  unit,
  to: (value) => value / by,
  from: (shown) => shown * by,
  digits,
});

/** kPa in a pound-force per square inch, and in a bar; litres in a US gallon. NIST SP 811 */
const KPA_PER_PSI = 6.894757;
const KPA_PER_BAR = 100;
const CM_PER_INCH = 2.54;
const LITRES_PER_GALLON = 3.785412;
const CUBIC_METRES = { m3: 1, L: 0.001, "us-gal": LITRES_PER_GALLON / 1000, "imp-gal": 0.00454609 } as const;

/** @example gaugeOf("filterPressure", "us").from(14.5) // 100 kPa, nearly */
export function gaugeOf(kind: PlantKind, units: UnitSystem): Shown {
  const system = UNIT_SYSTEMS[units];
  switch (kind) {
    case "filterPressure":
    case "cleanPressure":
      return units === "us" ? scaled("psi", KPA_PER_PSI, 1) : scaled("bar", KPA_PER_BAR, 2);
    case "flow":
      return units === "us" ? scaled("gpm", LITRES_PER_GALLON, 0) : scaled("L/min", 1, 0);
    case "heater":
      return system.heat === "F"
        ? { unit: "°F", to: (value) => value * 1.8 + 32, from: (shown) => (shown - 32) / 1.8, digits: 0 }
        : scaled("°C", 1, 0);
    case "waterMeter":
      return scaled(
        system.meter === "m3" ? "m³" : words.waterUnits[system.meter],
        CUBIC_METRES[system.meter],
        1,
      );
    case "basinFall":
    case "bucketFall":
      return units === "us" ? scaled("in", 10 * CM_PER_INCH, 2) : scaled("mm", 1, 0);
    case "sight":
      return units === "us" ? scaled("in", CM_PER_INCH, 0) : scaled("cm", 1, 0);
    case "saltDisplay":
    case "controllerChlorine":
      return scaled(units === "us" ? "ppm" : "mg/L", 1, kind === "saltDisplay" ? 0 : 1);
    case "controllerPh":
      return scaled("", 1, 2);
    default:
      return scaled(PLANT[kind].unit, 1, kind === "orp" ? 0 : 1);
  }
}

/** @example gaugeText("orp", 650, "us") // "650 mV" */
export function gaugeText(kind: PlantKind, value: number, units: UnitSystem): string {
  const { to, unit, digits } = gaugeOf(kind, units);
  return `${plain(to(value), digits)} ${unit}`.trim();
}
