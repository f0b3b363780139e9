import { useForm } from "react-hook-form";
import { Link, useFetcher } from "react-router";
import { lastMail, MAIL_TLS, type MailServer, mailServerOf } from "#server/db/mail";
import { commandAction } from "../../commands";
import { inFirm, memberContext, notFound, servicesContext } from "../../context";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { LetterState } from "../../ui/letter-state";
import { typedOr } from "../../ui/number-text";
import { offlineAware } from "../../ui/offline";
import { Options } from "../../ui/options";
import { Refused } from "../../ui/refused";
import { useCommand } from "../../ui/use-command";
import { useFirm } from "../../ui/use-firm";
import { words } from "../../words";
import type { Route } from "./+types/mail";

export const loader = ({ context }: Route.LoaderArgs) =>
  inFirm(context, async (scope) => {
    if (context.get(memberContext).role !== "owner") return notFound();
    const kept = await mailServerOf(scope);
    const { password = null, ...server } = kept ?? {};
    return {
      server: kept ? (server as MailServer) : null,
      // That there is one, and never what it is.
      hasPassword: password !== null,
      canSeal: context.get(servicesContext).secretsKey !== null,
      ways: [...MAIL_TLS],
      letters: await lastMail(scope),
    };
  });

export const action = commandAction(["set-mail-server", "remove-mail-server", "mail-again"]);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.mail.title} · ${words.product}` }];

/** By which server letters go to customers, and how the last ones went. */
export default function MailPage({ loaderData }: Route.ComponentProps) {
  const { letters } = loaderData;
  const { dispatch, answer } = useCommand<"mail-again">();
  const { timeZone } = useFirm();
  const said = words.mail;
  return (
    <div className="grid max-w-3xl gap-4">
      <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
      <p className="text-soft">{said.hint}</p>
      <Server key={JSON.stringify(loaderData.server)} {...loaderData} />
      <section className="sheet grid gap-3 p-4">
        <h2 className="text-xl font-semibold">{said.last}</h2>
        {letters.length === 0 ? <p className="text-soft">{said.none}</p> : null}
        <ul className="grid gap-3 divide-y divide-rule">
          {letters.map((letter) => (
            <li key={letter.id} className="grid gap-1 pt-3">
              <Link to={`/visits/${letter.visitId}/customer`} className="link font-semibold">
                {letter.basin}
              </Link>
              <LetterState
                letter={letter}
                timeZone={timeZone}
                again={() => dispatch("mail-again", { id: letter.id })}
              />
            </li>
          ))}
        </ul>
        <Refused answer={answer} />
      </section>
    </div>
  );
}

type Fields = Omit<MailServer, "port"> & { port: string; password: string };

function Server({
  server,
  hasPassword,
  canSeal,
  ways,
}: Pick<Route.ComponentProps["loaderData"], "server" | "hasPassword" | "canSeal" | "ways">) {
  const { dispatch, answer, saved, busy } = useCommand<"set-mail-server" | "remove-mail-server">();
  const { register, handleSubmit } = useForm<Fields>({
    defaultValues: {
      host: server?.host ?? "",
      port: String(server?.port ?? 587),
      tls: server?.tls ?? "asked",
      username: server?.username ?? "",
      sender: server?.sender ?? "",
      password: "",
    },
  });
  const said = words.mail;
  return (
    <form
      className="sheet grid gap-3 p-4"
      noValidate
      onSubmit={handleSubmit(({ port, ...fields }) =>
        dispatch("set-mail-server", { ...fields, port: typedOr(port) as number }),
      )}
    >
      <h2 className="text-xl font-semibold">{said.server}</h2>
      {server ? null : <p>{said.serverHint}</p>}
      <div className="grid gap-3 wide:grid-cols-[1fr_8rem_16rem]">
        <Field label={said.host}>
          <input autoComplete="off" maxLength={255} {...register("host")} />
        </Field>
        <Field label={said.port}>
          <input inputMode="numeric" {...register("port")} />
        </Field>
        <Field label={said.tls}>
          <select {...register("tls")}>
            <Options of={ways} name={(one) => said.tlsWays[one]} />
          </select>
        </Field>
      </div>
      <div className="grid gap-3 wide:grid-cols-2">
        <Field label={said.username}>
          <input autoComplete="off" maxLength={254} {...register("username")} />
        </Field>
        <Field label={said.password}>
          <input
            type="password"
            autoComplete="new-password"
            maxLength={400}
            disabled={!canSeal}
            {...register("password")}
          />
        </Field>
      </div>
      <p className="text-sm text-soft">{canSeal ? (hasPassword ? said.passwordStands : "") : said.noKey}</p>
      <Field label={said.sender}>
        <input type="email" autoComplete="off" maxLength={254} {...register("sender")} />
      </Field>
      <Refused answer={answer} />
      {saved ? <p role="status">{said.saved}</p> : null}
      <p className="flex flex-wrap gap-3">
        <Button busy={busy}>{said.save}</Button>
        {server ? (
          <Button type="button" quiet busy={busy} onClick={() => dispatch("remove-mail-server", {})}>
            {said.remove}
          </Button>
        ) : null}
      </p>
      {server ? <Try /> : null}
    </form>
  );
}

/** Whether the server that is saved lets the firm in. */
function Try() {
  const fetcher = useFetcher<{ works: boolean; why: string }>();
  const said = words.mail;
  return (
    <div className="grid justify-items-start gap-2">
      <Button
        type="button"
        quiet
        busy={fetcher.state !== "idle"}
        onClick={() => fetcher.submit({}, { method: "post", action: "/settings/mail/try" })}
      >
        {said.try}
      </Button>
      {fetcher.data ? (
        <p role="status">{fetcher.data.works ? said.tryWorks : said.tryFails({ why: fetcher.data.why })}</p>
      ) : null}
    </div>
  );
}
