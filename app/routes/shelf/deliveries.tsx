import { useEffect } from "react";
import { useForm } from "react-hook-form";
import type { ShelfProduct, Suspicion } from "#core";
import type { Delivery } from "#server/db/deliveries";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { dayText } from "../../ui/format";
import { Refused } from "../../ui/refused";
import { useClientId } from "../../ui/use-client-id";
import { useCommand } from "../../ui/use-command";
import { words } from "../../words";
import { Suspected } from "./suspected";

/** Older ones than this many stand in the book and not on the page. */
const SHOWN = 3;

export type EditedDelivery = Delivery | "new" | null;

interface Props {
  editing: EditedDelivery;
  edit: (delivery: EditedDelivery) => void;
  product: ShelfProduct;
  /** Of this product, the newest first. */
  deliveries: Delivery[];
  suspicions: Suspicion[];
  today: string;
}

/** Which drum is poured from since when: what came together is as strong, and the log weighs it. */
export function Deliveries({ editing, edit, product, deliveries, suspicions, today }: Props) {
  const said = words.deliveries;
  const shown = deliveries.filter(
    (one, index) => index < SHOWN || suspicions.some(({ lot }) => lot === one.id),
  );
  return (
    <div className="col-span-full grid gap-1">
      <ul className="grid gap-1">
        {shown.map((delivery) => {
          const suspicion = suspicions.find(({ lot }) => lot === delivery.id);
          const until = deliveries[deliveries.indexOf(delivery) - 1]?.usedFrom;
          return (
            <li key={delivery.id} className="grid gap-1">
              {editing !== "new" && editing?.id === delivery.id ? (
                <DeliveryForm product={product} delivery={delivery} today={today} done={() => edit(null)} />
              ) : (
                <button
                  type="button"
                  className="min-h-[44px] w-fit text-left text-sm text-soft underline decoration-dotted"
                  onClick={() => edit(delivery)}
                >
                  {said.line({
                    lot: delivery.lot,
                    from: dayText(delivery.usedFrom),
                    until: until === undefined ? null : dayText(until),
                  })}
                </button>
              )}
              {suspicion ? <Suspected suspicion={suspicion} /> : null}
            </li>
          );
        })}
      </ul>
      {editing === "new" ? (
        <DeliveryForm product={product} delivery={null} today={today} done={() => edit(null)} />
      ) : null}
    </div>
  );
}

function DeliveryForm({
  product,
  delivery,
  today,
  done,
}: {
  product: ShelfProduct;
  delivery: Delivery | null;
  today: string;
  done: () => void;
}) {
  const { dispatch, answer, saved, busy } = useCommand<"save-delivery" | "remove-delivery">();
  const newId = useClientId("delivery");
  const said = words.deliveries;
  const { register, handleSubmit } = useForm({
    defaultValues: { lot: delivery?.lot ?? "", usedFrom: delivery?.usedFrom ?? today },
  });
  const isDone = !busy && saved !== undefined;
  useEffect(() => {
    if (isDone) done();
  }, [isDone, done]);
  return (
    <form
      className="grid gap-3 wide:grid-cols-[1fr_12rem_auto] wide:items-end"
      noValidate
      onSubmit={handleSubmit((fields) =>
        dispatch("save-delivery", { id: delivery?.id ?? newId(), productId: product.id, ...fields }),
      )}
    >
      <Field label={said.lot}>
        <input autoComplete="off" maxLength={60} {...register("lot")} />
      </Field>
      <Field label={said.usedFrom}>
        <input type="date" {...register("usedFrom")} />
      </Field>
      <p className="flex flex-wrap gap-2">
        <Button busy={busy}>{said.save}</Button>
        <Button type="button" quiet onClick={done}>
          {words.products.cancel}
        </Button>
        {delivery ? (
          <Button type="button" quiet onClick={() => dispatch("remove-delivery", { id: delivery.id })}>
            {said.remove}
          </Button>
        ) : null}
      </p>
      <div className="col-span-full">
        <Refused answer={answer} />
      </div>
    </form>
  );
}
