import { useCommand } from "../../ui/use-command";

/** Gives the commands of the round, from whichever page shows a part of it. */
export const useRoundCommand = () =>
  useCommand<"order-calls" | "assign-call" | "skip-call" | "tick-task" | "add-event" | "remove-event">(
    "/?index",
  );
