import { useEffect, useRef } from "react";
import { Form, redirect, useNavigation } from "react-router";
import { v7 as uuid } from "uuid";
import { InputFault } from "#core";
import { checked } from "#core/schemas";
import { newPassword } from "#server/commands/account";
import { invitationOf, join } from "#server/db/invites";
import { openSession } from "#server/db/sessions";
import { joinSchema } from "#server/team/schemas";
import { atGate, attempt, openedByLink, servicesContext, sessionCookie, tried } from "../../context";
import { formBody, textOf } from "../../request";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { Mark } from "../../ui/mark";
import { Refused } from "../../ui/refused";
import { useNobodyHere } from "../../ui/use-nobody-here";
import { words } from "../../words";
import type { Route } from "./+types/join";
import { NewPasswordField } from "./new-password-field";

export async function loader({ params, context }: Route.LoaderArgs) {
  const found = await invitedBy(params.token, context);
  return { firm: found.firmName, name: found.name, role: found.role };
}

const invitedBy = (token: string, context: Route.LoaderArgs["context"]) =>
  openedByLink(context, (db, now) => invitationOf(db, token, now));

export async function action({ params, request, context }: Route.ActionArgs) {
  const { secureCookies } = context.get(servicesContext);
  const invitation = await invitedBy(params.token, context);
  return attempt(async () => {
    const form = await formBody(request);
    const email = textOf(form, "email").trim();
    const password = newPassword(textOf(form, "password"));
    const brake = await tried(context, `join ${invitation.id}`);
    if ("refusedFor" in brake) throw new InputFault("too-high", "tries", brake.refusedFor);
    const sent = checked(joinSchema, { id: uuid(), name: textOf(form, "name").trim(), email, password });
    const agent = request.headers.get("User-Agent") ?? "";
    const token = await atGate(context, async (db, now) => {
      await join(db, invitation, sent, now);
      return openSession(db, { firmId: invitation.firmId, memberId: sent.id }, agent, now);
    });
    return redirect("/", { headers: { "Set-Cookie": sessionCookie(token, secureCookies) } });
  });
}

export const meta: Route.MetaFunction = () => [{ title: `${words.team.join} · ${words.product}` }];

export default function Join({ loaderData: { firm, name, role }, actionData }: Route.ComponentProps) {
  useNobodyHere();
  const said = words.team;
  const busy = useNavigation().state !== "idle";
  const alert = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (actionData) alert.current?.scrollIntoView({ block: "nearest" });
  }, [actionData]);
  return (
    <main className="mx-auto grid min-h-dvh max-w-md content-center gap-6 p-5">
      <h1 className="flex items-center gap-3 text-3xl font-bold tracking-tight">
        <Mark />
        {said.joinFirm({ firm })}
      </h1>
      <p>
        {said.as} {words.settings.roles[role]}. {said.roleHints[role]}
      </p>
      <Form method="post" className="sheet grid gap-4 p-5">
        <Field label={said.name}>
          <input name="name" required maxLength={120} defaultValue={name} autoComplete="name" />
        </Field>
        <Field label={words.signIn.email}>
          <input name="email" type="email" required maxLength={254} autoComplete="username" />
        </Field>
        <NewPasswordField name="password" label={said.password} />
        <div ref={alert}>
          <Refused answer={actionData as Parameters<typeof Refused>[0]["answer"]} />
        </div>
        <Button busy={busy}>{said.join}</Button>
      </Form>
    </main>
  );
}
