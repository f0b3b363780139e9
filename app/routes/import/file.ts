import { InputFault, UNIT_SYSTEMS } from "#core";
import { checked } from "#core/schemas";
import { uuidSchema } from "#server/commands/fields";
import { firmOf } from "#server/db/firms";
import { attemptJson, inFirm, ownerOnly, servicesContext } from "../../context";
import type { Route } from "./+types/file";
import { uploadView } from "./view.server";

export { onlyPosted as loader } from "../../request";

/** Takes a file to import as the body of the request, and says what it looks like. */
export async function action({ request, context }: Route.ActionArgs) {
  const { firmId, memberId } = ownerOnly(context);
  const asked = new URL(request.url).searchParams;
  const { units } = await inFirm(context, firmOf);
  return attemptJson(async () => {
    const id = checked(uuidSchema, asked.get("id"));
    if (!request.body) throw new InputFault("missing", "file", undefined);
    const name = (asked.get("name") ?? "").slice(0, 120);
    const upload = await context
      .get(servicesContext)
      .uploads.take(
        { id, firmId, memberId, name, fahrenheit: UNIT_SYSTEMS[units].heat === "F" },
        request.body,
      );
    return uploadView(upload);
  });
}
