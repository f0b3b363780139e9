import { stringify } from "csv-stringify/sync";
import { note } from "#server/db/audit";
import type { FirmScope } from "#server/db/connection";
import { firmOf } from "#server/db/firms";
import { CSV_COLUMNS, csvRows, exportedVisits } from "#server/exchange/book-csv";
import { bookJson } from "#server/exchange/book-json";
import {
  asOfHeader,
  authorOf,
  inFirm,
  inFirmLately,
  memberContext,
  notFound,
  servicesContext,
} from "../../context";
import type { Route } from "./+types/export";
import { filterFrom } from "./filter";

const FILES = { "export.csv": "text/csv; charset=utf-8", "export.json": "application/json" } as const;

/** The book as its filter shows it, streamed: all of a firm goes out in the memory of a page. */
export async function loader({ params, request, context }: Route.LoaderArgs) {
  const file = Object.keys(FILES).find((name) => name === params.file) as keyof typeof FILES | undefined;
  if (!file) return notFound();
  const filter = filterFrom(new URL(request.url).searchParams);
  const { timeZone } = await inFirm(context, async (scope, member, now) => {
    await note(scope, authorOf(member, now), "book-exported", filter.basinId, { name: file });
    return firmOf(scope);
  });
  const work = <T>(read: (scope: FirmScope) => Promise<T>) => inFirmLately(request, context, read);
  const begun = await inFirmLately(request, context, async (_scope, _member, _now, asOf) => asOf);
  const parts =
    file === "export.csv" ? csv(exportedVisits(work, filter, timeZone)) : bookJson(work, filter, timeZone);
  const { pages } = context.get(servicesContext);
  const { firmId } = context.get(memberContext);
  const encoder = new TextEncoder();
  const body = new ReadableStream<Uint8Array>({
    async pull(controller) {
      // Each part is a turn of the firm's, as a page is.
      const { done, value } = await pages.take(firmId, () => parts.next(), true);
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
      ...asOfHeader(begun),
    },
  });
}

type Visits = ReturnType<typeof exportedVisits>;

/** Text that a spreadsheet would take for a formula is marked as text. */
async function* csv(visits: Visits): AsyncGenerator<string, void> {
  yield stringify([CSV_COLUMNS as unknown as string[]]);
  for await (const page of visits)
    yield stringify(page.flatMap(csvRows), { escape_formulas: true, cast: { boolean: String } });
}
