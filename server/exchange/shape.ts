import Joi from "joi";
import toJsonSchema from "joi-to-json";
import { kitSchema, rangeSetSchema } from "#core/schemas";

/**
 * The book as JSON, told once: which columns of which tables stand in it and under which names. Export,
 * import and the published schema are all made from this.
 */

export const FORMAT = "pelagon-book";
export const VERSION = 1;

type Type =
  | "id"
  | "member"
  | "text"
  | "number"
  | "whole"
  | "flag"
  | "time"
  | "since"
  | "day"
  | "json"
  | "list"
  | "ids"
  | "kit"
  | "set"
  | "bytes"
  | "texts"
  | "wholes";

export interface Column {
  /** In the database. */
  name: string;
  /** In the file. */
  as: string;
  type: Type;
  nullable: boolean;
}

export interface Shape {
  table: string;
  columns: Column[];
}

/** Columns as "name:type", with a question mark where null may stand. */
function shape(table: string, ...columns: string[]): Shape {
  return {
    table,
    columns: columns.map((column) => {
      const [name = "", type = ""] = column.replace("?", "").split(":");
      return {
        name,
        as: name.replace(/_(\w)/g, (_, letter: string) => letter.toUpperCase()),
        type: type as Type,
        nullable: column.endsWith("?"),
      };
    }),
  };
}

/** What stands before the visits, in the order in which it can be put in. */
export const HEAD = {
  members: shape("member", "id:id", "name:text", "email:text"),
  kits: shape(
    "kit",
    "id:id",
    "line:id",
    "version:whole",
    "content:kit",
    "created_at:time",
    "member_id:member?",
  ),
  rangeSets: shape(
    "range_set",
    "id:id",
    "line:id",
    "version:whole",
    "content:set",
    "created_at:time",
    "member_id:member?",
  ),
  products: shape(
    "product",
    "id:id",
    "compound:text",
    "name:text",
    "strength:number",
    "density:number?",
    "price_per_kg:number?",
    "position:whole",
    "planned:flag",
    "stock_grams:number?",
    "stock_counted_at:time?",
    "reorder_grams:number?",
    "retired_at:time?",
    "label_grams:number?",
    "label_days:whole?",
    "label_apart_hours:whole?",
  ),
  deliveries: shape(
    "delivery",
    "id:id",
    "product_id:id",
    "lot:text",
    "used_from:day",
    "added_at:time",
    "removed_at:time?",
  ),
  prices: shape("product_price", "product_id:id", "price_per_kg:number?", "known_from:since?"),
  sites: shape(
    "site",
    "id:id",
    "name:text",
    "street:text",
    "district:text",
    "contact:text",
    "fill_alkalinity:number?",
    "fill_hardness:number?",
    "language:text?",
    "place:json?",
    "note:text",
  ),
  basins: shape(
    "basin",
    "id:id",
    "site_id:id",
    "name:text",
    "kind:text",
    "surface:text",
    "litres:number",
    "indoors:flag",
    "is_public:flag?",
    "sanitiser:text",
    "kit_id:id",
    "range_set_id:id",
    "range_overrides:json?",
    "barred:texts",
    "most_replaced:number",
    "call_minutes:whole?",
    "shape:json?",
    "call_days:wholes",
    "every_weeks:whole",
    "weeks_from:day",
    "season_from:text?",
    "season_to:text?",
    "caller_id:member?",
    "cadence:json?",
    "equipment:json?",
    "position:whole",
    "note:text",
  ),
  volumes: shape(
    "basin_volume",
    "id:id",
    "basin_id:id",
    "member_id:member",
    "litres:number",
    "low:number?",
    "high:number?",
    "how:text",
    "shape:json?",
    "known_from:time",
  ),
  events: shape(
    "basin_event",
    "id:id",
    "basin_id:id",
    "day:day",
    "name:text",
    "made_by:member",
    "removed_at:time?",
  ),
  bottles: shape(
    "bottle",
    "id:id",
    "reagent:text",
    "measure:text",
    "full:whole",
    "lot:text",
    "opened_on:day?",
    "expires_on:day?",
    "added_at:time",
    "emptied_at:time?",
  ),
  tasks: shape("task_done", "id:id", "basin_id:id", "member_id:member", "task:text", "done_at:time"),
  calls: shape(
    "round_call",
    "day:day",
    "basin_id:id",
    "position:whole?",
    "member_id:member?",
    "skipped_at:time?",
    "skipped_by:member?",
    "why:text",
    "gone_at:time?",
    "gone_by:member?",
    "gone_to:day?",
  ),
  // Without the secret of its link: a card that came with a file hangs there, and a new one is made for the link.
  cards: shape(
    "card",
    "id:id",
    "basin_id:id",
    "content:json",
    "made_by:member",
    "made_at:time",
    "withdrawn_at:time?",
  ),
  cardEntries: shape(
    "card_entry",
    "id:id",
    "card_id:id",
    "kind:text",
    "slot:text",
    "at:time",
    "content:json",
    "withdrawn_at:time?",
  ),
} satisfies Record<string, Shape>;

