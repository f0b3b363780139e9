import { isUuid } from "#server/commands/fields";
import { kitVersion } from "#server/db/kits";
import { inFirm, notFound } from "../../context";
import type { Route } from "./+types/export";

/** One version of a kit as a JSON file. */
export const loader = ({ params, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope) => {
    if (!isUuid(params.kitId)) return notFound();
    const kit = await kitVersion(scope, params.kitId).catch(() => notFound());
    const name =
      kit.name
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, "-")
        .replace(/^-|-$/g, "") || "kit";
    return new Response(`${JSON.stringify(kit, null, 2)}\n`, {
      headers: {
        "Content-Type": "application/json; charset=utf-8",
        "Content-Disposition": `attachment; filename="${name}.kit.json"`,
      },
    });
  });
