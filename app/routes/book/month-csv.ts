import { stringify } from "csv-stringify/sync";
import { ACCOUNT_COLUMNS, accountRows } from "#server/exchange/accounts";
import type { Route } from "./+types/month-csv";
import { monthFile } from "./month-file";

/** A spreadsheet opens it without a question: its encoding stands in front, days are ISO, a formula is marked as text. */
export const loader = (asked: Route.LoaderArgs) =>
  monthFile(asked, {
    kind: "csv",
    type: "text/csv; charset=utf-8",
    text: (accounts) =>
      stringify(accountRows(accounts), {
        header: true,
        columns: [...ACCOUNT_COLUMNS],
        bom: true,
        escape_formulas: true,
      }),
  });
