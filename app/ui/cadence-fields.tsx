import type { CadenceChange, TaskCadence } from "#core";
import { STATION_ORDER, USUAL_CADENCE } from "#core";
import { quantityName, words } from "../words";
import { Field } from "./field";
import { typedOrNull } from "./number-text";

/** How often each test and task is due, as text: empty is as usual. */
export interface CadenceText {
  tests: Record<string, string>;
  tasks: Record<string, string>;
}

export const TASK_FIELDS = Object.keys(USUAL_CADENCE.tasks) as (keyof TaskCadence)[];

/** Tests that nobody makes by the calendar: the pH asks for them. */
const TESTS = STATION_ORDER.filter((station) => station !== "acidDemand" && station !== "baseDemand");

export const cadenceText = (change: CadenceChange | null): CadenceText => ({
  tests: Object.fromEntries(TESTS.map((test) => [test, String(change?.tests?.[test] ?? "")])),
  tasks: Object.fromEntries(TASK_FIELDS.map((task) => [task, String(change?.tasks?.[task] ?? "")])),
});

const numbers = (fields: Record<string, string>) =>
  Object.fromEntries(
    Object.entries(fields).flatMap(([name, text]) => (text.trim() === "" ? [] : [[name, typedOrNull(text)]])),
  );

/** What was typed, or null when all of it is as usual. */
export function cadenceFrom({ tests, tasks }: CadenceText): CadenceChange | null {
  const change = { tests: numbers(tests), tasks: numbers(tasks) };
  return Object.keys({ ...change.tests, ...change.tasks }).length > 0 ? change : null;
}

interface Props {
  value: CadenceText;
  change: (value: CadenceText) => void;
  /** What stands where a field is empty. */
  usual: typeof USUAL_CADENCE;
}

export function CadenceFields({ value, change, usual }: Props) {
  const input = (part: "tests" | "tasks", name: string, placeholder: number | undefined) => (
    <input
      inputMode="numeric"
      autoComplete="off"
      value={value[part][name] ?? ""}
      placeholder={String(placeholder ?? "")}
      onChange={(event) => change({ ...value, [part]: { ...value[part], [name]: event.target.value } })}
    />
  );
  return (
    <div className="grid gap-3">
      <p className="text-soft">{words.facts.cadenceHint}</p>
      <div className="grid grid-cols-2 gap-2 wide:grid-cols-4">
        {TESTS.map((test) => (
          <Field key={test} label={quantityName(test)}>
            {input("tests", test, usual.tests[test])}
          </Field>
        ))}
      </div>
      <p className="text-soft">{words.facts.tasksHint}</p>
      <div className="grid grid-cols-2 gap-2 wide:grid-cols-4">
        {TASK_FIELDS.map((task) => (
          <Field key={task} label={words.tasks[task]}>
            {input("tasks", task, usual.tasks[task])}
          </Field>
        ))}
      </div>
    </div>
  );
}
