import type { Chart } from "chart.js";

/**
 * Charts that share one span of time and one cursor: where one is zoomed or pointed at, all follow.
 */
export class LinkedCharts {
  private readonly charts = new Set<Chart>();
  /** The moment under the cursor, ms; null where there is none. */
  cursor: number | null = null;
  private told: ((at: number | null) => void) | null = null;

  add(chart: Chart): () => void {
    this.charts.add(chart);
    return () => {
      this.charts.delete(chart);
    };
  }

  /** Hears the moment under the cursor. */
  listen(told: (at: number | null) => void): void {
    this.told = told;
  }

  point(at: number | null): void {
    if (at === this.cursor) return;
    this.cursor = at;
    for (const chart of this.charts) chart.draw();
    this.told?.(at);
  }

  /** Shows a span on every chart. */
  span(min: number, max: number): void {
    for (const chart of this.charts) {
      const { x } = chart.options.scales ?? {};
      if (!x) continue;
      x.min = min;
      x.max = max;
      chart.update("none");
    }
  }
}
