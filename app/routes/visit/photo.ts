import { photoById } from "#server/db/photos";
import { uuidSchema } from "#server/visits/schemas";
import { inFirm, notFound } from "../../context";
import type { Route } from "./+types/photo";

/** One photo, for members of its firm. */
export const loader = ({ params, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope) => {
    if ([params.visitId, params.photoId].some((id) => uuidSchema.validate(id).error)) return notFound();
    const photo = await photoById(scope, params.visitId, params.photoId);
    if (!photo) return notFound();
    return new Response(new Uint8Array(photo.bytes), {
      headers: {
        "Content-Type": photo.kind,
        "Cache-Control": "private, max-age=86400, immutable",
        "X-Content-Type-Options": "nosniff",
      },
    });
  });
