import type { ClientActionFunctionArgs } from "react-router";
import type { PageAsked, VisitPage } from "./on-device";
import type { PageCommand } from "./page-command";

/**
 * The seam between pages and this device. What it takes (the store, the core's decisions) comes behind the
 * first page: each of these fetches it when it is first asked.
 */
const device = () => import("./on-device");

/** See `page`. */
export const page = async <T>(serverLoader: () => Promise<unknown>, key: string): Promise<T> =>
  (await device()).page<T>(serverLoader, key);

/** See `visitPage`. */
export const visitPage = async (asked: PageAsked): Promise<VisitPage> => (await device()).visitPage(asked);

/** See `roundKey`. */
export const roundKey = async (day: string | null): Promise<string> => (await device()).roundKey(day);

type Device = Awaited<ReturnType<typeof device>>;

/** See `basinOnDevice`. */
export const basinOnDevice = async (...of: Parameters<Device["basinOnDevice"]>) =>
  (await device()).basinOnDevice(...of);

/** See `homeOnDevice`. */
export const homeOnDevice = async <T extends { memberId: string; role: string }>(
  serverLoader: () => Promise<unknown>,
): Promise<T> => (await device()).homeOnDevice<T>(serverLoader);

/** See `startOnDevice`. */
export const startOnDevice = async (args: ClientActionFunctionArgs) => (await device()).startOnDevice(args);

/** See `signOutHere`. */
export const signOutHere = async (args: ClientActionFunctionArgs) => (await device()).signOutHere(args);

let lastWriteWasHere = false;

/** Whether the last command was taken here: the page shows it already, and nobody has to be asked. */
export const wroteHere = (): boolean => lastWriteWasHere;

/** See `onDevice`. */
export const onDevice = (command: PageCommand) => async (args: ClientActionFunctionArgs) => {
  lastWriteWasHere = false;
  const seam = await device();
  return seam.onDevice(command, () => {
    lastWriteWasHere = true;
  })(args);
};

/** See `photoOnDevice`. */
export const photoOnDevice = async (args: ClientActionFunctionArgs) => (await device()).photoOnDevice(args);

/** See `keepCount`. */
export const keepCount = async (...of: Parameters<typeof import("./count")["keepCount"]>) =>
  (await import("./count")).keepCount(...of);
