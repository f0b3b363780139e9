import { type Kysely, sql } from "kysely";

/** How long a firm keeps its photos, and how much of everything it may keep at most: null for no end. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`
    alter table firm
      add column photo_months integer check (photo_months between 1 and 240),
      add column most_photo_bytes bigint check (most_photo_bytes >= 0),
      add column most_basins integer check (most_basins >= 0)`.execute(db);
  // A photo that went because it is too old leaves its row behind.
  await sql`
    alter table photo drop constraint photo_bytes_check,
      add constraint photo_bytes_check
        check (length(bytes) between 1 and 900000 or (length(bytes) = 0 and removed_at is not null))`.execute(
    db,
  );
  await sql`comment on column firm.most_photo_bytes is 'set by whoever runs the server: npm run firm -- limit'`.execute(
    db,
  );
}
