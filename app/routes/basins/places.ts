import { basinNames } from "#server/db/basins";
import { inFirm } from "../../context";
import type { Route } from "./+types/places";

/** Every basin by name, for lists to choose from: asked for when such a list is opened, not with every page. */
export const loader = async ({ context }: Route.LoaderArgs) =>
  Response.json(await inFirm(context, basinNames));
