import { convert } from "./convert";
import { answerLine } from "./verb";

export { InputFault } from "../fault";
export { faultAnswer } from "./verb";

/** The verbs of the command line: how to answer a line, and what to say under --help. */
export const VERBS = {
  convert: {
    answer: (line: string) => answerLine(convert, line),
    help: `convert: a count of drops to mg/L.
  {"method":"free-chlorine-fas-dpd","sample":25,"count":23}   a method of the default kit
  {"factor":0.2,"count":23}                                   a stated worth of one drop
  {"normality":0.1,"dropVolume":0.05,"equivalentWeight":50.04,"sample":25,"count":9}   an own kit (eq/L, mL, mg/meq, mL)
  optional: "dilution" (1 undiluted, 2 one part with one part)
answers {"value","unit","low","high","bound","factor"}, or {"error":{"code","field","value","limit","message"}}`,
  },
} as const;
