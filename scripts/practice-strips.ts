/** npm run practice:strips: the colours of the practice bench as strips of nine patches, docs/practice/*.svg. */
import { writeFileSync } from "node:fs";
import {
  alkalinity,
  dpd,
  hardness,
  PATH,
  phenol,
  pinkOf,
  salt,
  totalYellow,
} from "../core/practice/colour/looks";
import { colourName, hexOf } from "../core/practice/colour/names";

const nine = (from: number, to: number): number[] =>
  Array.from({ length: 9 }, (_, at) => from + ((to - from) * at) / 8);
const round = (value: number) => String(Math.round(value * 100) / 100);

const STRIPS: Record<string, { label: string; colour: Parameters<typeof hexOf>[0] }[]> = {
  // From a pink of 4 mg/L to clear, and past it.
  chlorine: nine(4, -0.5).map((left) => ({
    label: round(left),
    colour: dpd(Math.max(0, left), PATH.vessel),
  })),
  bleaching: nine(0, 12).map((chlorine) => ({
    label: round(chlorine),
    colour: dpd(pinkOf(chlorine, 5), PATH.cell),
  })),
  "phenol-red": nine(6.6, 8.6).map((ph) => ({
    label: round(ph),
    colour: phenol({ ph, chlorine: 1, temperature: 25, solids: 1000 }),
  })),
  "phenol-purple": nine(8, 16).map((chlorine) => ({
    label: round(chlorine),
    colour: phenol({ ph: 7.4, chlorine, temperature: 25, solids: 1000 }),
  })),
  alkalinity: [7.6, 7, 6.5, 6, 5.6, 5.2, 4.8, 4.5, 3.8].map((ph) => ({
    label: round(ph),
    colour: alkalinity(ph, 0),
  })),
  "alkalinity-without-thiosulfate": [7.6, 7, 6.5, 6, 5.6, 5.2, 4.8, 4.5, 3.8].map((ph) => ({
    label: round(ph),
    colour: alkalinity(ph, 1),
  })),
  hardness: nine(0, 1).map((free) => ({ label: round(free), colour: hardness(free, 0) })),
  "hardness-with-copper": nine(0, 1).map((free) => ({ label: round(free), colour: hardness(free, 0.85) })),
  salt: nine(0, 1).map((brick) => ({ label: round(brick), colour: salt(brick) })),
  "total-yellow": nine(0, 10).map((chlorine) => ({
    label: round(chlorine),
    colour: totalYellow(chlorine, PATH.cell),
  })),
};

const WIDE = 76;
for (const [name, patches] of Object.entries(STRIPS)) {
  const cells = patches
    .map(
      ({ label, colour }, at) =>
        `<rect x="${at * WIDE}" y="0" width="${WIDE - 4}" height="56" rx="4" fill="${hexOf(colour)}" stroke="#8a8577"/>` +
        `<text x="${at * WIDE + (WIDE - 4) / 2}" y="72" text-anchor="middle">${label}</text>` +
        `<text x="${at * WIDE + (WIDE - 4) / 2}" y="88" text-anchor="middle">${colourName(colour)}</text>`,
    )
    .join("");
  writeFileSync(
    `docs/practice/${name}.svg`,
    `<svg xmlns="http://www.w3.org/2000/svg" width="${9 * WIDE}" height="94" font-family="sans-serif" font-size="12" fill="#33312b">${cells}</svg>\n`,
  );
}
