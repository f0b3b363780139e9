/** A band with what to aim for inside it, and where the basin must close. In the quantity's unit. */
export interface Range {
  low?: number;
  high?: number;
  aim?: number;
  closeBelow?: number;
  closeAbove?: number;
  /**
   * `low`, `aim` and `high` are hypochlorous acid, mg/L; the free chlorine that gives it follows from the water.
   * What closes is free chlorine all the same.
   */
  heldBy?: "hypochlorous-acid";
  /** Other limits where there is no stabiliser in the water. */
  unstabilised?: Pick<Range, "low" | "closeBelow">;
}
