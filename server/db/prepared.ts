import { sql } from "kysely";

/**
 * Reading statements are prepared: a page asks the same dozen each time, and the walls between firms
 * make them dearer to plan than to run. PostgreSQL may keep one plan of such a statement for all firms,
 * so each is written so that any plan of it is good for the smallest and the largest.
 */

/**
 * Any of these rows, as one parameter: a list of its own length would make a text of its own.
 * @example scope.selectFrom("dose").where("visit_id", "=", anyOf(visitIds))
 */
export const anyOf = (ids: readonly string[]) => sql<string>`any(${sql.val(ids)}::uuid[])`;

/** Texts that are kept prepared at most; lists of many lengths make many texts of one statement. */
const MOST = 300;
const names = new Map<string, string>();

/** Whether a statement asks for rows, and so is one that is prepared. */
export const isAsking = (text: string): boolean => /^\s*(select|with)\b/i.test(text);

/** The name under which every connection prepares this text; undefined where it goes unprepared. */
export function statementName(text: string): string | undefined {
  if (!isAsking(text)) return undefined;
  const known = names.get(text);
  if (known || names.size >= MOST) return known;
  const name = `pelagon_${names.size + 1}`;
  names.set(text, name);
  return name;
}

/** A column of an answer: its name, and its type by the number that the database knows it by. */
export interface Column {
  name: string;
  type: number;
}

const MOST_KNOWN = 1000;
const columns = new Map<string, readonly Column[]>();

/** Keeps what a reading statement answers with, the first time that it is asked. */
export function noteColumns(text: string, fields: readonly { name: string; dataTypeID: number }[]): void {
  if (columns.has(text)) return;
  const [oldest] = columns.keys();
  if (columns.size >= MOST_KNOWN && oldest) columns.delete(oldest);
  columns.set(
    text,
    fields.map(({ name, dataTypeID }) => ({ name, type: dataTypeID })),
  );
}

/** What a reading statement answers with; undefined while nobody has asked it. */
export const columnsOf = (text: string): readonly Column[] | undefined => columns.get(text);
