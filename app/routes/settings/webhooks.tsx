import { useState } from "react";
import { deliveriesOf, WEBHOOK_EVENTS, type WebhookEvent, webhooksOf } from "#server/db/webhooks";
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
import type { Route } from "./+types/webhooks";

const SHOWN = 30;

/** Addresses that are told what happened, and how that went; only owners see them. */
export const loader = ({ context }: Route.LoaderArgs) => {
  ownerOnly(context);
  return inFirm(context, async (scope) => ({
    hooks: await webhooksOf(scope),
    deliveries: await deliveriesOf(scope, SHOWN),
    kinds: WEBHOOK_EVENTS,
  }));
};

export const action = commandAction(["add-webhook", "withdraw-webhook", "switch-webhook-on", "tell-again"]);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.webhooks.title} · ${words.product}` }];

type Dispatch = ReturnType<typeof useHooks>["dispatch"];
const useHooks = () => useCommand<"add-webhook" | "withdraw-webhook" | "switch-webhook-on" | "tell-again">();

export default function Webhooks({ loaderData: { hooks, deliveries, kinds } }: Route.ComponentProps) {
  const { dispatch, answer, token } = useHooks();
  const id = useClientId(token ?? "");
  const [url, setUrl] = useState("");
  const [chosen, choose] = useState<readonly WebhookEvent[]>(["visit-closed"]);
  const said = words.webhooks;
  return (
    <div className="grid max-w-3xl gap-4">
      <header className="grid gap-1">
        <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
        <p className="text-soft">{said.hint}</p>
      </header>
      <form
        className="sheet grid gap-3 p-4"
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          dispatch("add-webhook", { id: id([url, ...chosen]), url, events: [...chosen] });
        }}
      >
        <Field label={said.url}>
          <input type="url" value={url} autoComplete="off" onChange={(event) => setUrl(event.target.value)} />
        </Field>
        <Choices
          legend={said.events}
          of={kinds}
          chosen={chosen}
          choose={choose}
          text={(kind) => said.kinds[kind]}
        />
        <p>
          <Button>{said.add}</Button>
        </p>
        <Refused answer={answer} />
        {token ? <SecretText text={token} hint={said.secret} /> : null}
      </form>
      <section className="sheet p-4">
        {hooks.length === 0 ? <p className="text-soft">{said.none}</p> : null}
        <ul className="divide-y divide-rule">
          {hooks.map((hook) => (
            <Hook key={hook.id} hook={hook} dispatch={dispatch} />
          ))}
        </ul>
      </section>
      {deliveries.length > 0 ? <Deliveries deliveries={deliveries} dispatch={dispatch} /> : null}
    </div>
  );
}

type Data = Route.ComponentProps["loaderData"];

function Hook({ hook, dispatch }: { hook: Data["hooks"][number]; dispatch: Dispatch }) {
  const { timeZone } = useFirm();
  const said = words.webhooks;
  return (
    <li className="flex flex-wrap items-center justify-between gap-3 py-2">
      <div className="min-w-0">
        <p className="font-semibold break-all">{hook.url}</p>
        <ul className="text-sm">
          {hook.events.map((kind) => (
            <li key={kind}>{said.kinds[kind]}</li>
          ))}
        </ul>
        <p className="text-sm text-soft">{said.made({ day: dateText(hook.madeAt, timeZone) })}</p>
        {hook.offAt ? (
          <p role="status" className="font-semibold text-above">
            {said.off({ day: dateText(hook.offAt, timeZone) })}
          </p>
        ) : hook.failingSince ? (
          <p role="status" className="font-semibold text-below">
            {said.failing({ time: dateTimeText(hook.failingSince, timeZone) })}
          </p>
        ) : null}
      </div>
      <span className="flex flex-wrap gap-2">
        {hook.offAt ? (
          <Button type="button" quiet onClick={() => dispatch("switch-webhook-on", { id: hook.id })}>
            {said.on}
          </Button>
        ) : null}
        <Button type="button" quiet onClick={() => dispatch("withdraw-webhook", { id: hook.id })}>
          {said.withdraw}
        </Button>
      </span>
    </li>
  );
}

function Deliveries({ deliveries, dispatch }: { deliveries: Data["deliveries"]; dispatch: Dispatch }) {
  const { timeZone } = useFirm();
  const said = words.webhooks;
  return (
    <section className="sheet grid gap-2 p-4">
      <h2 className="text-xl font-semibold">{said.deliveries}</h2>
      <ul className="divide-y divide-rule">
        {deliveries.map(({ id, kind, at, state, tries, why }) => (
          <li key={id} className="flex flex-wrap items-center justify-between gap-3 py-2">
            <span>
              {kind in said.kinds ? said.kinds[kind as WebhookEvent] : kind}{" "}
              <span className="text-soft">{dateTimeText(at, timeZone)}</span>
              <span className={`block text-sm ${state === "failed" ? "text-above" : "text-soft"}`}>
                {said.states[state]}
                {why === "" ? "" : `: ${why in said.whys ? said.whys[why as keyof typeof said.whys] : why}`}
                {tries > 1 ? `, ${said.tries({ count: tries })}` : ""}
              </span>
            </span>
            {state === "waiting" ? null : (
              <Button type="button" quiet onClick={() => dispatch("tell-again", { id })}>
                {said.again}
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
