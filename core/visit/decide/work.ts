import { InputFault } from "../../fault";
import { isWorkKey } from "../../work/work";
import type { Fact } from "../facts";
import type { DecisionInput } from "./input";
import { fact } from "./seen";

/** Notes that a piece of work was done or skipped, or takes that back. The same again changes nothing. */
export function work({ brought, written, command }: DecisionInput<"work">): Fact[] {
  const { key, state } = command.given;
  const why = command.given.why.trim();
  const before = written.work?.find((one) => one.key === key);
  if (state === "open") return before ? [fact(command, "work-taken-back", { workId: before.id })] : [];
  if (state === "skipped" && why === "") throw new InputFault("missing", "why", why);
  if (before?.state === state && before.why === why) return [];
  const item = brought.work?.list.items.find((one) => one.key === key);
  // A list that was changed meanwhile takes nothing from what was done by the one before.
  const name = item?.name ?? command.given.name ?? "";
  if (!item && name === "" && !isWorkKey(key)) throw new InputFault("unknown", "work", key);
  return [
    fact(command, "worked", {
      work: {
        id: command.id,
        key,
        name,
        state,
        why: state === "skipped" ? why : "",
        by: command.by.name,
        at: command.at,
      },
      supersedes: before?.id ?? null,
    }),
  ];
}
