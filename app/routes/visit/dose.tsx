import { Link, useNavigate } from "react-router";
import { type Advice, everydayAmount, InputFault, productForm } from "#core";
import { checked } from "#core/schemas";
import type { StoredDose } from "#server/db/doses";
import type { ShelfProduct } from "#server/db/products";
import { recordDose } from "#server/visits/judge";
import { plansOfVisit } from "#server/visits/plan";
import { doseSchema, uuidSchema } from "#server/visits/schemas";
import { openVisit } from "#server/visits/visit";
import { inFirm, refuse } from "../../context";
import { FindingFlag } from "../../ui/finding-flag";
import { amountText, plain, volumeText, withUnit } from "../../ui/format";
import { offlineAware } from "../../ui/offline";
import { useFirm } from "../../ui/use-firm";
import { useKeys } from "../../ui/use-keys";
import {
  cautions,
  noDoseReason,
  purpose,
  quantityShort,
  replaceWaterText,
  waitText,
  words,
} from "../../words";
import type { Route } from "./+types/dose";
import { Given, weighed } from "./given";
import { PlanSheet } from "./plan-sheet";
import { useVisit } from "./use-visit";

/** The plan for all readings at once; none where readings for it are missing. */
export const loader = ({ params, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, _, now) => {
    if (uuidSchema.validate(params.visitId).error) return { plans: null };
    const opened = await openVisit(scope, params.visitId, now);
    return { plans: opened ? await plansOfVisit(opened) : null };
  });

export { stayWhenOffline as shouldRevalidate } from "../../ui/offline";

/** Saves what was given for one finding, or for one product of the plan. */
export async function action({ params, request, context }: Route.ActionArgs) {
  try {
    const visitId = checked(uuidSchema, params.visitId);
    const sent = checked(doseSchema, await request.json().catch(() => null));
    await inFirm(context, (scope, { firmId, memberId }, now) =>
      recordDose(scope, { firmId, memberId, now }, visitId, sent),
    );
    return { saved: sent.id };
  } catch (fault) {
    if (fault instanceof InputFault) return refuse(fault);
    throw fault;
  }
}

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export default function Dose({ loaderData: { plans } }: Route.ComponentProps) {
  const { visit } = useVisit();
  const navigate = useNavigate();
  useKeys({ s: () => navigate(`/visits/${visit.id}/close`) });
  return (
    <section aria-label={words.visit.doseTitle} className="grid gap-4">
      <h2 className="text-2xl font-bold">{words.visit.doseTitle}</h2>
      {plans ? <PlanSheet plans={plans} /> : <EachOnItsOwn />}
      <Link to={`/visits/${visit.id}/close`} className="action justify-self-start">
        {words.visit.toClose} <kbd className="key">S</kbd>
      </Link>
    </section>
  );
}

/** A dose for each finding, where no plan for all of them can be made. */
function EachOnItsOwn() {
  const { advice, products, doses } = useVisit();
  const some = advice.some((one) => one.kind === "dose");
  return (
    <>
      {advice.length === 0 ? <p className="sheet p-4">{words.visit.doseNone}</p> : null}
      {some ? <p className="max-w-prose text-soft">{words.visit.doseEach}</p> : null}
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
      return replaceWaterText(`${plain(advice.fraction * 100, 0)} %`, volumeText(advice.litres, units));
    case "wait":
      return waitText(advice.finding.quantity);
    default:
      return noDoseReason(advice.reason);
  }
}

interface StepProps {
  advice: Extract<Advice, { kind: "dose" }>;
  product: ShelfProduct | undefined;
  given: StoredDose | undefined;
}

/** Nobody counts out more cups than this. */
const MOST_CUPS = 8;

/** One amount: what a person measures, the exact one beside it, its cautions, and what was really given. */
function DoseStep({ advice, product, given }: StepProps) {
  const { units } = useFirm();
  const form = product
    ? { ...productForm(advice.product), density: product.density }
    : productForm(advice.product);
  const amount = everydayAmount(advice.grams, form, units);
  const portion = everydayAmount(advice.portions.grams, form, units);
  const unit = weighed(form.form, units, advice.grams);
  // Combined chlorine is burnt off by free chlorine, so that is what the amount aims at.
  const aimed = advice.finding.quantity === "combinedChlorine" ? "freeChlorine" : advice.finding.quantity;
  const exact = unit.fromGrams(advice.grams, form.density);
  return (
    <>
      <p className="text-3xl font-bold">
        {amountText(amount)} <span className="text-xl font-medium">{product?.name}</span>
      </p>
      <p className="text-soft">
        {words.visit.exact(`${plain(exact, 2)} ${unit.name}`)}
        {amount.cups !== null && amount.cups <= MOST_CUPS ? `, ${words.visit.cups(amount.cups)}` : ""};{" "}
        {words.visit.aim(quantityShort(aimed), withUnit(aimed, advice.aim, units))}
      </p>
      {advice.limitedBy ? <p className="font-medium">{words.visit.limitedByPh}</p> : null}
      {advice.portions.count > 1 ? (
        <p className="font-medium">{words.visit.portions(advice.portions.count, amountText(portion))}</p>
      ) : null}
      <ul className="list-inside list-disc text-soft">
        {cautions(advice).map((caution) => (
          <li key={caution}>{caution}</li>
        ))}
      </ul>
      {product ? (
        <Given code={advice.finding.code} grams={advice.grams} product={product} given={given} unit={unit} />
      ) : null}
    </>
  );
}
