import { type ActionFunctionArgs, type RouterContextProvider, redirect } from "react-router";
import { InputFault } from "#core";
import { checked } from "#core/schemas";
import { ACCOUNT_COMMANDS, type AccountCommandName } from "#server/commands/account";
import type { LateStamp } from "#server/commands/command";
import {
  type AnswerOf,
  carryOutForFirm,
  type FirmCommandName,
  mayGive,
  NotThere,
} from "#server/commands/index";
import {
  atGate,
  attempt,
  authorOf,
  inFirm,
  memberContext,
  notFound,
  SESSION_COOKIE,
  servicesContext,
  tried,
} from "./context";
import { anyBody, cookie, fieldsOf } from "./request";

type Context = Readonly<RouterContextProvider>;
type PageCommandName = FirmCommandName | AccountCommandName;

/** What a page's command is answered with: `saved` is another one for each that was carried out. */
export interface CommandDone {
  saved: string;
  command: PageCommandName;
  /** A secret that is shown once. */
  token?: string;
}

/**
 * The action of a page that gives these commands. Its body names one under `command`, and may leave that out
 * where there is only one; what the command carries stands beside it; the basin or the visit that the page's address names goes with it.
 * @param next where the page goes on once it is carried out; left out, it stays and is told
 * @example export const action = commandAction(["save-truck", "load-truck", "retire-truck"]);
 */
export const commandAction =
  <Name extends PageCommandName>(
    names: readonly Name[],
    next: Partial<Record<Name, (given: Record<string, unknown>, answer: unknown) => string>> = {},
  ) =>
  ({ request, params, context }: ActionFunctionArgs) =>
    attempt(async () => {
      const { command = names.length === 1 ? names[0] : undefined, ...fields } = fieldsOf(
        await anyBody(request),
      );
      const name = names.find((one) => one === command);
      if (!name) throw new InputFault("unknown", "command", command, [...names]);
      const { basinId, visitId } = params;
      const given = { ...fields, ...(basinId ? { basinId } : {}), ...(visitId ? { visitId } : {}) };
      const answer = isAccount(name)
        ? await changeAccount(context, request, name, given)
        : await performCommand(context, name as FirmCommandName, given);
      const to = next[name]?.(given, answer);
      if (to !== undefined) return redirect(to);
      const { token } = (answer ?? {}) as { token?: string };
      const saved = typeof fields.id === "string" ? fields.id : `${Date.now()}`;
      return { saved, command: name, ...(token ? { token } : {}) } satisfies CommandDone;
    });

const isAccount = (name: string): name is AccountCommandName => Object.hasOwn(ACCOUNT_COMMANDS, name);

/** Carries out a command of the signed-in member, if they may give it. @param key under which it counts once, where it has none of its own */
export function performCommand<Name extends FirmCommandName>(
  context: Context,
  name: Name,
  given: unknown,
  made?: LateStamp,
  key?: string,
): Promise<AnswerOf<Name>> {
  const { role } = context.get(memberContext);
  if (!mayGive(role, name))
    throw new Response(role === "reader" ? "Readers change nothing" : "Owners only", { status: 403 });
  return inFirm(context, (scope, member, now) =>
    carryOutForFirm(
      {
        scope,
        member,
        author: authorOf(member, now),
        made,
        key,
        secretsKey: context.get(servicesContext).secretsKey,
      },
      name,
      given,
    ),
  ).catch((fault) => (fault instanceof NotThere ? notFound() : Promise.reject(fault)));
}

async function changeAccount(
  context: Context,
  request: Request,
  name: AccountCommandName,
  sent: Record<string, unknown>,
) {
  const row = ACCOUNT_COMMANDS[name] as (typeof ACCOUNT_COMMANDS)["change-password"];
  const given = checked(row.schema, sent);
  const member = context.get(memberContext);
  if (name === "change-password") {
    const brake = await tried(context, `change ${member.memberId}`);
    if ("refusedFor" in brake) throw new InputFault("too-high", "tries", brake.refusedFor);
  }
  const session = cookie(request, SESSION_COOKIE) ?? "";
  await atGate(context, (db, now) =>
    row.carryOut({ db, author: authorOf(member, now), session }, given),
  ).catch((fault) => (fault instanceof NotThere ? notFound() : Promise.reject(fault)));
}
