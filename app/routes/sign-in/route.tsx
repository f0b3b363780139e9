import { setTimeout as delay } from "node:timers/promises";
import { lazy, Suspense, useRef } from "react";
import { data, Form, Link, redirect, redirectDocument, useNavigation } from "react-router";
import { LONGEST_PASSWORD } from "#server/auth/password-length";
import { sessionOf, signIn } from "#server/db/sessions";
import { DEMO_EMAIL, DEMO_PASSWORD } from "#server/demo/cast";
import {
  atGate,
  attempt,
  demoIsShown,
  servicesContext,
  sessionCookie,
  setupIsOpen,
  succeeded,
  tried,
  whoIs,
} from "../../context";
import { formBody, textOf } from "../../request";
import { Button } from "../../ui/button";
import { Mark } from "../../ui/mark";
import { Refused } from "../../ui/refused";
import { Rich } from "../../ui/rich";
import { useNobodyHere } from "../../ui/use-nobody-here";
import { spoken, tooManyTries, words } from "../../words";
import type { Route } from "./+types/route";

/** Only a path of our own: never a page elsewhere, however it is written. */
function ownPath(to: string | null): string {
  const here = "http://here.invalid";
  const found = to?.startsWith("/") && URL.canParse(to, here) ? new URL(to, here) : null;
  // Browsers drop tabs and line ends out of an address, and take a second slash for another host.
  if (found?.origin !== here || found.pathname.startsWith("//")) return "/";
  return found.pathname + found.search;
}

export async function loader({ request, context }: Route.LoaderArgs) {
  if (await whoIs(request, context)) throw redirect("/");
  const showDemo = await demoIsShown(context);
  const setup = await setupIsOpen(context);
  // Nobody can sign in where nobody is: the first visitor sets it up.
  if (setup && !showDemo) throw redirect("/setup");
  return {
    demo: showDemo ? { email: DEMO_EMAIL, password: DEMO_PASSWORD } : null,
    setup,
  };
}

export async function action({ request, context }: Route.ActionArgs) {
  const { secureCookies } = context.get(servicesContext);
  return attempt(async () => {
    const form = await formBody(request);
    const email = textOf(form, "email").slice(0, 254);
    const password = textOf(form, "password").slice(0, LONGEST_PASSWORD);
    const brake = await tried(context, email);
    if ("refusedFor" in brake)
      return data(
        { email, wait: brake.refusedFor, wrong: false },
        { status: 429, headers: { "Retry-After": `${brake.refusedFor}` } },
      );
    await delay(brake.delayMs);
    const agent = request.headers.get("User-Agent") ?? "";
    const token = await atGate(context, (db, now) => signIn(db, email, password, agent, now));
    if (!token) return data({ email, wait: 0, wrong: true }, { status: 401 });
    await succeeded(context, email);
    const member = await atGate(context, (db, now) => sessionOf(db, token, now));
    // In another language than this page: the next one comes whole, with its own messages.
    const isAnother = member?.language != null && member.language !== spoken().language;
    const go = isAnother ? redirectDocument : redirect;
    return go(ownPath(new URL(request.url).searchParams.get("to")), {
      headers: { "Set-Cookie": sessionCookie(token, secureCookies) },
    });
  });
}

export const meta: Route.MetaFunction = () => [{ title: `${words.signIn.title} · ${words.product}` }];

/** Reads the stores of this browser, so it comes behind the first page. */
const UnsentWork = lazy(() => import("../../device/unsent-work"));

export default function SignIn({ loaderData, actionData }: Route.ComponentProps) {
  const { demo, setup } = loaderData;
  useNobodyHere();
  const form = useRef<HTMLFormElement>(null);
  const busy = useNavigation().state !== "idle";
  const said = words.signIn;
  const fill = () => {
    if (!form.current || !demo) return;
    (form.current.elements.namedItem("email") as HTMLInputElement).value = demo.email;
    (form.current.elements.namedItem("password") as HTMLInputElement).value = demo.password;
  };
  return (
    <main className="mx-auto grid min-h-dvh max-w-md content-center gap-6 p-5">
      <h1 className="flex items-center gap-3 text-4xl font-bold tracking-tight">
        <Mark />
        {words.product}
      </h1>
      <Form method="post" ref={form} className="sheet grid gap-4 p-5">
        <label className="grid gap-1 font-medium">
          {said.email}
          <input
            name="email"
            type="email"
            autoComplete="username"
            required
            defaultValue={actionData && "email" in actionData ? actionData.email : undefined}
          />
        </label>
        <label className="grid gap-1 font-medium">
          {said.password}
          <input
            name="password"
            type="password"
            autoComplete="current-password"
            required
            maxLength={LONGEST_PASSWORD}
          />
        </label>
        {actionData && "wrong" in actionData ? (
          <p role="alert" className="border-l-4 border-above pl-3 text-above">
            {actionData.wrong ? said.wrong : tooManyTries(actionData.wait)}
          </p>
        ) : null}
        <Refused answer={actionData && "fault" in actionData ? actionData : undefined} />
        <Button busy={busy}>{said.go}</Button>
      </Form>
      <Suspense>
        <UnsentWork why="signed-out" />
      </Suspense>
      <Link to="/bench" className="quiet-action justify-self-start">
        {said.bench}
      </Link>
      <Link to="/practice" className="quiet-action justify-self-start">
        {words.practice.signIn}
      </Link>
      <Link to="/guide" className="quiet-action justify-self-start">
        {words.guide.title}
      </Link>
      {setup ? (
        <Link to="/setup" className="quiet-action justify-self-start">
          {words.setup.link}
        </Link>
      ) : null}
      {demo ? (
        <section className="grid gap-2 text-soft">
          <p>
            <Rich
              message={said.demo}
              parts={{
                email: <b className="text-ink">{demo.email}</b>,
                password: <b className="text-ink">{demo.password}</b>,
              }}
            />
          </p>
          <button type="button" className="quiet-action justify-self-start" onClick={fill}>
            {said.demoFill}
          </button>
        </section>
      ) : null}
    </main>
  );
}
