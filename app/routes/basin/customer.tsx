import { useForm } from "react-hook-form";
import { Link } from "react-router";
import { isUuid } from "#server/commands/fields";
import { basinById } from "#server/db/basins";
import { type SiteMail, siteMailOf } from "#server/db/mail";
import { commandAction } from "../../commands";
import { inFirm, memberContext, notFound } from "../../context";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { dateText } from "../../ui/format";
import { offlineAware } from "../../ui/offline";
import { Refused } from "../../ui/refused";
import { useCommand } from "../../ui/use-command";
import { useFirm } from "../../ui/use-firm";
import { words } from "../../words";
import type { Route } from "./+types/customer";

export const loader = ({ params, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope) => {
    if (context.get(memberContext).role === "reader") return notFound();
    const basin = isUuid(params.basinId) ? await basinById(scope, params.basinId) : undefined;
    if (!basin) return notFound();
    return { id: basin.id, site: basin.site.name, mail: await siteMailOf(scope, basin.site.id) };
  });

export const action = commandAction(["set-site-mail"]);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.mail.customer.title} · ${words.product}` }];

/** Where the letters of a site go: they hold for all basins there. */
export default function CustomerPage({ loaderData: { id, site, mail } }: Route.ComponentProps) {
  const { dispatch, answer, saved, busy } = useCommand<"set-site-mail">();
  const { timeZone } = useFirm();
  const { register, handleSubmit } = useForm<Pick<SiteMail, "email" | "isOn">>({
    defaultValues: { email: mail?.email ?? "", isOn: mail?.isOn ?? true },
  });
  const said = words.mail.customer;
  return (
    <form
      className="grid max-w-2xl gap-4"
      noValidate
      onSubmit={handleSubmit((given) => dispatch("set-site-mail", given))}
    >
      <h1 className="text-3xl font-bold tracking-tight">{said.titleOf({ site })}</h1>
      <p className="text-soft">{said.hint}</p>
      <div className="sheet grid gap-3 p-4">
        <Field label={said.email}>
          <input type="email" autoComplete="off" inputMode="email" maxLength={254} {...register("email")} />
        </Field>
        <label className="flex min-h-[44px] items-center gap-3">
          <input type="checkbox" {...register("isOn")} /> {said.on}
        </label>
        {mail?.optedOutAt ? (
          <p className="font-medium">{said.optedOut({ day: dateText(mail.optedOutAt, timeZone) })}</p>
        ) : null}
      </div>
      <Refused answer={answer} />
      {saved ? <p role="status">{words.mail.saved}</p> : null}
      <p className="flex flex-wrap gap-3">
        <Button busy={busy}>{said.save}</Button>
        <Link to={`/basins/${id}`} className="quiet-action">
          {said.back}
        </Link>
      </p>
    </form>
  );
}
