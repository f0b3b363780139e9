/** npm run charts: draws the charts of docs/chemistry.md from the core, by Chart.js in headless Chromium. */
import { mkdirSync } from "node:fs";
import { join } from "node:path";
import type { ChartConfiguration } from "chart.js";
import { chlorineShares, type Sample, saturation } from "#core";
import { openBrowser } from "./lib/browser.mjs";

const FOLDER = join(import.meta.dirname, "..", "docs", "charts");
const WATER: Sample = {
  ph: 7.5,
  totalAlkalinity: 100,
  calciumHardness: 300,
  cyanuricAcid: 30,
  freeChlorine: 3,
  borate: 0,
  temperature: 25,
  totalDissolvedSolids: 1000,
};
const INK = "#1f1b15";
const LINES = ["#1f1b15", "#84191b", "#5b6539", "#6e4300", "#22263d"];
const DASHES = [[], [8, 4], [3, 3], [12, 3, 3, 3], [1, 3]];

const steps = (from: number, to: number, count: number) =>
  Array.from({ length: count + 1 }, (_, index) => from + ((to - from) * index) / count);

interface Line {
  label: string;
  points: { x: number; y: number }[];
}

function chart(
  title: string,
  x: string,
  y: string,
  lines: Line[],
  logarithmic = false,
): ChartConfiguration<"line"> {
  const font = { family: "sans-serif", size: 14 };
  return {
    type: "line",
    data: {
      datasets: lines.map(({ label, points }, index) => ({
        label,
        data: points,
        borderColor: LINES[index] ?? INK,
        borderDash: DASHES[index] ?? [],
        borderWidth: 2,
        pointRadius: 0,
      })),
    },
    options: {
      animation: false,
      responsive: false,
      color: INK,
      font,
      plugins: { title: { display: true, text: title, color: INK, font: { ...font, size: 17 } } },
      scales: {
        x: { type: "linear", title: { display: true, text: x, font }, ticks: { font } },
        y: {
          type: logarithmic ? "logarithmic" : "linear",
          title: { display: true, text: y, font },
          ticks: { font },
        },
      },
    },
  };
}

const CHARTS: Record<string, ChartConfiguration<"line">> = {
  "hypochlorous-acid": chart(
    "HOCl at FC 3 mg/L, 25 °C",
    "pH",
    "HOCl, mg/L as Cl2",
    [0, 10, 30, 50, 100].map((cyanuricAcid) => ({
      label: `CYA ${cyanuricAcid}`,
      points: steps(6.8, 8.4, 64).map((ph) => ({
        x: ph,
        y: chlorineShares({ ...WATER, ph, cyanuricAcid }).hypochlorousAcid,
      })),
    })),
    true,
  ),
  "saturation-corrected": chart(
    "Saturation index, TA 100, CH 300, pH 7.5, 25 °C",
    "CYA, mg/L",
    "index",
    [
      ["full, corrected", (water: Sample) => saturation(water).full.corrected],
      ["full, as titrated", (water: Sample) => saturation(water).full.titrated],
    ].map(([label, index]) => ({
      label: label as string,
      points: steps(0, 150, 60).map((cyanuricAcid) => ({
        x: cyanuricAcid,
        y: (index as (water: Sample) => number)({ ...WATER, cyanuricAcid }),
      })),
    })),
  ),
};

mkdirSync(FOLDER, { recursive: true });
const browser = await openBrowser();
const page = await browser.page({ width: 820, height: 520 });
await page.setContent(
  '<body style="margin:0;background:#fffcf3"><canvas width="800" height="500"></canvas></body>',
);
await page.addScriptTag({
  path: join(import.meta.dirname, "..", "node_modules", "chart.js", "dist", "chart.umd.min.js"),
});
for (const [name, config] of Object.entries(CHARTS)) {
  await page.evaluate((given) => {
    // biome-ignore lint/suspicious/noExplicitAny: put there by the script above
    const { Chart } = window as any;
    const canvas = document.querySelector("canvas");
    Chart.getChart(canvas)?.destroy();
    new Chart(canvas, given);
  }, config as never);
  await page.screenshot({ path: join(FOLDER, `${name}.png`) });
  console.log(`docs/charts/${name}.png`);
}
await browser.close();
