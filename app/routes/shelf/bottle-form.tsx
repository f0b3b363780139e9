import { useEffect } from "react";
import { useForm } from "react-hook-form";
import { dropsIn, MEASURES, type Measure, type ShelfBottle } from "#core";
import { Button } from "../../ui/button";
import { typedOr } from "../../ui/number-text";
import { Options } from "../../ui/options";
import { Refused } from "../../ui/refused";
import { useClientId } from "../../ui/use-client-id";
import { useCommand } from "../../ui/use-command";
import { measureName, words } from "../../words";

interface Fields {
  reagent: string;
  measure: Measure;
  full: string;
  millilitres: string;
  perMillilitre: string;
  lot: string;
  openedOn: string;
  expiresOn: string;
}

/** What is written on a bottle. A bottle of drops may be entered by its volume. */
export function BottleForm({
  bottle,
  names,
  done,
}: {
  bottle: ShelfBottle | null;
  names: string[];
  done: () => void;
}) {
  const { dispatch, answer, saved, busy } = useCommand<"save-bottle">();
  const newId = useClientId("bottle");
  const said = words.shelf;
  const { register, handleSubmit, watch, setValue } = useForm<Fields>({
    defaultValues: {
      reagent: bottle?.reagent ?? "",
      measure: bottle?.measure ?? "drops",
      full: bottle ? String(bottle.full) : "",
      millilitres: "",
      perMillilitre: "24",
      lot: bottle?.lot ?? "",
      openedOn: bottle?.openedOn ?? "",
      expiresOn: bottle?.expiresOn ?? "",
    },
  });
  const measure = watch("measure");
  const [millilitres, perMillilitre] = watch(["millilitres", "perMillilitre"]).map(Number);
  useEffect(() => {
    if (measure === "drops" && millilitres && perMillilitre)
      setValue("full", String(dropsIn(millilitres, perMillilitre)));
  }, [measure, millilitres, perMillilitre, setValue]);
  const isDone = !busy && saved !== undefined;
  useEffect(() => {
    if (isDone) done();
  }, [isDone, done]);

  const send = (fields: Fields) =>
    dispatch("save-bottle", {
      id: bottle?.id ?? newId(),
      reagent: fields.reagent,
      measure: fields.measure,
      full: typedOr(fields.full),
      lot: fields.lot,
      openedOn: fields.openedOn || null,
      expiresOn: fields.expiresOn || null,
    });
  return (
    <form onSubmit={handleSubmit(send)} className="grid gap-3 wide:grid-cols-3" noValidate>
      <label className="grid gap-1 wide:col-span-2">
        {said.reagent}
        <input list="reagents" autoComplete="off" {...register("reagent")} />
        <datalist id="reagents">
          {names.map((name) => (
            <option key={name} value={name} />
          ))}
        </datalist>
      </label>
      <label className="grid gap-1">
        {said.measure}
        <select {...register("measure")}>
          <Options of={MEASURES} name={measureName} />
        </select>
      </label>
      {measure === "drops" ? (
        <>
          <label className="grid gap-1">
            {said.byVolume}
            <input inputMode="decimal" autoComplete="off" {...register("millilitres")} />
          </label>
          <label className="grid gap-1">
            {said.perMillilitre}
            <input inputMode="decimal" autoComplete="off" {...register("perMillilitre")} />
          </label>
        </>
      ) : null}
      <label className="grid gap-1">
        {said.full({ measure })}
        <input inputMode="numeric" autoComplete="off" {...register("full")} />
      </label>
      <label className="grid gap-1">
        {said.lot}
        <input autoComplete="off" {...register("lot")} />
      </label>
      <label className="grid gap-1">
        {said.opened}
        <input type="date" {...register("openedOn")} />
      </label>
      <label className="grid gap-1">
        {said.expires}
        <input type="date" {...register("expiresOn")} />
      </label>
      <div className="grid gap-2 wide:col-span-3">
        <Refused answer={answer} />
        <p className="flex flex-wrap gap-2">
          <Button busy={busy}>{said.save}</Button>
          <Button type="button" quiet onClick={done}>
            {said.cancel}
          </Button>
        </p>
      </div>
    </form>
  );
}
