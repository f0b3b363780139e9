import type { Chart } from "chart.js";

/** Chart.js and its zoom, loaded when the first chart is drawn. */
let loading: Promise<typeof Chart> | null = null;
export function loadCharts(): Promise<typeof Chart> {
  loading ??= Promise.all([import("chart.js"), import("chartjs-plugin-zoom")]).then(([charts, zoom]) => {
    charts.Chart.register(
      charts.LineController,
      charts.LineElement,
      charts.PointElement,
      charts.LinearScale,
      charts.Filler,
      charts.Tooltip,
      zoom.default,
    );
    return charts.Chart;
  });
  return loading;
}

/** A colour of the page, for a canvas. @example inkOf("rule") */
export const inkOf = (name: string): string =>
  getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim();

/** The page's own letters, for a canvas. */
export const letters = (pixels: number): string =>
  `${pixels}px ${getComputedStyle(document.body).fontFamily}`;
