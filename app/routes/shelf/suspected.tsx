import type { Suspicion } from "#core";
import { dayIn } from "#core";
import { dayText, plain } from "../../ui/format";
import { useFirm } from "../../ui/use-firm";
import { usePlaces } from "../../ui/use-places";
import { words } from "../../words";

/** Nobody is told that something is certain. */
const SUREST = 0.99;

/** A row of the picture, in its own units: the scale runs from 0.5 to 1.5 of what was expected. */
const SCALE = { from: 0.5, to: 1.5, width: 300, height: 22 } as const;
const across = (ratio: number): number =>
  ((Math.min(SCALE.to, Math.max(SCALE.from, ratio)) - SCALE.from) / (SCALE.to - SCALE.from)) * SCALE.width;

/**
 * A bottle or a delivery that the logs speak against: what it is worth, basin by basin what each reading says
 * of it, what else it could be, and what would settle it.
 */
export function Suspected({ suspicion }: { suspicion: Suspicion }) {
  const { ratio, chance, evidence = [] } = suspicion;
  const { timeZone } = useFirm();
  const places = usePlaces();
  const said = words.suspected[suspicion.code === "product" ? "delivery" : "bottle"];
  const basins = [...new Set(evidence.map(({ basin }) => basin))];
  const first = evidence[0]?.at;
  const last = evidence.at(-1)?.at;
  const name = (id: string) => {
    const place = places.find((one) => one.id === id);
    if (place) return `${place.site}, ${place.name}`;
    // Names come a moment after the page.
    return places.length > 0 ? words.suspected.gone : "";
  };
  /** The later, the darker. */
  const age = (at: number) =>
    first === undefined || last === undefined || last === first
      ? 1
      : 0.25 + 0.75 * ((at - first) / (last - first));
  const percent = (value: number) => plain(value * 100, 0);
  return (
    <div className="col-span-full mt-2 grid gap-2 border-l-4 border-below bg-below-wash p-3">
      <p className="font-semibold text-below">
        {said.worth({
          worth: percent(ratio.value),
          low: percent(ratio.low),
          high: percent(ratio.high),
          chance: percent(Math.min(SUREST, chance)),
        })}
      </p>
      {basins.length > 0 && first !== undefined ? (
        <figure className="grid gap-1">
          <figcaption className="text-sm text-soft">
            {said.picture({ from: dayText(dayIn(new Date(first), timeZone)) })}
          </figcaption>
          <ul className="grid gap-x-4 wide:grid-cols-[auto_1fr]">
            {basins.map((basin) => {
              const own = evidence.filter((one) => one.basin === basin);
              const newest = own.at(-1)?.ratio ?? 1;
              return (
                <li key={basin} className="contents">
                  <span className="text-sm wide:text-right">{name(basin)}</span>
                  <svg
                    viewBox={`0 0 ${SCALE.width} ${SCALE.height}`}
                    role="img"
                    aria-label={said.row({ name: name(basin), count: own.length, newest: percent(newest) })}
                    className="h-6 w-full max-w-xl"
                    preserveAspectRatio="none"
                  >
                    <rect
                      x={across(0.9)}
                      width={across(1.1) - across(0.9)}
                      height={SCALE.height}
                      fill="var(--band)"
                    />
                    <line x1={across(1)} x2={across(1)} y2={SCALE.height} stroke="var(--ink)" />
                    {own.map(({ at, ratio: found }) => (
                      <ellipse
                        key={`${at} ${found}`}
                        cx={across(found)}
                        cy={SCALE.height / 2}
                        rx={3}
                        ry={6}
                        fill="var(--below)"
                        opacity={age(at)}
                      />
                    ))}
                  </svg>
                </li>
              );
            })}
          </ul>
          <p className="text-sm text-soft">{said.scale}</p>
        </figure>
      ) : null}
      <p>{said.else}</p>
      <p>{said.settle}</p>
    </div>
  );
}
