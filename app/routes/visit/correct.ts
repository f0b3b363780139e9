import { onServer } from "../../device/action.server";
import { correctCommand } from "../../device/page-command";
import { onDevice } from "../../device/seam";

export const action = onServer(correctCommand);

export const clientAction = onDevice(correctCommand);
