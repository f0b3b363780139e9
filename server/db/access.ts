import { isEmptyAccess, type SiteAccess } from "#core";
import { siteAccessSchema } from "#core/schemas";
import type { FirmScope } from "./connection";
import { anyOf } from "./prepared";

/** How one gets in at the sites of a firm. A reader's role sees none of it. */

/** What stands in a row, as it was checked when it went in. */
export const accessFrom = (content: unknown): SiteAccess => siteAccessSchema.validate(content).value ?? {};

/** How one gets in at these sites, by site; one of which nothing is known is left out. */
export async function accessOf(
  scope: FirmScope,
  siteIds: readonly string[],
): Promise<Map<string, SiteAccess>> {
  const rows = await scope
    .selectFrom("site_access")
    .select(["site_id", "content"])
    .where("site_id", "=", anyOf(siteIds))
    .execute();
  return new Map(rows.map((row) => [row.site_id, accessFrom(row.content)]));
}

/** Writes how one gets in, in place of what stood; with nothing in it the row goes. */
export async function setAccess(
  scope: FirmScope,
  author: { firmId: string; memberId: string; now: Date },
  siteId: string,
  access: SiteAccess,
): Promise<void> {
  if (isEmptyAccess(access)) {
    await scope.deleteFrom("site_access").where("site_id", "=", siteId).execute();
    return;
  }
  const row = {
    content: JSON.stringify(
      Object.fromEntries(
        Object.entries(access).flatMap(([field, text]) => (text.trim() ? [[field, text.trim()]] : [])),
      ),
    ),
    changed_at: author.now,
    changed_by: author.memberId,
  };
  await scope
    .insertInto("site_access")
    .values({ firm_id: author.firmId, site_id: siteId, ...row })
    .onConflict((conflict) => conflict.columns(["site_id", "firm_id"]).doUpdateSet(row))
    .execute();
}
