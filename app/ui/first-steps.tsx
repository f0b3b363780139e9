import type { ReactNode } from "react";
import { Link } from "react-router";
import type { FirstSteps as Done } from "#server/db/first-steps";
import { words } from "../words";
import { StartVisit } from "./start-visit";
import { useFirm } from "./use-firm";

/** The first hour of a firm, step by step to its first visit: what is done, and the one thing to press next. */
export function FirstSteps({ done: { basin, visitId } }: { done: Done }) {
  const { role } = useFirm();
  const said = words.setup.first;
  if (role === "reader") return null;
  return (
    <section className="sheet grid max-w-prose gap-4 p-5" aria-label={said.title}>
      <h2 className="text-xl font-semibold">{said.title}</h2>
      <ol className="grid gap-4">
        <Step number={1} title={said.basin} done={basin?.name}>
          <p>{said.basinHint}</p>
          <p className="flex flex-wrap gap-3">
            <Link to="/basins/new" className="action">
              {words.newBasin.title}
            </Link>
            {role === "owner" ? (
              <Link to="/book/import" className="quiet-action">
                {said.import}
              </Link>
            ) : null}
          </p>
          {role === "owner" ? <p className="text-sm text-soft">{said.bring}</p> : null}
        </Step>
        <Step number={2} title={said.calls} done={basin?.isCalledAt ? "" : undefined} waits={!basin}>
          <p>{said.callsHint}</p>
          <Link to={`/basins/${basin?.id}/facts`} className="action justify-self-start">
            {said.callsGo}
          </Link>
        </Step>
        <Step number={3} title={said.visit} done={undefined} waits={!basin?.isCalledAt}>
          <p>{said.visitHint}</p>
          {visitId ? (
            <Link to={`/visits/${visitId}`} className="action justify-self-start">
              {said.goOn}
            </Link>
          ) : (
            <StartVisit basinId={basin?.id ?? ""}>{words.basin.start}</StartVisit>
          )}
        </Step>
      </ol>
      <p className="flex flex-wrap gap-x-6">
        <Link to="/practice" className="link min-h-[44px] content-center">
          {said.practise}
        </Link>
        <Link to="/guide" className="link min-h-[44px] content-center">
          {words.guide.title}
        </Link>
      </p>
    </section>
  );
}

/** A step that is done is ticked, the next one open, and a later one only named. */
function Step({
  number,
  title,
  done,
  waits = false,
  children,
}: {
  number: number;
  title: string;
  /** What came of it; undefined while it is to be done. */
  done: string | undefined;
  waits?: boolean;
  children: ReactNode;
}) {
  const isDone = done !== undefined;
  return (
    <li className="grid grid-cols-[2rem_1fr] gap-x-2">
      <b aria-hidden="true">{isDone ? "✓" : number}</b>
      <div className="grid gap-2">
        <h3 className={isDone || waits ? "text-soft" : "font-semibold"}>
          {title}
          {isDone ? <span className="sr-only"> ({words.setup.first.done})</span> : null}
          {done ? `: ${done}` : ""}
        </h3>
        {isDone || waits ? null : children}
      </div>
    </li>
  );
}
