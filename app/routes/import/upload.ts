import { InputFault } from "#core";
import { checked } from "#core/schemas";
import { mappingSchema } from "#server/exchange/import/mapping";
import { notFound, ownerOnly, servicesContext } from "../../context";
import { jsonFields } from "../../request";
import type { Route } from "./+types/upload";
import { refusedJson, uploadView } from "./view.server";

const found = ({ params, context }: Pick<Route.ActionArgs, "params" | "context">) => {
  const { firmId } = ownerOnly(context);
  return context.get(servicesContext).uploads.find(params.uploadId, firmId) ?? notFound();
};

/** How far an import has come. */
export const loader = (args: Route.LoaderArgs) => Response.json(uploadView(found(args)));

/** Tries a file, puts it in, or stops. */
export async function action({ request, params, context }: Route.ActionArgs) {
  const upload = found({ params, context });
  const { uploads, now } = context.get(servicesContext);
  try {
    const { what, mapping } = await jsonFields(request);
    switch (what) {
      case "try":
      case "run":
        uploads.begin(
          upload,
          upload.table && !upload.table.own ? checked(mappingSchema, mapping) : null,
          what === "try",
          now(),
        );
        break;
      case "stop":
        upload.importing?.stop();
        break;
      case "forget":
        await uploads.forget(upload);
        break;
      default:
        throw new InputFault("unknown", "what", what, ["try", "run", "stop", "forget"]);
    }
    return Response.json(uploadView(upload));
  } catch (fault) {
    return refusedJson(fault);
  }
}
