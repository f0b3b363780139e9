import type { HorizonPlan } from "../dosing/horizon/plan";
import type { Outcome } from "../dosing/outcome";
import type { PlanInput } from "../dosing/plan/input";
import type { Plan } from "../dosing/plan/plan";
import type { SettledStep } from "../dosing/plan/progress";
import type { PlanStep } from "../dosing/plan/steps";
import type { Job } from "../jobs/job";
import type { Incident } from "../judging/incidents";
import type { Notice } from "../judging/notices";
import type { Measurement, Quantity } from "../measure/quantity";
import type { RecipeFacts } from "../recipes/recipe";
import type { CountState } from "../testing/count/counting";
import type { Doubt } from "../testing/doubt";
import type { LookKept } from "../testing/order/look";
import type { Sampling } from "../testing/order/sampling";
import type { Observation } from "../testing/result";
import type { SampleSpread } from "../uncertainty/models";
import type { Sample } from "../water/sample";
import type { PlantKind } from "../work/plant";

/** A place by a device: degrees (WGS 84), and the metres around it in which it lies. */
export interface PlaceMark {
  latitude: number;
  longitude: number;
  accuracy: number;
  at: Date;
}

/** What stands in the book of one visit. It only grows: see `withFacts`. */
export interface Written {
  /** Commands taken so far; the server's count of them. A copy with a higher one is the later. */
  version: number;
  look: LookKept | null;
  sampling: Sampling | null;
  note: string;
  finishedAt: Date | null;
  /** What the readings said together when it was closed; null while it is under way. */
  notices: Notice[] | null;
  /** The day's weather there; null where nobody told it. */
  weather: WeatherDay | null;
  /** What the feeder was left to give, mg/L of chlorine a day; null where nobody wrote it down. */
  feederSetting?: number | null | undefined;
  /** Why nobody tested the water; null where somebody did. */
  untested?: Untested | null | undefined;
  /** What was done besides the water, and what was not; copies of before have none. */
  work?: WorkDone[] | undefined;
  /** What gauges and displays showed; copies of before have none. */
  plant?: PlantReading[] | undefined;
  /** The readings that stand, in the order in which they are always told; used and not. */
  readings: VisitReading[];
  /** What readings stood for before they were corrected, the latest correction first. */
  trail: SupersededReading[];
  /** The doses that stand; one taken back stands with nothing given. */
  doses: VisitDose[];
  /** Begun in this visit, in their order. */
  plans: VisitPlan[];
  /** Counts under way, by method. */
  counts: Record<string, KeptCount>;
  photos: Photo[];
  /** Where it began and ended, where whoever made it allows that; copies of before have none. */
  places?: { start?: PlaceMark | undefined; end?: PlaceMark | undefined } | null | undefined;
  /** Ids of those that were taken out of sight; copies of before have none. */
  hiddenPhotos?: string[] | undefined;
  /** What happened there, the first first; copies of before have none. */
  incidents?: Incident[] | undefined;
  /** Jobs of more than one call that were begun or ended here; copies of before have none. */
  jobs?: Job[] | undefined;
  /** What was seen broken here, and ids of what was mended; copies of before have none. */
  defects?: Defect[] | undefined;
  mended?: string[] | undefined;
  /** What its tests took out of the bottles. */
  uses: BottleUse[];
}

/** A saved reading: what it came to, and how it was seen. */
export interface VisitReading extends Measurement {
  id: string;
  visitId: string;
  quantity: Quantity;
  /** The version of the kit whose method made it. */
  kitId: string;
  methodId: string;
  observation: Observation;
  /** What spoke against it when it was saved. */
  doubts: Doubt[];
  takenAt: Date;
  /** The best of its round for this quantity. */
  used: boolean;
  /** Plans begun in the visit before it was read: 0 on arrival, 1 after the first plan's doses. */
  round: number;
  /** Why it stands in place of another, when it was corrected after its visit. */
  why?: string | undefined;
  /** Who made it. */
  by?: string | undefined;
  /** Scatter of whoever made it, relative, where they said that theirs stands in for the default. */
  scatter?: number | undefined;
  /** It came in after the visit was closed elsewhere. */
  late?: boolean | undefined;
}

