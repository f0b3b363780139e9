import { converter, differenceCiede2000, type Rgb } from "culori";

/** How far two colours are apart to an eye, and what a colour is called. */

const apart = differenceCiede2000();

/** ΔE2000; five and more are told apart side by side on a screen. @example differenceOf({ mode: "rgb", r: 1, g: 1, b: 1 }, { mode: "rgb", r: 1, g: 1, b: 1 }) // 0 */
export const differenceOf = (a: Rgb, b: Rgb): number => apart(a, b);

export const COLOUR_NAMES = [
  "clear",
  "pale pink",
  "pink",
  "deep pink",
  "red",
  "orange",
  "yellow",
  "green",
  "blue",
  "violet",
  "purple",
  "brown",
  "grey",
] as const;
export type ColourName = (typeof COLOUR_NAMES)[number];

const toLch = converter("oklch");

/** Hues of OKLCH that names begin at, degrees. */
const HUES: readonly [from: number, name: ColourName][] = [
  [0, "pink"],
  [18, "red"],
  [42, "orange"],
  [78, "yellow"],
  [124, "green"],
  [200, "blue"],
  [285, "violet"],
  [312, "purple"],
  [335, "pink"],
];

/**
 * A word for a colour, for whoever does not see it or wants to be sure.
 * @example colourName({ mode: "rgb", r: 1, g: 1, b: 1 }) // "clear"
 */
export function colourName(colour: Rgb): ColourName {
  const { l, c, h = 0 } = toLch(colour);
  if (c < 0.012) return l > 0.8 ? "clear" : "grey";
  if (c < 0.03 && l > 0.9) return isPink(h) ? "pale pink" : "clear";
  const name = HUES.findLast(([from]) => h >= from)?.[1] ?? "pink";
  if (name === "pink") return l > 0.88 ? "pale pink" : l > 0.6 ? "pink" : "deep pink";
  if (name === "orange" && l < 0.55) return "brown";
  return c < 0.035 ? "grey" : name;
}

const isPink = (hue: number): boolean => hue >= 312 || hue < 42;

/** As `#rrggbb`. @example hexOf({ mode: "rgb", r: 1, g: 0, b: 0 }) // "#ff0000" */
export const hexOf = ({ r, g, b }: Rgb): string =>
  `#${[r, g, b]
    .map((part) =>
      Math.round(part * 255)
        .toString(16)
        .padStart(2, "0"),
    )
    .join("")}`;
