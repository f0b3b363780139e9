import { converter, type Rgb, toGamut } from "culori";

/**
 * Light through a coloured liquid: daylight in bands of 20 nm, each weakened by the dyes in its path
 * (Beer–Lambert), then to what an eye and a screen make of it.
 */

/** Middles of the bands, nm. */
export const BANDS = [
  400, 420, 440, 460, 480, 500, 520, 540, 560, 580, 600, 620, 640, 660, 680, 700,
] as const;

/** Absorbance in each band. */
export type Absorbance = readonly number[];

/** Daylight, CIE standard illuminant D65, relative; CIE 15. */
const DAYLIGHT = [
  82.75, 93.43, 104.86, 117.81, 115.92, 109.35, 104.79, 104.41, 100, 95.79, 90.01, 87.7, 83.7, 80.21, 78.28,
  71.61,
];
/** What an eye makes of each band: CIE 1931 colour-matching functions, 2° observer; CIE 15. */
const EYE = {
  x: [
    0.0143, 0.1344, 0.3483, 0.2908, 0.0956, 0.0049, 0.0633, 0.2904, 0.5945, 0.9163, 1.0622, 0.8544, 0.4479,
    0.1649, 0.0468, 0.0114,
  ],
  y: [
    0.0004, 0.004, 0.023, 0.06, 0.139, 0.323, 0.71, 0.954, 0.995, 0.87, 0.631, 0.381, 0.175, 0.061, 0.017,
    0.0041,
  ],
  z: [
    0.0679, 0.6456, 1.7471, 1.6692, 0.813, 0.272, 0.0782, 0.0203, 0.0039, 0.0017, 0.0008, 0.0002, 0, 0, 0, 0,
  ],
} as const;

const weigh = (eye: readonly number[]): number[] => eye.map((sees, band) => sees * (DAYLIGHT[band] ?? 0));
const WEIGHTS = { x: weigh(EYE.x), y: weigh(EYE.y), z: weigh(EYE.z) };
const total = (weights: readonly number[]): number => weights.reduce((sum, one) => sum + one, 0);
const WHITE = { x: total(WEIGHTS.x), y: total(WEIGHTS.y), z: total(WEIGHTS.z) };
/** Of D65, by definition of sRGB: so that clear water is white on a screen, whatever bands leave out. */
const SCREEN_WHITE = { x: 0.95047, y: 1, z: 1.08883 };

/** White paper behind glass sends back so much: what is clear is not the brightest that a screen has. */
const PAPER = 0.88;
/** What a screen cannot show keeps its hue and loses chroma. */
const toScreen = toGamut("rgb", "oklch");
const toRgb = converter("rgb");

/**
 * The colour of daylight that has gone through a liquid, on an sRGB screen; parts 0…1.
 * @param absorbance in each of `BANDS`, path included
 * @example lightThrough([]).r > 0.95 // true
 */
export function lightThrough(absorbance: Absorbance): Rgb {
  const seen = (name: "x" | "y" | "z"): number => {
    let sum = 0;
    for (let band = 0; band < BANDS.length; band++)
      sum += (WEIGHTS[name][band] ?? 0) * 10 ** -Math.max(0, absorbance[band] ?? 0);
    return (PAPER * sum * SCREEN_WHITE[name]) / WHITE[name];
  };
  const { r, g, b } = toRgb(toScreen({ mode: "xyz65", x: seen("x"), y: seen("y"), z: seen("z") }));
  return { mode: "rgb", r: onScreen(r), g: onScreen(g), b: onScreen(b) };
}

const onScreen = (part: number): number => Math.min(1, Math.max(0, part));

/** A dye's absorbance: a sum of bell curves on the wavelength. */
export interface Peak {
  /** nm */
  at: number;
  /** Standard deviation, nm. */
  width: number;
  /** Absorbance at its top, for one unit of the dye and a centimetre of path. */
  height: number;
}

/** @example peaks([{ at: 500, width: 20, height: 1 }])[5] // 1 */
export const peaks = (list: readonly Peak[]): number[] =>
  BANDS.map((nm) =>
    list.reduce((sum, { at, width, height }) => sum + height * Math.exp(-(((nm - at) / width) ** 2) / 2), 0),
  );

/**
 * Dyes one beside another: their absorbances add up.
 * @example together([[[1, 2], 2], [[1, 0], 1]]) // [3, 4]
 */
export function together(parts: readonly (readonly [dye: Absorbance, amount: number])[]): number[] {
  const [first] = parts;
  return (first?.[0] ?? []).map((_, band) =>
    parts.reduce((sum, [dye, amount]) => sum + (dye[band] ?? 0) * amount, 0),
  );
}
