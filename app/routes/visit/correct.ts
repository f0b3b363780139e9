import { offlineAware } from "../../ui/offline";
import { onServer } from "../../visit/action.server";
import { correctCommand } from "../../visit/page-command";
import type { Route } from "./+types/correct";

export const action = onServer(correctCommand);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());
