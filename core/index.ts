/** The public face of the core: what others use, and no more (schemas apart: they bring Joi along). */

export { ACCESS_FIELDS, type AccessField, isEmptyAccess, type SiteAccess } from "./basin/access";
export {
  BASIN_KINDS,
  type Basin,
  type BasinKind,
  type Equipment,
  NO_EQUIPMENT,
  usualSetFor,
} from "./basin/basin";
export { type DoseCheck, TELLING, type Telling, type VolumeByDose, volumeTold } from "./basin/by-dose";
export { outlineOf, type Shape } from "./basin/outline";
export {
  type BasinShape,
  type Floor,
  farFrom,
  floorProfile,
  type Volume,
  volumeByMeter,
  volumeOf,
} from "./basin/volume";
export { type Advice, adviseEach, type NoDoseReason, productForm } from "./dosing/advice";
export { type Fan, fanOf } from "./dosing/horizon/fan";
export type { Leave } from "./dosing/horizon/leave";
export {
  HORIZON_NAMES,
  type HorizonName,
  type HorizonPlan,
  horizonPlan,
  horizonPlans,
  type Promised,
} from "./dosing/horizon/plan";
export { type Between, type HorizonProblem, MINUTES_LIMITS } from "./dosing/horizon/problem";
export type { Project } from "./dosing/horizon/projects";
export type { OpenReading, Reason } from "./dosing/horizon/reasons";
export {
  type GivenDose,
  type LabelDose,
  type LabelMind,
  type LabelWait,
  labelDoses,
} from "./dosing/labelled";
export type { Outcome } from "./dosing/outcome";
export { type Amounts, waterAfter } from "./dosing/plan/amounts";
export { goalsOf, STEERED, type Steered } from "./dosing/plan/goals";
export { type Highs, solverOf } from "./dosing/plan/highs";
export { type PlanInput, type PlanProduct, WEIGHTS } from "./dosing/plan/input";
export { ALTERNATIVES, type AlternativeName, type Obstacle } from "./dosing/plan/plan";
export { fillWater, type NoPlan, whyNoPlan } from "./dosing/plan/problem";
export type { LeftAlone, PlanProblem, ShownPlan } from "./dosing/plan/shown";
export { solvePlan } from "./dosing/plan/solve";
export {
  ACID_CHLORINE_MINUTES,
  CAUTION_CODES,
  type CautionCode,
  cautionsOf,
  type PlanStep,
  type Retested,
  type TaskCode,
} from "./dosing/plan/steps";
export { tableWay } from "./dosing/plan/table-way";
export { chlorineGoal, judged, TEST_STEP } from "./dosing/plan/weighing";
export { type WhatIf, type WhatIfAnswer, whatIf } from "./dosing/what-if";
export { doubtsOf } from "./doubts";
export { aheadDrops } from "./doubts/colours";
export { contextFor, type LogView, NO_LOG } from "./doubts/context";
export { shiftAcross } from "./doubts/reagents";
export { demandAt, drift } from "./drift/drift";
export { type FeederKind, type Habits, usualHabits } from "./drift/habits";
export { locationOf } from "./drift/location";
export { daylightHours } from "./drift/sun";
export { type Surroundings, surroundingsOf, type WeatherOfDay } from "./drift/surroundings";
export { InputFault, numberWithin } from "./fault";
export {
  CARD_DAYS,
  type CardContent,
  type CardEntry,
  loggedOf,
  type Slot,
  STRIP_LIMITS,
  STRIP_QUANTITIES,
  type StripQuantity,
  slotsBetween,
} from "./hold/card";
export { type Held, type HoldAnswer, PROMISED, type Shortfall } from "./hold/hold";
export { chlorineIn, LAYMAN_CHOICE, type Measured, measuredOut, SPOONS } from "./hold/layman";
export type { Means } from "./hold/means";
export { EVENING_FROM, type GreenOutlook, HOLDS, type Sight } from "./jobs/green-outlook";
export { JOB_KINDS, type Job, type JobKind, jobOf, nextDayOf } from "./jobs/job";
export type { WaterBalance } from "./judging/balance";
export {
  type Bathing,
  type BathingReason,
  type BathingState,
  bathingOf,
  CLOSERS,
  type Closer,
  testsThatOpen,
} from "./judging/bathing";
export { type EmergencyNumbers, emergencyNumbers } from "./judging/emergency";
export { type Finding, findings, placeInRange } from "./judging/findings";
export { lastFound, outIn } from "./judging/found";
export {
  HURTS,
  INCIDENT_KINDS,
  INCIDENTS,
  type Incident,
  type IncidentKind,
  type NotOver,
  whyNotOver,
} from "./judging/incidents";
export type { Notice } from "./judging/notices/notice";
export { USUAL_WINDOW } from "./judging/notices/saturated";
export type { HabitFigures } from "./learning/figures";
export { type BasinLearned, type FirmLearned, learnFirm } from "./learning/learn";
export type {
  FeederSetting,
  FirmLog,
  FreshWater,
  Learned,
  LoggedDose,
  LoggedReading,
  LoggedVisit,
} from "./learning/log";
export { LEARNED } from "./learning/log";
export {
  type Crossing,
  chanceUnder,
  chlorineToLeave,
  crossingsBefore,
  type ForecastPoint,
  needOf,
  pointAt,
} from "./learning/outlook";
export type { Suspicion } from "./learning/weigh";
export { type EverydayAmount, type EverydayUnit, everydayAmount, type ProductForm } from "./measure/everyday";
export {
  type Bound,
  isQuantity,
  type Measurement,
  QUANTITIES,
  QUANTITY_NAMES,
  type Quantity,
  type Readings,
  type Unit,
} from "./measure/quantity";
export { SANITISERS, type Sanitiser, sanitiserReading } from "./measure/sanitiser";
export { type SmallMeasure, smallMeasure } from "./measure/small-amounts";
export { meaningsOf, numberFrom } from "./measure/typed";
export {
  isUnitSystem,
  UNIT_SYSTEM_NAMES,
  UNIT_SYSTEMS,
  type UnitSystem,
  type UnitsRead,
} from "./measure/unit-systems";
export {
  BASIN_LITRES,
  celsiusFrom,
  gramsFrom,
  HARDNESS_UNITS,
  type HardnessUnit,
  hardnessFrom,
  hardnessIn,
  litresFrom,
  massIn,
  millilitresFrom,
  millilitresIn,
  temperatureIn,
  type VolumeUnit,
  volumeIn,
} from "./measure/units";
export { type ColourName, colourName, hexOf } from "./practice/colour/names";
export { DRILLS, type Drill, type DrillChoice, type DrillKind, drillOf } from "./practice/drills";
export {
  figuresOverWeeks,
  maySpeak,
  type OwnFigures,
  ownFigures,
  type Practised,
  RUNS_TO_USE,
  type WeeksFigures,
} from "./practice/figures";
export {
  dropSize,
  type HandEvent,
  LIGHTS,
  type Light,
  type Mixing,
  SCOOPS,
  scoopAsItComes,
} from "./practice/hands";
export { type HiddenWater, hiddenWater, isStory, STORIES, type Story } from "./practice/hidden";
export { type Next, nextIn } from "./practice/next";
export { type Called, type Score, scoreOf, trapsIn } from "./practice/score";
export { SHEET_SHELF, SHEET_TESTS, type SheetBasin, sheetBasin } from "./practice/sheet/basin";
export {
  type DoseRisk,
  dosedOf,
  isSoundDose,
  type SheetDose,
  type SheetDosed,
  truePlan,
} from "./practice/sheet/dose";
export {
  JUDGED,
  type Judged,
  PLACES,
  type Place,
  type SheetVerdict,
  truePlace,
  verdictsOf,
} from "./practice/sheet/judgement";
export {
  type Found,
  foundAt,
  SAMPLE_PLACES,
  type SamplePlace,
  type SampleSlip,
  type SampleTaken,
  sampleSlips,
} from "./practice/sheet/sample";
export { type Slip, type SlipCode, slipsOf, type Worked } from "./practice/slips";
export { answered, type Card, dueCards } from "./practice/spacing";
export {
  afterHand,
  afterSeconds,
  dotGoneAt,
  endOf,
  lookOf,
  newVessel,
  standardColour,
  type Vessel,
  type VesselLook,
} from "./practice/vessel";
export { type Watched, watched } from "./practice/watch";
export { STORAGE_GROUPS, type StorageGroup, storageGroup, storedApart } from "./products/apart";
export { addShares, carbonDioxide, carbonDioxideAtRest } from "./products/effects";
export {
  BALANCING_IDS,
  isLabelled,
  LABEL_LIMITS,
  LABELLED,
  LABELLED_IDS,
  type Label,
  type LabelledId,
  onLabel,
  perCubicMetre,
  USUAL_APART_HOURS,
} from "./products/labels";
export {
  densityOf,
  effectPerGram,
  isProductId,
  oddStrength,
  PRODUCT_IDS,
  PRODUCTS,
  type Product,
  type ProductId,
} from "./products/products";
export { type How, loadsOf, meetBadly, TRAITS } from "./products/traits";
export { normal, type Random, seeded } from "./random";
export { mixesLike } from "./ranges/bathing-limits";
export {
  type Range,
  type RangeOverrides,
  type RangeSet,
  rangeFor,
  rangesOf,
  SURFACES,
  type Surface,
  setForBasin,
} from "./ranges/range-set";
export { RANGE_SETS } from "./ranges/sets";
export { HELD_BY_HOCL_SET } from "./ranges/sets/held-by-hocl";
export { OUTDOOR_FIXED_BAND } from "./ranges/sets/outdoor-fixed-band";
export { PUBLIC_CODE_SET } from "./ranges/sets/public-code";
export { SALT_CELL_SET } from "./ranges/sets/salt-cell";
export { SPA_WARM_WATER } from "./ranges/sets/spa-warm-water";
export { assumedIn, type DatedReading, type WaterEstimate, waterFromValues } from "./reading/from-readings";
export { recipeFor } from "./recipes";
export { type NoRecipe, RECIPE_IDS, type Recipe, type RecipeId, type RecipeInput } from "./recipes/recipe";
export { ROLES, type Role } from "./roles";
export {
  type CadenceChange,
  cadenceWith,
  TASKS,
  type Task,
  type TaskCadence,
  USUAL_CADENCE,
} from "./schedule/cadence";
export { calledByPlan, calledOn, callsBetween, lastCall, type MovedCalls, nextCall } from "./schedule/calls";
export { addDays, dayIn, daysBetween, hourIn, isDay, noonIn, weekdayOf } from "./schedule/days";
export {
  callTakes,
  learnPace,
  type Pace,
  pairOf,
  type Takes,
  type TimedVisit,
  wayTakes,
} from "./schedule/pace";
export { type DueTask, dueTasks } from "./schedule/tasks";
export {
  CHLORINE_WAYS,
  type ChlorineWay,
  KEPT_BY,
  SEASON_QUANTITIES,
  type SeasonOfWay,
  type SeasonQuantity,
  season,
  seasonLimits,
  WAY_PRODUCTS,
} from "./season/season";
export {
  type CountAction,
  type CountState,
  countStep,
  dropsNotIn,
  laterCount,
  newCount,
} from "./testing/count/counting";
export { beatAfter, PACE_SECONDS, tonesFor } from "./testing/count/pace";
export { adviseSample, type SampleAdvice } from "./testing/count/sample-size";
export { demandTargetOf } from "./testing/demand-target";
export {
  DOUBT_CODES,
  type Doubt,
  type DoubtCode,
  mayActOn,
  TRAP_CODES,
  type TrapCode,
  toAnswer,
} from "./testing/doubt";
export {
  type Kit,
  MEASURES,
  type Measure,
  type MeterMethod,
  type Method,
  methodById,
  methodFor,
  padsWith,
  type ScaleMethod,
  type Step,
  stepsFor,
  type TitrationMethod,
} from "./testing/kit";
export { COMPARATOR_KIT } from "./testing/kits/comparator-kit";
export { INSTRUMENT_KIT } from "./testing/kits/instruments";
export { SHIPPED_KITS } from "./testing/kits/shipped";
export { STRIP_KIT } from "./testing/kits/strip-kit";
export { TITRATION_KIT } from "./testing/kits/titration-kit";
export { TRACES_KIT } from "./testing/kits/traces-kit";
export { type Due, dueTests } from "./testing/order/due";
export {
  CLOSED_FOR,
  type ClosingTrouble,
  closingTroubles,
  type Look,
  type LookKept,
  nothingFound,
  SENSE_NAMES,
  SENSES,
  type SeenDanger,
  type Sense,
  type Trouble,
  troublesOf,
  type UrgentTrouble,
  urgentTroubles,
} from "./testing/order/look";
export { MIXING_HOURS, type Sampling, samplingProblems } from "./testing/order/sampling";
export {
  isStation,
  methodsAt,
  STATION_ORDER,
  type Station,
  stationsOn,
  stationsWith,
} from "./testing/order/stations";
export {
  nextStop,
  type Stop,
  type StopState,
  stopAfter,
  stopsOf,
  type VisitSoFar,
  visitSoFar,
} from "./testing/order/visit-order";
export {
  dropsIn,
  leftIn,
  ofLastSeason,
  type ReagentUse,
  reagentsNeeded,
  reagentsUsed,
} from "./testing/reagents";
export { isScale, measure, type Observation } from "./testing/result";
export { type ScalePlace, scalePlaces } from "./testing/scale";
export { computedFactor, dropFactor, factorsAgree, titrate } from "./testing/titration";
export { intervalOf, overlap } from "./uncertainty/agreement";
export type { Figure } from "./uncertainty/figure";
export { type JobAnswer, runJob, type UncertaintyJob } from "./uncertainty/job";
export type { Interval } from "./uncertainty/propagate";
export { about } from "./uncertainty/spread";
export { bathingAt } from "./visit/bathing";
export {
  type Brought,
  DOSE_DAYS,
  type EarlierDose,
  type Firm,
  type JobBefore,
  LABEL_DOSE_DAYS,
  type OpenDefect,
  type PlantSeen,
  type ShelfBottle,
  type ShelfProduct,
} from "./visit/brought";
export { type Closing, closingOf, type Miss, missesOf } from "./visit/closing";
export type { CommandBasis, CommandName, DeviceStamp, TestInput, VisitCommands } from "./visit/commands";
export { countIdOf, seenInCount, type UnsavedCount, unsavedCounts } from "./visit/counts";
export { COMMAND_NAMES, commandOf, decide } from "./visit/decide";
export { LONGEST_NOTE } from "./visit/decide/close";
export { seenOf } from "./visit/decide/seen";
export { afterCommand, type By, type Fact, withFacts } from "./visit/facts";
export { feederKindOf } from "./visit/feeder";
export { gasLock } from "./visit/gas-lock";
export { callsWorthOf, type HoldBasis, holdOf } from "./visit/hold";
export { callsAfter, horizonOf, minutesAt } from "./visit/horizon";
export { greenOutlookAt, JOB_CHECKS, type JobCheck, jobAt, nextCallAt, type VisitJob } from "./visit/jobs";
export { type Judgement, judge } from "./visit/judgement";
export { hasJets, type LabelDoseHere, labelCode, labelledAt, shelfFor, spoiledBy } from "./visit/labelled";
export { bottleInUse, bottleStates } from "./visit/log";
export { stopAfterTest } from "./visit/next";
export { contentOfHorizon, contentOfRecipe, type PlanAsked, problemOrThrow } from "./visit/plans";
export { besideDisplay, type PlantGauge, type VisitPlant } from "./visit/plant";
export { plannedProducts, problemOf, recipeInputOf } from "./visit/problem";
export { prospectOf } from "./visit/promises";
export { type OpenedVisit, openJobs, type VisitDefect, type VisitWork, visitOf } from "./visit/visit";
export { knownWater, lastWater, type MethodOf, methodFrom, placeOf } from "./visit/water";
export {
  type KeptCount,
  NOTHING_WRITTEN,
  type Photo,
  type PlaceMark,
  type PlanContent,
  type PlanOrigin,
  type PlantReading,
  UNTESTED,
  type Untested,
  type VisitDose,
  type VisitOutcome,
  type VisitPlan,
  type VisitReading,
  type VisitStep,
  type WeatherDay,
  type WorkDone,
  type Written,
} from "./visit/written";
export { chlorineShares } from "./water/chlorine";
export type { Conditions } from "./water/constants";
export { readingsOf, solvePh } from "./water/equilibrium";
export { asRead, molar } from "./water/molar";
export { conditionsOf, type Sample, type Totals, totalsOf } from "./water/sample";
export { CORRECTION_MATTERS, calciteKilograms, saturation } from "./water/saturation";
export type { WeekChange } from "./week/changes";
export type { Against, Conflict, Give } from "./week/conflicts";
export { PLACE_LIMITS, type SitePlace, waysOf } from "./week/place";
export {
  MOST_DAYS,
  type Ways,
  type WeekBasin,
  type WeekCall,
  type WeekPerson,
  type WeekProblem,
} from "./week/problem";
export { type LikeBasin, type Quote, quoteOf } from "./week/quote";
export {
  type Proposal,
  type RegularProblem,
  type Rhythm,
  type RhythmFigures,
  regularDays,
} from "./week/regular";
export { type BrokenRule, brokenRules, minutesBetween } from "./week/rules";
export { type Suggestion, suggestWeek, type WeekFigures, type WeekSolver } from "./week/suggest";
export {
  type BasinWishes,
  type FirmWeek,
  fewestWithout,
  type MemberWeek,
  mostWithout,
  NO_HOURS,
  NO_WISHES,
  USUAL_FIRM_WEEK,
  USUAL_MEMBER_WEEK,
  WISH_LIMITS,
} from "./week/wishes";
export { type CallWorth, callWorth, LONGEST_GAP, rightOn, worthFrom } from "./week/worth";
export {
  type Account,
  type AccountDose,
  type AccountLine,
  type AccountVisit,
  accountsOf,
  type CustomerPrices,
  inCents,
  PRICE_LIMITS,
  USUAL_PRICES,
} from "./work/account";
export {
  learnMinutes,
  minutesFor,
  USUAL_WORK_MINUTES,
  type VisitMoment,
  type WorkMinutes,
} from "./work/minutes";
export {
  CONTROLLER_KINDS,
  type ControllerVerdict,
  filterIsFull,
  fullPressure,
  isPlantKind,
  PLANT,
  PLANT_KINDS,
  type PlantKind,
} from "./work/plant";
export {
  type BucketVerdict,
  bucketTest,
  type MeterReading,
  MOST_USED,
  surfaceOf,
  usesMuch,
  type WaterUse,
  waterUse,
} from "./work/water-use";
export {
  isWorkKey,
  usualWork,
  WORK_KEYS,
  type WorkAtCall,
  type WorkItem,
  type WorkKey,
  type WorkList,
  type WorkRule,
  workAt,
} from "./work/work";
