import { type Kysely, sql } from "kysely";

/** Borate, phosphate and metals are readings; and a water hotter than anybody should bathe in is one, too. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table reading drop constraint reading_value`.execute(db);
  await sql`
    alter table reading add constraint reading_value check (
      case quantity
        when 'freeChlorine' then value between 0 and 200
        when 'combinedChlorine' then value between 0 and 100
        when 'totalChlorine' then value between 0 and 200
        when 'bromine' then value between 0 and 450
        when 'ph' then value between 4 and 11
        when 'totalAlkalinity' then value between 0 and 2000
        when 'calciumHardness' then value between 0 and 5000
        when 'totalHardness' then value between 0 and 5000
        when 'cyanuricAcid' then value between 0 and 1000
        when 'salt' then value between 0 and 40000
        when 'totalDissolvedSolids' then value between 0 and 40000
        when 'borate' then value between 0 and 500
        when 'phosphate' then value between 0 and 50
        when 'iron' then value between 0 and 50
        when 'copper' then value between 0 and 50
        when 'temperature' then value between 0 and 60
        when 'acidDemand' then value between 0 and 50
        when 'baseDemand' then value between 0 and 50
        else false
      end)`.execute(db);
}
