import { onServer } from "../../device/action.server";
import { defectCommand } from "../../device/page-command";
import { onDevice } from "../../device/seam";

export { onlyPosted as loader } from "../../request";

export const action = onServer(defectCommand);

export const clientAction = onDevice(defectCommand);
