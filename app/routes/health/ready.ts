import { writable } from "#server/db/readiness";
import { atGate } from "../../context";
import type { Route } from "./+types/ready";

/** For whoever sends people here: a write was made just now. 503 while none can be. */
export async function loader({ context }: Route.LoaderArgs) {
  await atGate(context, (db, now) => writable(db, now));
  return Response.json({ ready: true });
}
