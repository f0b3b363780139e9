import { cookie } from "./request";

/** Light, dark, or as the system asks: kept in a cookie, so that the first page is drawn in it. */
export const THEMES = ["system", "light", "dark"] as const;
export type Theme = (typeof THEMES)[number];
export const THEME_COOKIE = "pelagon_theme";

export function themeOf(request: Request): Theme {
  const chosen = cookie(request, THEME_COOKIE);
  return THEMES.find((theme) => theme === chosen) ?? "system";
}
