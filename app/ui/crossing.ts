import { millisecondsInDay } from "date-fns/constants";
import { type Crossing, dayIn, type UnitSystem } from "#core";
import { type Chance, quantityName, words } from "../words";
import { dayText, toldLimit, weekdayText, withUnit } from "./format";

/** Days that are told by their name. */
const NEAR_DAYS = 6;

/** An edge that will be passed, in words: "Free chlorine will probably fall below 2.6 ppm about Saturday." */
export function crossingText(
  { quantity, edge, limit, at, chance }: Crossing,
  units: UnitSystem,
  timeZone: string,
  now: Date,
): string {
  const said = words.habits;
  const name = quantityName(quantity);
  const edgeText = withUnit(quantity, toldLimit(quantity, limit), units);
  if (at <= now.getTime()) return said.crossed({ name, edge, limit: edgeText, chance: likelihood(chance) });
  const day = dayIn(new Date(at), timeZone);
  const isNear = at - now.getTime() < NEAR_DAYS * millisecondsInDay;
  return said.crosses({
    name,
    edge,
    limit: edgeText,
    day: isNear ? weekdayText(day) : dayText(day),
    chance: likelihood(chance),
  });
}

function likelihood(chance: number): Chance {
  if (chance < 0.65) return "maybe";
  return chance < 0.9 ? "likely" : "surely";
}
