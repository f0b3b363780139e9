import { useForm } from "react-hook-form";
import { Link } from "react-router";
import { ACCESS_FIELDS, type SiteAccess } from "#core";
import { isUuid } from "#server/commands/fields";
import { accessOf } from "#server/db/access";
import { basinById } from "#server/db/basins";
import { commandAction } from "../../commands";
import { inFirm, notFound } from "../../context";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { offlineAware } from "../../ui/offline";
import { Refused } from "../../ui/refused";
import { useCommand } from "../../ui/use-command";
import { words } from "../../words";
import type { Route } from "./+types/access";

export const loader = ({ params, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope) => {
    const basin = isUuid(params.basinId) ? await basinById(scope, params.basinId) : undefined;
    if (!basin) return notFound();
    const access = (await accessOf(scope, [basin.site.id])).get(basin.site.id) ?? {};
    return { id: basin.id, site: basin.site.name, access };
  });

export const action = commandAction(["set-access"]);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.access.title} · ${words.product}` }];

/** How one gets in at the basin's site: it holds for all basins there. */
export default function AccessPage({ loaderData: { id, site, access } }: Route.ComponentProps) {
  const { dispatch, answer, saved, busy } = useCommand<"set-access">();
  const { register, handleSubmit } = useForm<SiteAccess>({ defaultValues: access });
  const said = words.access;
  return (
    <form
      className="grid max-w-2xl gap-4"
      noValidate
      onSubmit={handleSubmit((given) => dispatch("set-access", { access: given }))}
    >
      <h1 className="text-3xl font-bold tracking-tight">{said.titleOf({ site })}</h1>
      <p className="text-soft">{said.hint}</p>
      <div className="sheet grid gap-3 p-4">
        {ACCESS_FIELDS.map((field) => (
          <Field key={field} label={said.fields[field]}>
            <input
              autoComplete="off"
              inputMode={field === "phone" ? "tel" : undefined}
              maxLength={300}
              {...register(field)}
            />
          </Field>
        ))}
      </div>
      <Refused answer={answer} />
      {saved ? <p role="status">{said.saved}</p> : null}
      <p className="flex flex-wrap gap-3">
        <Button busy={busy}>{said.save}</Button>
        <Link to={`/basins/${id}`} className="quiet-action">
          {said.back}
        </Link>
      </p>
    </form>
  );
}
