import { useEffect, useState } from "react";
import { Link, useFetcher } from "react-router";
import type { DoubtCode } from "#core";
import type { FaultView } from "../../fault";
import { Button } from "../../ui/button";
import { BOUND_SIGN, bracket, withUnit } from "../../ui/format";
import { Refused } from "../../ui/refused";
import { submitJson } from "../../ui/submit-json";
import { useUnits } from "../../ui/units";
import { doubtName, listText, quantityName, words } from "../../words";
import type { LooseResult, UnattachedResults } from "./use-unattached-results";

interface Props {
  loose: UnattachedResults;
  /** Null when nobody is signed in. */
  basins: { id: string; name: string; site: string }[] | null;
}

/** Results made without a basin, each to be put to one or forgotten. */
export function LooseResults({ loose, basins }: Props) {
  if (loose.results.length === 0) return null;
  return (
    <section className="sheet p-4">
      <h2 className="text-xl font-semibold">{words.bench.results}</h2>
      <p className="text-soft">{words.bench.keepHint}</p>
      {loose.kept ? null : (
        <p role="alert" className="border-l-4 border-below bg-below-wash p-3 text-below">
          {words.bench.notKept}
        </p>
      )}
      <ul className="divide-y divide-rule">
        {loose.results.map((result) => (
          <Row key={result.id} result={result} basins={basins} forget={() => loose.forget(result.id)} />
        ))}
      </ul>
    </section>
  );
}

interface RowProps {
  result: LooseResult;
  basins: Props["basins"];
  forget: () => void;
}

function Row({ result, basins, forget }: RowProps) {
  const units = useUnits();
  const fetcher = useFetcher<{ fault?: FaultView; visitId?: string }>();
  const [basinId, setBasin] = useState("");
  const { quantity } = result.method;
  const attached = fetcher.data?.visitId;
  const { fault } = fetcher.data ?? {};
  const asked =
    fault?.code === "unconfirmed" && Array.isArray(fault.limit) ? (fault.limit as DoubtCode[]) : [];
  useEffect(() => {
    if (!attached) return;
    const later = setTimeout(forget, 6000);
    return () => clearTimeout(later);
  }, [attached, forget]);
  const attach = (confirmed: DoubtCode[]) => {
    const { id, at, kitId, kitName, method, seen } = result;
    submitJson(
      fetcher,
      {
        basinId,
        at,
        kitName,
        observation: { id, methodId: method.id, seen, confirmed, ...(kitId ? { kitId } : {}) },
      },
      "/bench/attach",
    );
  };
  return (
    <li className="grid items-center gap-x-4 gap-y-2 py-3 wide:grid-cols-[16rem_1fr]">
      <p>
        <b className="text-2xl">
          {BOUND_SIGN[result.result.bound]}
          {withUnit(quantity, result.result.value, units)}
        </b>
        <span className="block text-sm text-soft">
          {quantityName(quantity)}, {bracket(quantity, result.result, units)}
        </span>
      </p>
      {attached ? (
        <p role="status">
          <Link to={`/visits/${attached}`} className="link">
            {words.bench.attached}
          </Link>
        </p>
      ) : (
        <div className="grid gap-2">
          <div className="flex flex-wrap items-end gap-2">
            {basins ? (
              <>
                <select
                  aria-label={words.bench.attachTo}
                  value={basinId}
                  onChange={(event) => setBasin(event.target.value)}
                  className="min-w-0 grow"
                >
                  <option value="">{words.bench.attachTo} …</option>
                  {basins.map((basin) => (
                    <option key={basin.id} value={basin.id}>
                      {basin.site}, {basin.name}
                    </option>
                  ))}
                </select>
                <Button
                  type="button"
                  quiet
                  disabled={basinId === ""}
                  busy={fetcher.state !== "idle"}
                  onClick={() => attach([])}
                >
                  {words.bench.attach}
                </Button>
              </>
            ) : (
              <Link to="/sign-in?to=/bench" className="link py-3">
                {words.bench.signInToAttach}
              </Link>
            )}
            <Button type="button" quiet onClick={forget}>
              {words.bench.discard}
            </Button>
          </div>
          {asked.length > 0 ? (
            <p role="alert" className="border-l-4 border-below bg-below-wash p-3 text-below">
              {words.bench.speaksAgainst({ problems: listText(asked.map(doubtName)) })}{" "}
              <button
                type="button"
                className="link min-h-[44px] cursor-pointer"
                onClick={() => attach(asked)}
              >
                {words.bench.attachAnyway}
              </button>
            </p>
          ) : (
            <Refused answer={fault ? { fault } : undefined} />
          )}
        </div>
      )}
    </li>
  );
}