export type HeadName = keyof typeof HEAD;
export const HEAD_NAMES = Object.keys(HEAD) as HeadName[];
/** What the first files lack: they are taken as if there were none. */
export const LATER: readonly HeadName[] = ["tasks", "calls", "deliveries", "cards", "cardEntries"];

export const VISIT = shape(
  "visit",
  "id:id",
  "basin_id:id",
  "member_id:member",
  "kit_id:id",
  "range_set_id:id",
  "range_overrides:json?",
  "litres:number",
  "started_at:time",
  "finished_at:time",
  "note:text",
  "look:json?",
  "sampling:json?",
  "weather:json?",
  "notices:list?",
  "replaced:number?",
  "feeder_setting:number?",
  "incidents:list?",
  "jobs:list?",
  "bathing:json?",
  "untested:text?",
);

/** What hangs on a visit, each with the column that names its parent, in the order it can be put in. */
export const OF_VISIT = {
  readings: shape(
    "reading",
    "id:id",
    "member_id:member",
    "kit_id:id",
    "quantity:text",
    "value:number",
    "low:number?",
    "high:number?",
    "bound:text",
    "method_id:text",
    "observation:json",
    "doubts:list",
    "taken_at:time",
    "recorded_at:time",
    "round:whole",
    "used:flag",
    "supersedes:id?",
    "superseded_at:time?",
    "why:text",
    "scatter:number?",
  ),
  findings: shape("finding", "id:id", "position:whole", "code:text", "detail:json"),
  doses: shape(
    "dose",
    "id:id",
    "member_id:member",
    "product_id:id",
    "code:text",
    "planned_grams:number",
    "given_grams:number",
    "given_at:time",
    "supersedes:id?",
    "superseded_at:time?",
  ),
  plans: shape(
    "plan",
    "id:id",
    "member_id:member",
    "round:whole",
    "origin:text",
    "name:text",
    "content:json",
    "begun_at:time",
    "ended_at:time?",
    "why_ended:text",
  ),
  work: shape(
    "visit_work",
    "id:id",
    "member_id:member",
    "key:text",
    "name:text",
    "state:text",
    "why:text",
    "at:time",
    "superseded_at:time?",
  ),
  plant: shape(
    "plant_reading",
    "id:id",
    "member_id:member",
    "kind:text",
    "value:number",
    "changed:flag",
    "at:time",
    "superseded_at:time?",
  ),
  photos: shape(
    "photo",
    "id:id",
    "member_id:member",
    "kind:text",
    "bytes:bytes",
    "taken_at:time",
    "removed_at:time?",
    "shown_at:time?",
  ),
  // Of the visit that saw them; what mended them is another.
  defects: shape(
    "defect",
    "id:id",
    "basin_id:id",
    "member_id:member",
    "title:text",
    "photo_id:id?",
    "seen_at:time",
    "mended_at:time?",
    "mended_visit:id?",
    "dropped_at:time?",
    "why:text",
  ),
} satisfies Record<string, Shape>;

export type PartName = keyof typeof OF_VISIT;
export const PART_NAMES = Object.keys(OF_VISIT) as PartName[];

/** What hangs on a part of a visit, listed beside it under the visit with the part's id. */
export const OF_PART = {
  reagents: shape("reagent_use", "reading_id:id", "reagent:text", "bottle_id:id?", "amount:number"),
  steps: shape(
    "plan_step",
    "plan_id:id",
    "position:whole",
    "member_id:member",
    "state:text",
    "why:text",
    "at:time",
    "superseded_at:time?",
  ),
  outcomes: shape(
    "plan_outcome",
    "plan_id:id",
    "quantity:text",
    "reading_id:id",
    "before:number",
    "promised:number",
    "low:number",
    "high:number",
    "measured:number",
    "ratio:number?",
    "verdict:text",
  ),
  quotes: shape(
    "quote",
    "id:id",
    "defect_id:id",
    "version:whole",
    "amount:number",
    "text:text",
    "made_at:time",
    "made_by:member",
    "approved_at:time?",
    "approved_by:text?",
  ),
} satisfies Record<string, Shape>;

