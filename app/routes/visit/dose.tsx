import { Link, useNavigate } from "react-router";
import {
  type Advice,
  cautionsOf,
  effectPerGram,
  everydayAmount,
  horizonOf,
  loadsOf,
  mixesLike,
  openJobs,
  problemOf,
  productForm,
  type Quantity,
  type ShelfProduct,
  TRAITS,
  type VisitDose,
} from "#core";
import { onServer } from "../../device/action.server";
import { giveCommand } from "../../device/page-command";
import { onDevice } from "../../device/seam";
import { Cautions } from "../../ui/cautions";
import { AmountFigure } from "../../ui/figures";
import { FindingFlag } from "../../ui/finding-flag";
import { amountText, bracketOf, figures, plain, volumeText, withUnit } from "../../ui/format";
import { Pictogram } from "../../ui/pictogram";
import { SmallMeasure } from "../../ui/small-measure";
import { useFirm } from "../../ui/use-firm";
import { useKeys } from "../../ui/use-keys";
import { weighed } from "../../ui/weighed";
import { fill, noDoseReason, purpose, quantityName, quantityShort, waitText, words } from "../../words";
import { AheadSheet } from "./ahead-sheet";
import { Given } from "./given";
import { Labelled } from "./labelled";
import { OtherWork } from "./plan-sheet";
import { PlanUnderWay } from "./plan-under-way";
import { useLastStops, useVisit } from "./use-visit";

export const action = onServer(giveCommand);

export const clientAction = onDevice(giveCommand);

export default function Dose() {
  const opened = useVisit();
  const { visit, plans, progress, readings, findings } = opened;
  // The problem that the readings pose, for the planner beside the page; or why there is none.
  const problem = problemOf(opened);
  const navigate = useNavigate();
  const plan = plans.at(-1);
  const underWay = plan && !plan.endedAt ? plan : null;
  // A plan that nobody is there to test ends at the close.
  const isTested = underWay?.content.steps.some((step) => step.kind === "retest") ?? false;
  const last = useLastStops();
  const after = progress?.dosed && isTested ? "retest" : last.to;
  useKeys({ s: underWay && !progress?.dosed ? undefined : () => navigate(`/visits/${visit.id}/${after}`) });
  const isGreen = openJobs(opened).some(({ job }) => job.kind === "green");
  const combined = findings.find((finding) => finding.code === "combinedChlorine.high");
  return (
    <section aria-label={words.visit.doseTitle} className="grid gap-4">
      <h2 className="text-2xl font-bold">{words.visit.doseTitle}</h2>
      {combined && !underWay ? <CombinedFirst value={combined.value} /> : null}
      <ClosedLine />
      <BromineToLeave />
      {underWay ? null : <DemandBeside />}
      {underWay ? (
        <>
          <EachOnItsOwn only={OWN_RULE} />
          <PlanUnderWay plan={underWay} />
          <Labelled />
        </>
      ) : isGreen ? (
        <GreenSteps />
      ) : "reason" in problem ? (
        <>
          {readings.length > 0 ? (
            <p className="sheet max-w-prose p-4">
              {fill(words.plan.none[problem.reason], {
                name: "quantity" in problem ? quantityName(problem.quantity) : "",
              })}
            </p>
          ) : null}
          <EachOnItsOwn />
          <Labelled />
        </>
      ) : (
        <>
          <EachOnItsOwn only={OWN_RULE} />
          <AheadSheet
            pose={(minutes) => {
              const horizon = horizonOf(opened, minutes);
              return "reason" in horizon ? null : horizon;
            }}
          />
        </>
      )}
      {underWay ? null : (
        <>
          <OtherWork />
          <Link to={`/visits/${visit.id}/${last.to}`} className="quiet-action justify-self-start">
            {last.text} <kbd className="key">S</kbd>
          </Link>
        </>
      )}
    </section>
  );
}

/** What is planned for a water that is right or nearly so is no plan for a green one. */
function GreenSteps() {
  const { visit } = useVisit();
  return (
    <div className="sheet grid justify-items-start gap-3 p-4">
      <p>{words.jobs.dose}</p>
      <Link to={`/visits/${visit.id}/recipes/green-pool`} className="action">
        {words.jobs.today}
      </Link>
    </div>
  );
}

