import type { Page, Viewport } from "puppeteer-core";

export const WIDE: Viewport;
export const PHONE: Viewport;
export function openBrowser(setting?: { fontSize?: number }): Promise<{
  page: (viewport?: Viewport) => Promise<Page>;
  close: () => Promise<void>;
}>;
export function signIn(page: Page, address: string, email?: string, password?: string): Promise<void>;
export function press(page: Page, text: string): Promise<void>;
export function still(page: Page, ending?: string): Promise<void>;
export function open(page: Page, address: string): Promise<void>;
/** Goes to a path inside the application that is open. */
export function follow(page: Page, path: string): Promise<void>;
