import { subMonths } from "date-fns";
import { sql } from "kysely";
import { InputFault } from "#core";
import type { FirmScope } from "./connection";

/** How much of everything a firm may keep, and how long it keeps its photos. The book itself is kept for good. */

/** What whoever runs the server allows a firm; null for as much as it likes. */
export interface Limits {
  photoBytes: number | null;
  basins: number | null;
}

export async function limitsOf(scope: FirmScope): Promise<Limits> {
  const row = await scope
    .selectFrom("firm")
    .select(["most_photo_bytes", "most_basins"])
    .executeTakeFirstOrThrow();
  return {
    photoBytes: row.most_photo_bytes === null ? null : Number(row.most_photo_bytes),
    basins: row.most_basins,
  };
}

/** Those that are given; one that is left out stays. */
export async function setLimits(scope: FirmScope, { photoBytes, basins }: Partial<Limits>): Promise<void> {
  await scope
    .updateTable("firm")
    .set({
      ...(photoBytes === undefined ? {} : { most_photo_bytes: photoBytes }),
      ...(basins === undefined ? {} : { most_basins: basins }),
    })
    .execute();
}

/** What all photos of the firm take. Bytes */
export async function photoBytesOf(scope: FirmScope): Promise<number> {
  const { bytes } = await scope
    .selectFrom("photo")
    .select(sql<number>`coalesce(sum(octet_length(bytes)), 0)::bigint`.as("bytes"))
    .executeTakeFirstOrThrow();
  return bytes;
}

const MEGABYTE = 1_000_000;
const megabytes = (bytes: number): number => Math.ceil(bytes / MEGABYTE);

/** @throws InputFault where the firm's photos would be more than it may keep with this one. */
export async function checkRoomForPhoto(scope: FirmScope, { length }: Buffer): Promise<void> {
  const { photoBytes } = await limitsOf(scope);
  if (photoBytes === null) return;
  const would = (await photoBytesOf(scope)) + length;
  if (would > photoBytes)
    throw new InputFault("too-high", "firmPhotos", megabytes(would), Math.floor(photoBytes / MEGABYTE));
}

/** @throws InputFault where one basin more would be more than the firm may have. */
export async function checkRoomForBasin(scope: FirmScope): Promise<void> {
  const { basins } = await limitsOf(scope);
  if (basins === null) return;
  const { count } = await scope
    .selectFrom("basin")
    .select((one) => one.fn.countAll<number>().as("count"))
    .executeTakeFirstOrThrow();
  if (count >= basins) throw new InputFault("too-high", "firmBasins", count + 1, basins);
}

/** Months after which the firm's photos go; null where they are kept for good. */
export const photoMonthsOf = async (scope: FirmScope): Promise<number | null> =>
  (await scope.selectFrom("firm").select("photo_months").executeTakeFirstOrThrow()).photo_months;

export async function setPhotoMonths(scope: FirmScope, months: number | null): Promise<void> {
  await scope.updateTable("firm").set({ photo_months: months }).execute();
}

/** Empties photos that are older than the firm keeps them; that there was one, when and whose, stays. */
export async function emptyOldPhotos(scope: FirmScope, now: Date): Promise<void> {
  const months = await photoMonthsOf(scope);
  if (months === null) return;
  await scope
    .updateTable("photo")
    .set({ bytes: Buffer.alloc(0), removed_at: sql`coalesce(removed_at, ${now})` })
    .where("taken_at", "<", subMonths(now, months))
    .where(sql`octet_length(bytes)`, ">", 0)
    .execute();
}
