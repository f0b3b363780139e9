import { CADENCE, type Cadence } from "../testing/order/due";

/** What comes round besides tests. */
export const TASKS = ["shock", "lab-check", "fresh-reagents"] as const;
export type Task = (typeof TASKS)[number];

/** How often, in days; 0 is never. What is dosed by its label comes round as the label says. */
export interface TaskCadence {
  shock: number;
  /** In heat. */
  shockInHeat: number;
  /** Full checks in a season: at opening, in the middle, before closing. */
  labChecks: number;
  /** Fresh reagents at the start of the season: 1 yes, 0 no. */
  freshReagents: number;
}

export interface WholeCadence {
  tests: Cadence;
  tasks: TaskCadence;
}

/** Usual practice: chlorine and pH always, a shock every other week and weekly in heat, three full checks. */
export const USUAL_CADENCE: WholeCadence = {
  tests: CADENCE,
  tasks: { shock: 14, shockInHeat: 7, labChecks: 3, freshReagents: 1 },
};

/** What a firm or a basin does otherwise. */
export interface CadenceChange {
  tests?: Cadence;
  tasks?: Partial<TaskCadence>;
}

/**
 * The usual cadence with changes put over it, the last one strongest.
 * @example cadenceWith({ tests: { ph: 2 } }, null).tests.ph // 2
 */
export const cadenceWith = (...changes: (CadenceChange | null)[]): WholeCadence =>
  changes.reduce<WholeCadence>(
    (cadence, change) => ({
      tests: { ...cadence.tests, ...change?.tests },
      tasks: { ...cadence.tasks, ...change?.tasks },
    }),
    USUAL_CADENCE,
  );
