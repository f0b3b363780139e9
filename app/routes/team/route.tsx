import { useState } from "react";
import { Link } from "react-router";
import { ROLES, type Role } from "#core";
import { openInvites } from "#server/db/invites";
import { sitesOf, type TeamMember, teamOf } from "#server/db/members";
import { commandAction } from "../../commands";
import { inFirm, ownerOnly } from "../../context";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { dateText } from "../../ui/format";
import { offlineAware } from "../../ui/offline";
import { Options } from "../../ui/options";
import { Refused } from "../../ui/refused";
import { SecretLink } from "../../ui/secret-link";
import { useClientId } from "../../ui/use-client-id";
import { useCommand } from "../../ui/use-command";
import { useFirm } from "../../ui/use-firm";
import { words } from "../../words";
import type { Route } from "./+types/route";

export const loader = ({ context }: Route.LoaderArgs) => {
  ownerOnly(context);
  return inFirm(context, async (scope, member, now) => ({
    own: member.memberId,
    team: await teamOf(scope),
    invites: await openInvites(scope, now),
    sites: await sitesOf(scope),
  }));
};

export const action = commandAction(["invite", "withdraw-invitation", "make-reset", "change-member"]);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.team.title} · ${words.product}` }];

type Data = Route.ComponentProps["loaderData"];

export default function Team({ loaderData }: Route.ComponentProps) {
  const { team, invites, sites, own } = loaderData;
  const { timeZone } = useFirm();
  const said = words.team;
  const { dispatch, answer } = useCommand<"withdraw-invitation">();
  return (
    <div className="grid gap-4">
      <header>
        <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
        <p className="text-soft">{said.hint}</p>
      </header>
      <ul className="grid gap-3">
        {team.map((member) => (
          <Person
            key={`${member.id}${member.role}${member.disabledAt}`}
            member={member}
            sites={sites}
            own={member.id === own}
          />
        ))}
      </ul>
      <Invite sites={sites} />
      {invites.length > 0 ? (
        <section className="sheet grid gap-2 p-4">
          <h2 className="text-xl font-semibold">{said.open}</h2>
          <ul className="divide-y divide-rule">
            {invites.map((one) => (
              <li key={one.id} className="flex flex-wrap items-center justify-between gap-3 py-2">
                <span>
                  {one.name}, {words.settings.roles[one.role as Role]}{" "}
                  <span className="text-soft">{said.until({ day: dateText(one.expiresAt, timeZone) })}</span>
                </span>
                <Button type="button" quiet onClick={() => dispatch("withdraw-invitation", { id: one.id })}>
                  {said.withdraw}
                </Button>
              </li>
            ))}
          </ul>
          <Refused answer={answer} />
        </section>
      ) : null}
      <p>
        <Link to="/settings/audit" className="link">
          {words.audit.title}
        </Link>
      </p>
    </div>
  );
}

function Person({ member, sites, own }: { member: TeamMember; sites: Data["sites"]; own: boolean }) {
  const { dispatch, answer, token, busy } = useCommand<"change-member" | "make-reset">();
  const resetId = useClientId(token ?? "");
  const [role, setRole] = useState(member.role);
  const [siteIds, setSiteIds] = useState(member.siteIds);
  const said = words.team;
  const save = (disabled: boolean) =>
    dispatch("change-member", { id: member.id, role, siteIds: role === "reader" ? siteIds : [], disabled });
  const changed = role !== member.role || siteIds.join() !== member.siteIds.join();
  return (
    <li className={`sheet grid gap-3 p-4 ${member.disabledAt ? "text-soft" : ""}`}>
      <div className="flex flex-wrap items-center justify-between gap-3">
        <p>
          <b>{member.name}</b> {own ? <span className="text-soft">{said.you}</span> : null}
          <span className="block text-soft">{member.email}</span>
          {member.disabledAt ? (
            <span className="block">{member.signsIn ? said.shutOut : said.imported}</span>
          ) : null}
        </p>
        <div className="flex flex-wrap items-end gap-2">
          <Field label={said.role}>
            <select value={role} onChange={(event) => setRole(event.target.value as Role)}>
              <Options of={ROLES} name={(one) => words.settings.roles[one]} />
            </select>
          </Field>
          <Button
            type="button"
            disabled={!changed}
            busy={busy}
            onClick={() => save(member.disabledAt !== null)}
          >
            {said.save}
          </Button>
          {own || !member.signsIn ? null : (
            <Button type="button" quiet onClick={() => save(member.disabledAt === null)}>
              {member.disabledAt ? said.letIn : said.shut}
            </Button>
          )}
          {own || member.disabledAt ? null : (
            <Button
              type="button"
              quiet
              onClick={() => dispatch("make-reset", { id: resetId(), memberId: member.id })}
            >
              {said.makeReset}
            </Button>
          )}
        </div>
      </div>
      {role === "reader" ? <Sites sites={sites} chosen={siteIds} choose={setSiteIds} /> : null}
      <Refused answer={answer} />
      {token ? <SecretLink path={`/reset/${token}`} hint={said.resetHint} /> : null}
    </li>
  );
}

function Sites({
  sites,
  chosen,
  choose,
}: {
  sites: Data["sites"];
  chosen: string[];
  choose: (ids: string[]) => void;
}) {
  return (
    <fieldset className="grid gap-x-4 wide:grid-cols-3">
      <legend className="text-sm text-soft">{words.team.sees}</legend>
      {sites.map((site) => (
        <label key={site.id} className="flex min-h-[44px] items-center gap-3">
          <input
            type="checkbox"
            className="h-6 min-h-0 w-6"
            checked={chosen.includes(site.id)}
            onChange={(event) =>
              choose(event.target.checked ? [...chosen, site.id] : chosen.filter((id) => id !== site.id))
            }
          />
          {site.name}
        </label>
      ))}
    </fieldset>
  );
}

/** Invites somebody: the link is shown once and sent by whoever made it. */
function Invite({ sites }: { sites: Data["sites"] }) {
  const { dispatch, answer, token, busy } = useCommand<"invite">();
  const [name, setName] = useState("");
  const [role, setRole] = useState<Role>("technician");
  const [siteIds, setSiteIds] = useState<string[]>([]);
  const id = useClientId(token ?? "");
  const said = words.team;
  return (
    <form
      className="sheet grid gap-3 p-4"
      onSubmit={(event) => {
        event.preventDefault();
        void dispatch("invite", {
          id: id([name, role, siteIds]),
          name,
          role,
          siteIds: role === "reader" ? siteIds : [],
        });
      }}
    >
      <h2 className="text-xl font-semibold">{said.invite}</h2>
      <div className="grid items-end gap-3 wide:grid-cols-[1fr_12rem_auto]">
        <Field label={said.name}>
          <input value={name} maxLength={120} required onChange={(event) => setName(event.target.value)} />
        </Field>
        <Field label={said.role}>
          <select value={role} onChange={(event) => setRole(event.target.value as Role)}>
            <Options of={ROLES} name={(one) => words.settings.roles[one]} />
          </select>
        </Field>
        <Button busy={busy}>{said.make}</Button>
      </div>
      <p className="text-soft">{said.roleHints[role]}</p>
      {role === "reader" ? <Sites sites={sites} chosen={siteIds} choose={setSiteIds} /> : null}
      <Refused answer={answer} />
      {token ? <SecretLink path={`/join/${token}`} hint={said.linkHint} /> : null}
    </form>
  );
}
