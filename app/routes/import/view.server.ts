import type { ImportFile } from "#server/db/import-files";
import type { UploadView } from "./view";

/** What the page is told of a file. */
export const uploadView = ({ id, name, bytes, table, report }: ImportFile): UploadView => ({
  id,
  name,
  bytes,
  table: table && {
    own: table.own,
    heading: table.heading,
    sample: table.sample.slice(0, 5),
    guess: table.guess,
  },
  report,
});
