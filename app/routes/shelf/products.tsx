import { useEffect, useState } from "react";
import { useForm } from "react-hook-form";
import {
  dayIn,
  densityOf,
  isLabelled,
  onLabel,
  PRODUCT_IDS,
  PRODUCTS,
  type ProductId,
  perCubicMetre,
  type ShelfProduct,
  type Suspicion,
  TRAITS,
  UNIT_SYSTEMS,
  type UnitSystem,
  USUAL_APART_HOURS,
} from "#core";
import { type Delivery, deliveriesOf } from "#server/db/deliveries";
import { firmOf } from "#server/db/firms";
import { suspicionsOf } from "#server/db/learned";
import { type DatedPrice, pricesOf, productsOf } from "#server/db/products";
import { trucksOf } from "#server/db/trucks";
import { commandAction } from "../../commands";
import { inFirm } from "../../context";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { dateText, plain } from "../../ui/format";
import { KeepApart } from "../../ui/keep-apart";
import { fieldText, typedNumber, typedOr, typedOrNull } from "../../ui/number-text";
import { offlineAware } from "../../ui/offline";
import { Options } from "../../ui/options";
import { Refused } from "../../ui/refused";
import { stockText, stockUnit } from "../../ui/stock";
import { useUnits } from "../../ui/units";
import { useClientId } from "../../ui/use-client-id";
import { useCommand } from "../../ui/use-command";
import { useFirm, useMoney } from "../../ui/use-firm";
import { isTwoNumbers, WhichNumber } from "../../ui/which-number";
import { everydayUnit, listText, productName, words } from "../../words";
import type { Route } from "./+types/products";
import { Deliveries, type EditedDelivery } from "./deliveries";

export const loader = ({ context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, _, now) => ({
    products: await productsOf(scope),
    prices: await pricesOf(scope),
    trucks: await trucksOf(scope),
    deliveries: await deliveriesOf(scope),
    suspicions: (await suspicionsOf(scope)).filter(({ code }) => code === "product"),
    today: dayIn(now, (await firmOf(scope)).timeZone),
  }));

export const action = commandAction([
  "save-product",
  "prefer-product",
  "retire-product",
  "save-delivery",
  "remove-delivery",
]);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

/** What is dosed from: strength, price, stock, and in which order it is liked. */
export default function Products({ loaderData }: Route.ComponentProps) {
  const { products, prices, trucks, deliveries, suspicions, today } = loaderData;
  const [editing, edit] = useState<string | null>(null);
  const said = words.products;
  return (
    <div className="grid gap-3">
      <p className="text-soft">{said.hint}</p>
      <ol className="sheet divide-y divide-rule">
        {products.map((product, index) => (
          <li key={product.id} className="p-4">
            {editing === product.id ? (
              <ProductForm
                product={product}
                prices={prices.filter((price) => price.productId === product.id)}
                done={() => edit(null)}
              />
            ) : (
              <ProductRow
                product={product}
                onTrucks={onTrucks(trucks, product.id)}
                first={index === 0}
                edit={() => edit(product.id)}
                deliveries={deliveries.filter(({ productId }) => productId === product.id)}
                suspicions={suspicions}
                today={today}
              />
            )}
          </li>
        ))}
      </ol>
      <KeepApart products={products} />
      {editing === "new" ? (
        <div className="sheet p-4">
          <ProductForm product={null} prices={[]} done={() => edit(null)} />
        </div>
      ) : (
        <Button type="button" className="justify-self-start" onClick={() => edit("new")}>
          {said.add}
        </Button>
      )}
    </div>
  );
}

/** Grams of a product on all trucks on which it is counted; null when on none. */
function onTrucks(trucks: Route.ComponentProps["loaderData"]["trucks"], productId: string): number | null {
  const counted = trucks.flatMap((truck) => truck.stock.filter((one) => one.productId === productId));
  return counted.length > 0 ? counted.reduce((sum, one) => sum + one.left, 0) : null;
}

