import { useEffect, useState } from "react";
import { Link } from "react-router";
import { maySpeak, RUNS_TO_USE } from "#core";
import { type PractisedTest, practisedBy, practisedInFirm } from "#server/db/practised";
import { commandAction } from "../../commands";
import { inFirm } from "../../context";
import { Button } from "../../ui/button";
import { dateTimeText, dayText, plain } from "../../ui/format";
import { offlineAware } from "../../ui/offline";
import { Refused } from "../../ui/refused";
import { useCommand } from "../../ui/use-command";
import { useFirm } from "../../ui/use-firm";
import { words } from "../../words";
import type { Route } from "./+types/told";
import { readKept } from "./kept";
import { methodOf, toldOf } from "./tests";

/** Own figures are shown to their owner; of the others an owner of the firm sees what they practised, and no figures. */
export const loader = ({ context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, { memberId, role }) => ({
    told: await practisedBy(scope, memberId),
    firm: role === "owner" ? await practisedInFirm(scope) : null,
  }));

export const action = commandAction(["tell-practice"]);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.told.title} · ${words.product}` }];

/** What was practised on this device, told to the firm by whoever did it, and used with their yes. */
export default function Told({ loaderData: { told, firm } }: Route.ComponentProps) {
  const { dispatch, answer, saved, busy } = useCommand<"tell-practice">();
  const { timeZone, member } = useFirm();
  const said = words.told;
  // What this device keeps is read behind the first paint.
  const [here, setHere] = useState<PractisedTest[]>([]);
  useEffect(() => setHere(toldOf(readKept().runs)), []);
  const [first] = told;
  const isUsed = told.some(({ used }) => used);
  return (
    <div className="grid max-w-3xl gap-4">
      <header>
        <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
        <p className="max-w-prose text-soft">{said.hint}</p>
      </header>
      <section className="sheet grid gap-3 p-4">
        <h2 className="text-xl font-semibold">{said.here}</h2>
        {here.length === 0 ? (
          <>
            <p>{said.nothing}</p>
            <Link to="/practice" className="action justify-self-start">
              {words.practice.title}
            </Link>
          </>
        ) : (
          <>
            <p>{said.whose({ name: member })}</p>
            <Figures tests={here} />
            <p className="text-sm text-soft">{said.usedHint({ runs: RUNS_TO_USE })}</p>
            <p className="flex flex-wrap gap-3">
              <Button
                type="button"
                busy={busy}
                onClick={() => dispatch("tell-practice", { tests: here, used: false })}
              >
                {said.tell}
              </Button>
              <Button
                type="button"
                quiet
                busy={busy}
                disabled={!here.some(maySpeak)}
                onClick={() => dispatch("tell-practice", { tests: here, used: true })}
              >
                {said.tellAndUse}
              </Button>
            </p>
          </>
        )}
        <Refused answer={answer} />
        {saved ? <p role="status">{said.done}</p> : null}
      </section>
      <section className="sheet grid gap-3 p-4">
        <h2 className="text-xl font-semibold">{said.told}</h2>
        {first ? (
          <>
            <p>
              {said.toldAt({ when: dateTimeText(new Date(first.toldAt), timeZone) })}{" "}
              {isUsed ? said.inUse : said.notInUse}
            </p>
            <Figures tests={told} />
            <Button
              type="button"
              quiet
              busy={busy}
              className="justify-self-start"
              onClick={() => dispatch("tell-practice", { tests: [], used: false })}
            >
              {said.back}
            </Button>
          </>
        ) : (
          <p className="text-soft">{said.notTold}</p>
        )}
      </section>
      {firm ? <Who rows={firm} /> : null}
    </div>
  );
}

type Row = Pick<PractisedTest, "methodId" | "runs" | "bias" | "scatter">;

function Figures({ tests }: { tests: readonly Row[] }) {
  const said = words.told;
  const share = (value: number | null) => (value === null ? "–" : `${plain(100 * value, 1)}%`);
  return (
    <div className="overflow-x-auto">
      <table className="w-full text-left">
        <thead className="text-sm text-soft">
          <tr>
            {[said.test, said.runs, said.bias, said.scatter].map((head) => (
              <th key={head} className="py-1 pr-3 font-normal">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody className="divide-y divide-rule">
          {tests.map(({ methodId, runs, bias, scatter }) => (
            <tr key={methodId}>
              <td className="py-2 pr-3">{methodOf(methodId)?.name ?? methodId}</td>
              <td className="pr-3">{runs}</td>
              <td className="pr-3">{share(bias)}</td>
              <td>{share(scatter)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** An owner's view: who practised what, and which traps were missed; no league. */
function Who({ rows }: { rows: NonNullable<Route.ComponentProps["loaderData"]["firm"]> }) {
  const said = words.told;
  const people = [...new Map(rows.map(({ memberId, name }) => [memberId, name]))];
  return (
    <section className="sheet grid gap-3 p-4">
      <h2 className="text-xl font-semibold">{said.who}</h2>
      <p className="text-soft">{said.whoHint}</p>
      {people.length === 0 ? <p>{said.nobody}</p> : null}
      <ul className="grid gap-3">
        {people.map(([id, name]) => (
          <li key={id}>
            <b>{name}</b>
            <ul className="text-soft">
              {rows
                .filter(({ memberId }) => memberId === id)
                .map(({ methodId, runs, lastOn, trapsSeen, trapsMissed }) => (
                  <li key={methodId}>
                    {methodOf(methodId)?.name ?? methodId}:{" "}
                    {said.line({
                      runs,
                      day: dayText(lastOn),
                      traps: trapsSeen + trapsMissed > 0,
                      seen: trapsSeen,
                      missed: trapsMissed,
                    })}
                  </li>
                ))}
            </ul>
          </li>
        ))}
      </ul>
    </section>
  );
}
