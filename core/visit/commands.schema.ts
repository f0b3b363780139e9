import Joi from "joi";
import { INCIDENT_KINDS } from "../judging/incidents";
import { PRODUCT_IDS } from "../products/products";
import { DOUBT_CODES } from "../testing/doubt";
import { lookSchema, samplingSchema } from "../testing/order/look.schema";
import { MOST_DROPS } from "../testing/titration";
import type {
  CommandBasis,
  CommandName,
  DeviceStamp,
  IncidentEnd,
  JobEnd,
  PlaceAsked,
  PlantAsked,
  StepInput,
  StopInput,
  TestInput,
  VisitCommands,
  WorkAsked,
} from "./commands";
import { LONGEST_NOTE, MOST_FED } from "./decide/close";
import type { PlanAsked } from "./plans";
import { type PlanContent, UNTESTED } from "./written";

/** What the commands of a visit may carry, from wherever they come. */

const uuid = Joi.string().guid({ separator: "-" });

const methodId = Joi.string().max(60).required();

const drops = Joi.number().integer().min(0).max(MOST_DROPS);
/** A screen's own mark, made when it was opened. */
const screen = Joi.string().allow("").max(60);

const count = Joi.object<VisitCommands["count"]>({
  /** See `countIdOf`. */
  methodId: Joi.string().max(100).required(),
  drops: drops.required(),
  ahead: drops.default(0),
  idle: drops.default(0),
  sample: Joi.number().greater(0).max(1000).required(),
  holder: screen.default(""),
  term: Joi.number().integer().min(0).max(1_000_000).default(0),
  sequence: Joi.number().integer().min(0).max(1_000_000).required(),
});

const mark = Joi.number().min(0).max(40_000).allow(null).required();
const dilution = Joi.number().min(1).max(100);

const place = Joi.object({ from: mark, to: mark });

export const testSchema = Joi.object<TestInput>({
  id: uuid.required(),
  kitId: uuid,
  confirmed: Joi.array().items(Joi.valid(...DOUBT_CODES)),
  methodId,
  seen: Joi.alternatives()
    .conditional(".kind", {
      switch: [
        {
          is: "drops",
          then: Joi.object({
            kind: Joi.valid("drops").required(),
            count: drops.required(),
            sample: Joi.number().min(0).max(1000).required(),
            dilution,
            target: Joi.number().min(6.5).max(8.5),
            ahead: drops,
            idle: drops,
          }),
        },
        {
          is: "place",
          then: Joi.object({
            kind: Joi.valid("place").required(),
            place: place.required(),
            again: Joi.array().items(place).max(9),
            dilution,
          }),
        },
      ],
      otherwise: Joi.object({
        kind: Joi.valid("number").required(),
        value: Joi.number().required(),
        dilution,
      }),
    })
    .required(),
});

const grams = Joi.number().min(0).max(1_000_000);
const why = Joi.string().max(400);
const figure = Joi.number().unsafe();

const sample = Joi.object().pattern(Joi.string().max(40), figure).max(20);
const product = Joi.object({
  key: uuid.required(),
  product: Joi.valid(...PRODUCT_IDS).required(),
  strength: Joi.number().greater(0).max(1.2).required(),
  pricePerKg: Joi.number().min(0).required(),
  stock: Joi.number().min(0).allow(null).required(),
});
const step = Joi.object({
  kind: Joi.valid("replace-water", "dose", "aerate", "task", "retest").required(),
  waitMinutes: Joi.number().min(0).max(100_000).required(),
  cautions: Joi.array().items(Joi.string().max(40)).max(20).required(),
  fraction: Joi.number().min(0).max(1),
  litres: Joi.number().min(0),
  product: uuid,
  compound: Joi.valid(...PRODUCT_IDS),
  grams,
  portions: Joi.number().integer().min(1).max(1000),
  portionGrams: grams,
  loads: Joi.number().integer().min(1).max(1000),
  how: Joi.string().max(40),
  // Plans of before kept a part back until the retest.
  heldBack: Joi.any().strip(),
  millimoles: Joi.number().min(0).max(50),
  untilPh: Joi.number().min(0).max(14),
  minutes: Joi.number().min(0),
  task: Joi.string().max(40),
  quantities: Joi.array().items(Joi.string().max(40)).max(20),
  promised: Joi.object().max(20),
})
  .when(Joi.object({ kind: "dose" }).unknown(), {
    then: Joi.object({
      product: Joi.required(),
      compound: Joi.required(),
      grams: Joi.required(),
      portions: Joi.required(),
      portionGrams: Joi.required(),
      how: Joi.required(),
    }),
  })
  .when(Joi.object({ kind: "replace-water" }).unknown(), {
    then: Joi.object({ fraction: Joi.required(), litres: Joi.required() }),
  })
  .when(Joi.object({ kind: "aerate" }).unknown(), { then: Joi.object({ millimoles: Joi.required() }) })
  .when(Joi.object({ kind: "task" }).unknown(), { then: Joi.object({ task: Joi.required() }) })
  .when(Joi.object({ kind: "retest" }).unknown(), { then: Joi.object({ quantities: Joi.required() }) });

const list = (most: number) => Joi.array().items(Joi.object().unknown()).max(most).required();