interface RowProps {
  product: ShelfProduct;
  onTrucks: number | null;
  first: boolean;
  edit: () => void;
  deliveries: Delivery[];
  suspicions: Suspicion[];
  today: string;
}

function ProductRow({ product, onTrucks, first, edit, ...of }: RowProps) {
  const [delivery, editDelivery] = useState<EditedDelivery>(null);
  const money = useMoney();
  const { dispatch, answer, busy } = useCommand<"prefer-product">();
  const units = useUnits();
  const said = words.products;
  return (
    <div className="grid gap-x-4 gap-y-2 wide:grid-cols-[1fr_auto] wide:items-center">
      <div>
        <p className="text-lg font-semibold">{product.name}</p>
        <p className="text-soft">
          {productName(product.product)} ·{" "}
          {product.pricePerKg === null ? said.noPrice : said.perKg({ price: money(product.pricePerKg) })} ·{" "}
          {product.left === null ? (
            said.noCount
          ) : product.left === 0 ? (
            <b className="text-below">◆ {said.out}</b>
          ) : (
            <b className="text-ink">{said.left({ mass: stockText(product, product.left, units) })}</b>
          )}
          {onTrucks === null ? "" : ` · ${said.onTrucks({ amount: stockText(product, onTrucks, units) })}`}
          {product.planned ? "" : ` · ${said.notPlanned}`}
        </p>
        {product.label ? (
          <p className="text-soft">
            {said.labelled({
              amount: `${plain(onLabel(product.label.perCubicMetre, product.density, units), 1)} ${labelUnit(product.density, units)}`,
              water: said.labelWater[UNIT_SYSTEMS[units].doses],
              days: product.label.everyDays,
            })}
          </p>
        ) : null}
        {product.reorder !== null &&
        product.left !== null &&
        product.left + (onTrucks ?? 0) <= product.reorder ? (
          <p className="font-semibold text-below">
            ▼ {said.reorderNow({ amount: stockText(product, product.reorder, units) })}
          </p>
        ) : null}
        <Refused answer={answer} />
      </div>
      <p className="flex flex-wrap gap-2">
        {first ? null : (
          <Button
            type="button"
            quiet
            busy={busy}
            aria-label={`${said.prefer}: ${product.name}`}
            onClick={() => dispatch("prefer-product", { id: product.id })}
          >
            ↑ {said.prefer}
          </Button>
        )}
        <Button
          type="button"
          quiet
          aria-label={`${words.deliveries.add}: ${product.name}`}
          onClick={() => editDelivery("new")}
        >
          {words.deliveries.add}
        </Button>
        <Button type="button" quiet aria-label={`${said.edit}: ${product.name}`} onClick={edit}>
          {said.edit}
        </Button>
      </p>
      <Deliveries product={product} editing={delivery} edit={editDelivery} {...of} />
    </div>
  );
}

interface Fields {
  product: ProductId;
  name: string;
  strength: string;
  density: string;
  price: string;
  stock: string;
  uncounted: boolean;
  planned: boolean;
  reorder: string;
  labelDose: string;
  labelDays: string;
  labelApart: string;
}

/** What is no number goes out as it stands, and is named. */
function labelGrams({ labelDose, density }: Fields, units: UnitSystem): number {
  const [amount, heavy] = [typedOr(labelDose), typedOrNull(density)];
  return typeof amount === "number" && typeof heavy !== "string"
    ? perCubicMetre(amount, heavy, units)
    : amount;
}

/** What a label's dose is told in: a powder, which has no density here, is weighed. */
const labelUnit = (density: number | null, units: UnitSystem): string => {
  const { doses } = UNIT_SYSTEMS[units];
  return everydayUnit(density === null ? (doses === "us" ? "oz" : "g") : doses === "us" ? "fl-oz" : "mL");
};

