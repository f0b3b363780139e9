import type { BasinShape } from "#core";
import type { FirmScope } from "./connection";

/** Volumes of a basin, with when each was known and how. */

export const VOLUME_WAYS = ["entered", "shape", "meter", "dose", "log"] as const;
export type VolumeWay = (typeof VOLUME_WAYS)[number];

export interface DatedVolume {
  id: string;
  litres: number;
  low: number | null;
  high: number | null;
  how: VolumeWay;
  shape: BasinShape | null;
  knownFrom: Date;
  by: string;
}

/** What was written down, the newest first. */
export async function volumesOf(scope: FirmScope, basinId: string): Promise<DatedVolume[]> {
  const rows = await scope
    .selectFrom("basin_volume")
    .innerJoin("member", "member.id", "basin_volume.member_id")
    .select([
      "basin_volume.id",
      "litres",
      "low",
      "high",
      "how",
      "shape",
      "known_from as knownFrom",
      "member.name as by",
    ])
    .where("basin_id", "=", basinId)
    .orderBy("known_from", "desc")
    .execute();
  return rows.map(({ how, shape, ...row }) => ({
    ...row,
    how: VOLUME_WAYS.find((way) => way === how) ?? "entered",
    shape: shape as BasinShape | null,
  }));
}

/** Writes a volume down: visits from now on use it. */
export async function saveVolume(
  scope: FirmScope,
  author: { firmId: string; memberId: string; now: Date },
  basinId: string,
  sent: Pick<DatedVolume, "id" | "litres" | "low" | "high" | "how" | "shape"> & { knownFrom?: Date },
): Promise<void> {
  const shape = sent.shape ? JSON.stringify(sent.shape) : null;
  await scope
    .insertInto("basin_volume")
    .values({
      id: sent.id,
      firm_id: author.firmId,
      basin_id: basinId,
      member_id: author.memberId,
      litres: sent.litres,
      low: sent.low,
      high: sent.high,
      how: sent.how,
      shape,
      known_from: sent.knownFrom ?? author.now,
    })
    .execute();
  await scope
    .updateTable("basin")
    .set({ litres: sent.litres, ...(shape ? { shape } : {}) })
    .where("id", "=", basinId)
    .execute();
}

/** The shape that was measured last; null when none was. */
export async function shapeOf(scope: FirmScope, basinId: string): Promise<BasinShape | null> {
  const row = await scope.selectFrom("basin").select("shape").where("id", "=", basinId).executeTakeFirst();
  return (row?.shape ?? null) as BasinShape | null;
}
