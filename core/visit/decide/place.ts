import type { Fact } from "../facts";
import type { DecisionInput } from "./input";
import { fact } from "./seen";

/** Degrees that are kept: a metre or so. */
const DIGITS = 5;
const rounded = (degrees: number): number => Number(degrees.toFixed(DIGITS));

/** Marks where the visit began, once, or where it ended, as often as somebody comes to close it. */
export function markPlace({ written, command }: DecisionInput<"place">): Fact[] {
  const { which, latitude, longitude, accuracy } = command.given;
  if (which === "start" && written.places?.start) return [];
  return [
    fact(command, "placed", {
      which,
      place: {
        latitude: rounded(latitude),
        longitude: rounded(longitude),
        accuracy: Math.round(accuracy),
        at: command.at,
      },
    }),
  ];
}
