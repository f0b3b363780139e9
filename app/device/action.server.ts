import { type ActionFunctionArgs, type RouterContextProvider, redirect } from "react-router";
import {
  type CommandName,
  contentOfHorizon,
  contentOfRecipe,
  type DeviceStamp,
  dayIn,
  horizonOf,
  InputFault,
  type PlanAsked,
  problemOf,
  problemOrThrow,
  RECIPE_IDS,
  recipeInputOf,
  type VisitCommands,
  visitOf,
} from "#core";
import { COMMAND_SCHEMAS, checked } from "#core/schemas";
import { idSchema, uuidSchema } from "#server/commands/fields";
import type { PhotoBytes } from "#server/db/visit-facts";
import { readVisit } from "#server/db/visit-record";
import { weatherOf } from "#server/devices/weather";
import { carryOut, type Done } from "#server/visits/carry-out";
import { type CountDone, carryOutCount } from "#server/visits/count";
import { attempt, authorOf, inFirm, memberContext, servicesContext } from "../context";
import { anyBody } from "../request";
import { type PageCommand, savedIn } from "./page-command";

type Context = Readonly<RouterContextProvider>;

/** A command as it came, not yet looked at. */
export interface IncomingCommand<Name extends CommandName = CommandName> {
  visitId: string | undefined;
  name: Name;
  id?: unknown;
  given: unknown;
  made?: (DeviceStamp & { late: number }) | undefined;
  photo?: PhotoBytes | undefined;
  at?: Date | undefined;
}

/** Checks a command, gets ready what it takes from elsewhere, and carries it out in one transaction. */
export async function carriedOut<Name extends CommandName>(
  context: Context,
  came: IncomingCommand<Name>,
): Promise<Done> {
  const visitId = checked(uuidSchema, came.visitId);
  const { id } = checked(idSchema, { id: came.id });
  const given = validCommand(came.name, came.given);
  // No row is held while somebody else's server or a thread thinks.
  const ready = await withPrefetched(context, visitId, came.name, given);
  const done = await inFirm(context, (scope, member, now) =>
    carryOut(scope, authorOf(member, now), { ...came, visitId, id, given, ...ready }),
  );
  // The basin's log is longer by a visit: what it teaches is worked out beside, and nobody waits for it.
  if (came.name === "close") {
    const { jobs } = context.get(servicesContext);
    const { firmId } = context.get(memberContext);
    void jobs()
      ?.learnSoon(firmId)
      .catch(() => {});
    void jobs()
      ?.mailSoon(firmId)
      .catch(() => {});
  }
  if (came.name === "close" || came.name === "report-incident")
    void context
      .get(servicesContext)
      .jobs()
      ?.hooksSoon(context.get(memberContext).firmId)
      .catch(() => {});
  return done;
}

/** Takes in a count under way; of its visit nothing else is read. */
export const countedOut = (
  context: Context,
  visitId: string | undefined,
  given: unknown,
): Promise<CountDone> =>
  inFirm(context, (scope, member, now) =>
    carryOutCount(
      scope,
      authorOf(member, now),
      checked(uuidSchema, visitId),
      checked(COMMAND_SCHEMAS.count, given),
    ),
  );

/** What a command carries, checked; one test is told by its own fields, as it was sent. */
function validCommand<Name extends CommandName>(name: Name, given: unknown): VisitCommands[Name] {
  try {
    return checked(COMMAND_SCHEMAS[name], given) as VisitCommands[Name];
  } catch (fault) {
    if (!(fault instanceof InputFault) || !fault.field.startsWith("tests.0.")) throw fault;
    throw new InputFault(fault.code, fault.field.slice("tests.0.".length), fault.value, fault.limit);
  }
}

/** What a command needs that takes long: the day's weather for a close, a plan that no device has found. */
async function withPrefetched<Name extends CommandName>(
  context: Context,
  visitId: string,
  name: Name,
  given: VisitCommands[Name],
): Promise<{ found?: VisitCommands[Name] }> {
  if (name === "close") {
    const weather = await weatherAt(context, visitId);
    return { found: { ...(given as VisitCommands["close"]), weather } as VisitCommands[Name] };
  }
  if (name === "begin-plan")
    return { found: (await planFound(context, visitId, given as PlanAsked)) as VisitCommands[Name] };
  return {};
}

async function weatherAt(context: Context, visitId: string) {
  const { weather } = context.get(servicesContext);
  if (!weather) return null;
  const asked = await inFirm(context, async (scope, { memberId }, now) => {
    const record = await readVisit(scope, { id: visitId, memberId }, now);
    return (
      record && {
        district: record.brought.basin.site.district,
        day: dayIn(now, record.brought.firm.timeZone),
      }
    );
  });
  return asked ? weatherOf(weather, asked.district, asked.day) : null;
}

/** The plan that is asked for, worked out in a thread where whoever asks did not bring it. */
async function planFound(context: Context, visitId: string, asked: PlanAsked): Promise<PlanAsked> {
  if (asked.origin === "what-if" || asked.content) return asked;
  const { work } = context.get(servicesContext);
  const opened = await inFirm(context, async (scope, { memberId }, now) => {
    const record = await readVisit(scope, { id: visitId, memberId }, now);
    return record && visitOf(record.brought, record.written, now);
  });
  if (!opened) throw new InputFault("not-there", "visit", visitId);
  const recipeAsked = asked.origin === "recipe" ? asked.name : undefined;
  const problem = problemOrThrow(problemOf(opened, recipeAsked));
  if (asked.origin === "alternative") {
    const horizon = horizonOf(opened);
    const found = "reason" in horizon || asked.name !== "balanced" ? null : await work.ahead(horizon);
    return found && !("reason" in horizon)
      ? { ...asked, content: contentOfHorizon(horizon, found.plan) }
      : asked;
  }
  const id = RECIPE_IDS.find((known) => known === asked.name);
  const input = recipeInputOf(opened, recipeAsked);
  if (!id || "reason" in input) return asked;
  const recipe = await work.recipe(id, input);
  if (typeof recipe === "string") throw new InputFault("inconsistent", "recipe", id, recipe);
  return { ...asked, content: contentOfRecipe(problem, recipe) };
}

/** The action of a page that sends a command to its visit. */
export const onServer =
  ({ command, next }: PageCommand) =>
  ({ params, request, context }: ActionFunctionArgs) =>
    attempt(async () => {
      const body = await anyBody(request);
      const { answer } = await carriedOut(context as Context, { visitId: params.visitId, ...command(body) });
      const to = next(body, answer);
      if (to === null) return { saved: savedIn(body) };
      return redirect(`/visits/${params.visitId}${to === "" || to.startsWith("?") ? to : `/${to}`}`);
    });
