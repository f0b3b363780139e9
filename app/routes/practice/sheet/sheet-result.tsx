import { useEffect, useMemo, useState } from "react";
import {
  dosedOf,
  everydayAmount,
  foundAt,
  InputFault,
  type Method,
  productForm,
  rangeFor,
  SHEET_SHELF,
  type SheetVerdict,
  STEERED,
  sampleSlips,
  type solvePlan,
  truePlan,
  USUAL_WINDOW,
} from "#core";
import { amountText, BOUND_SIGN, plain, valueText } from "../../../ui/format";
import { Outcome } from "../../../ui/outcome";
import { useUnits } from "../../../ui/units";
import { listText, productName, quantityName, words } from "../../../words";
import { askPlanner } from "../../../workers/planner";
import { type Run, readKept } from "../kept";
import { Cost, Onward, Own, Slips, truthText } from "../score-parts";
import { methodOf } from "../tests";
import { doseOf } from "./dose";
import { verdictsOfSheet } from "./scored";
import type { SheetStep } from "./step";

/** The whole sheet against the water that was hidden: readings, judgements, the dose, and what was needed. */
export function SheetResult({
  sheet,
  water,
  basin,
  scored,
  again,
  back,
}: SheetStep & { again: () => void; back: () => void }) {
  const said = words.practice;
  const of = said.sheet;
  const slips = sheet.taken ? sampleSlips(foundAt(sheet.seed), sheet.taken, basin.kind) : [];
  const verdicts = verdictsOfSheet({ sheet, water, basin, scored });
  const [runs] = useState(() => readKept().runs);
  const [name, why] = said.traps[sheet.story];
  const seconds = scored.reduce((sum, { score }) => sum + score.seconds, 0);
  return (
    <section aria-label={of.result} className="grid gap-4">
      <h3 className="text-xl font-semibold">{of.result}</h3>
      <p>
        <b>{of.story}:</b> {name ? `${name}. ${why}`.trim() : of.ordinary}{" "}
        {of.time({ minutes: plain(Math.ceil(seconds / 60), 0) })}
      </p>
      {slips.length > 0 ? (
        <ul className="sheet grid gap-1 p-4" aria-label={of.sample}>
          {slips.map((slip) => (
            <li key={slip}>
              <b className="text-below">◆ {of.sample}.</b> {of.sampleSlips[slip]}
            </li>
          ))}
        </ul>
      ) : null}
      <ul className="grid gap-2" aria-label={of.tests}>
        {scored.map(({ test, score }) => {
          const method = methodOf(test.methodId);
          return method ? (
            <TestLine key={test.methodId} method={method} score={score} isAside={test.setAside} runs={runs} />
          ) : null;
        })}
      </ul>
      <Verdicts verdicts={verdicts} />
      <Dosed sheet={sheet} water={water} basin={basin} />
      <Onward again={again} back={back} />
    </section>
  );
}

/** One reading against the truth, with its slips and its trap. */
function TestLine({
  method,
  score,
  isAside,
  runs,
}: {
  method: Method;
  runs: readonly Run[];
  score: SheetStep["scored"][number]["score"];
  isAside: boolean;
}) {
  const units = useUnits();
  const said = words.practice;
  const { quantity } = method;
  const { reading, truth, inBracket, slips, trap, cost } = score;
  return (
    <li className="sheet grid gap-1 p-3">
      <p className="flex flex-wrap items-baseline gap-x-4">
        <span className="min-w-44 font-semibold">{quantityName(quantity)}</span>
        <span>
          {said.read}{" "}
          <b className="text-xl">
            {BOUND_SIGN[reading.bound]}
            {valueText(quantity, reading.value, units)}
          </b>
        </span>
        <span>
          {said.was} <b className="text-xl">{truthText(quantity, truth, units)}</b>
        </span>
        <span className={inBracket || isAside ? "text-soft" : "font-medium text-below"}>
          {isAside ? said.sheet.setAside : inBracket ? said.inBracket : said.outsideShort}
        </span>
      </p>
      {trap ? (
        <p className={trap.seen ? "" : "font-medium text-above"}>
          {said.traps[trap.story][0]}: {trap.seen ? said.trapSeen : said.trapMissed}
        </p>
      ) : null}
      <ul>
        <Slips slips={slips} />
        {isAside ? null : <Cost cost={cost} inBracket={inBracket} />}
      </ul>
      <Own method={method} runs={runs} />
    </li>
  );
}

