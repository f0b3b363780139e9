import { lazy, Suspense } from "react";
import { Form, Link } from "react-router";
import { UNIT_SYSTEM_NAMES, type UnitSystem } from "#core";
import { firmOf, forgetDaysOf, membersOf, ratesOf } from "#server/db/firms";
import { photoMonthsOf } from "#server/db/keeping";
import { roleOf, sessionsOf } from "#server/db/sessions";
import { commandAction } from "../../commands";
import { atGate, inFirm, memberContext, SESSION_COOKIE } from "../../context";
import { languageNames } from "../../language.server";
import { cookie } from "../../request";
import { THEMES, themeOf } from "../../theme";
import { Button } from "../../ui/button";
import { offlineAware } from "../../ui/offline";
import { SignOut } from "../../ui/sign-out";
import { useFirm } from "../../ui/use-firm";
import { faultSentence, words } from "../../words";
import type { Route } from "./+types/route";
import { DemoFirm } from "./demo";
import { DeviceRule } from "./device-rule";
import { DropKey } from "./drop-key";
import { FirmCadence } from "./firm-cadence";
import { Password } from "./password";
import { PhotoRule } from "./photo-rule";
import { Rates } from "./rates";
import { Sessions } from "./sessions";

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
      forgetDays: role === "reader" ? null : await forgetDaysOf(scope),
      photoMonths: await photoMonthsOf(scope),
      members:
        role === "reader" ? [] : (await membersOf(scope)).map((one) => ({ ...one, role: roleOf(one.role) })),
      member,
      now,
      sessions,
      theme: themeOf(request),
      language: member.language,
      ownUnits: member.units,
      languages: languageNames(),
    };
  });
}

