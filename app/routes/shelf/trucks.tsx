import { useState } from "react";
import { membersOf } from "#server/db/firms";
import { productsOf } from "#server/db/products";
import { type Truck, trucksOf } from "#server/db/trucks";
import { commandAction } from "../../commands";
import { inFirm } from "../../context";
import { Button } from "../../ui/button";
import { Empty } from "../../ui/empty";
import { Field } from "../../ui/field";
import { ago, massText } from "../../ui/format";
import { typedNumber } from "../../ui/number-text";
import { offlineAware } from "../../ui/offline";
import { NamedOptions } from "../../ui/options";
import { Refused } from "../../ui/refused";
import { stockText, stockUnit } from "../../ui/stock";
import { useClientId } from "../../ui/use-client-id";
import { useCommand } from "../../ui/use-command";
import { useFirm } from "../../ui/use-firm";
import { words } from "../../words";
import type { Route } from "./+types/trucks";

export const loader = ({ context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, _, now) => ({
    now,
    trucks: await trucksOf(scope),
    products: (await productsOf(scope)).map(({ id, name, product, density }) => ({
      id,
      name,
      product,
      density,
    })),
    members: (await membersOf(scope)).filter((member) => member.role !== "reader"),
  }));

export const action = commandAction(["save-truck", "load-truck", "retire-truck"]);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

type Data = Route.ComponentProps["loaderData"];

/** Trucks, who drives them, and what is on them. */
export default function Trucks({ loaderData }: Route.ComponentProps) {
  const said = words.trucks;
  return (
    <div className="grid gap-3">
      <p className="text-soft">{said.hint}</p>
      {loaderData.trucks.length === 0 ? <Empty text={said.none} /> : null}
      {loaderData.trucks.map((truck) => (
        <section key={truck.id} className="sheet grid gap-3 p-4">
          <TruckForm truck={truck} {...loaderData} />
          <OnTruck truck={truck} {...loaderData} />
        </section>
      ))}
      <section className="sheet grid gap-3 p-4">
        <h2 className="text-xl font-semibold">{said.add}</h2>
        <TruckForm truck={null} {...loaderData} key={loaderData.trucks.length} />
      </section>
    </div>
  );
}

function TruckForm({ truck, members }: { truck: Truck | null } & Data) {
  const { dispatch, answer, busy } = useCommand<"save-truck" | "retire-truck">();
  const newId = useClientId("truck");
  const [name, setName] = useState(truck?.name ?? "");
  const [memberId, setMemberId] = useState(truck?.memberId ?? "");
  const said = words.trucks;
  return (
    <form
      className="grid items-end gap-2 wide:grid-cols-[1fr_1fr_auto_auto]"
      onSubmit={(event) => {
        event.preventDefault();
        void dispatch("save-truck", { id: truck?.id ?? newId(), name, memberId: memberId || null });
      }}
    >
      <Field label={said.name}>
        <input value={name} maxLength={120} required onChange={(event) => setName(event.target.value)} />
      </Field>
      <Field label={said.driver}>
        <select value={memberId} onChange={(event) => setMemberId(event.target.value)}>
          <option value="">{said.nobody}</option>
          <NamedOptions of={members} />
        </select>
      </Field>
      <Button quiet={truck !== null} busy={busy}>
        {said.save}
      </Button>
      {truck ? (
        <Button type="button" quiet onClick={() => dispatch("retire-truck", { id: truck.id })}>
          {said.retire}
        </Button>
      ) : null}
      <div className="wide:col-span-4">
        <Refused answer={answer} />
      </div>
    </form>
  );
}

function OnTruck({ truck, products, now: at }: { truck: Truck } & Data) {
  const { dispatch, answer, busy } = useCommand<"load-truck">();
  const { units } = useFirm();
  const [productId, setProductId] = useState(products[0]?.id ?? "");
  const [amount, setAmount] = useState("");
  // What is on the truck changes with each load that lands: the same load again is another then.
  const id = useClientId(truck.stock.map((one) => `${one.productId} ${one.left}`).join());
  const said = words.trucks;
  const loaded = products.find((one) => one.id === productId);
  // What is in no product is counted by weight.
  const inStock = stockUnit(loaded ?? { product: "sodium-bicarbonate", density: null }, units);
  const onTruck = (one: Truck["stock"][number]): string => {
    const product = products.find(({ id }) => id === one.productId);
    return product ? stockText(product, one.left, units) : massText(one.left, units);
  };
  const send = (how: "counted" | "loaded") => {
    const typed = typedNumber(amount);
    const grams = Number.isNaN(typed) ? amount : inStock.toGrams(typed);
    void dispatch("load-truck", {
      id: id([productId, grams, how]),
      truckId: truck.id,
      productId,
      grams,
      how,
    });
  };
  return (
    <>
      {truck.stock.length === 0 ? <p className="text-soft">{said.nothing}</p> : null}
      <ul className="divide-y divide-rule">
        {truck.stock.map((one) => (
          <li key={one.productId} className="flex flex-wrap justify-between gap-x-4 py-2">
            <span>{one.name}</span>
            <span>{said.left({ amount: onTruck(one), when: ago(one.countedAt, at) })}</span>
          </li>
        ))}
      </ul>
      <div className="grid items-end gap-2 wide:grid-cols-[1fr_9rem_auto_auto]">
        <Field label={said.product}>
          <select value={productId} onChange={(event) => setProductId(event.target.value)}>
            <NamedOptions of={products} />
          </select>
        </Field>
        <Field label={said.amount({ unit: inStock.name })}>
          <input inputMode="decimal" value={amount} onChange={(event) => setAmount(event.target.value)} />
        </Field>
        <Button type="button" quiet busy={busy} onClick={() => send("loaded")}>
          {said.load}
        </Button>
        <Button type="button" quiet busy={busy} onClick={() => send("counted")}>
          {said.count}
        </Button>
      </div>
      <Refused answer={answer} />
    </>
  );
}
