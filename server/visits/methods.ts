import { type MethodOf, methodFrom, type VisitReading } from "#core";
import type { FirmScope } from "../db/connection";
import { kitVersion } from "../db/kits";

/** The methods that made these readings, each of the version of the kit that it names. */
export async function methodsOf(
  scope: FirmScope,
  readings: readonly Pick<VisitReading, "kitId">[],
): Promise<MethodOf> {
  const ids = [...new Set(readings.map(({ kitId }) => kitId))];
  return methodFrom(await Promise.all(ids.map(async (id) => ({ id, kit: await kitVersion(scope, id) }))));
}
