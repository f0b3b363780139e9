import type { Solver } from "./programme";

/** What is used of the HiGHS solver: handed in by whoever loaded it, so that the core loads nothing. */
export interface Highs {
  solve(
    programme: string,
    options?: Record<string, unknown>,
  ): { Status: string; Columns: Record<string, { Primal?: number }> };
}

/** HiGHS as the planner's solver. The gap is far under what a scale can weigh. */
export const solverOf =
  (highs: Highs): Solver =>
  (programme) => {
    const answer = highs.solve(programme, { mip_rel_gap: 1e-5, output_flag: false });
    if (answer.Status !== "Optimal") return null;
    return new Map(Object.entries(answer.Columns).map(([name, { Primal }]) => [name, Primal ?? 0]));
  };
