import type { Method, Score } from "#core";
import { BOUND_SIGN, bracket, unitText, valueText, withUnit } from "../../ui/format";
import { useUnits } from "../../ui/units";
import { words } from "../../words";
import type { Run } from "./kept";
import { Cost, Onward, Own, Slips, truthText } from "./score-parts";

/** How a practised test came out: the reading against the water, the slips with why, the trap, the cost. */
export function ScoreView({
  method,
  score,
  runs,
  again,
  back,
}: {
  method: Method;
  score: Score;
  /** All that are kept, this one among them. */
  runs: readonly Run[];
  again: () => void;
  back: () => void;
}) {
  const units = useUnits();
  const said = words.practice;
  const { quantity } = method;
  const { reading, truth, inBracket, slips, trap, cost, seconds } = score;
  const off = withUnit(quantity, Number(Math.abs(score.error).toPrecision(2)), units);
  const [trapName, trapWhy] = trap ? said.traps[trap.story] : ["", ""];
  return (
    <section aria-label={said.result} className="grid gap-4">
      <h2 className="text-2xl font-bold">{said.result}</h2>
      <div className="sheet flex flex-wrap gap-x-10 gap-y-2 p-4">
        <p>
          <span className="block text-soft">{said.read}</span>
          <b className="text-4xl">
            {BOUND_SIGN[reading.bound]}
            {valueText(quantity, reading.value, units)}
          </b>{" "}
          {unitText(quantity, units)}
          <span className="block text-soft">{bracket(quantity, reading, units)}</span>
        </p>
        <p>
          <span className="block text-soft">{said.was}</span>
          <b className="text-4xl">{truthText(quantity, truth, units)}</b> {unitText(quantity, units)}
          <span className={`block ${inBracket ? "text-soft" : "font-medium text-below"}`}>
            {inBracket ? said.inBracket : said.outside({ error: off })}
          </span>
        </p>
      </div>
      <ul className="sheet grid gap-2 p-4">
        {slips.length === 0 ? <li>{said.noSlips}</li> : null}
        <Slips slips={slips} />
        {trap ? (
          <li>
            <b className={trap.seen ? "" : "text-above"}>
              {trapName}. {trap.seen ? said.trapSeen : said.trapMissed}
            </b>{" "}
            {trapWhy}
          </li>
        ) : null}
        <Cost cost={cost} inBracket={inBracket} />
        <li className="text-soft">{said.seconds({ seconds })}</li>
        <li>
          <Own method={method} runs={runs} />
        </li>
      </ul>
      <Onward again={again} back={back} />
    </section>
  );
}
