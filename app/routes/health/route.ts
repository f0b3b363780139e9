import { sql } from "kysely";
import { servicesContext } from "../../context";
import type { Route } from "./+types/route";

/** For start scripts and monitors: the server answers and its database does too. */
export async function loader({ context }: Route.LoaderArgs) {
  await sql`select 1`.execute(context.get(servicesContext).db);
  return Response.json({ ok: true });
}
