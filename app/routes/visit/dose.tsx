import { Check } from "lucide-react";
import { type FormEvent, useState } from "react";
import { Link, useFetcher, useNavigate } from "react-router";
import { type Advice, everydayAmount, gramsFrom, InputFault, massIn, productForm } from "#core";
import { checked } from "#core/schemas";
import type { StoredDose } from "#server/db/doses";
import type { ShelfProduct } from "#server/db/products";
import { recordDose } from "#server/visits/judge";
import { doseSchema, uuidSchema } from "#server/visits/schemas";
import { inFirm, refuse } from "../../context";
import { Button } from "../../ui/button";
import { FindingFlag } from "../../ui/finding-flag";
import { amountText, plain, volumeText, withUnit } from "../../ui/format";
import { offlineAware } from "../../ui/offline";
import { useClientId } from "../../ui/use-client-id";
import { useFirm } from "../../ui/use-firm";
import { useKeys } from "../../ui/use-keys";
import {
  cautions,
  faultSentence,
  noDoseReason,
  purpose,
  quantityShort,
  replaceWaterText,
  waitText,
  words,
} from "../../words";
import type { Route } from "./+types/dose";
import { useVisit } from "./use-visit";

/** Saves what was given for one finding. */
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

export default function Dose() {
  const { visit, advice, products, doses } = useVisit();
  const navigate = useNavigate();
  useKeys({ s: () => navigate(`/visits/${visit.id}/close`) });
  const some = advice.some((one) => one.kind === "dose");
  return (
    <section aria-label={words.visit.doseTitle} className="grid gap-4">
      <h2 className="text-2xl font-bold">{words.visit.doseTitle}</h2>
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
      <Link to={`/visits/${visit.id}/close`} className="action justify-self-start">
        {words.visit.toClose} <kbd className="key">S</kbd>
      </Link>
    </section>
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
        <Given advice={advice} product={product} given={given} unit={unit} density={form.density} />
      ) : null}
    </>
  );
}

/** The plain unit in which an amount given is typed. */
interface Weighed {
  name: string;
  fromGrams: (grams: number, density: number | null) => number;
  toGrams: (amount: number, density: number | null) => number;
}

const ML_PER_FL_OZ = 29.5735295625; // US fluid ounce

const G_PER_LB = 453.59237; // avoirdupois pound

function weighed(form: "liquid" | "solid", units: "us" | "metric", grams: number): Weighed {
  if (form === "solid") {
    const unit = units === "metric" ? "g" : grams < 2 * G_PER_LB ? "oz" : "lb";
    return {
      name: unit,
      fromGrams: (mass) => massIn(mass, unit),
      toGrams: (amount) => gramsFrom(amount, unit),
    };
  }
  const ml = units === "us" ? ML_PER_FL_OZ : 1;
  return {
    name: units === "us" ? "fl oz" : "mL",
    fromGrams: (grams, density) => grams / (density ?? 1) / ml,
    toGrams: (amount, density) => amount * ml * (density ?? 1),
  };
}

function Given({
  advice,
  product,
  given,
  unit,
  density,
}: {
  advice: StepProps["advice"];
  product: ShelfProduct;
  given: StoredDose | undefined;
  unit: Weighed;
  density: number | null;
}) {
  const fetcher = useFetcher<{ fault?: Parameters<typeof faultSentence>[0]; offline?: true }>();
  const id = useClientId(given?.id);
  const planned = plain(unit.fromGrams(advice.grams, density), 2).replace(/,/g, "");
  const [text, setText] = useState(planned);
  const isGiven = given !== undefined && given.givenGrams > 0;
  const send = (grams: number) => {
    if (fetcher.state !== "idle") return;
    fetcher.submit(
      { id: id(), code: advice.finding.code, productId: product.id, givenGrams: grams },
      { method: "post", encType: "application/json" },
    );
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const typed = text.trim() === "" ? Number.NaN : Number(text.replace(",", "."));
    send(unit.toGrams(typed, density));
  };
  const busy = fetcher.state !== "idle";
  return (
    <form onSubmit={submit} className="mt-1 flex flex-wrap items-end gap-3 border-t border-rule pt-3">
      {isGiven ? (
        <p className="flex w-full items-center gap-2 font-semibold" role="status">
          <Check aria-hidden="true" /> {words.visit.given}:{" "}
          {plain(unit.fromGrams(given.givenGrams, density), 2)} {unit.name}
        </p>
      ) : null}
      <label className="grid gap-1 text-sm text-soft">
        {words.visit.amountGiven(unit.name)}
        <input
          inputMode="decimal"
          value={text}
          onChange={(event) => setText(event.target.value)}
          className="w-36 text-lg font-semibold"
        />
      </label>
      <Button busy={busy} quiet={isGiven}>
        <Check size={20} aria-hidden="true" /> {isGiven ? words.visit.correctDose : words.visit.saveDose}
      </Button>
      {isGiven ? (
        <Button type="button" quiet busy={busy} onClick={() => send(0)}>
          {words.visit.notGiven}
        </Button>
      ) : null}
      {fetcher.data?.fault ? (
        <p role="alert" className="w-full text-above">
          {faultSentence(fetcher.data.fault)}
        </p>
      ) : null}
      {fetcher.data?.offline ? (
        <p role="alert" className="w-full text-below">
          {words.visit.offline}
        </p>
      ) : null}
    </form>
  );
}
