import type { Kit, Measure, Method, Quantity, Step, TrapCode } from "#core";
import { typedOr } from "../../ui/number-text";

/** A kit as its form holds it: every number as it was typed, so that nothing typed is lost. */
export interface KitFields {
  name: string;
  methods: MethodFields[];
}

export interface MethodFields {
  id: string;
  name: string;
  quantity: Quantity;
  kind: Method["kind"];
  titrant: string;
  samples: { millilitres: string; factor: string }[];
  normality: string;
  dropVolume: string;
  equivalentWeight: string;
  target: string;
  sample: string;
  marks: string;
  strip: string;
  readAt: string;
  source: "meter" | "photometer" | "lab";
  accuracy: string;
  relative: string;
  before: { word: string; swatch: string };
  after: { word: string; swatch: string };
  steps: {
    reagent: string;
    amount: string;
    measure: Measure;
    mix: Step["mix"];
    wait: string;
    sample: string;
  }[];
  traps: TrapCode[];
  continues: string;
  caution: boolean;
}

const text = (value: number | undefined): string => (value === undefined ? "" : String(value));
const NO_COLOUR = { word: "", swatch: "#f4f3ee" };

export const fromKit = (kit: Kit): KitFields => ({ name: kit.name, methods: kit.methods.map(fromMethod) });

function fromMethod(method: Method): MethodFields {
  const titration = method.kind === "titration" ? method : null;
  const meter = method.kind === "meter" ? method : null;
  const scale = method.kind !== "titration" && method.kind !== "meter" ? method : null;
  return {
    id: method.id,
    name: method.name,
    quantity: method.quantity,
    kind: method.kind,
    titrant: titration?.titrant ?? "",
    samples: (titration?.samples ?? [{ millilitres: 25, factor: 10 }]).map((size) => ({
      millilitres: text(size.millilitres),
      factor: text(size.factor),
    })),
    normality: text(titration?.computed?.normality),
    dropVolume: text(titration?.computed?.dropVolume),
    equivalentWeight: text(titration?.computed?.equivalentWeight),
    target: text(titration?.target),
    sample: text(scale?.sample ?? 10),
    marks: scale?.marks.join(" ") ?? "",
    strip: scale?.strip ?? "",
    readAt: text(scale?.readAt),
    source: meter?.source ?? "meter",
    accuracy: text(meter?.accuracy ?? 0),
    relative: text(meter?.relative),
    before: method.before ?? NO_COLOUR,
    after: method.after ?? NO_COLOUR,
    steps: method.steps.map((step) => ({
      ...step,
      amount: text(step.amount),
      wait: text(step.wait),
      sample: text(step.sample),
    })),
    traps: method.traps ?? [],
    continues: method.continues ?? "",
    caution: method.caution !== undefined,
  };
}

export const emptyMethod = (number: number): MethodFields => ({
  ...fromMethod({
    id: `test-${number}`,
    name: "",
    quantity: "totalAlkalinity",
    kind: "titration",
    titrant: "",
    samples: [{ millilitres: 25, factor: 10 }],
    steps: [],
    before: NO_COLOUR,
    after: NO_COLOUR,
  }),
});

const ifTyped = <K extends string>(key: K, typed: string): Partial<Record<K, number>> =>
  typed.trim() === "" ? {} : ({ [key]: typedOr(typed) } as Partial<Record<K, number>>);

export const toKit = ({ name, methods }: KitFields): Kit => ({ name, methods: methods.map(toMethod) });

function toMethod(fields: MethodFields): Method {
  const colour = (side: "before" | "after") =>
    fields[side].word.trim() === "" ? {} : { [side]: fields[side] };
  const base = {
    id: fields.id,
    quantity: fields.quantity,
    name: fields.name,
    steps: fields.steps.map(({ reagent, amount, measure, mix, wait, sample }) => ({
      reagent,
      amount: typedOr(amount),
      measure,
      mix,
      ...ifTyped("wait", wait),
      ...ifTyped("sample", sample),
    })),
    ...(fields.traps.length > 0 ? { traps: fields.traps } : {}),
    ...(fields.continues ? { continues: fields.continues } : {}),
    ...(fields.caution ? { caution: "acid-reagent" as const } : {}),
    ...colour("before"),
    ...colour("after"),
  };
  switch (fields.kind) {
    case "titration":
      return {
        ...base,
        kind: "titration",
        titrant: fields.titrant,
        samples: fields.samples.map((size) => ({
          millilitres: typedOr(size.millilitres),
          factor: typedOr(size.factor),
        })),
        ...(fields.normality.trim() && fields.dropVolume.trim() && fields.equivalentWeight.trim()
          ? {
              computed: {
                normality: typedOr(fields.normality),
                dropVolume: typedOr(fields.dropVolume),
                equivalentWeight: typedOr(fields.equivalentWeight),
              },
            }
          : {}),
        ...ifTyped("target", fields.target),
      } as Method;
    case "meter":
      return {
        ...base,
        kind: "meter",
        source: fields.source,
        accuracy: typedOr(fields.accuracy),
        ...ifTyped("relative", fields.relative),
      };
    default:
      return {
        ...base,
        kind: fields.kind,
        sample: typedOr(fields.sample),
        marks: fields.marks
          .split(/[\s;]+/)
          .filter(Boolean)
          .map(typedOr),
        ...(fields.kind === "strip" && fields.strip.trim() ? { strip: fields.strip } : {}),
        ...(fields.kind === "strip" ? ifTyped("readAt", fields.readAt) : {}),
      };
  }
}
