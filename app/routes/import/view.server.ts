import { InputFault } from "#core";
import type { Upload } from "#server/exchange/import/uploads";
import { faultView } from "../../fault";
import type { UploadView } from "./view";

/** What the page is told of a file. */
export const uploadView = ({ id, name, bytes, table, importing }: Upload): UploadView => ({
  id,
  name,
  bytes,
  table: table && {
    own: table.own,
    heading: table.heading,
    sample: table.sample.slice(0, 5),
    guess: table.guess,
  },
  report: importing?.report ?? null,
});

/** A fault as data for the page; what is no fault of the sender's goes on. */
export function refusedJson(fault: unknown): Response {
  if (!(fault instanceof InputFault)) throw fault;
  return Response.json({ fault: faultView(fault) }, { status: 422 });
}
