import type { Colour, Kit, ScaleMethod, Step } from "../kit";

const STRIP = "six-pad strip";
const DIP: Step[] = [{ reagent: STRIP, amount: 1, measure: "strips", mix: "dip", wait: 15 }];

const pad = (
  id: string,
  quantity: ScaleMethod["quantity"],
  name: string,
  marks: number[],
  before: Colour,
  after: Colour,
): ScaleMethod => ({
  id,
  quantity,
  kind: "strip",
  strip: STRIP,
  name,
  sample: 1,
  steps: DIP,
  marks,
  before,
  after,
});

const white = { word: "white", swatch: "#f4f3ee" };

/** A strip for a quick look, and a meter for temperature and dissolved solids. */
export const STRIP_KIT: Kit = {
  name: "Strip and meter",
  methods: [
    pad("strip-free-chlorine", "freeChlorine", "Free chlorine pad", [0, 0.5, 1, 3, 5, 10], white, {
      word: "violet",
      swatch: "#7a3f8f",
    }),
    pad("strip-total-chlorine", "totalChlorine", "Total chlorine pad", [0, 0.5, 1, 3, 5, 10], white, {
      word: "green-blue",
      swatch: "#2f8a86",
    }),
    pad(
      "strip-ph",
      "ph",
      "pH pad",
      [6.2, 6.8, 7.2, 7.8, 8.4],
      { word: "orange", swatch: "#e0812f" },
      {
        word: "dark red",
        swatch: "#8f2338",
      },
    ),
    pad(
      "strip-alkalinity",
      "totalAlkalinity",
      "Alkalinity pad",
      [0, 40, 80, 120, 180, 240],
      {
        word: "yellow",
        swatch: "#e6c73c",
      },
      { word: "blue-green", swatch: "#2c6d63" },
    ),
    pad(
      "strip-total-hardness",
      "totalHardness",
      "Total hardness pad",
      [0, 100, 250, 500, 1000],
      {
        word: "blue",
        swatch: "#3b56a3",
      },
      { word: "red-violet", swatch: "#a23a73" },
    ),
    pad(
      "strip-cyanuric-acid",
      "cyanuricAcid",
      "Stabilizer pad",
      [0, 30, 50, 100, 150],
      {
        word: "yellow-orange",
        swatch: "#e8a33d",
      },
      { word: "purple-red", swatch: "#8e3a5f" },
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
