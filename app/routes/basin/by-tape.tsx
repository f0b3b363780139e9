import { useState } from "react";
import { type BasinShape, InputFault, UNIT_SYSTEMS, type UnitSystem, type Volume, volumeOf } from "#core";
import { Button } from "../../ui/button";
import { Field, RemoveButton } from "../../ui/field";
import { plain, volumeText } from "../../ui/format";
import { faultSentence, words } from "../../words";
import { ShapeDrawing } from "./shape-drawing";
import {
  FLOOR_FIELDS,
  type Measure,
  OUTLINE_FIELDS,
  type ShapeFields,
  shapeFieldsOf,
  shapeFrom,
} from "./shape-fields";

/** Metres in a foot, by definition. */
const FOOT = 0.3048;

interface TapeProps {
  shape: BasinShape | null;
  units: UnitSystem;
  busy: boolean;
  save: (shape: BasinShape) => void;
}

/** The basin by tape: its measures, drawn to scale as they are typed, and what it holds. */
export function ByTape({ shape, units, busy, save }: TapeProps) {
  const unit = UNIT_SYSTEMS[units].length;
  const perUnit = unit === "ft" ? FOOT : 1;
  const [fields, setFields] = useState<ShapeFields>(() => shapeFieldsOf(shape, perUnit));
  const change = (part: Partial<ShapeFields>) => setFields((now) => ({ ...now, ...part }));
  const said = words.volume;
  const made = shapeFrom(fields, perUnit);
  const found = volumeOrFault(made);
  const named = (name: Measure) => (unit === "ft" ? said.feet : said.meters)({ name: said.measures[name] });
  const measure = (name: Measure) => (
    <Field key={name} label={named(name)}>
      <input
        inputMode="decimal"
        autoComplete="off"
        value={fields.measures[name]}
        onChange={(event) => change({ measures: { ...fields.measures, [name]: event.target.value } })}
      />
    </Field>
  );
  return (
    <section className="sheet grid items-start gap-6 p-4 wide:grid-cols-2">
      <div className="grid gap-4">
        <h2 className="text-xl font-semibold">{said.shape}</h2>
        <div className="grid grid-cols-2 gap-3">
          <Field label={said.outline}>
            <select
              value={fields.outline}
              onChange={(event) => change({ outline: event.target.value as ShapeFields["outline"] })}
            >
              {Object.entries(said.outlines).map(([kind, name]) => (
                <option key={kind} value={kind}>
                  {name}
                </option>
              ))}
            </select>
          </Field>
          <Field label={said.floor}>
            <select
              value={fields.floor}
              onChange={(event) => change({ floor: event.target.value as ShapeFields["floor"] })}
            >
              {Object.entries(said.floors).map(([kind, name]) => (
                <option key={kind} value={kind}>
                  {name}
                </option>
              ))}
            </select>
          </Field>
          {OUTLINE_FIELDS[fields.outline].map(measure)}
          {FLOOR_FIELDS[fields.floor].map(measure)}
          {measure("waterLine")}
        </div>
        {fields.outline === "offsets" ? (
          <Rows
            title={said.stations}
            rows={fields.stations}
            names={["at", "left", "right"]}
            change={(stations) => change({ stations })}
            least={2}
          />
        ) : null}
        {fields.floor === "stepped" ? (
          <Rows
            title={said.steps}
            rows={fields.steps}
            names={["from", "depth"]}
            change={(steps) => change({ steps })}
            least={1}
          />
        ) : null}
        <Rows
          title={said.blocks}
          rows={fields.blocks}
          names={["length", "width", "height"]}
          change={(blocks) => change({ blocks })}
          least={0}
        />
      </div>
      <div className="grid gap-2">
        {found instanceof InputFault ? (
          <p className="text-soft">{Number.isNaN(found.value) ? said.empty : faultSentence(told(found))}</p>
        ) : (
          <>
            <p className="text-3xl font-bold">{volumeText(found.litres, units)}</p>
            <p className="text-soft">
              {said.interval({ low: volumeText(found.low, units), high: volumeText(found.high, units) })};{" "}
              {said.surface({
                area:
                  unit === "ft"
                    ? `${plain(found.surface / FOOT ** 2, 0)} ft²`
                    : `${plain(found.surface, 1)} m²`,
              })}
            </p>
            <ShapeDrawing shape={made} unit={unit} />
            <Button type="button" busy={busy} className="justify-self-start" onClick={() => save(made)}>
              {said.use}
            </Button>
          </>
        )}
      </div>
    </section>
  );
}

const told = ({ code, field, value, limit }: InputFault) => ({
  code,
  field,
  value: String(value ?? ""),
  limit: typeof limit === "number" ? Number(limit.toPrecision(3)) : limit,
});

function volumeOrFault(shape: BasinShape): Volume | InputFault {
  try {
    return volumeOf(shape);
  } catch (fault) {
    if (fault instanceof InputFault) return fault;
    throw fault;
  }
}

/** Rows of measures of which there may be several. */
function Rows<Name extends string>({
  title,
  rows,
  names,
  change,
  least,
}: {
  title: string;
  rows: Record<Name, string>[];
  names: readonly Name[];
  change: (rows: Record<Name, string>[]) => void;
  least: number;
}) {
  return (
    <fieldset className="grid gap-2">
      <legend className="mb-1 text-sm text-soft">{title}</legend>
      {rows.map((row, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: rows are known by their place
        <div key={index} className="flex gap-2">
          {names.map((name) => (
            <input
              key={name}
              aria-label={`${title}, ${index + 1}, ${name}`}
              inputMode="decimal"
              className="w-full min-w-0"
              value={row[name]}
              onChange={(event) =>
                change(rows.map((one, at) => (at === index ? { ...one, [name]: event.target.value } : one)))
              }
            />
          ))}
          {rows.length > least ? (
            <RemoveButton onClick={() => change(rows.filter((_, at) => at !== index))} />
          ) : null}
        </div>
      ))}
      <button
        type="button"
        className="quiet-action justify-self-start"
        onClick={() =>
          change([...rows, Object.fromEntries(names.map((name) => [name, ""])) as Record<Name, string>])
        }
      >
        {words.volume.addRow}
      </button>
    </fieldset>
  );
}
