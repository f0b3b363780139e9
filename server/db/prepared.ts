/**
 * Reading statements are prepared: a page asks the same dozen each time, and the walls between firms
 * make them dearer to plan than to run. PostgreSQL may keep one plan of such a statement for all firms,
 * so each is written so that any plan of it is good for the smallest and the largest.
 */

/** Texts that are kept prepared at most; lists of many lengths make many texts of one statement. */
const MOST = 300;
const names = new Map<string, string>();

/** The name under which every connection prepares this text; undefined where it goes unprepared. */
export function statementName(text: string): string | undefined {
  if (!/^\s*(select|with)\b/i.test(text)) return undefined;
  const known = names.get(text);
  if (known || names.size >= MOST) return known;
  const name = `pelagon_${names.size + 1}`;
  names.set(text, name);
  return name;
}
