import { Form, redirect, useNavigation } from "react-router";
import { InputFault } from "#core";
import { newPassword } from "#server/commands/account";
import { resetOf, useReset as setByReset } from "#server/db/passwords";
import { atGate, attempt, openedByLink, tried } from "../../context";
import { formBody, textOf } from "../../request";
import { Button } from "../../ui/button";
import { Mark } from "../../ui/mark";
import { Refused, type SaveAnswer } from "../../ui/refused";
import { useNobodyHere } from "../../ui/use-nobody-here";
import { words } from "../../words";
import type { Route } from "./+types/reset";
import { NewPasswordField } from "./new-password-field";

const resetBy = (token: string, context: Route.LoaderArgs["context"]) =>
  openedByLink(context, (db, now) => resetOf(db, token, now));

export async function loader({ params, context }: Route.LoaderArgs) {
  const { name, email } = await resetBy(params.token, context);
  return { name, email };
}

/** Sets the password and asks to sign in with it: the link is used up. */
export async function action({ params, request, context }: Route.ActionArgs) {
  const reset = await resetBy(params.token, context);
  return attempt(async () => {
    const password = newPassword(textOf(await formBody(request), "password"));
    const brake = await tried(context, `reset ${reset.id}`);
    if ("refusedFor" in brake) throw new InputFault("too-high", "tries", brake.refusedFor);
    await atGate(context, (db, now) => setByReset(db, reset, password, now));
    return redirect("/sign-in");
  });
}

export const meta: Route.MetaFunction = () => [{ title: `${words.team.newPassword} · ${words.product}` }];

export default function Reset({ loaderData: { name, email }, actionData }: Route.ComponentProps) {
  useNobodyHere();
  const said = words.team;
  const busy = useNavigation().state !== "idle";
  return (
    <main className="mx-auto grid min-h-dvh max-w-md content-center gap-6 p-5">
      <h1 className="flex items-center gap-3 text-3xl font-bold tracking-tight">
        <Mark />
        {said.newPassword}
      </h1>
      <p>{said.resetFor({ name })}</p>
      <Form method="post" className="sheet grid gap-4 p-5">
        <input type="hidden" name="username" autoComplete="username" value={email} readOnly />
        <NewPasswordField name="password" label={said.password} />
        <Refused answer={actionData as SaveAnswer} />
        <Button busy={busy}>{said.setPassword}</Button>
      </Form>
    </main>
  );
}
