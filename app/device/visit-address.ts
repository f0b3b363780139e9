import { isStation, RECIPE_IDS } from "#core";

/** Whether the rest of a visit's address names a stop or a recipe that there is. */
export const isStop = ({ station, recipe }: Partial<Record<string, string>>): boolean =>
  (station === undefined || isStation(station)) &&
  (recipe === undefined || RECIPE_IDS.some((id) => id === recipe));

/** Whether an address is a visit's own, without a stop; a page's data comes from beside it. */
export const isWholeVisit = (url: string): boolean =>
  /^\/visits\/[^/]+\/?$/.test(new URL(url).pathname.replace(/\.data$/, ""));
