import type { UnitSystem } from "#core";
import { allBasins } from "#server/db/basins";
import type { FirmScope } from "#server/db/connection";
import { firmOf } from "#server/db/firms";
import { kitsOf } from "#server/db/kits";
import type { SignedIn } from "#server/db/sessions";

/** The quick bench of a firm: its kits, and the basins that a result may belong to. */
export const benchPage = async (scope: FirmScope, { units }: Pick<SignedIn, "units">) => ({
  kits: (await kitsOf(scope)).map(({ id, kit }) => ({ id: id as string | null, kit })),
  basins: (await allBasins(scope)).map(({ id, name, site }) => ({ id, name, site: site.name })),
  units: (units ?? (await firmOf(scope)).units) as UnitSystem | null,
});
