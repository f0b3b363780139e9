import type { Solver } from "./programme";

/** What is used of the HiGHS solver: handed in by whoever loaded it, so that the core loads nothing. */
export interface Highs {
  solve(
    programme: string,
    options?: Record<string, unknown>,
  ): { Status: string; Columns: Record<string, { Primal?: number }> };
}

/**
 * The gap is far under what a scale can weigh. With so few choices branching is through before any heuristic pays:
 * they take three quarters of the time and find the same.
 */
const OPTIONS = {
  mip_rel_gap: 1e-5,
  mip_heuristic_effort: 0,
  mip_heuristic_run_rens: false,
  mip_heuristic_run_rins: false,
  mip_heuristic_run_root_reduced_cost: false,
  mip_heuristic_run_feasibility_jump: false,
  mip_allow_restart: false,
  presolve: "on",
  output_flag: false,
};

/** HiGHS as the planner's solver. @example typeof solverOf(highs) // "function" */
export const solverOf =
  (highs: Highs): Solver =>
  (programme) => {
    const answer = highs.solve(programme, OPTIONS);
    if (answer.Status !== "Optimal") return null;
    return new Map(Object.entries(answer.Columns).map(([name, { Primal }]) => [name, Primal ?? 0]));
  };
