import { onServer } from "../../device/action.server";
import { planCommand } from "../../device/page-command";
import { onDevice } from "../../device/seam";

export const action = onServer(planCommand);

export const clientAction = onDevice(planCommand);
