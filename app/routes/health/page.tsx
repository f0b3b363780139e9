import { useFetcher } from "react-router";
import { InputFault } from "#core";
import { firmCounts } from "#server/db/firms";
import { JOB_NAMES, type JobName } from "#server/jobs/nightly";
import { atGate, attempt, inFirm, ownerOnly, servicesContext } from "../../context";
import { formBody } from "../../request";
import { Button } from "../../ui/button";
import { ago, plain } from "../../ui/format";
import { offlineAware } from "../../ui/offline";
import { Refused, type SaveAnswer } from "../../ui/refused";
import { words } from "../../words";
import type { Route } from "./+types/page";

export async function loader({ context }: Route.LoaderArgs) {
  const { firmId } = ownerOnly(context);
  const { jobs, now } = context.get(servicesContext);
  return {
    now: now(),
    names: JOB_NAMES,
    runs: (await atGate(context, async () => jobs()?.recent(firmId))) ?? null,
    counts: await inFirm(context, firmCounts),
  };
}

export async function action({ request, context }: Route.ActionArgs) {
  const { firmId } = ownerOnly(context);
  return attempt(async () => {
    const sent = (await formBody(request)).get("run");
    const name = JOB_NAMES.find((one) => one === sent);
    if (!name) throw new InputFault("unknown", "run", String(sent), JOB_NAMES);
    const jobs = context.get(servicesContext).jobs();
    // Without a queue nobody would do it: said, not acknowledged.
    if (!jobs) throw new InputFault("inconsistent", "run", name, words.health.off);
    await jobs.send(name, firmId);
    return { saved: true as const };
  });
}

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.health.title} · ${words.product}` }];

/** Whether the work of the night was done. */
export default function Health({ loaderData: { now, names, runs, counts } }: Route.ComponentProps) {
  const said = words.health;
  return (
    <div className="grid max-w-3xl gap-4">
      <header>
        <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
        <p className="text-soft">{said.hint}</p>
      </header>
      {runs === null ? <p className="sheet p-4">{said.off}</p> : null}
      {runs ? (
        <ul className="sheet divide-y divide-rule">
          {names.map((name) => (
            <JobRow key={name} name={name} runs={runs.filter((run) => run.name === name)} now={now} />
          ))}
        </ul>
      ) : null}
      <section className="sheet p-4">
        <h2 className="text-xl font-semibold">{said.book}</h2>
        <p>
          {said.counts({
            visits: plain(counts.visits, 0),
            readings: plain(counts.readings, 0),
            photos: plain(counts.photos, 0),
          })}
        </p>
      </section>
    </div>
  );
}

type Runs = NonNullable<Route.ComponentProps["loaderData"]["runs"]>;

function JobRow({ name, runs, now }: { name: JobName; runs: Runs; now: Date }) {
  const fetcher = useFetcher<SaveAnswer>();
  const said = words.health;
  return (
    <li className="grid gap-2 p-4">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h2 className="text-xl font-semibold">{said.names[name]}</h2>
        <Button
          type="button"
          quiet
          busy={fetcher.state !== "idle"}
          onClick={() => fetcher.submit({ run: name }, { method: "post" })}
        >
          {said.run}
        </Button>
      </div>
      {runs.length === 0 ? <p className="text-soft">{said.none}</p> : null}
      {runs.slice(0, 3).map((run) => (
        <p key={run.createdAt.toISOString()} className={run.state === "failed" ? "text-above" : "text-soft"}>
          {run.state in said.states ? said.states[run.state as keyof typeof said.states] : run.state},{" "}
          {ago(run.completedAt ?? run.createdAt, now)}
          {run.state === "failed" ? `: ${run.said}` : ""}
        </p>
      ))}
      <Refused answer={fetcher.data} />
    </li>
  );
}