/** A plan as a device found it; the numbers are checked against the water by `planKept`. */
const content = Joi.object<PlanContent & { heldBack?: unknown }>({
  basis: Joi.object({
    water: sample.required(),
    litres: Joi.number().greater(0).required(),
    products: Joi.array().items(product).max(200).required(),
    fill: sample.allow(null).required(),
  }).required(),
  spreads: Joi.object().allow(null).required(),
  after: sample.required(),
  saturation: figure.allow(null).required(),
  cost: Joi.number().min(0).required(),
  steps: Joi.array().items(step).max(100).required(),
  heldBack: Joi.any().strip(),
  missed: Joi.array().items(Joi.object().unknown()).max(20).required(),
  facts: Joi.object().max(20).required(),
  ahead: Joi.object({
    leave: list(10),
    calls: list(10),
    projects: list(10),
    promised: list(10),
    opens: Joi.number().unsafe().allow(null).required(),
    leftOut: list(50),
    open: list(10),
  }),
});

const onlyFor = (origin: string, schema: Joi.Schema) =>
  schema.when("origin", { is: origin, then: Joi.required(), otherwise: Joi.forbidden() });

const placeMark = Joi.object<PlaceAsked>({
  which: Joi.valid("start", "end").required(),
  latitude: Joi.number().min(-90).max(90).required(),
  longitude: Joi.number().min(-180).max(180).required(),
  accuracy: Joi.number().min(0).max(1_000_000).required(),
});

export const COMMAND_SCHEMAS: { [Name in CommandName]: Joi.Schema<VisitCommands[Name]> } = {
  look: lookSchema,
  sample: samplingSchema,
  place: placeMark,
  read: Joi.object({ tests: Joi.array<TestInput[]>().items(testSchema).min(1).max(12).required() }),
  count,
  give: Joi.object({
    code: Joi.string().max(80).required(),
    productId: uuid.required(),
    givenGrams: grams.required(),
  }),
  "begin-plan": Joi.object<PlanAsked>({
    origin: Joi.valid("alternative", "recipe", "what-if").required(),
    name: Joi.string()
      .max(40)
      .when("origin", { is: "what-if", then: Joi.forbidden(), otherwise: Joi.required() }),
    content: content.when("origin", { is: "what-if", then: Joi.forbidden() }),
    grams: onlyFor("what-if", Joi.object().pattern(uuid, grams)),
    replaced: onlyFor("what-if", Joi.number().min(0).max(1)),
    aerated: onlyFor("what-if", Joi.number().min(0).max(20)),
  }),
  "settle-step": Joi.object<StepInput>({
    planId: uuid.required(),
    position: Joi.number().integer().min(0).max(99).required(),
    state: Joi.valid("done", "skipped", "open").required(),
    why: why.allow("").default(""),
    dose: Joi.object({ id: uuid.required(), givenGrams: grams.required() }),
  }),
  "stop-plan": Joi.object<StopInput>({
    stop: why.allow("").required(),
    planId: uuid,
    retested: Joi.boolean().default(false),
  }),
  "report-incident": Joi.object<VisitCommands["report-incident"]>({
    kind: Joi.valid(...INCIDENT_KINDS).required(),
    note: Joi.string().allow("").max(1000).default(""),
  }),
  "end-incident": Joi.object<IncidentEnd>({
    incidentId: uuid.required(),
    who: Joi.string().allow("").max(120).default(""),
  }),
  "end-job": Joi.object<JobEnd>({
    jobId: uuid.required(),
    won: Joi.boolean().required(),
    why: why.allow("").default(""),
  }),
  "report-defect": Joi.object<VisitCommands["report-defect"]>({
    title: Joi.string().allow("").max(1000).required(),
    photoId: uuid.allow(null).default(null),
  }),
  "mend-defect": Joi.object<VisitCommands["mend-defect"]>({
    defectId: uuid.required(),
    mended: Joi.boolean().required(),
  }),
  work: Joi.object<WorkAsked>({
    key: Joi.string()
      .pattern(/^[a-z0-9-]{1,50}$/)
      .required(),
    name: Joi.string().max(80),
    state: Joi.valid("done", "skipped", "open").required(),
    why: why.allow("").default(""),
  }),
  "read-plant": Joi.object<PlantAsked>({
    kind: Joi.string().max(40).required(),
    value: Joi.number().unsafe().required(),
    changed: Joi.boolean().default(false),
  }),
  photograph: Joi.object({ photoId: uuid.required() }),
  "hide-photo": Joi.object({ photoId: uuid.required() }),
  close: Joi.object({
    note: Joi.string().allow("").max(LONGEST_NOTE).required(),
    feederSetting: Joi.number().min(0).max(MOST_FED).allow(null),
    untested: Joi.valid(...UNTESTED, null),
  }),
  correct: Joi.object({
    readingId: uuid.required(),
    seen: testSchema.extract("seen").required(),
    why: Joi.string().allow("").max(400).required(),
  }),
};

export const givenAtSchema = Joi.object<Omit<DeviceStamp, "at"> & { at: string }>({
  device: Joi.string().min(1).max(60).required(),
  sequence: Joi.number().integer().min(0).max(2_000_000_000).required(),
  at: Joi.string().isoDate().required(),
  seen: Joi.object<CommandBasis>({
    version: Joi.number().integer().min(0).required(),
    plans: Joi.number().integer().min(0).max(1000).required(),
    readings: Joi.array().items(uuid).max(2000).required(),
    looked: Joi.boolean().required(),
    sampled: Joi.boolean().required(),
  }).required(),
});
