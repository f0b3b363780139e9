import { InputFault } from "../../fault";
import type { Brought } from "../brought";
import type { CommandName, VisitCommand, VisitCommands } from "../commands";
import type { Fact } from "../facts";
import type { Written } from "../written";
import { look, sample } from "./before";
import { close, correct } from "./close";
import { mendDefect, reportDefect } from "./defects";
import { beginPlan, recordDose, settleStep, stopPlan } from "./doses";
import { endIncident, reportIncident } from "./incidents";
import type { DecisionInput } from "./input";
import { endJob } from "./jobs";
import { hidePhoto, photograph } from "./photos";
import { markPlace } from "./place";
import { readPlant } from "./plant";
import { isDecided } from "./seen";
import { count, read } from "./tests";
import { work } from "./work";

type Decision<Name extends CommandName> = (of: DecisionInput<Name>) => Fact[];

/**
 * The commands of a visit. `open`: only while it is under way; what a device did before it could know of
 * the close is taken in all the same. Whoever works for the firm may give any of them; readers none.
 */
const COMMANDS: { [Name in CommandName]: { open: boolean; decide: Decision<Name> } } = {
  look: { open: true, decide: look },
  sample: { open: true, decide: sample },
  read: { open: true, decide: read },
  count: { open: false, decide: count },
  give: { open: true, decide: recordDose },
  "begin-plan": { open: true, decide: beginPlan },
  "settle-step": { open: true, decide: settleStep },
  "stop-plan": { open: true, decide: stopPlan },
  // What happened, happened: it is told of a visit that is closed, too.
  "report-incident": { open: false, decide: reportIncident },
  "end-incident": { open: true, decide: endIncident },
  "end-job": { open: true, decide: endJob },
  "report-defect": { open: true, decide: reportDefect },
  "mend-defect": { open: true, decide: mendDefect },
  work: { open: true, decide: work },
  "read-plant": { open: true, decide: readPlant },
  place: { open: true, decide: markPlace },
  photograph: { open: true, decide: photograph },
  "hide-photo": { open: false, decide: hidePhoto },
  close: { open: false, decide: close },
  correct: { open: false, decide: correct },
};

export const COMMAND_NAMES = Object.keys(COMMANDS) as CommandName[];

/**
 * What a command adds to a visit: the same on the device that gives it and on the server that keeps it.
 * @throws InputFault with code, field, value and limit where it is refused; nothing is added then
 * @example decide(brought, begun, commandOf("look", nothingFound(), { id, by, at }))[0].kind // "looked"
 */
export function decide(brought: Brought, written: Written, command: VisitCommand): Fact[] {
  const { open, decide: how } = COMMANDS[command.name] as {
    open: boolean;
    decide: (of: { brought: Brought; written: Written; command: VisitCommand }) => Fact[];
  };
  if (open && written.finishedAt && !isDecided(command.seen))
    throw new InputFault("inconsistent", "visit", "finished");
  return how({ brought, written, command });
}

/**
 * A command by its name, as `decide` takes it.
 * @example commandOf("look", nothingFound(), { id, by, at }).name // "look"
 */
export const commandOf = <Name extends CommandName>(
  name: Name,
  given: VisitCommands[Name],
  frame: Omit<VisitCommand, "name" | "given">,
): VisitCommand => ({ ...frame, name, given }) as VisitCommand;
