import { useState } from "react";
import { Link } from "react-router";
import {
  isUnitSystem,
  type Method,
  measure,
  NO_LOG,
  type Observation,
  padsWith,
  QUANTITY_NAMES,
  SHIPPED_KITS,
  TITRATION_KIT,
  UNIT_SYSTEM_NAMES,
  type UnitSystem,
} from "#core";
import { inFirm, whoIs } from "../../context";
import { countKey } from "../../device/drafts";
import { page } from "../../device/seam";
import { benchPage } from "../../pages/bench.server";
import { StripSheet } from "../../ui/bench/strip-sheet";
import { TestSheet } from "../../ui/bench/test-sheet";
import { KeysHelp } from "../../ui/keys-help";
import { PlainHeader } from "../../ui/plain-header";
import { UnitsContext } from "../../ui/units";
import { useStored } from "../../ui/use-stored";
import { quantityName, shipped, words } from "../../words";
import type { Route } from "./+types/route";
import { LooseResults } from "./loose-results";
import { useUnattachedResults } from "./use-unattached-results";

/** Whoever comes: the firm's kits and basins for a member, the kits that ship for everybody else. */
export async function loader({ request, context }: Route.LoaderArgs) {
  const member = await whoIs(request, context);
  // A reader tests at most for themselves: nothing of theirs goes into the book.
  if (!member || member.role === "reader") {
    const kits = SHIPPED_KITS.map((kit) => ({ id: null, kit }));
    return { kits, basins: null, units: null };
  }
  return inFirm(context, benchPage);
}

export const clientLoader = ({ serverLoader }: Route.ClientLoaderArgs) =>
  page<Awaited<ReturnType<typeof serverLoader>>>(serverLoader, "bench");
clientLoader.hydrate = true as const;

export { stayWhenOffline as shouldRevalidate } from "../../ui/offline";

export const meta: Route.MetaFunction = () => [{ title: `${words.bench.title} · ${words.product}` }];

const isText = (value: unknown): value is string => typeof value === "string";

export default function QuickBench({ loaderData: { kits, basins, units: firmUnits } }: Route.ComponentProps) {
  const [ownUnits, setUnits] = useStored<UnitSystem>("pelagon.units", "us", isUnitSystem);
  const units = firmUnits ?? ownUnits;
  const loose = useUnattachedResults();
  const [kitName, pickKit] = useStored<string>("pelagon.kit", TITRATION_KIT.name, isText);
  const [methodId, pick] = useState<string | null>(null);
  const shelf = kits.find((one) => one.kit.name === kitName) ?? kits[0];
  const method = shelf?.kit.methods.find((one) => one.id === methodId);
  const said = words.bench;

  const keep = (made: { method: Method; seen: Observation }[]) => {
    for (const one of made)
      loose.add({
        kitId: shelf?.id ?? null,
        kitName: shelf?.kit.name ?? "",
        method: one.method,
        seen: one.seen,
        result: measure(one.method, one.seen),
      });
    pick(null);
  };
  return (
    <UnitsContext value={units}>
      <PlainHeader
        title={<h1 className="text-xl font-bold">{said.title}</h1>}
        home={basins ? "/" : "/sign-in"}
      >
        <Link to={basins ? "/" : "/sign-in?to=/bench"} className="link py-3">
          {basins ? words.round.title : words.signIn.go}
        </Link>
        <KeysHelp always />
      </PlainHeader>
      <main className="mx-auto grid max-w-6xl gap-4 px-4 pt-4 pb-16">
        {method && shelf ? (
          <>
            <div className="flex flex-wrap items-baseline justify-between gap-3">
              <h2 className="text-2xl font-bold">{shipped(method.name)}</h2>
              <button type="button" className="link min-h-[44px] cursor-pointer" onClick={() => pick(null)}>
                {said.another}
              </button>
            </div>
            {method.kind === "strip" ? (
              <StripSheet pads={padsWith(shelf.kit, method)} busy={false} save={keep} />
            ) : (
              <TestSheet
                key={method.id + loose.results.length}
                method={method}
                busy={false}
                save={(seen) => keep([{ method, seen }])}
                saved={null}
                last={null}
                range={undefined}
                log={NO_LOG}
                standing={[]}
                countKey={countKey("quick", `${method.id}.${loose.made}`)}
                keepCount={null}
                count={undefined}
              />
            )}
          </>
        ) : (
          <>
            <p className="text-soft">{said.quickHint}</p>
            <LooseResults loose={loose} basins={basins} />
            <fieldset className="flex flex-wrap items-center gap-2">
              <legend className="float-left mr-3 py-3 font-semibold">{said.pickKit}</legend>
              {kits.map(({ kit }) => (
                <button
                  key={kit.name}
                  type="button"
                  aria-pressed={kit === shelf?.kit}
                  className={kit === shelf?.kit ? "action" : "quiet-action"}
                  onClick={() => pickKit(kit.name)}
                >
                  {shipped(kit.name)}
                </button>
              ))}
            </fieldset>
            <section className="grid gap-2">
              <h2 className="text-xl font-semibold">{said.pickTest}</h2>
              <div className="grid gap-2 wide:grid-cols-3">
                {[...(shelf?.kit.methods ?? [])]
                  .sort((a, b) => QUANTITY_NAMES.indexOf(a.quantity) - QUANTITY_NAMES.indexOf(b.quantity))
                  .map((one) => (
                    <button
                      key={one.id}
                      type="button"
                      className="quiet-action grid! min-h-[64px] justify-start! gap-0! text-left"
                      onClick={() => pick(one.id)}
                    >
                      <span className="font-semibold">{shipped(one.name)}</span>
                      <span className="text-sm text-soft">{quantityName(one.quantity)}</span>
                    </button>
                  ))}
              </div>
            </section>
            {firmUnits ? null : (
              <fieldset className="flex flex-wrap items-center gap-2">
                <legend className="float-left mr-3 py-3 text-soft">{said.units}</legend>
                {UNIT_SYSTEM_NAMES.map((system) => (
                  <button
                    key={system}
                    type="button"
                    aria-pressed={units === system}
                    className={units === system ? "action" : "quiet-action"}
                    onClick={() => setUnits(system)}
                  >
                    {words.settings[system]}
                  </button>
                ))}
              </fieldset>
            )}
          </>
        )}
      </main>
    </UnitsContext>
  );
}
