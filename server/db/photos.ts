import type { Photo } from "#core";
import type { FirmScope } from "./connection";

/** Photos of a basin itself, without their bytes. */
export const photosOfBasin = (scope: FirmScope, basinId: string): Promise<Photo[]> =>
  scope
    .selectFrom("photo")
    .select(["id", "taken_at as takenAt"])
    .where("basin_id", "=", basinId)
    .where("removed_at", "is", null)
    .orderBy("taken_at")
    .execute();

/** What a photo is of: a visit, or a basin itself. */
export type PhotoOf = { visitId: string; basinId?: undefined } | { basinId: string; visitId?: undefined };

/** One photo whole, or undefined when there is none of that thing under that id. */
export const photoById = (scope: FirmScope, of: PhotoOf, id: string) =>
  scope
    .selectFrom("photo")
    .select(["kind", "bytes"])
    .where("id", "=", id)
    .where(of.visitId ? "visit_id" : "basin_id", "=", of.visitId ?? of.basinId ?? "")
    .where("removed_at", "is", null)
    .executeTakeFirst();

/** Whether a photo is there, and when it was taken out of sight. */
export const photoOf = (scope: FirmScope, of: PhotoOf, id: string) =>
  scope
    .selectFrom("photo")
    .select(["id", "removed_at as removedAt"])
    .where("id", "=", id)
    .where(of.visitId ? "visit_id" : "basin_id", "=", of.visitId ?? of.basinId ?? "")
    .executeTakeFirst();

/** Photos of a visit with whether each is on the customer's sheet. */
export const sheetPhotosOf = async (
  scope: FirmScope,
  visitId: string,
): Promise<{ id: string; isShown: boolean }[]> => {
  const rows = await scope
    .selectFrom("photo")
    .select(["id", "shown_at"])
    .where("visit_id", "=", visitId)
    .where("removed_at", "is", null)
    .where("bytes", "is not", null)
    .orderBy("taken_at")
    .execute();
  return rows.map(({ id, shown_at }) => ({ id, isShown: shown_at !== null }));
};

/** Puts a photo on the customer's sheet, or takes it off; false where the visit has no such photo in sight. */
export async function showPhoto(
  scope: FirmScope,
  { visitId, photoId }: { visitId: string; photoId: string },
  at: Date | null,
): Promise<boolean> {
  const { numUpdatedRows } = await scope
    .updateTable("photo")
    .set({ shown_at: at })
    .where("id", "=", photoId)
    .where("visit_id", "=", visitId)
    .where("removed_at", "is", null)
    .executeTakeFirst();
  return Number(numUpdatedRows) > 0;
}

/** Photos that go on paper: more make a second page of one. */
const MOST_ON_PAPER = 6;

/** The pictures on the customer's sheet, whole, the first taken first. */
export const shownPhotosOf = async (scope: FirmScope, visitId: string): Promise<Buffer[]> => {
  const rows = await scope
    .selectFrom("photo")
    .select("bytes")
    .where("visit_id", "=", visitId)
    .where("removed_at", "is", null)
    .where("shown_at", "is not", null)
    .orderBy("taken_at")
    .limit(MOST_ON_PAPER)
    .execute();
  return rows.flatMap(({ bytes }) => (bytes ? [bytes] : []));
};

/** A photo that is on the customer's sheet, for whoever has its link; nothing once it was taken off or out of sight. */
export const shownPhoto = (scope: FirmScope, visitId: string, id: string) =>
  scope
    .selectFrom("photo")
    .select(["kind", "bytes"])
    .where("id", "=", id)
    .where("visit_id", "=", visitId)
    .where("removed_at", "is", null)
    .where("shown_at", "is not", null)
    .executeTakeFirst();

/** Keeps a photo under a key that the client made. */
export async function savePhoto(
  scope: FirmScope,
  author: { firmId: string; memberId: string; now: Date },
  photo: { id: string; of: PhotoOf; kind: string; bytes: Buffer },
): Promise<void> {
  await scope
    .insertInto("photo")
    .values({
      id: photo.id,
      firm_id: author.firmId,
      visit_id: photo.of.visitId ?? null,
      basin_id: photo.of.basinId ?? null,
      member_id: author.memberId,
      kind: photo.kind,
      bytes: photo.bytes,
      taken_at: author.now,
    })
    .execute();
}

/** Hides a photo; it stays in the table. */
export async function removePhoto(scope: FirmScope, of: PhotoOf, id: string, now: Date): Promise<void> {
  await scope
    .updateTable("photo")
    .set({ removed_at: now })
    .where("id", "=", id)
    .where(of.visitId ? "visit_id" : "basin_id", "=", of.visitId ?? of.basinId ?? "")
    .execute();
}
