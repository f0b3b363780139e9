import { useRef } from "react";
import { data, Form, Link, redirect, useNavigation } from "react-router";
import { LONGEST_PASSWORD } from "#server/auth/passwords";
import { signIn } from "#server/auth/sessions";
import { DEMO_EMAIL, DEMO_PASSWORD } from "#server/demo/cast";
import { addressContext, servicesContext, sessionCookie, whoIs } from "../../context";
import { Button } from "../../ui/button";
import { Mark } from "../../ui/mark";
import { words } from "../../words";
import type { Route } from "./+types/route";

/** Only a path of our own: never a page elsewhere. */
const ownPath = (to: string | null): string => (to && /^\/(?![/\\])/.test(to) ? to : "/");

export async function loader({ request, context }: Route.LoaderArgs) {
  if (await whoIs(request, context)) throw redirect("/");
  return {
    demo: context.get(servicesContext).showDemo ? { email: DEMO_EMAIL, password: DEMO_PASSWORD } : null,
  };
}

export async function action({ request, context }: Route.ActionArgs) {
  const { db, limits, secureCookies, now } = context.get(servicesContext);
  const form = await request.formData();
  const email = String(form.get("email") ?? "").slice(0, 254);
  const password = String(form.get("password") ?? "").slice(0, LONGEST_PASSWORD);
  const wait = await limits.tried(email, context.get(addressContext));
  if (wait !== null)
    return data({ email, wait, wrong: false }, { status: 429, headers: { "Retry-After": `${wait}` } });
  const token = await signIn(db, email, password, request.headers.get("User-Agent") ?? "", now());
  if (!token) return data({ email, wait: 0, wrong: true }, { status: 401 });
  await limits.succeeded(email);
  return redirect(ownPath(new URL(request.url).searchParams.get("to")), {
    headers: { "Set-Cookie": sessionCookie(token, secureCookies) },
  });
}

export const meta: Route.MetaFunction = () => [{ title: `${words.signIn.title} · ${words.product}` }];

export default function SignIn({ loaderData, actionData }: Route.ComponentProps) {
  const { demo } = loaderData;
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
            defaultValue={actionData?.email}
          />
        </label>
        <label className="grid gap-1 font-medium">
          {said.password}
          <input
            name="password"
            type="password"
            autoComplete="current-password"
            required
            maxLength={LONGEST}
          />
        </label>
        {actionData ? (
          <p role="alert" className="border-l-4 border-above pl-3 text-above">
            {actionData.wrong ? said.wrong : said.slow(actionData.wait)}
          </p>
        ) : null}
        <Button busy={busy}>{said.go}</Button>
      </Form>
      <Link to="/bench" className="quiet-action justify-self-start">
        {said.bench}
      </Link>
      {demo ? (
        <section className="grid gap-2 text-soft">
          <p>
            {said.demo} <b className="text-ink">{demo.email}</b> {said.demoWith}{" "}
            <b className="text-ink">{demo.password}</b>.
          </p>
          <button type="button" className="quiet-action justify-self-start" onClick={fill}>
            {said.demoFill}
          </button>
        </section>
      ) : null}
    </main>
  );
}

/** The same limit the server has; longer ones are not passwords. */
const LONGEST = 200;
