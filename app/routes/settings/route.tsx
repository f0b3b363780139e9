import { data, Form, Link, redirect } from "react-router";
import { InputFault } from "#core";
import { checked } from "#core/schemas";
import { signOutEverywhere } from "#server/auth/sessions";
import { firmOf, membersOf, ratesOf, setRates, setUnits } from "#server/db/firms";
import { ratesSchema } from "#server/visits/schemas";
import { inFirm, memberContext, refuse, servicesContext } from "../../context";
import { Button } from "../../ui/button";
import { typedNumber } from "../../ui/number-text";
import { faultSentence, words } from "../../words";
import type { Route } from "./+types/route";
import { DropKey } from "./drop-key";
import { Rates } from "./rates";

const THEMES = ["system", "light", "dark"] as const;
const YEAR = 31_536_000;

export const loader = ({ context, request }: Route.LoaderArgs) =>
  inFirm(context, async (scope, member) => ({
    units: (await firmOf(scope)).units,
    rates: ratesOf(await firmOf(scope)),
    members: await membersOf(scope),
    member,
    theme:
      THEMES.find((theme) => request.headers.get("Cookie")?.includes(`pelagon_theme=${theme}`)) ?? "system",
  }));

export async function action({ request, context }: Route.ActionArgs) {
  const form = await request.formData();
  const member = context.get(memberContext);
  switch (form.get("what")) {
    case "units": {
      const units = form.get("units");
      if (member.role !== "owner") return data({ forbidden: true as const }, { status: 403 });
      if (units !== "us" && units !== "metric")
        return refuse(new InputFault("unknown", "units", String(units), ["us", "metric"]));
      await inFirm(context, (scope) => setUnits(scope, units));
      return { saved: true as const };
    }
    case "rates": {
      if (member.role !== "owner") return data({ forbidden: true as const }, { status: 403 });
      try {
        const rates = checked(ratesSchema, {
          fillRate: typedNumber(String(form.get("fillRate") ?? "")),
          persulfateDose: typedNumber(String(form.get("persulfateDose") ?? "")),
          seasonStart: String(form.get("seasonStart") ?? ""),
        });
        await inFirm(context, (scope) => setRates(scope, rates));
        return { ratesSaved: true as const };
      } catch (fault) {
        if (fault instanceof InputFault) return refuse(fault);
        throw fault;
      }
    }
    case "theme": {
      const theme = THEMES.find((known) => known === form.get("theme")) ?? "system";
      return redirect("/settings", {
        headers: { "Set-Cookie": `pelagon_theme=${theme}; Path=/; SameSite=Lax; Max-Age=${YEAR}` },
      });
    }
    case "everywhere": {
      const { db, now } = context.get(servicesContext);
      await signOutEverywhere(db, member.memberId, now());
      return redirect("/sign-in");
    }
    default:
      return refuse(new InputFault("unknown", "what", String(form.get("what"))));
  }
}

export const meta: Route.MetaFunction = () => [{ title: `${words.settings.title} · ${words.product}` }];

export default function Settings({ loaderData, actionData }: Route.ComponentProps) {
  const { units, members, member, theme } = loaderData;
  const said = words.settings;
  const owner = member.role === "owner";
  return (
    <>
      <h1 className="mb-4 text-3xl font-bold tracking-tight">{said.title}</h1>
      {actionData && "fault" in actionData ? <p role="alert">{faultSentence(actionData.fault)}</p> : null}
      <div className="grid items-start gap-4 wide:grid-cols-2">
        <Form method="post" className="sheet grid gap-3 p-4">
          <input type="hidden" name="what" value="units" />
          <h2 className="text-xl font-semibold">{said.units}</h2>
          <div className="grid gap-2">
            {(["us", "metric"] as const).map((system) => (
              <Button
                key={system}
                name="units"
                value={system}
                quiet={units !== system}
                disabled={!owner}
                aria-pressed={units === system}
                className="justify-start"
              >
                {said[system]}
              </Button>
            ))}
          </div>
          {owner ? null : <p className="text-soft">{said.ownersOnly}</p>}
          {actionData && "saved" in actionData ? <p role="status">{said.unitsSaved}</p> : null}
        </Form>
        <Form method="post" className="sheet grid gap-3 p-4">
          <input type="hidden" name="what" value="theme" />
          <h2 className="text-xl font-semibold">{said.theme}</h2>
          <div className="flex flex-wrap gap-2">
            {THEMES.map((name) => (
              <Button
                key={name}
                name="theme"
                value={name}
                quiet={theme !== name}
                aria-pressed={theme === name}
              >
                {said.themes[name]}
              </Button>
            ))}
          </div>
        </Form>
        <DropKey />
        <section className="sheet grid justify-items-start gap-3 p-4">
          <h2 className="text-xl font-semibold">{words.ranges.title}</h2>
          <p className="text-soft">{words.ranges.hint}</p>
          <Link to="/settings/ranges" className="quiet-action">
            {words.ranges.title}
          </Link>
        </section>
        <Rates rates={loaderData.rates} owner={owner} />
        <section className="sheet p-4">
          <h2 className="mb-2 text-xl font-semibold">{said.team}</h2>
          <ul className="divide-y divide-rule">
            {members.map((one) => (
              <li key={one.id} className="flex flex-wrap justify-between gap-2 py-2">
                <span>
                  {one.name} <span className="text-soft">{one.email}</span>
                </span>
                <span className="text-soft">
                  {one.role === "owner" ? said.roles.owner : said.roles.technician}
                </span>
              </li>
            ))}
          </ul>
        </section>
        <section className="sheet grid justify-items-start gap-3 p-4">
          <h2 className="text-xl font-semibold">
            {said.you}: {member.name}
          </h2>
          <div className="flex flex-wrap gap-3">
            <Form method="post" action="/sign-out">
              <Button quiet>{words.nav.signOut}</Button>
            </Form>
            <Form method="post">
              <input type="hidden" name="what" value="everywhere" />
              <Button quiet>{said.everywhere}</Button>
            </Form>
          </div>
        </section>
      </div>
    </>
  );
}