/** That nobody goes in, in one line: the plan does not open what a test must. */
function ClosedLine() {
  const { visit, bathing } = useVisit();
  const said = words.safety;
  if (bathing.state !== "closed" && bathing.state !== "untested") return null;
  return (
    <p className="flex items-center gap-3 border-l-4 border-above bg-above-wash p-2 font-semibold text-above">
      <Pictogram name="keep-out" size={28} />
      <Link to={`/visits/${visit.id}/judge`} className="link">
        {bathing.state === "closed" ? said.closed : said.untested}
      </Link>
    </p>
  );
}

/** How much bromine lasts until the next visit. */
function BromineToLeave() {
  const { bromine } = useVisit();
  const { units } = useFirm();
  if (!bromine) return null;
  const text = (value: number) => withUnit("bromine", Number(value.toFixed(1)), units);
  return (
    <p className="sheet p-4">
      {words.visit.bromineLeave({
        leave: text(bromine.leave),
        low: text(bromine.found.low),
        high: text(bromine.found.high),
      })}{" "}
      {bromine.willNotLast ? <b>{words.visit.bromineShort}</b> : null}
    </p>
  );
}

/** Combined chlorine is cleared by a recipe of its own, either way. */
function CombinedFirst({ value }: { value: number }) {
  const { visit } = useVisit();
  const { units } = useFirm();
  return (
    <section className="grid gap-3 border-l-4 border-above bg-above-wash p-3">
      <p className="font-medium text-above">
        {words.recipes.combinedFirst({ value: withUnit("combinedChlorine", value, units) })}
      </p>
      <p className="flex flex-wrap gap-3">
        {(["breakpoint", "persulfate"] as const).map((id) => (
          <Link key={id} to={`/visits/${visit.id}/recipes/${id}`} className="quiet-action">
            {words.recipes.names[id]}
          </Link>
        ))}
      </p>
    </section>
  );
}

/** Two independent estimates of the same dose of acid or base: by drops and by the model. */
function DemandBeside() {
  const { demand, demandTarget, visit, products } = useVisit();
  const { units } = useFirm();
  if (!demand) return null;
  const acid = demand.quantity === "acidDemand";
  const product = products.find((one) =>
    acid
      ? one.product === "hydrochloric-acid" || one.product === "sodium-bisulfate"
      : one.product === "sodium-carbonate",
  );
  const said = words.plan.demand;
  const rows = [
    [said.drops, demand.byDrops],
    [said.model, demand.byModel],
  ] as const;
  return (
    <section className="sheet grid gap-1 p-4">
      <h3 className="font-semibold">{acid ? said.title : said.baseTitle}</h3>
      {rows.map(([name, { value, low, high }]) => (
        <p key={name}>
          {name}:{" "}
          <b>
            {plain(value, 2, 2)} {words.units.meq}
          </b>{" "}
          <span className="text-soft">
            ({bracketOf({ low, high }, (end) => plain(Math.max(0, end), 2, 2))})
            {product && value > 0
              ? `, ${said.grams({
                  amount: amountText(
                    everydayAmount(
                      (value * visit.litres) / 1000 / Math.abs(effectPerGram(product).alkalinity),
                      { ...productForm(product.product), density: product.density },
                      units,
                    ),
                  ),
                  product: product.name,
                  target: plain(demandTarget ?? 7.4, 1),
                })}`
              : ""}
          </span>
        </p>
      ))}
      <p className={demand.agree ? "text-soft" : "font-medium text-below"}>
        {demand.agree ? said.agree : said.disagree}
      </p>
    </section>
  );
}

/** What no plan balances: it keeps its own simple rule beside it. */
const OWN_RULE: readonly Quantity[] = ["bromine", "salt", "borate", "phosphate", "iron", "copper"];

