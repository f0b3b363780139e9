import { type RawBuilder, sql } from "kysely";
import { InputFault, MEASURES, type Measure, type ShelfBottle } from "#core";
import type { FirmScope } from "./connection";

/** Every bottle that is not empty, in the order they are used: the one opened first, first. */
export async function bottlesOf(scope: FirmScope): Promise<ShelfBottle[]> {
  const { rows } = await bottlesQuery(sql`true`).execute(scope);
  return rows.map(asBottle);
}

export type BottleRow = Omit<ShelfBottle, "measure" | "emptiedAt"> & {
  measure: string;
  emptiedAt: Date | string | null;
};

/** See `bottlesOf`. @param counts which uses count */
export const bottlesQuery = (counts: RawBuilder<unknown>): RawBuilder<BottleRow> => sql<BottleRow>`
  select bottle.id, bottle.reagent, bottle.measure, bottle.full, bottle.lot,
    bottle.opened_on::text as "openedOn", bottle.expires_on::text as "expiresOn",
    bottle.emptied_at as "emptiedAt",
    (select coalesce(sum(reagent_use.amount), 0)::double precision from reagent_use
      where reagent_use.firm_id = bottle.firm_id and reagent_use.bottle_id = bottle.id and ${counts}) as used
  from bottle where bottle.emptied_at is null
  order by bottle.reagent, bottle.opened_on nulls last, bottle.added_at`;

export const asBottle = ({ measure, emptiedAt, ...row }: BottleRow): ShelfBottle => ({
  ...row,
  measure: measureOf(measure),
  emptiedAt: emptiedAt === null ? null : new Date(emptiedAt),
});

const measureOf = (name: string): Measure => MEASURES.find((known) => known === name) ?? "drops";

/** Puts a bottle on the shelf, or corrects what is written on it. The same again changes nothing. */
export async function saveBottle(
  scope: FirmScope,
  firmId: string,
  now: Date,
  bottle: Pick<ShelfBottle, "id" | "reagent" | "measure" | "full" | "lot" | "openedOn" | "expiresOn">,
): Promise<void> {
  const row = {
    reagent: bottle.reagent,
    measure: bottle.measure,
    full: bottle.full,
    lot: bottle.lot,
    opened_on: bottle.openedOn,
    expires_on: bottle.expiresOn,
  };
  await scope
    .insertInto("bottle")
    .values({ id: bottle.id, firm_id: firmId, added_at: now, ...row })
    .onConflict((conflict) => conflict.column("id").doUpdateSet(row))
    .execute();
}

/** Takes a bottle off the shelf; what it gave stays in the book. */
export async function emptyBottle(scope: FirmScope, id: string, now: Date): Promise<void> {
  const emptied = await scope
    .updateTable("bottle")
    .set({ emptied_at: now })
    .where("id", "=", id)
    .returning("id")
    .executeTakeFirst();
  if (!emptied) throw new InputFault("unknown", "bottle", id);
}
