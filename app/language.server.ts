import { AsyncLocalStorage } from "node:async_hooks";
import type { Request as ExpressRequest, RequestHandler } from "express";
import { LANGUAGES } from "./messages/compiled/all";
import { type Language, speak } from "./words";

/** The language of each request: the member's, or one that the address or a cookie names, or the first that the browser asks for and we have. */

export const LANGUAGE_COOKIE = "pelagon_language";
const FALLBACK = "en";

/** What a request speaks, from its first middleware to the last byte of its page. */
const requests = new AsyncLocalStorage<{ language: Language }>();

/** A language by its folder's name; English where there is none. */
export function languageOf(name: string | null | undefined): Language {
  const found = (name && LANGUAGES[name]) || LANGUAGES[FALLBACK];
  if (!found) throw new Error(`There is no language "${FALLBACK}".`);
  return found;
}

/** Whether there is such a language. */
export const isLanguage = (name: string): boolean => Object.hasOwn(LANGUAGES, name);

const asked = (request: ExpressRequest): string | null => {
  const { language } = request.query;
  if (typeof language === "string" && isLanguage(language)) return language;
  const cookie = new RegExp(`(?:^|; )${LANGUAGE_COOKIE}=([\\w-]+)`).exec(request.headers.cookie ?? "")?.[1];
  if (cookie && isLanguage(cookie)) return cookie;
  return request.acceptsLanguages(Object.keys(LANGUAGES)) || null;
};

/** Lets a request and all that comes of it speak its language. */
export const inItsLanguage: RequestHandler = (request, _, next) =>
  requests.run({ language: languageOf(asked(request)) }, next);

/** The request goes on in another language: its member's, or the one that a link asks for. */
export function goOnIn(name: string | null): void {
  const request = requests.getStore();
  if (request && name && isLanguage(name)) request.language = languageOf(name);
}

speak(() => requests.getStore()?.language ?? languageOf(FALLBACK));
