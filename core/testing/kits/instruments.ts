import type { Quantity } from "../../measure/quantity";
import type { Kit, MeterMethod } from "../kit";

const number = (
  source: "photometer" | "lab",
  quantity: Quantity,
  name: string,
  accuracy: number,
  relative?: number,
): MeterMethod => ({
  id: `${source}-${quantity.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`)}`,
  quantity,
  kind: "meter",
  source,
  name,
  steps: [],
  accuracy,
  ...(relative === undefined ? {} : { relative }),
});

/** What comes as a number: a photometer's display, or a laboratory's sheet, each with its stated accuracy. */
export const INSTRUMENT_KIT: Kit = {
  name: "Photometer and lab sheet",
  methods: [
    number("photometer", "freeChlorine", "Free chlorine, photometer", 0.1, 0.04),
    number("photometer", "totalChlorine", "Total chlorine, photometer", 0.1, 0.04),
    number("photometer", "combinedChlorine", "Combined chlorine, photometer", 0.1, 0.05),
    number("photometer", "bromine", "Bromine, photometer", 0.2, 0.04),
    number("photometer", "ph", "pH, photometer", 0.1),
    number("photometer", "totalAlkalinity", "Alkalinity, photometer", 5, 0.05),
    number("photometer", "calciumHardness", "Calcium hardness, photometer", 10, 0.08),
    number("photometer", "cyanuricAcid", "Stabilizer, photometer", 5, 0.1),
    number("photometer", "salt", "Salt, photometer", 200, 0.1),
    number("photometer", "phosphate", "Phosphate, photometer", 0.05, 0.1),
    number("photometer", "iron", "Iron, photometer", 0.03, 0.05),
    number("photometer", "copper", "Copper, photometer", 0.05, 0.05),
    number("lab", "freeChlorine", "Free chlorine, lab sheet", 0.05, 0.02),
    number("lab", "combinedChlorine", "Combined chlorine, lab sheet", 0.05, 0.05),
    number("lab", "bromine", "Bromine, lab sheet", 0.1, 0.02),
    number("lab", "ph", "pH, lab sheet", 0.05),
    number("lab", "totalAlkalinity", "Alkalinity, lab sheet", 2, 0.02),
    number("lab", "calciumHardness", "Calcium hardness, lab sheet", 3, 0.02),
    number("lab", "totalHardness", "Total hardness, lab sheet", 3, 0.02),
    number("lab", "cyanuricAcid", "Stabilizer, lab sheet", 2, 0.05),
    number("lab", "salt", "Salt, lab sheet", 20, 0.02),
    number("lab", "totalDissolvedSolids", "Dissolved solids, lab sheet", 10, 0.02),
    number("lab", "borate", "Borate, lab sheet", 1, 0.05),
    number("lab", "phosphate", "Phosphate, lab sheet", 0.02, 0.05),
    number("lab", "iron", "Iron, lab sheet", 0.02, 0.05),
    number("lab", "copper", "Copper, lab sheet", 0.02, 0.05),
  ],
};
