import { sql } from "kysely";
import { v7 as uuid } from "uuid";
import { asGate, type Database } from "../db/connection";
import { jobSeconds, timed } from "../metrics";
import { asking } from "../request-id";

/**
 * Which server does which job. A server that lives says so every few seconds; what one that fell silent had under way
 * goes back into the queue, long before the time limit of the job is over.
 */

export const BEAT_SECONDS = 3;
/** Longer than the database is away while it changes hands. */
const SILENT_SECONDS = 15;

export interface LostJob {
  id: string;
  queue: string;
}

export class Leases {
  private readonly server = uuid();
  /** Beats that went through one after the other. */
  private beats = 0;

  constructor(private readonly db: Database) {}

  /** Does a job, marked as this server's while it is under way. */
  async during<Made>(job: LostJob, work: () => Promise<Made>): Promise<Made> {
    const row = { job_id: job.id, queue: job.queue, server_id: this.server, beat_at: sql<Date>`now()` };
    await asGate(this.db, (scope) =>
      scope
        .insertInto("job_lease")
        .values(row)
        .onConflict((conflict) => conflict.column("job_id").doUpdateSet(row))
        .execute(),
    );
    try {
      // Its statements are told from those of pages.
      return await asking(`${job.queue}-${job.id.slice(-12)}`, () =>
        timed(jobSeconds, { queue: job.queue }, work),
      );
    } finally {
      await asGate(this.db, (scope) =>
        scope
          .deleteFrom("job_lease")
          .where("job_id", "=", job.id)
          .where("server_id", "=", this.server)
          .execute(),
      ).catch(() => {});
    }
  }

  /**
   * Says that this server lives, by the database's clock, and takes from those that fell silent.
   * @returns jobs of servers that fell silent; they are nobody's from here on
   */
  async beat(): Promise<LostJob[]> {
    try {
      const lost = await asGate(this.db, async (scope) => {
        await scope
          .updateTable("job_lease")
          .set({ beat_at: sql`now()` })
          .where("server_id", "=", this.server)
          .execute();
        // Where the database was away, nobody could say that they live: each is given time to.
        if (this.beats * BEAT_SECONDS < SILENT_SECONDS) return [];
        return scope
          .deleteFrom("job_lease")
          .where("beat_at", "<", sql<Date>`now() - make_interval(secs => ${sql.lit(SILENT_SECONDS)})`)
          .returning(["job_id as id", "queue"])
          .execute();
      });
      this.beats++;
      return lost;
    } catch (fault) {
      this.beats = 0;
      throw fault;
    }
  }
}
