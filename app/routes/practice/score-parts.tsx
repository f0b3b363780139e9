import {
  everydayAmount,
  type Method,
  type OwnFigures,
  ownFigures,
  productForm,
  type Quantity,
  type Score,
  type UnitSystem,
} from "#core";
import { Button } from "../../ui/button";
import { amountText, plain, valueText, volumeText } from "../../ui/format";
import { useUnits } from "../../ui/units";
import { productName, slipText, words } from "../../words";
import type { Run } from "./kept";
import { ownRuns } from "./tests";

/** Parts of a score, of a single test and of a whole sheet. */

/** What the water has, to the figures that a test can tell. */
export const truthText = (quantity: Quantity, truth: number, units: UnitSystem): string =>
  valueText(quantity, Number(truth.toPrecision(quantity === "ph" ? 3 : 2)), units);

/** Once more, or something else. */
export function Onward({ again, back }: { again: () => void; back: () => void }) {
  const said = words.practice;
  return (
    <p className="flex flex-wrap gap-3">
      <Button type="button" onClick={again}>
        {said.again}
      </Button>
      <Button type="button" quiet onClick={back}>
        {said.back}
      </Button>
    </p>
  );
}

/** What went wrong in the hands, each with why it matters. */
export function Slips({ slips }: Pick<Score, "slips">) {
  return slips.map((slip) => {
    const [what, why] = slipText(slip);
    return (
      <li key={slip.code + what}>
        <b className="text-below">◆ {what}</b> {why}
      </li>
    );
  });
}

/** What a reading that is outside its bracket would have cost at a basin, and what it hid. */
export function Cost({ cost, inBracket }: Pick<Score, "cost" | "inBracket">) {
  const units = useUnits();
  const said = words.practice;
  if (!cost) return null;
  const isProduct = cost.product !== null && !inBracket && cost.grams > 1;
  return (
    <>
      {isProduct && cost.product ? (
        <li className="text-soft">
          {said.cost({
            amount: amountText(everydayAmount(cost.grams, productForm(cost.product), units)),
            product: productName(cost.product),
            volume: volumeText(cost.litres, units),
          })}
        </li>
      ) : null}
      {cost.risk ? <li className="font-medium text-above">{said.risks[cost.risk]}</li> : null}
    </>
  );
}

/** Bias and scatter of a test over repeats, worked without help; nothing after too few. */
export function Own({ method, runs }: { method: Method; runs: readonly Run[] }) {
  const figures = ownFigures(ownRuns(runs, method.id));
  return figures ? <span className="text-sm text-soft">{figuresText(figures)}</span> : null;
}

const share = (value: number) => `${value > 0 ? "+" : ""}${plain(100 * value, 1)}%`;

export const figuresText = ({ runs, bias, scatter }: OwnFigures): string =>
  words.practice.ownLine({
    runs,
    bias: `${share(bias.value)} (${share(bias.low)} … ${share(bias.high)})`,
    scatter: `${plain(100 * scatter.value, 1)}% (${plain(100 * scatter.low, 1)} … ${plain(100 * scatter.high, 1)})`,
  });
