/**
 * Puts a year of readings into a spreadsheet, a row for each, by the HTTP interface alone:
 *
 *   npm run api-client
 *   npx tsx api-client/year-to-spreadsheet.ts http://127.0.0.1:4380 TOKEN 2026 > 2026.csv
 */
import { stringify } from "csv-stringify";
import { connect, everyItem } from "./client";

const [address, token, year] = process.argv.slice(2);
if (!address || !token || !/^\d{4}$/.test(year ?? ""))
  throw new Error("Give the address, a token that may read the book, and a year.");
const api = connect(address, token);
const span = { from: `${year}-01-01`, to: `${year}-12-31`, limit: 200 };
const withCursor = <T extends object>(query: T, cursor: string | undefined) => ({
  ...query,
  ...(cursor === undefined ? {} : { cursor }),
});

const sites = new Map<string, string>();
for await (const { id, name } of everyItem((cursor) =>
  api.GET("/sites", { params: { query: withCursor({ limit: 200 }, cursor) } }),
))
  sites.set(id, name);

const rows = stringify({
  header: true,
  columns: ["takenAt", "site", "basin", "quantity", "value", "low", "high", "method"],
  escape_formulas: true,
});
rows.pipe(process.stdout);
for await (const basin of everyItem((cursor) =>
  api.GET("/basins", { params: { query: withCursor({ limit: 200 }, cursor) } }),
))
  for await (const reading of everyItem((cursor) =>
    api.GET("/basins/{basinId}/readings", {
      params: { path: { basinId: basin.id }, query: withCursor(span, cursor) },
    }),
  ))
    rows.write({
      takenAt: reading.takenAt,
      site: sites.get(basin.siteId) ?? "",
      basin: basin.name,
      quantity: reading.quantity,
      value: reading.value,
      low: reading.low,
      high: reading.high,
      method: reading.methodId,
    });
rows.end();
