/** Stands between the name that is looked through and the id that only tells two of a name apart. */
export const BEFORE_ID = "\n";

/**
 * How well a name fits what was typed: 0 not at all, 1 when it begins with it. Every typed word has to
 * stand in the name; letters strewn over it are no part of it.
 * @example match("Terrace pool Hotel Three Cairns", "hotel terr") // 0.5
 */
export function match(value: string, typed: string): number {
  const [name = ""] = value.toLowerCase().split(BEFORE_ID);
  const parts = typed.toLowerCase().trim().split(/\s+/);
  if (!parts.every((part) => name.includes(part))) return 0;
  return name.startsWith(parts[0] ?? "") ? 1 : 0.5;
}
