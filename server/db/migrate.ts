import { Migrator, type RawBuilder, sql } from "kysely";
import { type Database, openDatabase } from "./connection";
import { MIGRATIONS } from "./migrations";

/** What only the owner of the tables does, at the start and never during a request. */

/**
 * Brings the schema up to date; returns the names of the migrations that ran. One that a newer server brought further
 * is left as it is: while an upgrade goes round, servers of the version before may fall and start again.
 */
export async function migrate(owner: Database): Promise<string[]> {
  const done = await doneBefore(owner);
  if (done.some((name) => !Object.hasOwn(MIGRATIONS, name))) {
    const missing = Object.keys(MIGRATIONS).filter((name) => !done.includes(name));
    if (missing.length === 0) return [];
    throw new Error(
      `The database was made by another line of versions: it lacks ${missing.join(", ")}, and has what this version does not know.`,
    );
  }
  const migrator = new Migrator({ db: owner, provider: { getMigrations: async () => MIGRATIONS } });
  const { error, results } = await migrator.migrateToLatest();
  if (error) throw error;
  return (results ?? [])
    .filter((result) => result.status === "Success")
    .map((result) => result.migrationName);
}

/** Names of the migrations that ran here, by whatever version. */
async function doneBefore(owner: Database): Promise<string[]> {
  const { rows: tables } =
    await sql`select from pg_class where oid = to_regclass('public.kysely_migration')`.execute(owner);
  if (tables.length === 0) return [];
  const { rows } = await sql<{ name: string }>`select name from kysely_migration order by name`.execute(
    owner,
  );
  return rows.map(({ name }) => name);
}

/** How the role that serves pages works with the database. */
const SETTINGS = {
  // None of a page's statements takes a tenth of it.
  statement_timeout: "15s",
  // Whoever waits for another's write is told to try again before many wait.
  lock_timeout: "3s",
  // A write whose process hangs gives its rows back.
  idle_in_transaction_session_timeout: "60s",
  // A plan that is kept may have been made for an empty table or for a firm of one basin, and reading such
  // a table from end to end is cheap: so it is left out while there is an index, whatever the sizes are.
  enable_seqscan: "off",
  // Leaving it out is done by a price that no statement reaches otherwise, which would have each compiled.
  jit: "off",
} as const;

/** What is the gate's to give, and not its owner's. */
const asGateKeeper = (owner: Database, statement: RawBuilder<unknown>) =>
  owner.transaction().execute(async (scope) => {
    await sql`set local role pelagon_gate`.execute(scope);
    await statement.execute(scope);
  });

/** Lets a role serve pages: it may take the four roles behind the walls, and owns and makes nothing. */
async function admit(owner: Database, role: string): Promise<void> {
  const { rows } = await sql<{ own: boolean; database: string }>`
    select current_user = ${role} as own, current_database() as database`.execute(owner);
  const [here] = rows;
  if (here && !here.own) {
    await sql`revoke create, temporary on database ${sql.id(here.database)} from public`.execute(owner);
    await sql`grant connect on database ${sql.id(here.database)} to ${sql.id(role)}`.execute(owner);
    await sql`grant pelagon_app, pelagon_gate, pelagon_reader, pelagon_card to ${sql.id(role)}`.execute(
      owner,
    );
  }
  await asGateKeeper(owner, sql`grant execute on function session_behind to ${sql.id(role)}`);
  for (const [name, value] of Object.entries(SETTINGS))
    await sql`alter role ${sql.id(role)} set ${sql.raw(name)} = ${sql.lit(value)}`.execute(owner);
}

/**
 * Migrates by the owner's address, lets the role of the other one serve, and does what else is done once for all
 * servers of a database. Of servers that start together one does it and the others wait for that.
 * @param more what follows the migrations, still alone
 */
export async function prepareDatabase(
  ownerUrl: string,
  url: string,
  more: (ran: string[]) => Promise<void> = async () => {},
): Promise<void> {
  // One connection: the lock is its session's, and goes with it however this process ends.
  const owner = openDatabase(ownerUrl, 1, { patient: true });
  try {
    // Where one role is both, the limits of a page's statements are the owner's too.
    await sql`select set_config('statement_timeout', '0', false), set_config('lock_timeout', '0', false)`.execute(
      owner,
    );
    await sql`select pg_advisory_lock(hashtext('pelagon: start'))`.execute(owner);
    const ran = await migrate(owner);
    await admit(owner, decodeURIComponent(new URL(url).username));
    await more(ran);
  } finally {
    await owner.destroy();
  }
}