/** What holds for the firm is its owners' to decide; what holds for oneself, everybody's. */
export const action = commandAction(
  [
    "set-units",
    "set-rates",
    "set-cadence",
    "set-device-rule",
    "set-photo-rule",
    "set-own-units",
    "end-session",
    "leave-everywhere",
    "change-password",
  ],
  { "leave-everywhere": () => "/sign-in" },
);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.settings.title} · ${words.product}` }];

/** Reads the store, so it comes behind the first page. */
const DeviceMark = lazy(() => import("../../device/device-mark"));
const DeviceCode = lazy(() => import("../../device/device-code"));
const PlaceChoice = lazy(() => import("../../device/place-choice"));

export default function Settings({ loaderData, actionData }: Route.ComponentProps) {
  const { units, members, member, theme } = loaderData;
  const { demo, firm } = useFirm();
  const said = words.settings;
  const owner = member.role === "owner";
  return (
    <>
      <h1 className="mb-4 text-3xl font-bold tracking-tight">{said.title}</h1>
      {actionData && "fault" in actionData ? <p role="alert">{faultSentence(actionData.fault)}</p> : null}
      <div className="grid gap-4 wide:block wide:columns-2 [&>*]:wide:mb-4 [&>*]:break-inside-avoid">
        <Form method="post" className="sheet grid gap-3 p-4">
          <input type="hidden" name="command" value="set-units" />
          <h2 className="text-xl font-semibold">{said.units}</h2>
          <div className="grid gap-2">
            {UNIT_SYSTEM_NAMES.map((system) => (
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
          {actionData && "saved" in actionData && actionData.command === "set-units" ? (
            <p role="status">{said.unitsSaved}</p>
          ) : null}
        </Form>
        <Form method="post" action="/settings/theme" className="sheet grid gap-3 p-4">
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
        <OwnUnits chosen={loaderData.ownUnits} />
        <Language chosen={loaderData.language} languages={loaderData.languages} />
        {demo ? <DemoFirm firm={firm} owner={owner} /> : null}
        {member.role === "reader" ? null : <DropKey />}
        {member.role === "reader" ? null : (
          <Doorway title={words.told.title} hint={words.told.settings} to="/settings/practice" />
        )}
        {owner ? <Doorway title={words.mail.title} hint={words.mail.hint} to="/settings/mail" /> : null}
        {owner ? (
          <Doorway title={words.api.tokens.title} hint={words.api.tokens.hint} to="/settings/api" />
        ) : null}
        {owner ? (
          <Doorway title={words.webhooks.title} hint={words.webhooks.hint} to="/settings/webhooks" />
        ) : null}
        {owner ? (
          <Doorway
            title={words.work.title}
            hint={words.work.hint}
            to="/settings/work"
            open={words.work.open}
          />
        ) : null}
        {member.role === "reader" ? null : (
          <Doorway title={words.ranges.title} hint={words.ranges.hint} to="/settings/ranges" />
        )}
        {member.role === "reader" ? null : (
          <Doorway title={words.chores.lists.title} hint={words.chores.lists.hint} to="/settings/work-list" />
        )}
        {member.role === "reader" ? null : (
          <>
            <Rates rates={loaderData.rates} currencies={loaderData.currencies} owner={owner} />
            <FirmCadence cadence={loaderData.cadence} owner={owner} />
            <DeviceRule forgetDays={loaderData.forgetDays} owner={owner} />
            <PhotoRule photoMonths={loaderData.photoMonths} owner={owner} />
            <Doorway title={words.calendar.title} to="/settings/calendar" open={said.calendarOpen} />
            <section className="sheet grid justify-items-start gap-3 p-4">
              <h2 className="text-xl font-semibold">{said.team}</h2>
              <ul className="w-full divide-y divide-rule">
                {members.map((one) => (
                  <li key={one.id} className="flex flex-wrap justify-between gap-2 py-2">
                    <span>
                      {one.name} <span className="text-soft">{one.email}</span>
                    </span>
                    <span className="text-soft">{said.roles[one.role]}</span>
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
          <Suspense>
            <DeviceCode />
          </Suspense>
          {member.role === "reader" ? null : (
            <Suspense>
              <PlaceChoice />
            </Suspense>
          )}
          <div className="flex flex-wrap gap-3">
            <Suspense>
              <DeviceMark always />
            </Suspense>
            <SignOut buttonClass="quiet-action" />
            <Form method="post">
              <input type="hidden" name="command" value="leave-everywhere" />
              <Button quiet>{said.everywhere}</Button>
            </Form>
          </div>
        </section>
      </div>
    </>
  );
}

/** In what this member reads amounts, whatever the firm counts in. */
function OwnUnits({ chosen }: { chosen: UnitSystem | null }) {
  const said = words.settings;
  return (
    <Form method="post" className="sheet grid gap-3 p-4">
      <input type="hidden" name="command" value="set-own-units" />
      <h2 className="text-xl font-semibold">{said.ownUnits}</h2>
      <div className="flex flex-wrap gap-2">
        {["" as const, ...UNIT_SYSTEM_NAMES].map((system) => (
          <Button
            key={system}
            name="units"
            value={system}
            quiet={(chosen ?? "") !== system}
            aria-pressed={(chosen ?? "") === system}
          >
            {system === "" ? said.asFirm : said[system]}
          </Button>
        ))}
      </div>
    </Form>
  );
}

/** Posted by the browser itself: the next page comes whole, in the other language. */
function Language({
  chosen,
  languages,
}: Pick<Route.ComponentProps["loaderData"], "languages"> & { chosen: string | null }) {
  const said = words.settings;
  return (
    <Form method="post" action="/settings/language" reloadDocument className="sheet grid gap-3 p-4">
      <h2 className="text-xl font-semibold">{said.language}</h2>
      <div className="flex flex-wrap gap-2">
        {[{ name: "", ownName: said.asBrowser }, ...languages].map(({ name, ownName }) => (
          <Button
            key={name}
            name="language"
            value={name}
            lang={name || undefined}
            quiet={(chosen ?? "") !== name}
            aria-pressed={(chosen ?? "") === name}
          >
            {ownName}
          </Button>
        ))}
      </div>
    </Form>
  );
}

/** A section that is a page of its own. */
function Doorway({
  title,
  hint,
  to,
  open = title,
}: {
  title: string;
  hint?: string;
  to: string;
  open?: string;
}) {
  return (
    <section className="sheet grid justify-items-start gap-3 p-4">
      <h2 className="text-xl font-semibold">{title}</h2>
      {hint ? <p className="text-soft">{hint}</p> : null}
      <Link to={to} className="quiet-action">
        {open}
      </Link>
    </section>
  );
}
