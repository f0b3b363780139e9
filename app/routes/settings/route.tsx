import { lazy, Suspense } from "react";
import { Form, Link, redirect } from "react-router";
import { type Firm, InputFault } from "#core";
import { checked } from "#core/schemas";
import { LONGEST_PASSWORD } from "#server/auth/password-length";
import { endSession, leaveEverywhere, type Role, sessionsOf } from "#server/auth/sessions";
import { changesBetween, note } from "#server/db/audit";
import type { FirmScope } from "#server/db/connection";
import { firmOf, membersOf, ratesOf, setCadence, setRates, setUnits } from "#server/db/firms";
import { cadenceSchema } from "#server/round/schemas";
import { changePassword } from "#server/team/passwords";
import { ratesSchema } from "#server/visits/schemas";
import {
  addressContext,
  atGate,
  attempt,
  authorOf,
  inFirm,
  memberContext,
  ownerOnly,
  SESSION_COOKIE,
  servicesContext,
} from "../../context";
import { cookie, formBody, jsonOf, textOf } from "../../request";
import { THEME_COOKIE, THEMES, themeOf } from "../../theme";
import { Button } from "../../ui/button";
import { typedNumber } from "../../ui/number-text";
import { offlineAware } from "../../ui/offline";
import { SignOut } from "../../ui/sign-out";
import { faultSentence, words } from "../../words";
import { newPassword } from "../team/new-password.server";
import type { Route } from "./+types/route";
import { DropKey } from "./drop-key";
import { FirmCadence } from "./firm-cadence";
import { Password } from "./password";
import { Rates } from "./rates";
import { Sessions } from "./sessions";

const YEAR = 31_536_000;

const roleName = (role: string): Role => ROLES.find((known) => known === role) ?? "reader";
const ROLES = ["owner", "technician", "reader"] as const;

export async function loader({ context, request }: Route.LoaderArgs) {
  const { memberId, role } = context.get(memberContext);
  const own = cookie(request, SESSION_COOKIE) ?? "";
  // One after the other: a page never holds two connections.
  const sessions = await atGate(context, (db, now) => sessionsOf(db, memberId, own, now));
  return inFirm(context, async (scope, member, now) => {
    const firm = await firmOf(scope);
    return {
      units: firm.units,
      rates: ratesOf(firm),
      currencies: Intl.supportedValuesOf("currency"),
      cadence: firm.cadence,
      members: role === "reader" ? [] : await membersOf(scope),
      member,
      now,
      sessions,
      theme: themeOf(request),
    };
  });
}

export async function action({ request, context }: Route.ActionArgs) {
  return attempt(async () => {
    const form = await formBody(request);
    const what = textOf(form, "what");
    const write = Object.hasOwn(WRITES, what) ? WRITES[what as keyof typeof WRITES] : undefined;
    if (!write) throw new InputFault("unknown", "what", what, Object.keys(WRITES));
    return write(form, context, request);
  });
}

type Context = Route.ActionArgs["context"];

/** What the firm decides is its owners' to write. */
async function ofFirm(context: Context, change: (scope: FirmScope, firm: Firm) => Promise<[object, object]>) {
  ownerOnly(context);
  await inFirm(context, async (scope, member, now) => {
    const [was, became] = await change(scope, await firmOf(scope));
    const changes = changesBetween(was, became);
    if (Object.keys(changes).length > 0)
      await note(scope, authorOf(member, now), "firm-changed", member.firmId, { changes });
  });
}

const WRITES = {
  async units(form: FormData, context: Context) {
    const units = textOf(form, "units");
    if (units !== "us" && units !== "metric")
      throw new InputFault("unknown", "units", units, ["us", "metric"]);
    await ofFirm(context, async (scope, firm) => {
      await setUnits(scope, units);
      return [{ units: firm.units }, { units }];
    });
    return { saved: true as const };
  },
  async rates(form: FormData, context: Context) {
    const currency = textOf(form, "currency");
    const rates = checked(ratesSchema, {
      ...(currency ? { currency } : {}),
      fillRate: typedNumber(textOf(form, "fillRate")),
      persulfateDose: typedNumber(textOf(form, "persulfateDose")),
      seasonStart: textOf(form, "seasonStart"),
    });
    await ofFirm(context, async (scope, firm) => {
      await setRates(scope, rates);
      return [ratesOf(firm), { ...ratesOf(firm), ...rates }];
    });
    return { ratesSaved: true as const };
  },
  async cadence(form: FormData, context: Context) {
    const cadence = checked(cadenceSchema.required(), jsonOf(textOf(form, "cadence"), "cadence") ?? {});
    await ofFirm(context, async (scope, firm) => {
      await setCadence(scope, cadence);
      return [{ cadence: firm.cadence }, { cadence }];
    });
    return { cadenceSaved: true as const };
  },
  async theme(form: FormData) {
    const theme = THEMES.find((known) => known === textOf(form, "theme")) ?? "system";
    return redirect("/settings", {
      headers: { "Set-Cookie": `${THEME_COOKIE}=${theme}; Path=/; SameSite=Lax; Max-Age=${YEAR}` },
    });
  },
  async session(form: FormData, context: Context) {
    const { memberId } = context.get(memberContext);
    await atGate(context, (db, now) => endSession(db, memberId, textOf(form, "id"), now));
    return { ended: true as const };
  },
  async everywhere(_: FormData, context: Context) {
    const { firmId, memberId } = context.get(memberContext);
    await atGate(context, (db, now) => leaveEverywhere(db, { firmId, memberId, now }));
    return redirect("/sign-in");
  },
  async password(form: FormData, context: Context, request: Request) {
    const { firmId, memberId } = context.get(memberContext);
    const next = newPassword(form, "next");
    const { limits } = context.get(servicesContext);
    const brake = await limits.tried(`change ${memberId}`, context.get(addressContext));
    if ("refusedFor" in brake) throw new InputFault("too-high", "tries", "");
    const sent = { current: textOf(form, "current").slice(0, LONGEST_PASSWORD), next };
    await atGate(context, (db, now) =>
      changePassword(db, { firmId, memberId, now }, sent, cookie(request, SESSION_COOKIE) ?? ""),
    );
    return { passwordChanged: true as const };
  },
};

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.settings.title} · ${words.product}` }];

/** Reads the store, so it comes behind the first page. */
const DeviceMark = lazy(() => import("../../device/device-mark"));

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
            <Rates rates={loaderData.rates} currencies={loaderData.currencies} owner={owner} />
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
          <Password />
          <div className="flex flex-wrap gap-3">
            <Suspense>
              <DeviceMark always />
            </Suspense>
            <SignOut buttonClass="quiet-action" />
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
