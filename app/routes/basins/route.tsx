import { Link } from "react-router";
import { PROMISED } from "#core";
import { allBasins } from "#server/db/basins";
import { firstStepsOf } from "#server/db/first-steps";
import { holdsOf } from "#server/db/learned";
import { inFirm } from "../../context";
import { FirstSteps } from "../../ui/first-steps";
import { volumeText } from "../../ui/format";
import { useFirm } from "../../ui/use-firm";
import { weekdayShort, words } from "../../words";
import type { Route } from "./+types/route";

export const loader = ({ context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, { role }) => ({
    basins: await allBasins(scope),
    notHeld:
      role === "owner"
        ? [...(await holdsOf(scope)).values()].filter(({ asItIs }) => asItIs.right.value < PROMISED).length
        : 0,
    // A reader has no hand in it.
    first: role === "reader" ? null : await firstStepsOf(scope),
  }));

export const meta: Route.MetaFunction = () => [{ title: `${words.basins.title} · ${words.product}` }];

export default function Basins({ loaderData: { basins, first, notHeld } }: Route.ComponentProps) {
  const { units, role } = useFirm();
  const sites = [...new Map(basins.map((basin) => [basin.site.id, basin.site])).values()];
  return (
    <>
      <div className="mb-4 flex flex-wrap items-center justify-between gap-4">
        <h1 className="text-3xl font-bold tracking-tight">{words.basins.title}</h1>
        {role === "reader" ? null : (
          <Link to="/basins/new" className="quiet-action">
            {words.newBasin.title}
          </Link>
        )}
      </div>
      {notHeld > 0 ? (
        <p className="mb-4">
          <Link to="/basins/held" className="link inline-block min-h-[44px] content-center">
            {words.hold.listLink({ count: notHeld })}
          </Link>
        </p>
      ) : null}
      {first && basins.length === 0 ? <FirstSteps done={first} /> : null}
      <div className="grid gap-4 wide:grid-cols-2">
        {sites.map((site) => (
          <section key={site.id} className="sheet p-4">
            <h2 className="text-xl font-semibold">{site.name}</h2>
            <p className="text-soft">
              {site.street}, {site.district}
            </p>
            <ul className="mt-2 divide-y divide-rule">
              {basins
                .filter((basin) => basin.site.id === site.id)
                .map((basin) => (
                  <li key={basin.id}>
                    <Link
                      to={`/basins/${basin.id}`}
                      className="flex min-h-[52px] flex-wrap items-center gap-x-3"
                    >
                      <span className="link font-medium">{basin.name}</span>
                      <span className="text-soft">
                        {words.kinds[basin.kind]}, {volumeText(basin.litres, units)}
                      </span>
                      <span className="ml-auto text-soft">
                        {basin.calls.callDays.map(weekdayShort).join(" ")}
                      </span>
                    </Link>
                  </li>
                ))}
            </ul>
          </section>
        ))}
      </div>
    </>
  );
}
