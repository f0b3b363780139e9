import type { Job } from "../jobs/job";
import type { Bathing } from "../judging/bathing";
import type { Finding } from "../judging/findings";
import type { Incident } from "../judging/incidents";
import type { Notice } from "../judging/notices";
import { QUANTITY_NAMES } from "../measure/quantity";
import type { CountState } from "../testing/count/counting";
import type { LookKept } from "../testing/order/look";
import type { Sampling } from "../testing/order/sampling";
import type {
  BottleUse,
  Defect,
  PlaceMark,
  PlantReading,
  Untested,
  VisitDose,
  VisitOutcome,
  VisitPlan,
  VisitReading,
  VisitStep,
  WeatherDay,
  WorkDone,
  Written,
} from "./written";

/** Who did something. */
export interface By {
  id: string;
  name: string;
}

/** What a command adds to a visit; nothing is ever changed or taken away but by a further fact. */
export type Fact = { by: By; at: Date } & FactKind;

type FactKind =
  | { kind: "looked"; look: LookKept }
  | { kind: "sampled"; sampling: Sampling }
  | {
      kind: "read";
      reading: VisitReading;
      /** The reading that it stands in place of from now on. */
      supersedes: string | null;
      /** Of its quantity and round, the one that is used from now on. */
      used: string;
      uses: BottleUse[];
      /** What it was before, where it is a correction after the visit. */
      corrects: { was: number } | null;
    }
  | { kind: "kept-promise"; planId: string; readingId: string; outcome: VisitOutcome }
  | { kind: "gave"; dose: VisitDose; supersedes: string | null }
  | {
      kind: "planned";
      plan: Pick<VisitPlan, "id" | "visitId" | "round" | "origin" | "name" | "content">;
    }
  | { kind: "settled"; planId: string; step: VisitStep }
  | { kind: "reopened"; planId: string; position: number }
  | { kind: "stopped"; planId: string; why: string }
  | { kind: "counted"; methodId: string; state: CountState }
  | { kind: "happened"; incident: Incident }
  /** Over: of this visit, or of one before that is carried on here. */
  | { kind: "over"; incident: Incident }
  | { kind: "job-begun"; job: Job }
  /** Over: of this visit, or of one before that is carried on here. */
  | { kind: "job-over"; job: Job }
  | { kind: "defect-seen"; defect: Defect }
  | { kind: "defect-mended"; defectId: string; mended: boolean }
  | { kind: "worked"; work: WorkDone; supersedes: string | null }
  | { kind: "work-taken-back"; workId: string }
  | { kind: "plant-read"; reading: PlantReading; supersedes: string | null }
  | { kind: "placed"; which: "start" | "end"; place: PlaceMark }
  | { kind: "photographed"; photoId: string }
  | { kind: "hid-photo"; photoId: string }
  | { kind: "noted"; note: string }
  /** In place of what was found before. */
  | { kind: "found"; findings: Finding[]; bathing: Bathing }
  | {
      kind: "closed";
      note: string;
      notices: Notice[];
      weather: WeatherDay | null;
      /** Left out by an older build. */
      feederSetting?: number | null | undefined;
      untested?: Untested | null | undefined;
    };

/** What stands after these facts. @example withFacts(begun, facts).readings.length // 3 */
export const withFacts = (written: Written, facts: readonly Fact[]): Written =>
  facts.reduce(withFact, written);

/**
 * What stands after a command; it counts as one, unless it was but a tap of a count or changed nothing.
 * @example afterCommand(begun, facts).readings.length // 3
 */
export const afterCommand = (written: Written, facts: readonly Fact[]): Written => ({
  ...withFacts(written, facts),
  version: written.version + (facts.some(({ kind }) => kind !== "counted") ? 1 : 0),
});

