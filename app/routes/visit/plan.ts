import { offlineAware } from "../../ui/offline";
import { onServer } from "../../visit/action.server";
import { planCommand } from "../../visit/page-command";
import type { Route } from "./+types/plan";

export const action = onServer(planCommand);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());
