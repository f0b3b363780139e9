import type { Finding, NoDoseReason, Quantity } from "#core";
import { words } from "./language";
import { bracketText, quantityName } from "./names";
import { durationText } from "./numbers";

/** What one reading says, and what to do about it. */

/** A finding as one short sentence. `value` and `limit` are already written with their units. */
export function findingSentence(finding: Finding, value: string, limit: string): string {
  const said = {
    name: quantityName(finding.quantity),
    value: bracketText(finding, value, value),
    limit,
  };
  return finding.code.endsWith(".low") ? words.finding.low(said) : words.finding.high(said);
}

export const noDoseReason = (reason: NoDoseReason): string => words.noDose[reason];

export const waitText = (quantity: Quantity): string =>
  quantity === "freeChlorine" ? words.waitFor.freeChlorine : words.waitFor.combinedChlorine;

/** @example purpose(finding) // "Raise total alkalinity" */
export function purpose({ code, quantity }: Pick<Finding, "code" | "quantity">): string {
  const name = words.quantities[quantity].inText;
  if (code.endsWith(".low")) return words.purposes.raise({ name });
  return quantity === "combinedChlorine" ? words.purposes.burnOff({ name }) : words.purposes.lower({ name });
}

/** What a save met, by the status it was answered with. */
export function unsavedText(status: number): string {
  if (status === 403) return words.trouble.unsaved.forbidden;
  return status === 400 || status === 413 ? words.trouble.unsaved.refused : words.trouble.unsaved.failed;
}

/** How long to wait after a step. @param minutes */
export function waitAfter(minutes: number): string {
  const said = words.plan.wait;
  const time = durationText(minutes * 60);
  if (minutes < 60) return said.circulate({ time });
  return minutes === ONE_TURNOVER ? said.turnover({ time }) : said.then({ time });
}

/** Minutes that a turnover is taken to last. */
const ONE_TURNOVER = 240;
