import { onServer } from "../../device/action.server";
import { placeCommand } from "../../device/page-command";
import { onDevice } from "../../device/seam";

export { onlyPosted as loader } from "../../request";

export const action = onServer(placeCommand);

export const clientAction = onDevice(placeCommand);
