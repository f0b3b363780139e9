import { everydayAmount, type Method, productForm, type Score } from "#core";
import { Button } from "../../ui/button";
import { amountText, BOUND_SIGN, bracket, unitText, valueText, volumeText, withUnit } from "../../ui/format";
import { useUnits } from "../../ui/units";
import { productName, words } from "../../words";

/** How a practised test came out: the reading against the water, the slips with why, the trap, the cost. */
export function ScoreView({
  method,
  score,
  again,
  back,
}: {
  method: Method;
  score: Score;
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
          <b className="text-4xl">
            {valueText(quantity, Number(truth.toPrecision(quantity === "ph" ? 3 : 2)), units)}
          </b>{" "}
          {unitText(quantity, units)}
          <span className={`block ${inBracket ? "text-soft" : "font-medium text-below"}`}>
            {inBracket ? said.inBracket : said.outside(off)}
          </span>
        </p>
      </div>
      <ul className="sheet grid gap-2 p-4">
        {slips.length === 0 ? <li>{said.noSlips}</li> : null}
        {slips.map((slip) => {
          const [what, why] = said.slip(slip);
          return (
            <li key={slip.code + what}>
              <b className="text-below">◆ {what}</b> {why}
            </li>
          );
        })}
        {trap ? (
          <li>
            <b className={trap.seen ? "" : "text-above"}>
              {trapName}. {trap.seen ? said.trapSeen : said.trapMissed}
            </b>{" "}
            {trapWhy}
          </li>
        ) : null}
        {cost && cost.product !== null && !inBracket && cost.grams > 1 ? (
          <li className="text-soft">
            {said.cost(
              amountText(everydayAmount(cost.grams, productForm(cost.product), units)),
              productName(cost.product),
              volumeText(cost.litres, units),
            )}{" "}
          </li>
        ) : null}
        {cost?.risk ? <li className="font-medium text-above">{said.risks[cost.risk]}</li> : null}
        <li className="text-soft">{said.seconds(seconds)}</li>
      </ul>
      <p className="flex flex-wrap gap-3">
        <Button type="button" onClick={again}>
          {said.again}
        </Button>
        <Button type="button" quiet onClick={back}>
          {said.back}
        </Button>
      </p>
    </section>
  );
}
