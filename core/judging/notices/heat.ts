import type { Measurement } from "../../measure/quantity";
import type { Sanitiser } from "../../measure/sanitiser";
import { COLD_SHOCK, HOTTEST_BATH } from "../../ranges/bathing-limits";
import type { Notice } from "./notice";

/** °C from which children and pregnant women are named: they overheat before the limit that closes. */
const WARM_BATH = 38;

/** What the temperature alone asks to be minded. */
export function heat(temperature: Measurement | undefined): Notice[] {
  if (!temperature) return [];
  const { value } = temperature;
  if (value >= WARM_BATH) return [{ code: "water.hot", temperature: value, limit: HOTTEST_BATH }];
  return value < COLD_SHOCK ? [{ code: "water.cold", temperature: value, limit: COLD_SHOCK }] : [];
}

/** °C under which most cells give little, or stop by themselves. */
const COLD_CELL = 15;

/** Why a cell gives little: salt under what its plate asks for, or water that is cold. */
export function cell(
  sanitiser: Sanitiser,
  salt: Measurement | undefined,
  least: number | undefined,
  temperature: Measurement | undefined,
): Notice[] {
  if (sanitiser !== "salt-cell") return [];
  return [
    ...(salt && least !== undefined && salt.bound !== "at-least" && salt.value < least
      ? [{ code: "cell.low-salt" as const, salt: salt.value, least }]
      : []),
    ...(temperature && temperature.value < COLD_CELL
      ? [{ code: "cell.cold" as const, temperature: temperature.value, limit: COLD_CELL }]
      : []),
  ];
}
