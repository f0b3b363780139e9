import type { Messages } from "../messages/compiled/messages";

/** A language as its compiled module has it. */
export interface Language {
  /** For dates, numbers and lists: "en-US". */
  locale: string;
  /** Its folder in `app/messages`: "en". */
  language: string;
  /** As it calls itself. */
  ownName: string;
  messages: Messages;
}

let find: () => Language = () => {
  throw new Error("No language is set: words are for requests and pages, not for when a file is read.");
};

/** Sets how the language is found: in a browser there is one, on a server each request has its own. */
export function speak(language: Language | (() => Language)): void {
  find = typeof language === "function" ? language : () => language;
}

/** The language of this page or request. @throws {Error} before `speak` */
export const spoken = (): Language => find();

/** Does some work at once in another language than the page's. */
export function speaking<Made>(language: Language, work: () => Made): Made {
  const before = find;
  find = () => language;
  try {
    return work();
  } finally {
    find = before;
  }
}

/** Every word a user reads, in the language of this page or request. @example words.round.calls({ count: 3, today: true }) // "3 stops today" */
export const words: Messages = new Proxy({} as Messages, {
  get: (_, area: keyof Messages) => find().messages[area],
});

/** A message of a table whose entries take different values, or none. */
export const fill = <Values>(message: string | ((values: Values) => string), values: Values): string =>
  typeof message === "string" ? message : message(values);
