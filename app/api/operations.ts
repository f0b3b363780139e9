import { isUuid } from "#server/commands/fields";
import { type Operation, parametersIn } from "./operation";
import { READS } from "./reads";
import { WRITES } from "./writes";

/** Everything that may be asked of the interface: its document, its page and its answers are made from this table. */
export const OPERATIONS: readonly Operation[] = [...READS, ...WRITES];

const PATTERNS = OPERATIONS.map((operation) => ({
  operation,
  names: parametersIn(operation.path),
  pattern: new RegExp(`^${operation.path.replace(/\{\w+\}/g, "([^/]+)")}$`),
}));

export interface Found {
  operation: Operation;
  params: Record<string, string>;
}

/**
 * What an address below the interface's root asks for.
 * @returns null where there is no such address, or it names what is no id; the methods that it has where it has others
 */
export function operationAt(method: string, path: string): Found | { allowed: string[] } | null {
  const there = PATTERNS.flatMap(({ operation, names, pattern }) => {
    const match = pattern.exec(path);
    if (!match) return [];
    const params = Object.fromEntries(names.map((name, index) => [name, match[index + 1] ?? ""]));
    return Object.values(params).every(isUuid) ? [{ operation, params }] : [];
  });
  const asked = method === "HEAD" ? "GET" : method;
  const found = there.find(({ operation }) => operation.method === asked);
  if (found) return found;
  return there.length > 0 ? { allowed: there.map(({ operation }) => operation.method) } : null;
}
