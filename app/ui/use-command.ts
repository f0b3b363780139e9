import { useFetcher } from "react-router";
import type { FirmCommandName, GivenOf } from "#server/commands/index";
import type { CommandDone } from "../commands";
import type { SaveAnswer } from "./refused";
import { submitJson } from "./submit-json";

/** What a command carries; what stands in the page's address need not be sent again. */
type CommandFields<Name extends FirmCommandName> = Typed<Omit<GivenOf<Name>, "basinId" | "visitId">> &
  Partial<Pick<GivenOf<Name>, Extract<keyof GivenOf<Name>, "basinId" | "visitId">>>;

/** What was typed for a number and is none goes out as it stands, so that the answer can name it. */
type Typed<Given> = {
  [Field in keyof Given]: number extends Given[Field] ? Given[Field] | string : Given[Field];
};

/**
 * Sends commands to a page's action, and tells how the last one ended.
 * @param action the page's address, where it is another than this one
 * @example const { dispatch, answer, busy } = useCommand<"retire-truck">(); dispatch("retire-truck", { id });
 */
export function useCommand<Names extends FirmCommandName>(action?: string) {
  const fetcher = useFetcher<SaveAnswer & Partial<CommandDone>>();
  return {
    dispatch: <Name extends Names>(command: Name, given: CommandFields<Name>) =>
      submitJson(fetcher, { command, ...given }, action),
    answer: fetcher.data,
    /** Changes with each command that was carried out. */
    saved: fetcher.data?.saved,
    token: fetcher.data?.token,
    busy: fetcher.state !== "idle",
  };
}
