import { commandAction } from "../../commands";
import { offlineAware } from "../../ui/offline";
import type { Route } from "./+types/card-command";

export { onlyPosted as loader } from "../../request";

/** Makes and withdraws the card by the water. */
export const action = commandAction(["make-card", "withdraw-card"]);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());
