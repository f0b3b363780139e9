import type { ImportReport } from "#server/exchange/import/importing";
import type { Mapping } from "#server/exchange/import/mapping";

export interface UploadView {
  id: string;
  name: string;
  bytes: number;
  /** Null for our own JSON, which needs no mapping. */
  table: { own: boolean; heading: string[]; sample: string[][]; guess: Mapping } | null;
  report: ImportReport | null;
}
