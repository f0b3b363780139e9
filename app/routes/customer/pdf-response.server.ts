import type { RouterContextProvider } from "react-router";
import type { CustomerSheet } from "#server/visits/customer-sheet";
import { photoForPaper } from "#server/visits/photos";
import { asOfHeader, servicesContext } from "../../context";
import { inLanguage } from "../../language.server";

/** A sheet and the pictures that were chosen for it. */
export interface Paper {
  sheet: CustomerSheet;
  photos: readonly Buffer[];
}

/** The sheet as a file for the browser. */
export async function pdfResponse(
  { sheet, photos }: Paper,
  context: Readonly<RouterContextProvider>,
  asOf: Date | null = null,
): Promise<Response> {
  const pictures = (await Promise.all(photos.map(photoForPaper))).filter((one) => one !== null);
  const bytes = await inLanguage(sheet.language, () =>
    context.get(servicesContext).work.pdf(sheet, pictures),
  );
  const day = sheet.at.toISOString().slice(0, 10);
  const name = `${sheet.basin.name}-${day}`.normalize("NFKD").replace(/[^\w-]+/g, "-");
  return new Response(new Uint8Array(bytes), {
    headers: {
      "Content-Type": "application/pdf",
      "Content-Disposition": `inline; filename="${name}.pdf"`,
      ...asOfHeader(asOf),
    },
  });
}
