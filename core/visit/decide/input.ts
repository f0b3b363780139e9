import type { Brought } from "../brought";
import type { CommandName, VisitCommand } from "../commands";
import type { Written } from "../written";

/** A visit and a command that came to it, as a decision sees them. */
export interface DecisionInput<Name extends CommandName = CommandName> {
  brought: Brought;
  written: Written;
  command: Extract<VisitCommand, { name: Name }>;
}