/** A dose for each finding, where no plan for all of them can be made; or of these quantities only. */
function EachOnItsOwn({ only }: { only?: readonly Quantity[] }) {
  const { advice: all, products, doses } = useVisit();
  const advice = only ? all.filter(({ finding }) => only.includes(finding.quantity)) : all;
  const some = advice.some((one) => one.kind === "dose");
  if (only && advice.length === 0) return null;
  return (
    <>
      {advice.length === 0 ? <p className="sheet p-4">{words.visit.doseNone}</p> : null}
      {some && !only ? <p className="max-w-prose text-soft">{words.visit.doseEach}</p> : null}
      <ol className="grid gap-3">
        {advice.map((one) => (
          <li key={one.finding.code} className="sheet grid gap-2 p-4">
            <p className="flex flex-wrap items-center gap-3">
              <b className="text-lg">{purpose(one.finding)}</b>
              <FindingFlag finding={one.finding} />
            </p>
            {one.kind === "dose" ? (
              <DoseStep
                advice={one}
                product={products.find((product) => product.product === one.product)}
                given={doses.find((dose) => dose.code === one.finding.code)}
              />
            ) : (
              <p className="max-w-prose">
                <Instead advice={one} />
              </p>
            )}
          </li>
        ))}
      </ol>
    </>
  );
}

/** What stands where nothing is poured. */
function Instead({ advice }: { advice: Exclude<Advice, { kind: "dose" }> }) {
  const { units } = useFirm();
  switch (advice.kind) {
    case "replace-water":
      return words.replaceWater({
        share: `${plain(advice.fraction * 100, 0)}%`,
        volume: volumeText(advice.litres, units),
      });
    case "wait":
      return waitText(advice.finding.quantity);
    default:
      return noDoseReason(advice.reason);
  }
}

interface StepProps {
  advice: Extract<Advice, { kind: "dose" }>;
  product: ShelfProduct | undefined;
  given: VisitDose | undefined;
}

/** Nobody counts out more cups than this. */
const MOST_CUPS = 8;

/** One amount: what a person measures, the exact one beside it, its cautions, and what was really given. */
function DoseStep({ advice, product, given }: StepProps) {
  const { basin } = useVisit();
  const { units } = useFirm();
  const form = product
    ? { ...productForm(advice.product), density: product.density }
    : productForm(advice.product);
  const amount = everydayAmount(advice.grams, form, units);
  const portion = everydayAmount(advice.portions.grams, form, units);
  const loads = loadsOf(advice.product, advice.portions.grams);
  const unit = weighed(form, units, advice.grams);
  // Combined chlorine is burnt off by free chlorine, so that is what the amount aims at.
  const aimed = advice.finding.quantity === "combinedChlorine" ? "freeChlorine" : advice.finding.quantity;
  const exact = unit.fromGrams(advice.grams, form.density);
  return (
    <>
      <p className="text-3xl font-bold">
        <AmountFigure grams={advice.grams} form={form} />{" "}
        <span className="text-xl font-medium">{product?.name}</span>
      </p>
      <p className="text-soft">
        {words.visit.exact({ amount: `${figures(exact)} ${unit.name}` })}
        {amount.cups !== null && amount.cups <= MOST_CUPS
          ? `, ${words.visit.cups({ cups: amount.cups })}`
          : ""}
        ; {words.visit.aim({ what: quantityShort(aimed), value: withUnit(aimed, advice.aim, units) })}
      </p>
      <SmallMeasure grams={advice.portions.grams / loads} form={form} />
      {advice.limitedBy ? <p className="font-medium">{words.visit.limitedByPh}</p> : null}
      {advice.portions.count > 1 ? (
        <p className="font-medium">
          {words.visit.portions({ count: advice.portions.count, amount: amountText(portion) })}
        </p>
      ) : null}
      {loads > 1 ? (
        <p className="font-medium">
          {words.plan.loads({
            count: loads,
            amount: amountText(everydayAmount(advice.portions.grams / loads, form, units)),
          })}
        </p>
      ) : null}
      <p className="text-soft">{words.plan.how[TRAITS[advice.product].how]}</p>
      <Cautions
        of={advice.product}
        codes={[
          ...cautionsOf(advice.product, {
            kind: mixesLike(basin.kind),
            indoors: basin.indoors,
            sanitiserFirst: advice.finding.closes || advice.finding.quantity === "combinedChlorine",
          }),
          ...(advice.finding.quantity === "bromine" ? (["needs-bromide"] as const) : []),
        ]}
      />
      {product ? (
        <Given code={advice.finding.code} grams={advice.grams} product={product} given={given} unit={unit} />
      ) : null}
    </>
  );
}