/** The part of a visit that each of them hangs on, and the column that names it. */
export const PARENT: Record<keyof typeof OF_PART, { part: PartName; column: string }> = {
  reagents: { part: "readings", column: "reading_id" },
  steps: { part: "plans", column: "plan_id" },
  outcomes: { part: "plans", column: "plan_id" },
  quotes: { part: "defects", column: "defect_id" },
};

export type SubpartName = keyof typeof OF_PART;
export const SUBPART_NAMES = Object.keys(OF_PART) as SubpartName[];

/** One row of the file. */
export type Row = Record<string, unknown>;
export type VisitRow = Row & Record<PartName | SubpartName, Row[]>;

const LONGEST_TEXT = 8000;
const MOST_BYTES = 1_300_000;

function typeSchema(type: Type): Joi.Schema {
  switch (type) {
    case "id":
    case "member":
      return Joi.string().guid({ separator: "-" });
    case "text":
      return Joi.string().allow("").max(LONGEST_TEXT);
    case "number":
      return Joi.number();
    case "whole":
      return Joi.number().integer();
    case "flag":
      return Joi.boolean();
    case "time":
    case "since":
      return Joi.string().isoDate();
    case "day":
      return Joi.string().pattern(/^\d{4}-\d\d-\d\d$/);
    case "json":
      return Joi.object().unknown();
    case "list":
      return Joi.array();
    case "kit":
      return kitSchema;
    case "set":
      return rangeSetSchema;
    case "bytes":
      return Joi.string().base64().max(MOST_BYTES);
    case "texts":
      return Joi.array().items(Joi.string());
    case "wholes":
      return Joi.array().items(Joi.number().integer());
    case "ids":
      return Joi.array().items(Joi.string().guid({ separator: "-" }));
  }
}

/** Columns that a file of an earlier version does not have. */
const CAME_LATER: ReadonlySet<string> = new Set([
  "scatter",
  "incidents",
  "jobs",
  "shownAt",
  "bathing",
  "feederSetting",
  "isPublic",
  "replaced",
  "callMinutes",
  "place",
  "goneAt",
  "goneBy",
  "goneTo",
  "labelGrams",
  "labelDays",
  "labelApartHours",
  "language",
  "untested",
]);

export const rowSchema = ({ columns }: Shape): Joi.ObjectSchema<Row> =>
  Joi.object(
    Object.fromEntries(
      columns.map(({ as, type, nullable }) => {
        const schema = typeSchema(type);
        if (CAME_LATER.has(as)) return [as, schema.optional().allow(null).default(null)];
        return [as, (nullable ? schema.allow(null) : schema).required()];
      }),
    ),
  );

const rowsOf = (shapes: Record<string, Shape>) =>
  Object.fromEntries(
    Object.entries(shapes).map(([name, one]) => [name, Joi.array().items(rowSchema(one)).required()]),
  );

/** What visits in files of earlier versions do not have. */
const LATER_PARTS = {
  work: Joi.array().items(rowSchema(OF_VISIT.work)).default([]),
  plant: Joi.array().items(rowSchema(OF_VISIT.plant)).default([]),
  defects: Joi.array().items(rowSchema(OF_VISIT.defects)).default([]),
  quotes: Joi.array().items(rowSchema(OF_PART.quotes)).default([]),
};

export const visitSchema = rowSchema(VISIT).keys({
  ...rowsOf(OF_VISIT),
  ...rowsOf(OF_PART),
  ...LATER_PARTS,
}) as Joi.ObjectSchema<VisitRow>;

const bookSchema = Joi.object({
  format: Joi.valid(FORMAT).required(),
  version: Joi.valid(VERSION).required(),
  ...rowsOf(HEAD),
  visits: Joi.array().items(visitSchema).required(),
}).fork([...LATER], (rows) => rows.optional());

/** The published JSON Schema of the book. */
export const bookJsonSchema = (): object => ({
  $schema: "http://json-schema.org/draft-07/schema#",
  $id: "/schemas/book.json",
  title: "Book",
  description:
    "Everything in a firm's book, or a basin's. Readings in mg/L (pH, °C, meq/L for a demand), volumes in litres, masses in grams, times in UTC.",
  ...toJsonSchema(bookSchema),
});
