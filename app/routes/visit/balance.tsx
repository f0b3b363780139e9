import { useEffect, useState } from "react";
import {
  assumedIn,
  CORRECTION_MATTERS,
  calciteKilograms,
  type Interval,
  type RangeSet,
  type WaterBalance,
} from "#core";
import { Beam } from "../../ui/beam";
import { massText, signed } from "../../ui/format";
import { useUnits } from "../../ui/units";
import { Why } from "../../ui/why";
import { listText, quantityName, words } from "../../words";
import { startUncertainty } from "../../workers/uncertainty";

const DRAWS = 20_000;
const SEED = 1;

/** The 95 % interval of the saturation index from the readings' brackets, worked out in a worker. */
function useSaturationInterval(balance: WaterBalance): Interval | null {
  const [interval, setInterval] = useState<Interval | null>(null);
  const key = JSON.stringify(balance.spreads);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the spreads by value; a new object alone asks nothing new
  useEffect(() => {
    setInterval(null);
    const running = startUncertainty({
      model: "balance",
      samples: DRAWS,
      seed: SEED,
      water: balance.water,
      readings: balance.spreads,
    });
    running.answer.then(
      ({ intervals }) => setInterval(intervals.saturation ?? null),
      () => {}, // Without a worker the index stands alone, as it does until the answer comes.
    );
    return running.cancel;
  }, [key]);
  return interval;
}

interface Props {
  balance: WaterBalance;
  window: NonNullable<RangeSet["saturation"]>;
  litres: number;
}

/** Saturation: the beam, the index and how sure it is; the four ways of working it out on demand. */
export function Balance({ balance, window: { low, high }, litres }: Props) {
  const units = useUnits();
  const interval = useSaturationInterval(balance);
  const { full, factorSum } = balance.saturation;
  const said = words.balance;
  const { corrected, titrated } = full;
  const verdict = corrected < low ? said.etches : corrected > high ? said.scales : said.balanced;
  const matters = balance.water.cyanuricAcid > CORRECTION_MATTERS;
  const assumed = assumedIn(balance);
  const calcite = calciteKilograms(balance.water, litres);
  const rows: [string, number, number][] = [
    [words.judge.full, full.corrected, full.titrated],
    [words.judge.factorSum, factorSum.corrected, factorSum.titrated],
  ];
  return (
    <section className="sheet grid gap-x-6 gap-y-1 p-4 wide:grid-cols-[22rem_1fr]" aria-label={said.title}>
      <div>
        <h3 className="font-semibold">{said.title}</h3>
        <Beam index={corrected} low={low} high={high} interval={interval} />
      </div>
      <div className="grid content-center gap-1">
        <p className="flex flex-wrap items-baseline gap-x-4">
          <b className="text-3xl">{signed(corrected)}</b>
          <span>{verdict}</span>
        </p>
        <p className="text-soft" role="status">
          {interval ? said.interval({ low: signed(interval.low), high: signed(interval.high) }) : ""}
        </p>
        <p className="text-sm text-soft">
          {said.window({ low: signed(low), high: signed(high) })}{" "}
          {matters ? said.titrated({ index: signed(titrated) }) : ""}{" "}
          {assumed.length > 0 ? said.assumed({ names: listText(assumed.map(quantityName)) }) : ""}
        </p>
        <Why>
          <table className="mt-1 text-left">
            <thead>
              <tr>
                <th className="pr-4 font-medium">{words.judge.fourWays}</th>
                <th className="pr-4 font-medium">{words.judge.corrected}</th>
                <th className="font-medium">{words.judge.titrated}</th>
              </tr>
            </thead>
            <tbody>
              {rows.map(([name, one, other]) => (
                <tr key={name}>
                  <td className="pr-4">{name}</td>
                  <td className="pr-4">
                    {one === corrected ? (
                      <b className="text-ink">
                        {signed(one)}, {words.judge.used}
                      </b>
                    ) : (
                      signed(one)
                    )}
                  </td>
                  <td>{signed(other)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <p>
            {words.judge.calcite({
              mass: massText(Math.abs(calcite) * 1000, units),
              way: calcite >= 0 ? "drop" : "take",
            })}
          </p>
        </Why>
      </div>
    </section>
  );
}
