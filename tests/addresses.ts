import { readFileSync } from "node:fs";
import routes from "../app/routes";

/** Every address of the application, read from the routes themselves: a new one cannot be forgotten. */
export interface Address {
  /** As the routes have it, with its parameters: /visits/:visitId/close */
  pattern: string;
  /** The module behind it. */
  file: string;
  reads: boolean;
  writes: boolean;
}

interface Entry {
  path?: string;
  index?: boolean;
  file: string;
  children?: Entry[];
}

function below(entries: Entry[], base: string): Address[] {
  return entries.flatMap((entry) => {
    const pattern = entry.path ? `${base}/${entry.path}` : base;
    const code = readFileSync(`app/${entry.file}`, "utf8");
    const exports = (name: string) => new RegExp(`^export .*\\b${name}\\b`, "m").test(code);
    const own = {
      pattern: pattern || "/",
      file: entry.file,
      reads: (exports("loader") && !exports("onlyPosted")) || /^export default/m.test(code),
      writes: exports("action"),
    };
    return [own, ...below(entry.children ?? [], pattern)];
  });
}

export const ADDRESSES: Address[] = below(routes as Entry[], "").filter(
  ({ pattern }) => !pattern.includes("*"),
);

/** An address with its parameters filled in; one that nobody named is a word that names nothing. */
export const filled = (pattern: string, values: Record<string, string>): string =>
  pattern.replace(/:(\w+)/g, (_, name: string) => values[name] ?? "none");

/** The commands that a module's action takes, read from its code. */
export function commandsOf(file: string): string[] {
  const code = readFileSync(`app/${file}`, "utf8");
  const list = /commandAction\(\s*\[([^\]]*)\]/.exec(code)?.[1] ?? "";
  return [...list.matchAll(/"([\w-]+)"/g)].map((found) => found[1] ?? "");
}
