import { data, Form, Link, redirect } from "react-router";
import { InputFault } from "#core";
import { checked } from "#core/schemas";
import { endSession, type Role, sessionsOf, signOutEverywhere } from "#server/auth/sessions";
import type { Author } from "#server/author";
import { changesBetween, note } from "#server/db/audit";
import type { FirmScope } from "#server/db/connection";
import { firmOf, membersOf, ratesOf, setCadence, setRates, setUnits } from "#server/db/firms";
import { cadenceSchema } from "#server/round/schemas";
import { ratesSchema } from "#server/visits/schemas";
import {
  attempt,
  authorOf,
  cookie,
  inFirm,
  memberContext,
  refuse,
  SESSION_COOKIE,
  servicesContext,
} from "../../context";
import { Button } from "../../ui/button";
import { typedNumber } from "../../ui/number-text";
import { faultSentence, words } from "../../words";
import type { Route } from "./+types/route";
import { DropKey } from "./drop-key";
import { FirmCadence } from "./firm-cadence";
import { Rates } from "./rates";
import { Sessions } from "./sessions";

const THEMES = ["system", "light", "dark"] as const;
const YEAR = 31_536_000;

const roleName = (role: string): Role => ROLES.find((known) => known === role) ?? "reader";
const ROLES = ["owner", "technician", "reader"] as const;

export const loader = ({ context, request }: Route.LoaderArgs) =>
  inFirm(context, async (scope, member, now) => ({
    units: (await firmOf(scope)).units,
    rates: ratesOf(await firmOf(scope)),
    cadence: (await firmOf(scope)).cadence,
    members: member.role === "reader" ? [] : await membersOf(scope),
    member,
    now,
    sessions: await sessionsOf(
      context.get(servicesContext).db,
      member.memberId,
      cookie(request, SESSION_COOKIE) ?? "",
      now,
    ),
    theme:
      THEMES.find((theme) => request.headers.get("Cookie")?.includes(`pelagon_theme=${theme}`)) ?? "system",
  }));

export async function action({ request, context }: Route.ActionArgs) {
  const form = await request.formData();
  const member = context.get(memberContext);
  const ownersOnly = () => data({ forbidden: true as const }, { status: 403 });
  switch (form.get("what")) {
    case "units": {
      const units = form.get("units");
      if (member.role !== "owner") return ownersOnly();
      if (units !== "us" && units !== "metric")
        return refuse(new InputFault("unknown", "units", String(units), ["us", "metric"]));
      await inFirm(context, async (scope, _, now) => {
        const was = (await firmOf(scope)).units;
        await setUnits(scope, units);
        await noteFirm(scope, authorOf(member, now), { units: was }, { units });
      });
      return { saved: true as const };
    }
    case "rates": {
      if (member.role !== "owner") return ownersOnly();
      try {
        const rates = checked(ratesSchema, {
          fillRate: typedNumber(String(form.get("fillRate") ?? "")),
          persulfateDose: typedNumber(String(form.get("persulfateDose") ?? "")),
          seasonStart: String(form.get("seasonStart") ?? ""),
        });
        await inFirm(context, async (scope, _, now) => {
          const was = ratesOf(await firmOf(scope));
          await setRates(scope, rates);
          await noteFirm(scope, authorOf(member, now), was, rates);
        });
        return { ratesSaved: true as const };
      } catch (fault) {
        if (fault instanceof InputFault) return refuse(fault);
        throw fault;
      }
    }
    case "cadence": {
      if (member.role !== "owner") return ownersOnly();
      return attempt(async () => {
        const cadence = checked(cadenceSchema, JSON.parse(String(form.get("cadence") ?? "null")) ?? {});
        await inFirm(context, async (scope, _, now) => {
          const was = (await firmOf(scope)).cadence;
          await setCadence(scope, cadence);
          await noteFirm(scope, authorOf(member, now), { cadence: was }, { cadence });
        });
        return { cadenceSaved: true as const };
      });
    }
    case "theme": {
      const theme = THEMES.find((known) => known === form.get("theme")) ?? "system";
      return redirect("/settings", {
        headers: { "Set-Cookie": `pelagon_theme=${theme}; Path=/; SameSite=Lax; Max-Age=${YEAR}` },
      });
    }
    case "session": {
      const { db, now } = context.get(servicesContext);
      await endSession(db, member.memberId, String(form.get("id") ?? ""), now());
      return { ended: true as const };
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

async function noteFirm(scope: FirmScope, author: Author, was: object, became: object) {
  const changes = changesBetween(was, became);
  if (Object.keys(changes).length > 0) await note(scope, author, "firm-changed", author.firmId, { changes });
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
      <div className="grid gap-4 wide:block wide:columns-2 [&>*]:wide:mb-4 [&>*]:break-inside-avoid">
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
        {member.role === "reader" ? null : <DropKey />}
        {member.role === "reader" ? null : (
          <section className="sheet grid justify-items-start gap-3 p-4">
            <h2 className="text-xl font-semibold">{words.ranges.title}</h2>
            <p className="text-soft">{words.ranges.hint}</p>
            <Link to="/settings/ranges" className="quiet-action">
              {words.ranges.title}
            </Link>
          </section>
        )}
        {member.role === "reader" ? null : (
          <>
            <Rates rates={loaderData.rates} owner={owner} />
            <FirmCadence cadence={loaderData.cadence} owner={owner} />
            <section className="sheet grid justify-items-start gap-3 p-4">
              <h2 className="text-xl font-semibold">{words.calendar.title}</h2>
              <Link to="/settings/calendar" className="quiet-action">
                {said.calendarOpen}
              </Link>
            </section>
            <section className="sheet grid justify-items-start gap-3 p-4">
              <h2 className="text-xl font-semibold">{said.team}</h2>
              <ul className="w-full divide-y divide-rule">
                {members.map((one) => (
                  <li key={one.id} className="flex flex-wrap justify-between gap-2 py-2">
                    <span>
                      {one.name} <span className="text-soft">{one.email}</span>
                    </span>
                    <span className="text-soft">{said.roles[roleName(one.role)]}</span>
                  </li>
                ))}
              </ul>
              {owner ? (
                <p className="flex flex-wrap gap-x-4">
                  <Link to="/settings/team" className="quiet-action">
                    {said.teamOpen}
                  </Link>
                  <Link to="/settings/audit" className="link min-h-[44px] content-center">
                    {words.audit.title}
                  </Link>
                  <Link to="/settings/health" className="link min-h-[44px] content-center">
                    {words.health.title}
                  </Link>
                </p>
              ) : null}
            </section>
          </>
        )}
        <section className="sheet grid justify-items-start gap-3 p-4">
          <h2 className="text-xl font-semibold">
            {said.you}: {member.name}
          </h2>
          <p className="text-soft">{said.sessions}</p>
          <Sessions sessions={loaderData.sessions} now={loaderData.now} />
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
