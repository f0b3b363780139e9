import { useState } from "react";
import { Link } from "react-router";
import { API_SCOPES, type ApiScope, apiTokensOf } from "#server/db/api-tokens";
import { commandAction } from "../../commands";
import { inFirm, ownerOnly } from "../../context";
import { Button } from "../../ui/button";
import { Choices } from "../../ui/choices";
import { Field } from "../../ui/field";
import { dateText, dateTimeText } from "../../ui/format";
import { offlineAware } from "../../ui/offline";
import { Refused } from "../../ui/refused";
import { SecretText } from "../../ui/secret-link";
import { useClientId } from "../../ui/use-client-id";
import { useCommand } from "../../ui/use-command";
import { useFirm } from "../../ui/use-firm";
import { words } from "../../words";
import type { Route } from "./+types/tokens";

/** Tokens of programs; only owners make and see them. */
export const loader = ({ context }: Route.LoaderArgs) => {
  ownerOnly(context);
  return inFirm(context, async (scope) => ({ tokens: await apiTokensOf(scope), scopes: API_SCOPES }));
};

export const action = commandAction(["make-api-token", "withdraw-api-token"]);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.api.tokens.title} · ${words.product}` }];

export default function Tokens({ loaderData: { tokens, scopes } }: Route.ComponentProps) {
  const { dispatch, answer, token } = useCommand<"make-api-token" | "withdraw-api-token">();
  const { timeZone } = useFirm();
  const id = useClientId(token ?? "");
  const [name, setName] = useState("");
  const [chosen, choose] = useState<readonly ApiScope[]>(["read-book"]);
  const said = words.api.tokens;
  return (
    <div className="grid max-w-3xl gap-4">
      <header className="grid gap-1">
        <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
        <p className="text-soft">{said.hint}</p>
        <p>
          <Link className="link" to="/api">
            {said.docs}
          </Link>
        </p>
      </header>
      <form
        className="sheet grid gap-3 p-4"
        onSubmit={(event) => {
          event.preventDefault();
          dispatch("make-api-token", { id: id([name, ...chosen]), name, scopes: [...chosen] });
        }}
      >
        <Field label={said.name} className="max-w-md">
          <input
            value={name}
            placeholder={said.namePlaceholder}
            onChange={(event) => setName(event.target.value)}
          />
        </Field>
        <Choices
          legend={said.scopes}
          of={scopes}
          chosen={chosen}
          choose={choose}
          text={(scope) => words.api.scopes[scope]}
        />
        <p>
          <Button>{said.make}</Button>
        </p>
        <Refused answer={answer} />
        {token ? <SecretText text={token} hint={said.secret} /> : null}
      </form>
      <section className="sheet p-4">
        {tokens.length === 0 ? <p className="text-soft">{said.none}</p> : null}
        <ul className="divide-y divide-rule">
          {tokens.map((one) => (
            <li key={one.id} className="flex flex-wrap items-center justify-between gap-3 py-2">
              <div>
                <p>
                  <span className="font-semibold">{one.name}</span>{" "}
                  <span className="text-soft">{said.by({ who: one.by })}</span>
                </p>
                <ul className="text-sm">
                  {one.scopes.map((scope) => (
                    <li key={scope}>{words.api.scopes[scope]}</li>
                  ))}
                </ul>
                <p className="text-sm text-soft">
                  {said.made({ day: dateText(one.madeAt, timeZone) })}{" "}
                  {one.usedAt ? said.used({ time: dateTimeText(one.usedAt, timeZone) }) : said.never}
                </p>
              </div>
              <Button type="button" quiet onClick={() => dispatch("withdraw-api-token", { id: one.id })}>
                {said.withdraw}
              </Button>
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}
