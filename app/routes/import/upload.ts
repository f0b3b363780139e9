import { InputFault } from "#core";
import { checked } from "#core/schemas";
import { mappingSchema } from "#server/exchange/import/mapping";
import type { Upload, Uploads } from "#server/exchange/import/uploads";
import { attemptJson, notFound, ownerOnly, servicesContext } from "../../context";
import { jsonFields } from "../../request";
import type { Route } from "./+types/upload";
import { uploadView } from "./view.server";

const found = ({ params, context }: Pick<Route.ActionArgs, "params" | "context">) => {
  const { firmId } = ownerOnly(context);
  return context.get(servicesContext).uploads.find(params.uploadId, firmId) ?? notFound();
};

/** How far an import has come. */
export const loader = (args: Route.LoaderArgs) => Response.json(uploadView(found(args)));

type Step = (upload: Upload, uploads: Uploads, now: Date, mapping: unknown) => unknown;

const begin =
  (onlyTry: boolean): Step =>
  (upload, uploads, now, mapping) =>
    uploads.begin(
      upload,
      upload.table && !upload.table.own ? checked(mappingSchema, mapping) : null,
      onlyTry,
      now,
    );

/** What can be done with a file that has come: no row is written but by `run`, which goes on by itself. */
const STEPS: Record<string, Step> = {
  try: begin(true),
  run: begin(false),
  stop: (upload) => upload.importing?.stop(),
  forget: (upload, uploads) => uploads.forget(upload),
};

/** Tries a file, puts it in, stops, or forgets it. */
export function action({ request, params, context }: Route.ActionArgs) {
  const upload = found({ params, context });
  const { uploads, now } = context.get(servicesContext);
  return attemptJson(async () => {
    const { command, mapping } = await jsonFields(request);
    const step = typeof command === "string" && Object.hasOwn(STEPS, command) ? STEPS[command] : undefined;
    if (!step) throw new InputFault("unknown", "command", command, Object.keys(STEPS));
    await step(upload, uploads, now(), mapping);
    return uploadView(upload);
  });
}
