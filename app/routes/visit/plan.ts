import { onServer } from "../../device/action.server";
import { planCommand } from "../../device/page-command";
import { onDevice } from "../../device/seam";

export { onlyPosted as loader } from "../../request";

export const action = onServer(planCommand);

export const clientAction = onDevice(planCommand);
