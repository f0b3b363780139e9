import { onServer } from "../../device/action.server";
import { plantCommand } from "../../device/page-command";
import { onDevice } from "../../device/seam";

export { onlyPosted as loader } from "../../request";

export const action = onServer(plantCommand);

export const clientAction = onDevice(plantCommand);
