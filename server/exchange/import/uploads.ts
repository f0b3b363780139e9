import { InputFault } from "#core";
import type { Author } from "../../author";
import { asFirm, type Database } from "../../db/connection";
import {
  addChunk,
  beginFile,
  endFile,
  type FileForm,
  forgetFile,
  type ImportFile,
} from "../../db/import-files";
import { guessMapping, isOwnCsv } from "./mapping";
import { HEAD_BYTES, tableForm } from "./table";

/** Files that are sent to be looked over, tried and put in: kept in the database, where every server finds them. */

export const MOST_FILE_BYTES = 300_000_000;
/** A piece of a file is a row of its own: none is larger than a page's memory allows. */
const CHUNK_BYTES = 1_000_000;

/**
 * Takes a file in, piece by piece, and looks at its beginning. No row is held while the next piece is on its way.
 * @throws InputFault when it is too large, empty, or no table and no JSON
 */
export async function takeFile(
  db: Database,
  author: Author,
  { id, name, fahrenheit }: Pick<ImportFile, "id" | "name"> & { fahrenheit: boolean },
  body: ReadableStream<Uint8Array>,
): Promise<ImportFile> {
  const { firmId, memberId } = author;
  const inFirm = <T>(work: Parameters<typeof asFirm<T>>[2]) => asFirm(db, firmId, work);
  await inFirm((scope) => beginFile(scope, author, { id, name }));
  try {
    let head = Buffer.alloc(0);
    let bytes = 0;
    let position = 0;
    let pieces: Uint8Array[] = [];
    let held = 0;
    const keep = async () => {
      if (held === 0) return;
      const content = Buffer.concat(pieces);
      const at = position++;
      [pieces, held] = [[], 0];
      await inFirm((scope) => addChunk(scope, firmId, id, at, content));
    };
    for await (const piece of body as unknown as AsyncIterable<Uint8Array>) {
      if (head.length < HEAD_BYTES) head = Buffer.concat([head, piece]);
      bytes += piece.length;
      if (bytes > MOST_FILE_BYTES) throw new InputFault("too-high", "fileBytes", bytes, MOST_FILE_BYTES);
      pieces.push(piece);
      held += piece.length;
      if (held >= CHUNK_BYTES) await keep();
    }
    await keep();
    if (bytes === 0) throw new InputFault("missing", "file", undefined);
    const table = look(head, name, fahrenheit);
    await inFirm((scope) => endFile(scope, id, bytes, table));
    return { id, memberId, name, bytes, table, dry: true, mapping: null, report: null };
  } catch (fault) {
    // What broke off is cleared away here, or with the next file of the firm.
    await inFirm((scope) => forgetFile(scope, id)).catch(() => {});
    throw fault;
  }
}

function look(head: Buffer, name: string, fahrenheit: boolean): FileForm | null {
  if (/\.json$/i.test(name)) return null;
  const form = tableForm(head);
  if (form.heading[0]?.startsWith("{")) return null;
  return {
    ...form,
    own: isOwnCsv(form.heading),
    guess: guessMapping(form.heading, form.sample, fahrenheit),
  };
}
