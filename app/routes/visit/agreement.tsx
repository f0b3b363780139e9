import { intervalOf, methodById, overlap, type VisitReading } from "#core";
import { bracketOf, valueText, withUnit } from "../../ui/format";
import { useUnits } from "../../ui/units";
import { shipped, words } from "../../words";
import { useVisit } from "./use-visit";

const WIDTH = 300;

/** The same thing by two methods: both intervals on one scale, whether they agree, and which is used. */
export function Agreement({ readings }: { readings: VisitReading[] }) {
  const { kit, otherKits } = useVisit();
  const units = useUnits();
  if (readings.length < 2) return null;
  const kits = [kit, ...otherKits.map((other) => other.kit)];
  const rows = readings.map((reading) => {
    const method = kits.map((one) => methodById(one, reading.methodId)).find((one) => one);
    return {
      reading,
      name: method ? shipped(method.name) : reading.methodId,
      held: intervalOf(reading, method?.kind ?? "meter"),
    };
  });
  const ends = rows.flatMap(({ held, reading }) => [held.low ?? 0, held.high ?? reading.value * 1.5]);
  const low = Math.min(...ends);
  const span = Math.max(...ends) - low || 1;
  const x = (value: number) => 8 + ((value - low) / span) * (WIDTH - 16);
  const agree = rows.every((a) => rows.every((b) => overlap(a.held, b.held)));
  return (
    <figure className="sheet grid gap-2 p-4">
      <figcaption className={agree ? "font-semibold" : "font-semibold text-below"}>
        {agree ? words.visit.agree : words.visit.disagree}
      </figcaption>
      <dl className="grid gap-2">
        {rows.map(({ reading, name, held }) => (
          <div key={reading.id} className="grid items-center gap-x-4 wide:grid-cols-[14rem_19rem_1fr]">
            <dt>
              {name}
              {reading.used ? <b> · {words.visit.used}</b> : null}
            </dt>
            <dd className="contents">
              <svg viewBox={`0 0 ${WIDTH} 24`} className="h-6 w-full" aria-hidden="true">
                <path d={`M8 12H${WIDTH - 8}`} stroke="var(--rule)" strokeWidth="2" />
                <rect
                  x={x(held.low ?? low)}
                  y="5"
                  width={Math.max(3, x(held.high ?? low + span) - x(held.low ?? low))}
                  height="14"
                  fill={reading.used ? "var(--ink)" : "none"}
                  stroke="var(--ink)"
                  strokeWidth="2"
                />
                <path
                  d={`M${x(reading.value)} 1v22`}
                  stroke={reading.used ? "var(--sheet)" : "var(--ink)"}
                  strokeWidth="2"
                />
              </svg>
              <span>
                <b>{withUnit(reading.quantity, reading.value, units)}</b>{" "}
                <span className="text-soft">
                  {bracketOf(held, (value) =>
                    valueText(reading.quantity, Number(value.toPrecision(3)), units),
                  )}
                </span>
              </span>
            </dd>
          </div>
        ))}
      </dl>
    </figure>
  );
}
