import type { Colour, Kit, ScaleMethod, Step } from "../kit";

const STRIP = "six-pad strip";
const dip = (strip: string): Step[] => [{ reagent: strip, amount: 1, measure: "strips", mix: "dip" }];

const pad = (
  id: string,
  quantity: ScaleMethod["quantity"],
  name: string,
  marks: number[],
  before: Colour,
  after: Colour,
  readAt: number,
  strip = STRIP,
): ScaleMethod => ({
  id,
  quantity,
  kind: "strip",
  strip,
  readAt,
  name,
  sample: 1,
  steps: dip(strip),
  marks,
  before,
  after,
});

const white = { word: "white", swatch: "#f4f3ee" };

const violet = { word: "violet", swatch: "#7a3f8f" };
const yellow = { word: "yellow", swatch: "#e6c73c" };

/** Strips for a quick look, each pad with its own time, and a meter for temperature and dissolved solids. */
export const STRIP_KIT: Kit = {
  name: "Strip and meter",
  methods: [
    pad("strip-free-chlorine", "freeChlorine", "Free chlorine pad", [0, 0.5, 1, 3, 5, 10], white, violet, 15),
    pad(
      "strip-total-chlorine",
      "totalChlorine",
      "Total chlorine pad",
      [0, 0.5, 1, 3, 5, 10],
      white,
      { word: "green-blue", swatch: "#2f8a86" },
      15,
    ),
    pad(
      "strip-ph",
      "ph",
      "pH pad",
      [6.2, 6.8, 7.2, 7.8, 8.4],
      { word: "orange", swatch: "#e0812f" },
      { word: "dark red", swatch: "#8f2338" },
      15,
    ),
    pad(
      "strip-alkalinity",
      "totalAlkalinity",
      "Alkalinity pad",
      [0, 40, 80, 120, 180, 240],
      yellow,
      { word: "blue-green", swatch: "#2c6d63" },
      20,
    ),
    pad(
      "strip-total-hardness",
      "totalHardness",
      "Total hardness pad",
      [0, 100, 250, 500, 1000],
      { word: "blue", swatch: "#3b56a3" },
      { word: "red-violet", swatch: "#a23a73" },
      20,
    ),
    pad(
      "strip-cyanuric-acid",
      "cyanuricAcid",
      "Stabilizer pad",
      [0, 30, 50, 100, 150],
      { word: "yellow-orange", swatch: "#e8a33d" },
      { word: "purple-red", swatch: "#8e3a5f" },
      30,
    ),
    pad("strip-bromine", "bromine", "Bromine pad", [0, 1, 2, 4, 6, 10], white, violet, 15, "bromine strip"),
    // A strip of this kind draws the water up for minutes; its lowest line is no zero.
    pad(
      "strip-salt",
      "salt",
      "Salt strip",
      [1000, 2000, 2500, 3000, 3500, 4000, 5000],
      { word: "brown", swatch: "#8a5a3c" },
      { word: "white column", swatch: "#f4f3ee" },
      240,
      "salt strip",
    ),
    {
      id: "temperature-meter",
      quantity: "temperature",
      kind: "meter",
      name: "Water temperature",
      steps: [],
      accuracy: 0.5,
    },
    {
      id: "dissolved-solids-meter",
      quantity: "totalDissolvedSolids",
      kind: "meter",
      name: "Dissolved solids",
      steps: [],
      accuracy: 20,
      relative: 0.03,
    },
  ],
};
