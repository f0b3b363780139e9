import { Check } from "lucide-react";
import { type FormEvent, useState } from "react";
import { useFetcher } from "react-router";
import type { ShelfProduct, VisitDose } from "#core";
import { Button } from "../../ui/button";
import { plain } from "../../ui/format";
import { fieldText, typedNumber } from "../../ui/number-text";
import { Refused, type SaveAnswer } from "../../ui/refused";
import { submitJson } from "../../ui/submit-json";
import { useClientId } from "../../ui/use-client-id";
import { useMet } from "../../ui/use-met";
import type { Weighed } from "../../ui/weighed";
import { isTwoNumbers, WhichNumber } from "../../ui/which-number";
import { words } from "../../words";
import { GasWait, useGasWait } from "./gas-wait";

interface Props {
  /** What the dose answers, see `VisitDose.code`. */
  code: string;
  grams: number;
  product: ShelfProduct;
  given: VisitDose | undefined;
  unit: Weighed;
}

/** What was really given, beside what was planned. */
export function Given({ code, grams, product, given, unit }: Props) {
  const { density } = product;
  const fetcher = useFetcher<SaveAnswer>();
  const id = useClientId(given?.id);
  const planned = fieldText(unit.fromGrams(grams, density), 2);
  const [text, setText] = useState(planned);
  const isGiven = given !== undefined && given.givenGrams > 0;
  const send = (givenGrams: number) => {
    if (fetcher.state !== "idle") return;
    void submitJson(fetcher, { id: id(givenGrams), code, productId: product.id, givenGrams });
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    send(unit.toGrams(typedNumber(text), density));
    meet();
  };
  const busy = fetcher.state !== "idle";
  const gas = useGasWait(isGiven ? null : product.product);
  const { meet } = useMet(product.product);
  return (
    <form onSubmit={submit} className="mt-1 flex flex-wrap items-end gap-3 border-t border-rule pt-3">
      {isGiven ? (
        <p className="flex w-full items-center gap-2 font-semibold" role="status">
          <Check aria-hidden="true" /> {words.visit.given}:{" "}
          {plain(unit.fromGrams(given.givenGrams, density), 2)} {unit.name}
        </p>
      ) : null}
      <GasWait left={gas} />
      <label className="grid gap-1 text-sm text-soft">
        {words.visit.amountGiven({ unit: unit.name })}
        <input
          inputMode="decimal"
          value={text}
          onChange={(event) => setText(event.target.value)}
          className="w-36 text-lg font-semibold"
        />
      </label>
      <WhichNumber text={text} unit={unit.name} set={setText} />
      <Button busy={busy} quiet={isGiven} disabled={gas > 0 || isTwoNumbers(text)}>
        <Check size={20} aria-hidden="true" /> {isGiven ? words.visit.correctDose : words.visit.saveDose}
      </Button>
      {isGiven ? (
        <Button type="button" quiet busy={busy} onClick={() => send(0)}>
          {words.visit.notGiven}
        </Button>
      ) : null}
      <Refused answer={fetcher.data} />
    </form>
  );
}
