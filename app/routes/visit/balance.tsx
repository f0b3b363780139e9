import { useEffect, useState } from "react";
import { CORRECTION_MATTERS, type Interval, SATURATION_WINDOWS, type WaterBalance } from "#core";
import { signed } from "../../ui/format";
import { quantityName, words } from "../../words";
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

/** Saturation in one line: the index, how sure it is, and what it means. */
export function Balance({ balance }: { balance: WaterBalance }) {
  const interval = useSaturationInterval(balance);
  const { corrected, titrated } = balance.saturation.full;
  const { low, high } = SATURATION_WINDOWS.wide;
  const said = words.balance;
  const verdict = corrected < low ? said.etches : corrected > high ? said.scales : said.balanced;
  const matters = balance.water.cyanuricAcid > CORRECTION_MATTERS;
  return (
    <section className="sheet grid gap-1 p-4" aria-label={said.title}>
      <h3 className="font-semibold">{said.title}</h3>
      <p className="flex flex-wrap items-baseline gap-x-4">
        <b className="text-3xl">{signed(corrected)}</b>
        <span>{verdict}</span>
        <span className="text-soft" role="status">
          {interval ? said.interval(signed(interval.low), signed(interval.high)) : ""}
        </span>
      </p>
      <p className="text-sm text-soft">
        {said.window(signed(low), signed(high))} {matters ? said.titrated(signed(titrated)) : ""}{" "}
        {balance.assumed.length > 0 ? said.assumed(balance.assumed.map(quantityName).join(", ")) : ""}
      </p>
    </section>
  );
}