function withFact(written: Written, fact: Fact): Written {
  switch (fact.kind) {
    case "looked":
      return { ...written, look: fact.look };
    case "sampled":
      return { ...written, sampling: fact.sampling };
    case "placed":
      return { ...written, places: { ...written.places, [fact.which]: fact.place } };
    case "noted":
      return { ...written, note: fact.note };
    case "read":
      return withReading(written, fact);
    case "kept-promise":
      return withPlan(written, fact.planId, (plan) => ({
        ...plan,
        outcomes: [
          ...plan.outcomes.filter(({ quantity }) => quantity !== fact.outcome.quantity),
          fact.outcome,
        ],
      }));
    case "gave":
      return {
        ...written,
        doses: [...written.doses.filter(({ id }) => id !== fact.supersedes), fact.dose].sort(
          (a, b) => a.givenAt.getTime() - b.givenAt.getTime(),
        ),
      };
    case "planned":
      return {
        ...written,
        plans: [
          ...written.plans,
          {
            ...fact.plan,
            begunAt: fact.at,
            endedAt: null,
            whyEnded: "",
            settled: [],
            outcomes: [],
          },
        ],
      };
    case "settled":
      return withPlan(written, fact.planId, (plan) => ({
        ...plan,
        settled: [...plan.settled.filter(({ position }) => position !== fact.step.position), fact.step].sort(
          (a, b) => a.position - b.position,
        ),
      }));
    case "reopened":
      return withPlan(written, fact.planId, (plan) => ({
        ...plan,
        settled: plan.settled.filter(({ position }) => position !== fact.position),
      }));
    case "stopped":
      return withPlan(written, fact.planId, (plan) => ({ ...plan, endedAt: fact.at, whyEnded: fact.why }));
    case "counted":
      return {
        ...written,
        counts: { ...written.counts, [fact.methodId]: { ...fact.state, keptAt: fact.at } },
      };
    case "happened":
    case "over":
      return { ...written, incidents: withIncident(written.incidents ?? [], fact.incident) };
    case "job-begun":
    case "job-over":
      return {
        ...written,
        jobs: [...(written.jobs ?? []).filter(({ id }) => id !== fact.job.id), fact.job],
      };
    case "defect-seen":
      return { ...written, defects: [...(written.defects ?? []), fact.defect] };
    case "defect-mended":
      return {
        ...written,
        mended: [
          ...(written.mended ?? []).filter((id) => id !== fact.defectId),
          ...(fact.mended ? [fact.defectId] : []),
        ],
      };
    case "worked":
      return { ...written, work: [...workWithout(written, fact.supersedes), fact.work] };
    case "work-taken-back":
      return { ...written, work: workWithout(written, fact.workId) };
    case "plant-read":
      return {
        ...written,
        plant: [...(written.plant ?? []).filter(({ id }) => id !== fact.supersedes), fact.reading],
      };
    case "photographed":
      return { ...written, photos: [...written.photos, { id: fact.photoId, takenAt: fact.at }] };
    case "hid-photo":
      return {
        ...written,
        photos: written.photos.filter(({ id }) => id !== fact.photoId),
        hiddenPhotos: [...(written.hiddenPhotos ?? []), fact.photoId],
      };
    case "found":
      // A view works them out again; they are written for who looks through the book.
      return written;
    case "closed":
      return {
        ...written,
        note: fact.note,
        notices: fact.notices,
        weather: fact.weather,
        feederSetting: fact.feederSetting ?? null,
        untested: fact.untested ?? null,
        finishedAt: fact.at,
      };
  }
}

function withReading(written: Written, fact: Extract<Fact, { kind: "read" }>): Written {
  const { reading, supersedes, used } = fact;
  const old = written.readings.find(({ id }) => id === supersedes);
  const ofOne = (one: VisitReading) => one.quantity === reading.quantity && one.round === reading.round;
  const readings = [...written.readings.filter((one) => one !== old), reading]
    .map((one) => (ofOne(one) ? { ...one, used: one.id === used } : one))
    .sort((a, b) => QUANTITY_NAMES.indexOf(a.quantity) - QUANTITY_NAMES.indexOf(b.quantity));
  return {
    ...written,
    readings,
    uses: [...written.uses, ...fact.uses],
    trail: old
      ? [
          {
            id: old.id,
            quantity: old.quantity,
            round: old.round,
            methodId: old.methodId,
            value: old.value,
            by: old.by ?? fact.by.name,
            supersededAt: fact.at,
            correctedBy: fact.by.name,
            why: reading.why ?? "",
          },
          ...written.trail,
        ]
      : written.trail,
  };
}

const workWithout = ({ work = [] }: Written, id: string | null): WorkDone[] =>
  work.filter((one) => one.id !== id);

const withIncident = (incidents: readonly Incident[], incident: Incident): Incident[] => [
  ...incidents.filter(({ id }) => id !== incident.id),
  incident,
];

const withPlan = (written: Written, planId: string, change: (plan: VisitPlan) => VisitPlan): Written => ({
  ...written,
  plans: written.plans.map((plan) => (plan.id === planId ? change(plan) : plan)),
});
