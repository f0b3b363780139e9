import { stringify } from "csv-stringify/sync";
import { firmOf } from "#server/db/firms";
import { CSV_COLUMNS, csvRows, exportedVisits } from "#server/exchange/book";
import { inFirm, notFound } from "../../context";
import type { Route } from "./+types/export";
import { filterFrom } from "./filter";

const FILES = { "export.csv": "text/csv; charset=utf-8", "export.json": "application/json" } as const;

/** The book as its filter shows it, streamed: all of a firm goes out in the memory of a page. */
export async function loader({ params, request, context }: Route.LoaderArgs) {
  const file = Object.keys(FILES).find((name) => name === params.file) as keyof typeof FILES | undefined;
  if (!file) return notFound();
  const filter = filterFrom(new URL(request.url).searchParams);
  const { timeZone } = await inFirm(context, firmOf);
  const visits = exportedVisits((read) => inFirm(context, read), filter, timeZone);
  const parts = file === "export.csv" ? csv(visits) : json(visits);
  const encoder = new TextEncoder();
  const body = new ReadableStream<Uint8Array>({
    async pull(controller) {
      const { done, value } = await parts.next();
      if (done) controller.close();
      else controller.enqueue(encoder.encode(value));
    },
    async cancel() {
      await parts.return(undefined);
    },
  });
  return new Response(body, {
    headers: {
      "Content-Type": FILES[file],
      "Content-Disposition": `attachment; filename="book${file.slice("export".length)}"`,
      "Cache-Control": "no-store",
    },
  });
}

type Visits = ReturnType<typeof exportedVisits>;

/** Text that a spreadsheet would take for a formula is marked as text. */
async function* csv(visits: Visits): AsyncGenerator<string, void> {
  yield stringify([CSV_COLUMNS as unknown as string[]]);
  for await (const visit of visits)
    yield stringify(csvRows(visit), {
      columns: [...CSV_COLUMNS],
      escape_formulas: true,
      cast: { boolean: (value) => (value ? "true" : "false") },
    });
}

async function* json(visits: Visits): AsyncGenerator<string, void> {
  yield '{"format":"pelagon-book","version":1,"visits":[';
  let first = true;
  for await (const visit of visits) {
    yield `${first ? "\n" : ",\n"}${JSON.stringify(visit)}`;
    first = false;
  }
  yield "\n]}\n";
}
