import { useEffect, useRef } from "react";
import { Form, redirect, useNavigation } from "react-router";
import { v7 as uuid } from "uuid";
import { InputFault } from "#core";
import { checked } from "#core/schemas";
import { LONGEST_PASSWORD } from "#server/auth/passwords";
import { openSession } from "#server/auth/sessions";
import { invitationOf, join } from "#server/team/invites";
import { joinSchema } from "#server/team/schemas";
import { addressContext, attempt, notFound, servicesContext, sessionCookie } from "../../context";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { Mark } from "../../ui/mark";
import { Refused } from "../../ui/refused";
import { words } from "../../words";
import type { Route } from "./+types/join";

const SHORTEST = 12;

export async function loader({ params, context }: Route.LoaderArgs) {
  const { db, now } = context.get(servicesContext);
  const found = await invitationOf(db, params.token, now());
  if (!found) return notFound();
  return { firm: found.firmName, name: found.name, role: found.role };
}

export async function action({ params, request, context }: Route.ActionArgs) {
  const { db, now, limits, secureCookies } = context.get(servicesContext);
  const form = await request.formData();
  const invitation = await invitationOf(db, params.token, now());
  if (!invitation) return notFound();
  return attempt(async () => {
    const email = String(form.get("email") ?? "");
    const password = String(form.get("password") ?? "");
    // Told by its length: a password is never sent back.
    if (password.length < SHORTEST || password.length > LONGEST_PASSWORD)
      throw new InputFault(
        password.length < SHORTEST ? "too-low" : "too-high",
        "passwordLength",
        password.length,
        password.length < SHORTEST ? SHORTEST : LONGEST_PASSWORD,
      );
    if ((await limits.tried(`join ${email}`, context.get(addressContext))) !== null)
      throw new InputFault("too-high", "tries", email);
    const sent = checked(joinSchema, {
      id: uuid(),
      name: String(form.get("name") ?? "").trim(),
      email: email.trim(),
      password,
    });
    await join(db, invitation, sent, now());
    const token = await openSession(
      db,
      { firmId: invitation.firmId, memberId: sent.id },
      request.headers.get("User-Agent") ?? "",
      now(),
    );
    return redirect("/", { headers: { "Set-Cookie": sessionCookie(token, secureCookies) } });
  });
}

export const meta: Route.MetaFunction = () => [{ title: `${words.team.join} · ${words.product}` }];

export default function Join({ loaderData: { firm, name, role }, actionData }: Route.ComponentProps) {
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
        {said.joinFirm(firm)}
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
        <Field label={said.password(SHORTEST)}>
          <input name="password" type="password" required maxLength={200} autoComplete="new-password" />
        </Field>
        <div ref={alert}>
          <Refused answer={actionData as Parameters<typeof Refused>[0]["answer"]} />
        </div>
        <Button busy={busy}>{said.join}</Button>
      </Form>
    </main>
  );
}
