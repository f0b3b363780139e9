import type { Kit } from "../kit";

const clear = { word: "clear", swatch: "#f4f3ee" };

/** The small case for what is no routine: metals, phosphate and borate. */
export const TRACES_KIT: Kit = {
  name: "Metals, phosphate and borate",
  methods: [
    {
      // A borate pad reads by tens at best: enough for what it does to the acid.
      id: "borate-strip",
      quantity: "borate",
      kind: "strip",
      name: "Borate pad",
      strip: "borate strip",
      sample: 1,
      readAt: 30,
      steps: [{ reagent: "borate strip", amount: 1, measure: "strips", mix: "dip" }],
      marks: [0, 15, 30, 50, 80],
      before: { word: "yellow", swatch: "#e6c73c" },
      after: { word: "red-brown", swatch: "#8a4a32" },
    },
    {
      // Molybdenum blue: free phosphate only.
      id: "phosphate-color",
      quantity: "phosphate",
      kind: "comparator",
      name: "Phosphate by color",
      sample: 10,
      steps: [
        { reagent: "phosphate acid reagent", amount: 5, measure: "drops", mix: "invert" },
        { reagent: "phosphate powder", amount: 1, measure: "scoops", mix: "invert", wait: 300 },
      ],
      marks: [0, 0.1, 0.25, 0.5, 1, 2],
      before: clear,
      after: { word: "blue", swatch: "#2f5fb3" },
      caution: "acid-reagent",
      traps: ["phosphonate"],
    },
    {
      id: "iron-tablet",
      quantity: "iron",
      kind: "comparator",
      name: "Iron, tablet",
      sample: 10,
      steps: [{ reagent: "iron tablet", amount: 1, measure: "tablets", mix: "crush", wait: 60 }],
      marks: [0, 0.1, 0.2, 0.3, 0.5, 1],
      before: clear,
      after: { word: "orange-pink", swatch: "#d98a6a" },
      traps: ["held-metal"],
    },
    {
      id: "copper-tablet",
      quantity: "copper",
      kind: "comparator",
      name: "Copper, tablet",
      sample: 10,
      steps: [{ reagent: "copper tablet", amount: 1, measure: "tablets", mix: "crush", wait: 60 }],
      marks: [0, 0.1, 0.2, 0.3, 0.5, 1, 2],
      before: clear,
      after: { word: "violet", swatch: "#7a3f8f" },
      traps: ["held-metal"],
    },
  ],
};