/** A reading that was corrected: what stood, whose it was, and until when. */
export interface SupersededReading {
  id: string;
  quantity: Quantity;
  round: number;
  methodId: string;
  value: number;
  /** Who made it. */
  by: string;
  supersededAt: Date;
  /** Who corrected it, and why. */
  correctedBy: string;
  why: string;
}

/** What a call without a test was for. */
export const UNTESTED = ["repair", "filter", "delivery", "no-entry", "other"] as const;
export type Untested = (typeof UNTESTED)[number];

/** A piece of work of the call: done, or skipped and why. */
export interface WorkDone {
  id: string;
  /** See `WorkItem`. */
  key: string;
  /** As the firm called it then; "" of what ships. */
  name: string;
  state: "done" | "skipped";
  why: string;
  by: string;
  at: Date;
}

/** What a gauge or a display showed, in the unit of `PLANT`. */
export interface PlantReading {
  id: string;
  kind: PlantKind;
  value: number;
  /** The first of another meter. */
  changed: boolean;
  by: string;
  at: Date;
}

/** Something that is broken at a basin. */
export interface Defect {
  id: string;
  title: string;
  /** A photo of the visit at which it was seen. */
  photoId: string | null;
  by: string;
  at: Date;
}

export interface BottleUse {
  readingId: string;
  reagent: string;
  bottleId: string | null;
  amount: number;
}

export interface VisitDose {
  id: string;
  visitId: string;
  productId: string;
  /** Code of the finding it answers, or the plan's step. */
  code: string;
  plannedGrams: number;
  givenGrams: number;
  givenAt: Date;
}

export type PlanOrigin = "alternative" | "recipe" | "what-if";

/** A plan as it was when it was begun; what is needed to work its promises out again rides along. */
export interface PlanContent {
  basis: Pick<PlanInput, "water" | "litres" | "products" | "fill">;
  spreads: SampleSpread | null;
  after: Sample;
  saturation: number;
  cost: number;
  steps: PlanStep[];
  missed: Plan["missed"];
  facts: RecipeFacts;
  /** What was set, promised and left for the calls to come; plans of one still water have none. */
  ahead?: AheadKept | undefined;
}

/** What a plan over several calls says beside today's pours. */
export type AheadKept = Pick<
  HorizonPlan,
  "leave" | "calls" | "projects" | "promised" | "opens" | "leftOut" | "open"
>;

export interface VisitPlan {
  id: string;
  visitId: string;
  round: number;
  origin: PlanOrigin;
  name: string;
  content: PlanContent;
  begunAt: Date;
  endedAt: Date | null;
  whyEnded: string;
  settled: VisitStep[];
  outcomes: VisitOutcome[];
}

export interface VisitStep extends SettledStep {
  why: string;
}

export interface VisitOutcome extends Outcome {
  quantity: Quantity;
}

/** A count under way, and when it was last heard of. */
export type KeptCount = CountState & { keptAt: Date };

export interface Photo {
  id: string;
  takenAt: Date;
}

export interface WeatherDay {
  /** 2026-05-01 */
  day: string;
  /** °C */
  low: number;
  high: number;
  /** Hours of sunshine. */
  sun: number;
  /** mm */
  rain: number;
  /** Of open water, mm. */
  evaporation: number;
}

/** A visit that was just begun. */
export const NOTHING_WRITTEN: Written = {
  version: 0,
  look: null,
  sampling: null,
  note: "",
  finishedAt: null,
  notices: null,
  weather: null,
  readings: [],
  trail: [],
  doses: [],
  plans: [],
  counts: {},
  photos: [],
  uses: [],
};
