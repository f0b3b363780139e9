import Joi from "joi";
import { Form, redirect, useNavigation } from "react-router";
import { v7 as uuid } from "uuid";
import { InputFault, UNIT_SYSTEM_NAMES, type UnitSystem } from "#core";
import { checked } from "#core/schemas";
import { isCode } from "#server/auth/setup-code";
import { newPassword } from "#server/commands/account";
import { nameSchema } from "#server/commands/fields";
import { makeFirm, NotTheFirst } from "#server/db/new-firm";
import { openSession } from "#server/db/sessions";
import { atGate, attempt, servicesContext, sessionCookie, setupIsOpen, tried } from "../../context";
import { formBody, textOf } from "../../request";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { Mark } from "../../ui/mark";
import { Options } from "../../ui/options";
import { Refused } from "../../ui/refused";
import { useNobodyHere } from "../../ui/use-nobody-here";
import { soldAs, words } from "../../words";
import { NewPasswordField } from "../team/new-password-field";
import type { Route } from "./+types/route";

/** A fresh instance: whoever holds the code that the start command printed makes the firm, once. */
export async function loader({ context }: Route.LoaderArgs) {
  if (!(await setupIsOpen(context))) throw redirect("/sign-in");
  return { zones: Intl.supportedValuesOf("timeZone") };
}

interface Asked {
  name: string;
  timeZone: string;
  units: UnitSystem;
  currency: string;
  owner: string;
  email: string;
}

const schema = Joi.object<Asked>({
  name: nameSchema,
  timeZone: Joi.valid(...Intl.supportedValuesOf("timeZone"), "UTC").required(),
  units: Joi.valid(...UNIT_SYSTEM_NAMES).required(),
  currency: Joi.valid(...Intl.supportedValuesOf("currency")).required(),
  owner: nameSchema,
  email: Joi.string().trim().email({ tlds: false }).max(254).required(),
});

export async function action({ request, context }: Route.ActionArgs) {
  const { secureCookies, setup } = context.get(servicesContext);
  if (!(await setupIsOpen(context))) throw redirect("/sign-in");
  return attempt(async () => {
    const form = await formBody(request);
    const brake = await tried(context, "setup");
    if ("refusedFor" in brake) throw new InputFault("too-high", "tries", brake.refusedFor);
    if (!isCode(textOf(form, "code"), await setup()))
      throw new InputFault("unknown", "code", textOf(form, "code"));
    const field = (name: keyof Asked) => textOf(form, name).trim();
    const { owner, ...asked } = checked(schema, {
      name: field("name"),
      timeZone: field("timeZone"),
      units: field("units"),
      currency: field("currency").toUpperCase(),
      owner: field("owner"),
      email: field("email"),
    });
    const password = newPassword(textOf(form, "password"));
    const agent = request.headers.get("User-Agent") ?? "";
    const token = await atGate(context, async (db, now) => {
      const ownerId = uuid();
      try {
        const firmId = await makeFirm(db, {
          ...asked,
          onlyFirst: true,
          owner: { id: ownerId, name: owner, email: asked.email, password },
          productName: soldAs,
        });
        if (!firmId) throw new InputFault("inconsistent", "email", asked.email, "taken");
        return openSession(db, { firmId, memberId: ownerId }, agent, now);
      } catch (fault) {
        if (fault instanceof NotTheFirst) return null;
        throw fault;
      }
    });
    if (!token) throw redirect("/sign-in");
    return redirect("/", { headers: { "Set-Cookie": sessionCookie(token, secureCookies) } });
  });
}

export const meta: Route.MetaFunction = () => [{ title: `${words.setup.title} · ${words.product}` }];

export default function Setup({ loaderData: { zones }, actionData }: Route.ComponentProps) {
  useNobodyHere();
  const said = words.setup;
  const busy = useNavigation().state !== "idle";
  return (
    <main className="mx-auto grid min-h-dvh max-w-2xl content-center gap-6 p-5">
      <h1 className="flex items-center gap-3 text-3xl font-bold tracking-tight">
        <Mark />
        {said.title}
      </h1>
      <p className="max-w-prose">{said.intro}</p>
      {/* What was typed stays where it was, whatever the answer. */}
      <Form method="post" className="sheet grid gap-4 p-5 wide:grid-cols-2" noValidate>
        <Field label={said.code} className="wide:col-span-2">
          <input name="code" required autoComplete="off" autoCapitalize="characters" />
        </Field>
        <Field label={said.firm} className="wide:col-span-2">
          <input name="name" required maxLength={120} autoComplete="organization" />
        </Field>
        <Field label={said.zone}>
          <select name="timeZone" defaultValue={zones.includes("America/Denver") ? "America/Denver" : "UTC"}>
            {["UTC", ...zones.filter((zone) => zone !== "UTC")].map((zone) => (
              <option key={zone}>{zone}</option>
            ))}
          </select>
        </Field>
        <Field label={said.units}>
          <select name="units" defaultValue="us">
            <Options of={UNIT_SYSTEM_NAMES} name={(system) => words.settings[system]} />
          </select>
        </Field>
        <Field label={said.currency}>
          <input name="currency" defaultValue="USD" maxLength={3} autoComplete="off" />
        </Field>
        <span className="hidden wide:block" />
        <Field label={said.owner}>
          <input name="owner" required maxLength={120} autoComplete="name" />
        </Field>
        <Field label={words.signIn.email}>
          <input name="email" type="email" required maxLength={254} autoComplete="username" />
        </Field>
        <NewPasswordField name="password" label={words.team.password} />
        <div className="grid gap-3 wide:col-span-2">
          <Refused answer={actionData as Parameters<typeof Refused>[0]["answer"]} />
          <Button busy={busy} className="justify-self-start">
            {said.go}
          </Button>
        </div>
      </Form>
    </main>
  );
}
