import { Link } from "react-router";
import { RANGE_SETS } from "#core";
import { rangeSetsOf } from "#server/db/range-sets";
import { inFirm } from "../../context";
import { dayText } from "../../ui/format";
import { shipped, words } from "../../words";
import type { Route } from "./+types/list";

/** The firm's sets, and those that ship and are not among them. */
export const loader = ({ context }: Route.LoaderArgs) =>
  inFirm(context, async (scope) => {
    const own = await rangeSetsOf(scope);
    return {
      sets: [
        ...own.map(({ id, set, by, basins, version }) => ({ id, set, by, basins, version })),
        ...Object.values(RANGE_SETS)
          .filter((set) => !own.some((one) => one.by === null && one.set.id === set.id))
          .map((set) => ({ id: set.id, set, by: null, basins: 0, version: 1 })),
      ],
    };
  });

export const meta: Route.MetaFunction = () => [{ title: `${words.ranges.title} · ${words.product}` }];

/** Every school at hand, with what it stands for. */
export default function RangeSets({ loaderData: { sets } }: Route.ComponentProps) {
  const said = words.ranges;
  return (
    <>
      <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
      <p className="mb-4 text-soft">{said.hint}</p>
      <ul className="sheet divide-y divide-rule">
        {sets.map(({ id, set, by, basins, version }) => (
          <li key={id} className="grid gap-2 p-4 wide:grid-cols-[1fr_auto] wide:items-center">
            <div>
              <p className="text-lg font-semibold">{shipped(set.name)}</p>
              <p className="text-sm text-soft">
                {by === null ? said.shipped : `${by}, ${said.version({ version })}`} ·{" "}
                {said.date({ date: dayText(set.date.slice(0, 10)) })} · {said.used({ count: basins })}
              </p>
              <p className="max-w-prose">{shipped(set.purpose)}</p>
            </div>
            <Link
              to={`/settings/ranges/${id}`}
              className="quiet-action"
              aria-label={`${by === null ? said.look : said.edit}: ${shipped(set.name)}`}
            >
              {by === null ? said.look : said.edit}
            </Link>
          </li>
        ))}
      </ul>
    </>
  );
}
