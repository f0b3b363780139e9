import type { RouterContextProvider } from "react-router";
import type { CardSheet } from "#server/visits/card-sheet";
import { servicesContext } from "../../context";

/** The card as a file for the browser. */
export async function cardPdfResponse(
  sheet: CardSheet,
  context: Readonly<RouterContextProvider>,
): Promise<Response> {
  const bytes = await context.get(servicesContext).work.cardPdf(sheet);
  const name = `${sheet.basin.name}-card`.normalize("NFKD").replace(/[^\w-]+/g, "-");
  return new Response(new Uint8Array(bytes), {
    headers: {
      "Content-Type": "application/pdf",
      "Content-Disposition": `inline; filename="${name}.pdf"`,
      "Cache-Control": "private, no-store",
    },
  });
}