interface FormProps {
  product: ShelfProduct | null;
  prices: DatedPrice[];
  done: () => void;
}

function ProductForm({ product, prices, done }: FormProps) {
  const money = useMoney();
  const { timeZone } = useFirm();
  const { dispatch, answer, saved, busy } = useCommand<"save-product" | "retire-product">();
  const newId = useClientId("product");
  const units = useUnits();
  const said = words.products;
  const { register, handleSubmit, watch, setValue } = useForm<Fields>({
    defaultValues: {
      product: product?.product ?? "sodium-hypochlorite",
      name: product?.name ?? "",
      strength: percent(product?.strength ?? PRODUCTS["sodium-hypochlorite"].strength),
      density: String(product ? (product.density ?? "") : (PRODUCTS["sodium-hypochlorite"].density ?? "")),
      price: product?.pricePerKg?.toString() ?? "",
      stock: "",
      uncounted: false,
      planned: product?.planned ?? true,
      reorder:
        product?.reorder === null || product?.reorder === undefined
          ? ""
          : fieldText(stockUnit(product, units).fromGrams(product.reorder), 2),
      labelDose: product?.label
        ? String(Number(onLabel(product.label.perCubicMetre, product.density, units).toPrecision(6)))
        : "",
      labelDays: product?.label?.everyDays?.toString() ?? "",
      labelApart: String(product?.label?.apartHours ?? USUAL_APART_HOURS),
    },
  });
  const isDone = !busy && saved !== undefined;
  useEffect(() => {
    if (isDone) done();
  }, [isDone, done]);
  const compound = watch("product");
  const uncounted = watch("uncounted");
  const kind = compound ?? product?.product ?? "trichlor";
  const byLabel = isLabelled(kind);
  const heavy = typedOrNull(watch("density") ?? "");
  const inStock = stockUnit({ product: kind, density: typeof heavy === "number" ? heavy : null }, units);
  const send = (fields: Fields, sure = false) => {
    const stock = typedOrNull(fields.stock);
    const reorder = typedOrNull(fields.reorder);
    const density = typedOrNull(fields.density);
    const counted = stockUnit({ product: fields.product, density }, units);
    const grams = (amount: number) => (typeof amount === "number" ? counted.toGrams(amount) : amount);
    void dispatch("save-product", {
      id: product?.id ?? newId(),
      ...(sure ? { sure } : {}),
      product: fields.product,
      name: fields.name,
      strength: typedNumber(fields.strength) / 100,
      density: typedOrNull(fields.density),
      pricePerKg: typedOrNull(fields.price),
      planned: fields.planned,
      ...(byLabel
        ? {
            label: {
              perCubicMetre: labelGrams(fields, units),
              everyDays: typedOrNull(fields.labelDays),
              apartHours: typedOr(fields.labelApart),
            },
          }
        : {}),
      ...(fields.uncounted ? { stock: null } : stock === null ? {} : { stock: grams(stock) }),
      reorder: reorder === null ? null : grams(reorder),
    });
  };
  return (
    <form
      onSubmit={handleSubmit((fields) => send(fields))}
      className="grid gap-3 wide:grid-cols-4"
      noValidate
    >
      <Field label={said.compound}>
        <select
          disabled={product !== null}
          {...register("product", {
            onChange: (event) => {
              const kind = PRODUCTS[event.target.value as ProductId];
              setValue("strength", percent(kind.strength));
              setValue("density", String(kind.density ?? ""));
            },
          })}
        >
          <Options of={PRODUCT_IDS} name={productName} />
        </select>
      </Field>
      <Field label={said.name} className="wide:col-span-3">
        <input autoComplete="off" {...register("name")} />
      </Field>
      {byLabel ? null : (
        <>
          <Field
            label={said.strength({ availableChlorine: PRODUCTS[kind].strengthOf === "available-chlorine" })}
          >
            <input
              inputMode="decimal"
              autoComplete="off"
              {...register("strength", {
                onChange: (event) => {
                  // A weaker liquid is lighter, too.
                  const strength = typedNumber(event.target.value) / 100;
                  const kind = compound ?? product?.product;
                  if (kind && PRODUCTS[kind].form === "liquid" && strength > 0 && strength <= 1)
                    setValue("density", String(Number(densityOf({ product: kind, strength })?.toFixed(3))));
                },
              })}
            />
          </Field>
          <WhichNumber text={watch("strength") ?? ""} unit="%" set={(text) => setValue("strength", text)} />
          {TRAITS[kind].chlorine ? (
            <p className="self-end text-sm text-soft wide:col-span-2">{said.assay}</p>
          ) : null}
        </>
      )}
      <Field label={said.density}>
        <input inputMode="decimal" autoComplete="off" {...register("density")} />
      </Field>
      <Field label={said.price}>
        <input inputMode="decimal" autoComplete="off" {...register("price")} />
      </Field>
      <Field label={said.stock({ unit: inStock.name })}>
        <input inputMode="decimal" autoComplete="off" disabled={uncounted} {...register("stock")} />
      </Field>
      <Field label={said.reorder({ unit: inStock.name })}>
        <input inputMode="decimal" autoComplete="off" {...register("reorder")} />
      </Field>
      {byLabel ? (
        <fieldset className="grid gap-3 border-t border-rule pt-3 wide:col-span-4 wide:grid-cols-4">
          <legend className="font-medium">{said.label}</legend>
          <Field
            label={said.labelDose({
              unit: labelUnit(typedOrNull(watch("density")), units),
              water: said.labelWater[UNIT_SYSTEMS[units].doses],
            })}
          >
            <input inputMode="decimal" autoComplete="off" {...register("labelDose")} />
          </Field>
          <Field label={said.labelDays}>
            <input inputMode="numeric" autoComplete="off" {...register("labelDays")} />
          </Field>
          <Field label={said.labelApart}>
            <input inputMode="numeric" autoComplete="off" {...register("labelApart")} />
          </Field>
          <p className="text-sm text-soft wide:col-span-4">{said.labelHint}</p>
        </fieldset>
      ) : null}
      {prices.length > 1 ? (
        <p className="self-end text-sm text-soft wide:col-span-3">
          {said.prices}{" "}
          {listText(
            prices.map((price) =>
              said.priceFrom({
                price: price.pricePerKg === null ? said.noPrice : money(price.pricePerKg),
                day: price.knownFrom ? dateText(price.knownFrom, timeZone) : null,
              }),
            ),
          )}
        </p>
      ) : null}
      <p className="text-sm text-soft wide:col-span-4">
        {product?.left === null || product === null
          ? ""
          : `${said.left({ mass: stockText(product, product.left, units) })}. ${said.stockHint}`}
      </p>
      <label className="flex min-h-[44px] items-center gap-3 wide:col-span-2">
        <input type="checkbox" className="h-6 min-h-0 w-6" {...register("planned")} />
        {said.planned}
      </label>
      <label className="flex min-h-[44px] items-center gap-3 wide:col-span-2">
        <input type="checkbox" className="h-6 min-h-0 w-6" {...register("uncounted")} />
        {said.uncounted}
      </label>
      <div className="grid gap-2 wide:col-span-4">
        <Refused answer={answer} sure={handleSubmit((fields) => send(fields, true))} />
        <p className="flex flex-wrap gap-2">
          <Button busy={busy} disabled={isTwoNumbers(watch("strength") ?? "")}>
            {said.save}
          </Button>
          <Button type="button" quiet onClick={done}>
            {said.cancel}
          </Button>
          {product ? (
            <Button type="button" quiet onClick={() => dispatch("retire-product", { id: product.id })}>
              {said.retire}
            </Button>
          ) : null}
        </p>
      </div>
    </form>
  );
}

const percent = (share: number): string => String(Number((share * 100).toPrecision(4)));
