import type { IncidentKind } from "../judging/incidents";
import type { CountState } from "../testing/count/counting";
import type { DoubtCode } from "../testing/doubt";
import type { Look } from "../testing/order/look";
import type { Sampling } from "../testing/order/sampling";
import type { Observation } from "../testing/result";
import type { By } from "./facts";
import type { PlanAsked } from "./plans";
import type { Untested, WeatherDay } from "./written";

/** What can be asked of a visit, by name, with what each carries. `schemas.ts` checks what comes from outside. */
export interface VisitCommands {
  look: Look;
  sample: Sampling;
  /** One test, or all pads of a strip. */
  read: { tests: TestInput[] };
  count: CountState & { methodId: string };
  give: { code: string; productId: string; givenGrams: number };
  "begin-plan": PlanAsked;
  "settle-step": StepInput;
  "stop-plan": StopInput;
  "report-incident": { kind: IncidentKind; note: string };
  "end-incident": IncidentEnd;
  "end-job": JobEnd;
  "report-defect": { title: string; photoId?: string | null | undefined };
  "mend-defect": { defectId: string; mended: boolean };
  work: WorkAsked;
  "read-plant": PlantAsked;
  place: PlaceAsked;
  photograph: { photoId: string };
  "hide-photo": { photoId: string };
  close: {
    note: string;
    weather?: WeatherDay | null | undefined;
    /** What the feeder is left to give, mg/L of chlorine a day; left out where nobody says. */
    feederSetting?: number | null | undefined;
    /** Why nobody tested the water, where nobody did. */
    untested?: Untested | null | undefined;
  };
  correct: { readingId: string; seen: Observation; why: string };
}

export type CommandName = keyof VisitCommands;

/** A command as the core decides it. */
export type VisitCommand = {
  [Name in CommandName]: { name: Name; given: VisitCommands[Name] } & CommandFrame;
}[CommandName];

export interface CommandFrame {
  /** Made where it was given; the same again is the same command. */
  id: string;
  by: By;
  /** When it was done, by the best clock there is. */
  at: Date;
  /** Where it was given without the server, what was known there. */
  seen?: CommandBasis | undefined;
}

/** What a device knew of the visit when the command was given: what it could not see it did not mean. */
export interface CommandBasis {
  /** The visit's version there, as the server had counted. */
  version: number;
  /** Plans begun. */
  plans: number;
  /** Readings that stood. */
  readings: string[];
  looked: boolean;
  sampled: boolean;
}

export interface TestInput {
  id: string;
  /** The version of the kit; the visit's own when it is left out. */
  kitId?: string | undefined;
  methodId: string;
  seen: Observation;
  /** Doubts that the technician has answered. */
  confirmed?: DoubtCode[] | undefined;
}

export interface StepInput {
  planId: string;
  position: number;
  state: "done" | "skipped" | "open";
  /** Asked for when a step is skipped. */
  why: string;
  /** What was really given, for a dose. */
  dose?: { id: string; givenGrams: number } | undefined;
}

export interface StopInput {
  /** Why. */
  stop: string;
  /** The plan that is meant: a later one is not stopped. */
  planId?: string | undefined;
  /** It was led to its retest and ends by itself: there is no reason to give. */
  retested: boolean;
}

/** A piece of the work of a call; "open" takes back what was said of it. */
export interface WorkAsked {
  key: string;
  /** As the list on the device named it. */
  name?: string | undefined;
  state: "done" | "skipped" | "open";
  /** Asked for when it is skipped. */
  why: string;
}

/** Where the visit began or ended, by the device of whoever made it and allows it. */
export interface PlaceAsked {
  which: "start" | "end";
  /** Degrees, WGS 84. */
  latitude: number;
  longitude: number;
  /** Metres around it. */
  accuracy: number;
}

/** What a gauge or a display shows, in the unit of `PLANT`. */
export interface PlantAsked {
  kind: string;
  value: number;
  /** It is another meter than the one that was read before. */
  changed: boolean;
}

export interface JobEnd {
  jobId: string;
  /** Done, and not given up. */
  won: boolean;
  /** Why it is given up. */
  why: string;
}

export interface IncidentEnd {
  incidentId: string;
  /** Who decided that it is over, where that is not for whoever works here to say. */
  who: string;
}

/** Where, when and in which order a device gave a command, and what it knew. */
export interface DeviceStamp {
  device: string;
  sequence: number;
  /** By the clock of the device. */
  at: Date;
  seen: CommandBasis;
}
