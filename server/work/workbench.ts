import type {
  CallWorth,
  Fan,
  FirmLearned,
  FirmLog,
  HoldAnswer,
  HoldBasis,
  HorizonPlan,
  HorizonProblem,
  NoRecipe,
  Recipe,
  RecipeId,
  RecipeInput,
} from "#core";
import type { ImportJob } from "../exchange/import/run";
import type { CardSheet } from "../visits/card-sheet";
import type { CustomerSheet } from "../visits/customer-sheet";

/**
 * What takes long enough to keep others waiting is done beside the event loop, in threads: planning,
 * drawing a PDF, reading a file in.
 */
export interface Workbench {
  /** The plan over the next calls, and the water until the first of them; null where the problem has none. */
  ahead(problem: HorizonProblem): Promise<{ plan: HorizonPlan; fan: Fan } | null>;
  /** A recipe, or why there is none. */
  recipe(id: RecipeId, given: RecipeInput): Promise<Recipe | NoRecipe>;
  /** What a firm's log teaches. */
  learn(log: FirmLog): Promise<FirmLearned>;
  /** What would hold each of these, and what calls there are worth; null where that is not told. */
  hold(bases: readonly HoldBasis[]): Promise<{ hold: HoldAnswer | null; worth: CallWorth | null }[]>;
  /** The customer's sheet, on paper, in the language of the request. */
  /** @param pictures JPEGs that go on it */
  pdf(sheet: CustomerSheet, pictures: readonly Uint8Array[]): Promise<Uint8Array>;
  /** The letter of a visit to whoever owns the water, in the language of their site. */
  letter(
    sheet: CustomerSheet,
    links: { sheet: string; stop: string },
  ): Promise<{ subject: string; text: string }>;
  /** The card by the water, on paper, in the language of the request. */
  cardPdf(card: CardSheet): Promise<Uint8Array>;
  /** Reads a file in by a connection of its own; how it goes is told at the job's port. Whether it has to be done again. */
  importFile(job: ImportJob, signal: AbortSignal): Promise<boolean>;
  close(): Promise<void>;
}
