import { AsyncLocalStorage } from "node:async_hooks";
import type { Request as ExpressRequest, RequestHandler } from "express";
import { LANGUAGES } from "./messages/compiled/all";
import { type Language, speak } from "./words";

/** The language of each request: the member's, or one that the address or a cookie names, or the first that the browser asks for and we have. */

export const LANGUAGE_COOKIE = "pelagon_language";
const FALLBACK = "en";

interface Spoken {
  language: Language;
  /** The address names it: neither member nor customer changes it. */
  isAsked: boolean;
}

/** What a request speaks, from its first middleware to the last byte of its page. */
const requests = new AsyncLocalStorage<Spoken>();

/** A language by its folder's name; English where there is none. */
export function languageOf(name: string | null | undefined): Language {
  const found = (name && LANGUAGES[name]) || LANGUAGES[FALLBACK];
  if (!found) throw new Error(`There is no language "${FALLBACK}".`);
  return found;
}

/** A language that shows what is in no message; it is not offered. */
const PSEUDO = "en-XA";

/** Every language with what it calls itself, by that name. */
export const languageNames = (): { name: string; ownName: string }[] =>
  Object.values(LANGUAGES)
    .filter(({ language }) => language !== PSEUDO)
    .map(({ language: name, ownName }) => ({ name, ownName }))
    .sort((a, b) => a.ownName.localeCompare(b.ownName));

/** Whether there is such a language. */
export const isLanguage = (name: string): boolean => Object.hasOwn(LANGUAGES, name);

/** Lets a request and all that comes of it speak its language. */
export const inItsLanguage: RequestHandler = (request, _, next) => {
  const { language: asked } = request.query;
  const isAsked = typeof asked === "string" && isLanguage(asked);
  const language = languageOf(isAsked ? asked : browsers(request));
  requests.run({ language, isAsked }, next);
};

/** By the browser's cookie, or the first of what it asks for that we have. */
function browsers(request: ExpressRequest): string | null {
  const kept = new RegExp(`(?:^|; )${LANGUAGE_COOKIE}=([\\w-]+)`).exec(request.headers.cookie ?? "")?.[1];
  if (kept && isLanguage(kept)) return kept;
  // Whoever takes any is given the first.
  const ours = [FALLBACK, ...languageNames().map(({ name }) => name)];
  return request.acceptsLanguages(ours) || null;
}

/** The request goes on in another language: its member's, or that of the customer whose link it is. */
export function goOnIn(name: string | null): void {
  const request = requests.getStore();
  if (request && !request.isAsked && name && isLanguage(name)) request.language = languageOf(name);
}

/** Does some work in another language than its request's; in that one where `name` is none. */
export const inLanguage = <Made>(name: string | null, work: () => Made): Made =>
  name && isLanguage(name) ? requests.run({ language: languageOf(name), isAsked: true }, work) : work();

speak(() => requests.getStore()?.language ?? languageOf(FALLBACK));