function Verdicts({ verdicts }: { verdicts: readonly SheetVerdict[] }) {
  const { sheet: of } = words.practice;
  return (
    <section className="sheet grid gap-1 p-4">
      <h3 className="font-semibold">{of.judged}</h3>
      <ul className="grid gap-1">
        {verdicts.map(({ of: what, said, read, truly, isRight }) => {
          const told = what === "saturation" ? of.saidIndex : of.saidPlace;
          return (
            <li key={what}>
              <span aria-hidden="true">{isRight ? "✓" : "◆"}</span>{" "}
              {what === "saturation" ? of.saturation : quantityName(what)}:{" "}
              <span className={isRight ? "" : "font-medium text-below"}>
                {said === null
                  ? `${of.nothingSaid}; ${told[truly]}`
                  : of.verdict({ correct: said === truly, said: told[said], truly: told[truly] })}
                {!isRight && said !== null && said === read ? ` (${of.misled})` : ""}
              </span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

/** What the dose does to the water that is truly there, beside what it needed. */
function Dosed({ sheet, water, basin }: Pick<SheetStep, "sheet" | "water" | "basin">) {
  const units = useUnits();
  const { sheet: of } = words.practice;
  const dosed = useMemo(
    () => dosedOf(water, basin, doseOf(sheet.dose, basin, units).dose),
    [water, basin, sheet.dose, units],
  );
  const ranges = Object.fromEntries(
    STEERED.map((quantity) => [quantity, rangeFor(basin.set, quantity, basin.surface, water)]),
  );
  const out = dosed instanceof InputFault ? [] : STEERED.filter((one) => dosed.places[one] !== "within");
  return (
    <section className="grid gap-3">
      <h3 className="text-xl font-semibold">{of.dosed}</h3>
      {dosed instanceof InputFault ? (
        <p className="font-medium text-above">{of.noWater}</p>
      ) : (
        <>
          <p className={out.length > 0 ? "text-below" : ""}>
            {out.length > 0 ? of.outOf({ names: listText(out.map(quantityName)) }) : of.allIn}
          </p>
          {dosed.risks.map((risk) => (
            <p key={risk} className="font-medium text-above">
              ◆ {of.risks[risk]}
            </p>
          ))}
          <Outcome
            before={water}
            answer={dosed.answer}
            ranges={ranges}
            window={basin.set.saturation ?? USUAL_WINDOW}
          />
        </>
      )}
      <Needed water={water} basin={basin} />
    </section>
  );
}

type Plan = ReturnType<typeof solvePlan>;

/** What the planner would have poured into that water from the same shelf. */
function Needed({ water, basin }: Pick<SheetStep, "water" | "basin">) {
  const units = useUnits();
  const { sheet: of } = words.practice;
  const [plan, setPlan] = useState<Plan | "none" | null>(null);
  useEffect(() => {
    let wanted = true;
    askPlanner((planner) => planner.still(truePlan(water, basin))).then(
      (made) => wanted && setPlan(made),
      () => wanted && setPlan("none"),
    );
    return () => {
      wanted = false;
    };
  }, [water, basin]);
  const lines =
    plan === null || plan === "none"
      ? []
      : [
          ...(plan.amounts.replaced > 0
            ? [of.planReplaced({ percent: plain(100 * plan.amounts.replaced, 0) })]
            : []),
          ...SHEET_SHELF.flatMap(({ key, product }) => {
            const grams = plan.amounts.grams.get(key) ?? 0;
            return grams > 0
              ? [`${productName(product)}: ${amountText(everydayAmount(grams, productForm(product), units))}`]
              : [];
          }),
        ];
  return (
    <div className="sheet grid gap-1 p-4" role="status">
      <h3 className="font-semibold">{of.plan}</h3>
      {plan === null ? (
        <p className="text-soft">{of.planWait}</p>
      ) : plan === "none" ? (
        <p className="text-soft">{of.planNone}</p>
      ) : lines.length === 0 ? (
        <p>{of.planNothing}</p>
      ) : (
        <ul>
          {lines.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
      )}
    </div>
  );
}
