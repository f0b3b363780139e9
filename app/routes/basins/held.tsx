import { Link } from "react-router";
import { type HoldAnswer, PROMISED } from "#core";
import { allBasins } from "#server/db/basins";
import { holdsOf } from "#server/db/learned";
import { inFirm, ownerOnly } from "../../context";
import { plain } from "../../ui/format";
import { useMoney } from "../../ui/use-firm";
import { togetherText, words } from "../../words";
import { Short, useMeansText } from "../basin/hold";
import type { Route } from "./+types/held";

/** The basins that no plan holds as they are kept, the worst first. */
export const loader = ({ context }: Route.LoaderArgs) => {
  ownerOnly(context);
  return inFirm(context, async (scope) => {
    const holds = await holdsOf(scope);
    const basins = (await allBasins(scope)).flatMap(({ id, name, site }) => {
      const hold = holds.get(id);
      return hold && hold.asItIs.right.value < PROMISED ? [{ id, name, site: site.name, hold }] : [];
    });
    return { basins: basins.sort((a, b) => a.hold.asItIs.right.value - b.hold.asItIs.right.value) };
  });
};

export const meta: Route.MetaFunction = () => [{ title: `${words.hold.list} · ${words.product}` }];

export default function HeldList({ loaderData: { basins } }: Route.ComponentProps) {
  const said = words.hold;
  return (
    <div className="grid gap-4">
      <header>
        <h1 className="text-3xl font-bold tracking-tight">{said.list}</h1>
        <p className="text-soft">{said.listHint}</p>
      </header>
      {basins.length === 0 ? <p className="sheet p-4">{said.listNone}</p> : null}
      <ul className="grid gap-3">
        {basins.map(({ id, name, site, hold }) => (
          <li key={id} className="sheet grid gap-2 p-4">
            <h2 className="text-xl font-semibold">
              <Link to={`/basins/${id}#hold`} className="link">
                {name}
              </Link>{" "}
              <span className="text-base font-normal text-soft">{site}</span>
            </h2>
            <Best hold={hold} />
            <Short hold={hold} />
          </li>
        ))}
      </ul>
    </div>
  );
}

function Best({ hold: { asItIs, cheapest, ways } }: { hold: HoldAnswer }) {
  const text = useMeansText();
  const money = useMoney();
  const said = words.hold;
  const best = cheapest ?? ways[0];
  const percent = (share: number) => said.percent({ value: plain(100 * share, 0) });
  return (
    <dl className="grid grid-cols-[9rem_1fr] gap-x-3 gap-y-1">
      <dt className="text-soft">{said.asItIs}</dt>
      <dd>
        {percent(asItIs.right.value)}, {money(asItIs.cost)}
      </dd>
      <dt className="text-soft">{cheapest || !best ? said.wouldHold : said.comesClosest}</dt>
      <dd>
        {best
          ? `${togetherText(best.means.map(text))}: ${percent(best.right.value)}, ${money(best.cost)}`
          : said.nothingHolds}
      </dd>
    </dl>
  );
}
