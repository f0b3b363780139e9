import loadHighs from "highs";
import {
  callsWorthOf,
  type FirmLog,
  fanOf,
  type Highs,
  type HoldBasis,
  type HorizonProblem,
  holdOf,
  horizonPlan,
  InputFault,
  learnFirm,
  type RecipeId,
  type RecipeInput,
  recipeFor,
  solverOf,
} from "#core";
import type { CardSheet } from "#server/visits/card-sheet";
import type { CustomerSheet } from "#server/visits/customer-sheet";
import { LANGUAGES } from "../messages/compiled/all";
import { speak } from "../words";
import { cardPdfOf } from "./card-pdf";
import { pdfOf } from "./customer-pdf";
import { letterOf } from "./letter";

/** What a thread of the workbench can do; each export is one kind of work. See `Workbench`. */

/** Loaded once a thread, at its first plan. */
let loading: ReturnType<typeof load> | undefined;
const load = async () => solverOf((await loadHighs()) as unknown as Highs);
const solver = () => {
  loading ??= load();
  return loading;
};

export async function ahead(problem: HorizonProblem) {
  try {
    const plan = horizonPlan(problem, await solver());
    return { plan, fan: fanOf(problem, plan) };
  } catch (fault) {
    // Readings that make no water pose no problem.
    if (fault instanceof InputFault) return null;
    throw fault;
  }
}

export const recipe = async ({ id, given }: { id: RecipeId; given: RecipeInput }) =>
  recipeFor(id, given, await solver());

export const learn = (log: FirmLog) => learnFirm(log);

export const hold = (bases: readonly HoldBasis[]) => bases.map(heldOrNot);

/** A basin whose water cannot be worked out is told nothing of; the others are. */
function heldOrNot(basis: HoldBasis) {
  try {
    return { hold: holdOf(basis), worth: callsWorthOf(basis) };
  } catch (fault) {
    if (fault instanceof InputFault) return { hold: null, worth: null };
    throw fault;
  }
}

/** A thread does one work at a time: what it speaks is set for each. */
function speakIn(language: string): void {
  const found = LANGUAGES[language];
  if (found) speak(found);
}

export function cardPdf({ card, language }: { card: CardSheet; language: string }) {
  speakIn(language);
  return cardPdfOf(card);
}

export function pdf({
  sheet,
  pictures,
  language,
}: {
  sheet: CustomerSheet;
  pictures: readonly Uint8Array[];
  language: string;
}) {
  speakIn(language);
  return pdfOf(sheet, pictures);
}

/** In the language of the site, or of the product where nobody said: no browser asks here. */
export function letter({ sheet, links }: { sheet: CustomerSheet; links: { sheet: string; stop: string } }) {
  speakIn(sheet.language ?? "en");
  return letterOf(sheet, links);
}

export { importFile } from "#server/exchange/import/run";
