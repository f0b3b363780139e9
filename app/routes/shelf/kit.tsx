import { Plus } from "lucide-react";
import { useState } from "react";
import { FormProvider, useFieldArray, useForm } from "react-hook-form";
import { Link, useSearchParams } from "react-router";
import { v7 as uuid } from "uuid";
import { isUuid } from "#server/commands/fields";
import { kitsOf, lineOfKit, versionsOf } from "#server/db/kits";
import { inFirm, notFound } from "../../context";
import { Button } from "../../ui/button";
import { dateText } from "../../ui/format";
import { Refused } from "../../ui/refused";
import { useClientId } from "../../ui/use-client-id";
import { useCommand } from "../../ui/use-command";
import { useFirm } from "../../ui/use-firm";
import { quantityName, shipped, words } from "../../words";
import type { Route } from "./+types/kit";
import { emptyMethod, fromKit, type KitFields, toKit } from "./kit-fields";
import { MethodEditor } from "./method-editor";

/** A kit in its newest version with those before it, or a new one. */
export const loader = ({ params, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope) => {
    if (params.kitId === "new") return { versions: [], shown: null };
    if (!isUuid(params.kitId)) return notFound();
    const asked = (await kitsOf(scope)).find((kit) => kit.id === params.kitId);
    const line = asked?.line ?? (await lineOfKit(scope, params.kitId)) ?? notFound();
    const versions = await versionsOf(scope, line);
    return { versions, shown: versions.find((one) => one.id === params.kitId) ?? null };
  });

export const meta: Route.MetaFunction = ({ loaderData }) => [
  {
    title: `${loaderData?.shown ? shipped(loaderData.shown.kit.name) : words.kits.fresh} · ${words.product}`,
  },
];

export default function KitPage({ loaderData, params }: Route.ComponentProps) {
  return <Editor key={params.kitId} {...loaderData} />;
}

function Editor({ versions, shown }: Route.ComponentProps["loaderData"]) {
  const { timeZone } = useFirm();
  const [search] = useSearchParams();
  const { dispatch, answer, busy } = useCommand<"save-kit">("/shelf/kits");
  const [newest] = versions;
  const form = useForm<KitFields>({
    defaultValues: fromKit(shown?.kit ?? { name: words.kits.copyName, methods: [] }),
  });
  const { fields, append, remove } = useFieldArray({ control: form.control, name: "methods" });
  const [open, setOpen] = useState<number | null>(shown ? null : 0);
  const id = useClientId(newest?.version);
  const [line] = useState(() => newest?.line ?? uuid());
  const said = words.kits;
  const save = (values: KitFields) =>
    dispatch("save-kit", { id: id(values), line, basedOn: newest?.version ?? null, kit: toKit(values) });
  return (
    <FormProvider {...form}>
      <form onSubmit={form.handleSubmit(save)} className="grid gap-4" noValidate>
        <p>
          <Link to="/shelf/kits" className="link text-soft">
            {words.shelf.title}, {words.shelf.tabs.kits}
          </Link>
        </p>
        <label className="grid max-w-xl gap-1 text-soft">
          {said.name}
          <input className="text-2xl font-bold" autoComplete="off" {...form.register("name")} />
        </label>
        <ol className="grid gap-2">
          {fields.map((field, index) => (
            <li key={field.id} className="sheet p-3">
              <button
                type="button"
                aria-expanded={open === index}
                className="flex min-h-[48px] w-full cursor-pointer flex-wrap items-center justify-between gap-x-4 text-left"
                onClick={() => setOpen(open === index ? null : index)}
              >
                <span className="text-lg font-semibold">{shipped(form.watch(`methods.${index}.name`))}</span>
                <span className="text-soft">
                  {quantityName(form.watch(`methods.${index}.quantity`))} ·{" "}
                  {said.kinds[form.watch(`methods.${index}.kind`)]}
                </span>
              </button>
              {open === index ? (
                <MethodEditor
                  index={index}
                  remove={() => {
                    setOpen(null);
                    remove(index);
                  }}
                />
              ) : null}
            </li>
          ))}
        </ol>
        <Button
          type="button"
          quiet
          className="justify-self-start"
          onClick={() => {
            append(emptyMethod(fields.length + 1));
            setOpen(fields.length);
          }}
        >
          <Plus size={20} aria-hidden="true" /> {said.addTest}
        </Button>
        <Refused answer={answer} />
        {search.has("saved") && !form.formState.isDirty ? <p role="status">{said.saved}</p> : null}
        <div className="flex flex-wrap items-center gap-3">
          <Button busy={busy}>{said.save}</Button>
          {shown ? (
            <a className="quiet-action" href={`/shelf/kits/${shown.id}/export`} download>
              {said.export}
            </a>
          ) : null}
          {form.formState.isDirty ? <span className="text-soft">{said.unsaved}</span> : null}
        </div>
        {versions.length > 0 ? (
          <section className="sheet p-4">
            <h2 className="mb-1 text-xl font-semibold">{said.history}</h2>
            <ul>
              {versions.map((one) => (
                <li key={one.id}>
                  <Link
                    to={`/shelf/kits/${one.id}`}
                    className={one.id === shown?.id ? "font-semibold" : "link"}
                  >
                    {said.version({ version: one.version })}
                  </Link>
                  <span className="text-soft">
                    {" "}
                    {dateText(one.createdAt, timeZone)}, {one.by ? said.by({ name: one.by }) : said.shipped}
                  </span>
                </li>
              ))}
            </ul>
          </section>
        ) : null}
      </form>
    </FormProvider>
  );
}
