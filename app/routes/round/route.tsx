import { Link } from "react-router";
import { firmOf } from "#server/db/firms";
import { type Call, roundOf } from "#server/round";
import { inFirm } from "../../context";
import { FindingFlag } from "../../ui/finding-flag";
import { ago, longDateText, volumeText } from "../../ui/format";
import { StartVisit } from "../../ui/start-visit";
import { useFirm } from "../../ui/use-firm";
import { KIND_NAMES, words } from "../../words";
import type { Route } from "./+types/route";

export const loader = ({ context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, _, now) => {
    const firm = await firmOf(scope);
    return { now, calls: await roundOf(scope, now, firm.timeZone) };
  });

export const meta: Route.MetaFunction = () => [{ title: `${words.round.title} · ${words.product}` }];

export default function Round({ loaderData: { now, calls } }: Route.ComponentProps) {
  const { timeZone } = useFirm();
  return (
    <>
      <header className="mb-4 flex flex-wrap items-baseline justify-between gap-x-6">
        <h1 className="text-3xl font-bold tracking-tight">{longDateText(now, timeZone)}</h1>
        <p className="text-soft">{words.round.calls(calls.length)}</p>
      </header>
      {calls.length === 0 ? <p className="sheet max-w-prose p-5">{words.round.none}</p> : null}
      <ol className="grid gap-3">
        {calls.map((call, index) => (
          <CallRow key={call.basin.id} call={call} number={index + 1} now={now} />
        ))}
      </ol>
    </>
  );
}

function CallRow({ call, number, now }: { call: Call; number: number; now: Date }) {
  const { units } = useFirm();
  const { basin, open, last, doneToday, findings } = call;
  return (
    <li className="sheet grid grid-cols-[2.2rem_1fr] items-center gap-x-3 gap-y-3 p-4 wide:grid-cols-[2.2rem_1fr_auto]">
      <span className={`self-start text-2xl font-bold ${doneToday ? "text-soft line-through" : ""}`}>
        {number}
      </span>
      <div className="grid gap-1">
        <h2 className="text-xl font-semibold">
          <Link to={`/basins/${basin.id}`} className="link">
            {basin.site.name}, {basin.name}
          </Link>
        </h2>
        <p className="text-soft">
          {basin.site.street}, {basin.site.district} · {KIND_NAMES[basin.kind]},{" "}
          {volumeText(basin.litres, units)} ·{" "}
          {last ? words.round.lastSeen(ago(last.finishedAt, now)) : words.round.never}
        </p>
        <p className="flex flex-wrap items-center gap-2">
          {findings.map((finding) => (
            <FindingFlag key={finding.code} finding={finding} />
          ))}
          {last && findings.length === 0 ? <span className="text-soft">{words.round.allRight}</span> : null}
        </p>
      </div>
      <div className="col-span-2 flex flex-wrap items-center gap-3 wide:col-span-1 wide:justify-end">
        {open ? <span className="text-soft">{words.round.underWay(open.memberName)}</span> : null}
        {doneToday && !open ? <span className="text-soft">{words.round.doneToday}</span> : null}
        {open ? (
          <Link to={`/visits/${open.id}`} className="action">
            {words.round.resume}
          </Link>
        ) : (
          <StartVisit basinId={basin.id} quiet={doneToday}>
            {doneToday ? words.round.again : words.round.start}
          </StartVisit>
        )}
      </div>
    </li>
  );
}
