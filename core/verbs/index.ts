import type { Solver } from "../dosing/plan/programme";
import type { WeekSolver } from "../week/suggest";
import { balance, balanceSchema } from "./balance";
import { convert, convertSchema } from "./convert";
import { dose, doseSchema } from "./dose";
import { effect, effectSchema } from "./effect";
import { holdLine, holdSchema } from "./hold";
import { judge, judgeSchema } from "./judge";
import { learn, learnSchema } from "./learn";
import { plan, planSchema } from "./plan";
import { answerLine } from "./verb";
import { weekLine, weekSchema } from "./week";

export { type Highs, solverOf } from "../dosing/plan/highs";
export { InputFault } from "../fault";
export type { WeekSolver } from "../week/suggest";
export { faultAnswer } from "./verb";

const FAULT = 'or {"error":{"code","field","value","limit","message"}}';

/** The verbs of the command line: how to answer a line, what to say under --help and under --schema. */
export const VERBS = {
  convert: {
    answer: (line: string, _solver?: Solver) => answerLine(convert, line),
    schema: convertSchema,
    help: `convert: a count of drops to mg/L.
  {"method":"free-chlorine-fas-dpd","sample":25,"count":23}   a method of the default kit
  {"factor":0.2,"count":23}                                   a stated worth of one drop
  {"normality":0.1,"dropVolume":0.05,"equivalentWeight":50.04,"sample":25,"count":9}   an own kit (eq/L, mL, mg/meq, mL)
  optional: "dilution" (1 undiluted, 2 one part with one part)
answers {"value","unit","low","high","bound","factor"}, ${FAULT}`,
  },
  balance: {
    answer: (line: string, _solver?: Solver) => answerLine(balance, line),
    schema: balanceSchema,
    help: `balance: what a water is.
  {"ph":7.5,"totalAlkalinity":100,"calciumHardness":300,"cyanuricAcid":30,"freeChlorine":3,"temperature":25,"totalDissolvedSolids":1000,"borate":0}
  mg/L and °C; the last five may be left out, and the answer says what stood in for them
answers {"saturation":{"full":{"corrected","titrated"},"factorSum":{…}},"carbonateAlkalinity","hypochlorousAcid","dissolvedInorganicCarbon","calcitePotential","assumed"}, ${FAULT}`,
  },
  effect: {
    answer: (line: string, _solver?: Solver) => answerLine(effect, line),
    schema: effectSchema,
    help: `effect: the readings after something was done to the water.
  {"water":{"ph":8,"totalAlkalinity":100,"calciumHardness":300},"litres":38000,
   "additions":[{"product":"hydrochloric-acid","strength":0.3145,"grams":592}],"chlorineSpent":false}
  optional: "replaced":{"fraction":0.3,"fill":{…}} (first), "aeratedTo": dissolved CO2 in mol/L (last)
answers the readings, pH solved, with "chlorideAdded" and "assumed", ${FAULT}`,
  },
  plan: {
    /** The solver is loaded by whoever calls; the core loads nothing. */
    answer: (line: string, solver?: Solver) =>
      answerLine((input) => {
        if (!solver) throw new Error("the verb plan needs a solver");
        return plan(input, solver);
      }, line),
    schema: planSchema,
    help: `plan: what to pour in the minutes of a call, what to set when leaving, and what comes at the next calls.
  {"water":{"ph":8.1,"totalAlkalinity":150,"calciumHardness":180,"cyanuricAcid":20,"freeChlorine":0.5},
   "basin":{"litres":40000,"kind":"pool","surface":"plaster"},"rangeSet":"outdoor-fixed-band",
   "products":["hydrochloric-acid","sodium-bicarbonate","calcium-chloride",{"product":"dichlor","pricePerKg":9.6,"stock":5000}],
   "fill":{"ph":7.6,"totalAlkalinity":60,"calciumHardness":80},"limits":{"mostReplaced":0.5,"aeration":true},
   "minutes":40,"now":"2026-06-01T16:00:00Z","calls":["2026-06-04T16:00:00Z","2026-06-08T16:00:00Z","2026-06-11T16:00:00Z"],
   "habits":{"chlorineLoss":{"value":0.34,"low":0.27,"high":0.41},"phRise":0.05},"feeder":"none"}
  optional: "aims":{"totalAlkalinity":90,"ph":{"low":7.4,"high":7.6,"aim":7.5}}, "freshFill":true,
  "feeder":{"kind":"saltCell","now":1.5,"most":4,"pricePerKg":9} (mg/L of chlorine a day), "weather", "location" (as learn)
  calls may be days from now as numbers; without calls the plan is for today alone; habits as learn answers them
  a reading that is left out is neither steered nor held; unknown keys are refused
  range sets: outdoor-fixed-band, held-by-hocl, public-code, spa-warm-water, salt-cell
answers {"now":[{"product","compound","grams","how","begins","ends","waitMinutes","cautions","for","without","limit","after"}],
  "leave":[{"code":"feeder"|"air"|"pump-on"|"cover-watched"|"sign"|"chlorine-short",…}],"calls":[{"at","doses","expected"}],
  "projects":[{"kind","fraction","litres","turns","hours","cost","cautions","quantities"}],
  "promised":[{"at","ph":{"value","low","high"},…}],"minutes","opens","cost","costAhead","leftOut","open",
  "settled","rangeSet","assumed","leftAlone"}, ${FAULT}
with "still":true one plan for a water that does not drift, with alternatives:
 {"plans":[{"name","amounts","replaced","aerated","cost","predicted","steps","way","warnings","indexOutside","fetch","settled"}],"rangeSet","assumed","leftAlone"}
"way" holds the water after every portion, air and replacement, with its step`,
  },
  hold: {
    answer: (line: string, _solver?: Solver) => answerLine(holdLine, line),
    schema: holdSchema,
    help: `hold: how much of four weeks chlorine and pH are right as a basin is kept, and what would hold it.
  {"water":{"ph":7.6,"totalAlkalinity":100,"calciumHardness":300,"cyanuricAcid":40,"freeChlorine":2},
   "basin":{"litres":40000,"kind":"pool"},"rangeSet":"outdoor-fixed-band","products":["sodium-hypochlorite","hydrochloric-acid"],
   "calls":[7,14],"sets":["held-by-hocl"],"layman":true,"callPrice":30,"callMinutes":40}
  a line as for plan, without "still"; the calls are repeated as they follow one another; "sets" are range sets that
  the law would allow instead; "layman": whether people there may dose; optional: "belief" (as learn answers it) and
  "between" as for plan, what is given there already
answers {"asItIs":{"right":{"value","low","high"},"under","over","phHigh","phLow","cost","minutes","theirMinutes","calls"},
  "ways":[{"means":[{"code":"calls"|"feeder"|"floater"|"cover"|"stabiliser"|"range-set"|"between",…}],"right",…}],
  "cheapest","short":{"day","chance","by","days","wanted","most"},"days","promised","location","rangeSet","assumed"}, ${FAULT}
shares of the time, 0 to 1; cost, minutes, theirMinutes and calls in 30 days; "between" in g as sold every so many days`,
  },
  judge: {
    answer: (line: string, _solver?: Solver) => answerLine(judge, line),
    schema: judgeSchema,
    help: `judge: readings against a range set, and the water that they make.
  {"readings":[{"quantity":"ph","value":8.0,"low":8.0,"high":null,"bound":"at-least"},
               {"quantity":"totalAlkalinity","value":90,"low":80,"high":90},
               {"quantity":"calciumHardness","value":450,"daysAgo":28}],
   "basin":{"kind":"pool","surface":"plaster","outdoors":true},"rangeSet":"public-code"}
answers {"findings":[{"code","quantity","value","bound","limit","aim","closes","certain","mayClose","daysAgo"}],
  "closed","because","water","standing","assumed","possible","saturation","ranges","rangeSet"}, ${FAULT}`,
  },
  learn: {
    answer: (line: string, _solver?: Solver) => answerLine(learn, line),
    schema: learnSchema,
    help: `learn: what a firm's logs teach of its basins; a line a firm.
  {"now":"2026-05-20T12:00:00Z","basins":[{"id":"terrace","litres":40000,"kind":"pool","outdoors":true,"feeder":"none",
   "fill":{"ph":7.6,"totalAlkalinity":80,"calciumHardness":120},
   "visits":[{"at":"2026-05-11T09:00:00Z","readings":[{"quantity":"freeChlorine","value":2.6,"low":2.4,"high":2.6,"lot":"B-12"},
     {"quantity":"ph","value":8.2,"low":8.2,"high":null,"bound":"at-least"}],
     "doses":[{"at":"2026-05-11T09:20:00Z","product":"hydrochloric-acid","strength":0.3145,"grams":800,"lot":"D-3"}]}],
   "ahead":["2026-05-18T09:00:00Z"]}],
   "weather":[{"day":"2026-05-11","air":18,"sun":0.8}]}
  a reading's "lot" is the bottle of its titrant, a dose's the delivery; feeders: none, tablets, saltCell, pump
  optional: "replaced" (share of the water, at a visit), "location":{"latitude":40,"longitude":-105}
answers {"basins":[{"id","habits":{"litres","chlorineLoss","phRise","alkalinityChange","calciumClimb","stabiliserClimb","feeder"},
  "forecast":[{"at","freeChlorine","ph","totalAlkalinity","calciumHardness","cyanuricAcid"}]}],
  "suspicions":[{"code","basin","lot","ratio","chance"}]}, ${FAULT}
each figure is {"value","low","high"}, the central 90 %: chlorineLoss a share a day, phRise a day, changes and climbs mg/L
in 30 days, feeder mg/L a day; a ratio is what a volume, a drop or a product is over what book and label say`,
  },
  week: {
    /** The solver is loaded by whoever calls; a week asks it for its bound. */
    answer: (line: string, _solver?: Solver, weekSolver?: WeekSolver) =>
      answerLine((input) => {
        if (!weekSolver) throw new Error("the verb week needs a solver");
        return weekLine(input, weekSolver);
      }, line),
    schema: weekSchema,
    help: `week: who calls at which basin on which day, so that chlorine and pH are right longest.
  {"from":"2026-06-01","days":7,
   "basins":[{"id":"terrace","site":"cairns","water":{"ph":7.6,"totalAlkalinity":100,"calciumHardness":300,"cyanuricAcid":40,"freeChlorine":2},
     "basin":{"litres":40000,"kind":"pool"},"products":["sodium-hypochlorite","hydrochloric-acid"],
     "minutes":40,"since":3,"least":2,"most":9,"allowed":[1,2,3,4,5],"mayGo":["wren"]}],
   "people":[{"id":"wren","hours":[480,480,480,480,480,0,0],"off":["2026-06-03"]}],
   "stands":[{"day":"2026-06-02","person":"wren","basin":"terrace"}],"changeWorth":0.1}
  each basin is a line as for plan, without "still" and "calls"; optional there: "belief", "place", "fixed", "must",
  "daily", "use", "load"; of a person "start" (a site) and "carries" (kg); "ways":{"known":[{"from","to","minutes"}],
  "usual":12}, "closed", "minuteWorth", "turns" (hundreds of tries)
answers {"calls":[{"day","person","basin"}],"changes":[{"basin","gone","come","because":"rule"|"water"|"minutes",
  "right":{"before","after"},"minutes"}],"conflicts":[{"broken","against","gives"}],"impossible",
  "before":{"right","calls","minutes","way"},"after":{…},"worth","bound"}, ${FAULT}
shares of the time, 0 to 1; times in minutes; weekdays from 1, Monday; worth in days that a basin is right`,
  },
  dose: {
    answer: (line: string, _solver?: Solver) => answerLine(dose, line),
    schema: doseSchema,
    help: `dose: how much of one product takes one reading from here to there.
  {"product":"hydrochloric-acid","strength":0.3145,"litres":38000,"quantity":"ph","from":8.0,"to":7.4,
   "water":{"totalAlkalinity":100,"calciumHardness":300,"cyanuricAcid":30,"freeChlorine":2,"temperature":26}}
  quantities: ph, totalAlkalinity, calciumHardness, cyanuricAcid, freeChlorine; "strength" and "water" may be left out
answers {"grams","everyday":{"metric","us"},"portions","after","sideEffects","assumed"}, ${FAULT}`,
  },
} as const;
