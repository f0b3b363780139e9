import { Check, Circle } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { HOLDS, type Job, jobAt, type VisitJob } from "#core";
import { onServer } from "../../device/action.server";
import { jobCommand } from "../../device/page-command";
import { onDevice } from "../../device/seam";
import { BathingBanner } from "../../ui/bathing-banner";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { dateText, dayText, valueText, withUnit } from "../../ui/format";
import { jobDays, jobMoney } from "../../ui/outlook-text";
import { Refused } from "../../ui/refused";
import { useUnits } from "../../ui/units";
import { useFirm } from "../../ui/use-firm";
import { words } from "../../words";
import { Sight } from "./gauges";
import { useSend } from "./use-send";
import { useVisit } from "./use-visit";

export const action = onServer(jobCommand);

export const clientAction = onDevice(jobCommand);

/** A job of several calls: how far it has come, what is still to show, and when to call again. */
export default function JobPage() {
  const opened = useVisit();
  const { jobs, bathing, basin } = opened;
  return (
    <section aria-label={words.jobs.title} className="grid max-w-3xl gap-4">
      <h2 className="text-2xl font-bold">{words.jobs.title}</h2>
      {jobs.map((one) =>
        one.job.over ? (
          <Over key={one.job.id} job={one.job} over={one.job.over} />
        ) : (
          <UnderWay key={one.job.id} at={jobAt(opened, one)} />
        ),
      )}
      <BathingBanner bathing={bathing} basin={basin} />
    </section>
  );
}

const RECIPES = { green: "green-pool", opening: "opening", closing: "closing" } as const;

function UnderWay({ at }: { at: VisitJob }) {
  const { visit } = useVisit();
  const { send, busy, answer } = useSend(`/visits/${visit.id}/job`);
  const { job, day, checks, next } = at;
  const said = words.jobs;
  const isDone = checks.every(({ holds }) => holds === true);
  return (
    <article className="sheet grid gap-4 p-4">
      <h3 className="text-xl font-semibold">{said.day({ name: said.names[job.kind], day })}</h3>
      <Told at={at} />
      {job.kind === "green" ? <Sight /> : null}
      {checks.length > 0 ? <Checks checks={checks} /> : null}
      <Refused answer={answer} />
      <div className="flex flex-wrap items-center gap-3">
        <Link
          to={`/visits/${visit.id}/recipes/${RECIPES[job.kind]}`}
          className={isDone ? "quiet-action" : "action"}
        >
          {said.today}
        </Link>
        <Button
          type="button"
          quiet={!isDone}
          busy={busy}
          onClick={() => send({ jobId: job.id, won: true, why: "" })}
        >
          {said.done}
        </Button>
      </div>
      {isDone ? <p className="text-soft">{said.doneHint}</p> : next ? <Again next={next} at={at} /> : null}
      <GiveUp job={job} busy={busy} give={(why) => send({ jobId: job.id, won: false, why })} />
    </article>
  );
}

function Told({ at: { job, outlook: now, calls } }: { at: VisitJob }) {
  const { currency } = useFirm();
  // At the first call nothing was found since.
  const outlook = calls.length > 1 ? now : null;
  const said = words.jobs;
  const told = (one: NonNullable<VisitJob["outlook"]>) => ({
    days: jobDays(one),
    money: jobMoney(one, currency),
  });
  if (!job.told && !outlook) return null;
  return (
    <div className="grid gap-1">
      {outlook ? <p className="text-lg font-medium">{said.now(told(outlook))}</p> : null}
      {job.told ? <p className={outlook ? "text-soft" : "text-lg"}>{said.told(told(job.told))}</p> : null}
      <p className="text-sm text-soft">{said.spread}</p>
    </div>
  );
}

function Checks({ checks }: Pick<VisitJob, "checks">) {
  const units = useUnits();
  const said = words.jobs;
  return (
    <div className="grid gap-1">
      <h4 className="font-semibold">{said.checks}</h4>
      <ul className="grid gap-1">
        {checks.map(({ code, holds, value }) => (
          <li key={code} className="grid grid-cols-[1.5rem_1fr] gap-x-2">
            <span aria-hidden="true" className="pt-0.5">
              {holds ? <Check size={20} /> : <Circle size={18} className="text-soft" />}
            </span>
            <span>
              {code === "overnight"
                ? said.check.overnight({ value: withUnit("freeChlorine", HOLDS, units) })
                : said.check[code]}
              {": "}
              <b>{holds === null ? said.unknown : holds ? said.yes : said.notYet}</b>
              {value === null
                ? null
                : code === "overnight"
                  ? `, ${said.lost({ value: valueText("freeChlorine", value, units) })}`
                  : `, ${valueText("combinedChlorine", value, units)}`}
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}

function Again({ next, at }: { next: string; at: VisitJob }) {
  const said = words.jobs.again;
  if (at.job.kind !== "green") return <p>{said.on({ day: dayText(next) })}</p>;
  return <p className="font-medium">{at.isMorning ? said.evening : said.tomorrow}</p>;
}

/** Drained instead, or somebody else's: behind a tap, with a reason. */
function GiveUp({ job, busy, give }: { job: Job; busy: boolean; give: (why: string) => void }) {
  const [why, setWhy] = useState("");
  const said = words.jobs;
  return (
    <details>
      <summary className="min-h-[44px] cursor-pointer content-center text-soft">{said.stop}</summary>
      <form
        className="grid max-w-md gap-2"
        aria-label={`${said.stop}: ${said.names[job.kind]}`}
        onSubmit={(event) => {
          event.preventDefault();
          give(why);
        }}
      >
        <Field label={said.whyStop}>
          <input value={why} required maxLength={400} onChange={(event) => setWhy(event.target.value)} />
        </Field>
        <Button quiet busy={busy} className="justify-self-start">
          {said.stop}
        </Button>
      </form>
    </details>
  );
}

function Over({ job, over }: { job: Job; over: NonNullable<Job["over"]> }) {
  const { timeZone } = useFirm();
  const said = words.jobs;
  const told = { name: said.names[job.kind], day: dateText(over.at, timeZone) };
  return (
    <p className="sheet p-4">
      {over.won ? said.over.won(told) : said.over.stopped({ ...told, why: over.why })}
    </p>
  );
}
