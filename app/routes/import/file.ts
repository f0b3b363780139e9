import { InputFault, UNIT_SYSTEMS } from "#core";
import { checked } from "#core/schemas";
import { uuidSchema } from "#server/commands/fields";
import { firmOf } from "#server/db/firms";
import { takeFile } from "#server/exchange/import/uploads";
import { atGate, attemptJson, authorOf, inFirm, ownerOnly } from "../../context";
import type { Route } from "./+types/file";
import { uploadView } from "./view.server";

export { onlyPosted as loader } from "../../request";

/** Takes a file to import as the body of the request, and says what it looks like. */
export async function action({ request, context }: Route.ActionArgs) {
  const member = ownerOnly(context);
  const asked = new URL(request.url).searchParams;
  const { units } = await inFirm(context, firmOf);
  return attemptJson(async () => {
    const id = checked(uuidSchema, asked.get("id"));
    if (!request.body) throw new InputFault("missing", "file", undefined);
    const name = (asked.get("name") ?? "").slice(0, 120);
    const { body } = request;
    const fahrenheit = UNIT_SYSTEMS[units].heat === "F";
    const file = await atGate(context, (db, now) =>
      takeFile(db, authorOf(member, now), { id, name, fahrenheit }, body),
    );
    return uploadView(file);
  });
}
