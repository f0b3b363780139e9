import { onServer } from "../../device/action.server";
import { correctCommand } from "../../device/page-command";
import { onDevice } from "../../device/seam";

export { onlyPosted as loader } from "../../request";

export const action = onServer(correctCommand);

export const clientAction = onDevice(correctCommand);
