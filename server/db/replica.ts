import { type RawBuilder, sql } from "kysely";
import { replicaReads } from "../metrics";
import type { Database, FirmScope } from "./connection";

/**
 * Reads from a replica of the database, where what is some seconds old will do. How far it is behind is told by no
 * clock but this server's: it asks the leader once a second how far its log has come, and a replica that has replayed
 * as much holds all that was acknowledged before that was asked.
 */

/** The most that a replica may be behind to be read from. Milliseconds */
const MOST_BEHIND_MS = 5000;
/** Between one look at the leader's log and the next. Milliseconds */
const LOOK_MS = 1000;
/**
 * After the leader changed no replica is read for so long: one that had more of the old leader's log than the new
 * leader has goes on with it until it is made anew. Milliseconds
 */
const SETTLING_MS = 30_000;

/** A place in the leader's log, and on which of its timelines. */
export interface Position {
  timeline: string;
  lsn: bigint;
}

/** A place in the log as text: its timeline and both halves of its LSN. */
const here = (lsn: RawBuilder<unknown>) => sql<{ here: string }>`
  select substr(pg_walfile_name(lsn), 1, 8) || '.' || replace(lsn::text, '/', '.') as here from ${lsn} as lsn`;
/** Behind whatever was committed before this is asked. */
const WRITTEN = here(sql`pg_current_wal_insert_lsn()`);
/**
 * Behind whatever was acknowledged before this is asked, and nothing that a replica waits for: where a file of the log
 * has just ended, what is written next begins behind the head of a page that nobody has written yet.
 */
const FLUSHED = here(sql`pg_current_wal_flush_lsn()`);

const TEXT = /^([0-9A-F]{8})\.([0-9A-F]{1,8})\.([0-9A-F]{1,8})$/;

/** @example positionFrom("00000002.0.16B3748") // { timeline: "00000002", lsn: 23803720n } */
export function positionFrom(text: string): Position | null {
  const [, timeline, high, low] = TEXT.exec(text) ?? [];
  if (!timeline || !high || !low) return null;
  return { timeline, lsn: (BigInt(`0x${high}`) << 32n) | BigInt(`0x${low}`) };
}

/** Where the leader's log is now, as text; what was committed before this was asked lies before it. */
export async function positionOf(leader: Database, place = WRITTEN): Promise<string> {
  const { rows } = await place.execute(leader);
  return rows[0]?.here ?? "";
}

/** The replica cannot answer this: the leader is asked instead. */
class NotHere extends Error {}

/** What the leader's log was at, and when that was asked. */
interface Mark {
  lsn: bigint;
  /** By a clock that only goes forward. Milliseconds */
  asked: number;
  at: Date;
}

export class Replica {
  #timeline: string | null = null;
  /** When the leader was seen to have changed; of a start nothing is known of before. */
  #changed = Number.NEGATIVE_INFINITY;
  /** Newest first. */
  #marks: Mark[] = [];
  #looking = false;
  readonly #timer: NodeJS.Timeout;
  readonly #leader: Database;
  readonly #replica: Database;

  constructor(leader: Database, replica: Database) {
    this.#leader = leader;
    this.#replica = replica;
    this.#timer = setInterval(() => void this.#look(), LOOK_MS);
    this.#timer.unref();
    void this.#look();
  }

  /**
   * Runs `work` on the replica; null where the leader is to be asked, for whatever reason.
   * @param written where the log was when whoever asks wrote last; null where they did not, "unknown" where that
   *   could not be learned
   * @param work gets the database, and what it asks in its transaction before all else: as of when that can tell
   */
  async read<T>(
    written: Position | "unknown" | null,
    work: (replica: Database, asOf: (scope: FirmScope) => Promise<Date>) => Promise<T>,
  ): Promise<{ value: T } | null> {
    const isUnsure = written === "unknown" || (written && written.timeline !== this.#timeline);
    if (isUnsure || this.#marks.length === 0 || performance.now() - this.#changed < SETTLING_MS) {
      replicaReads.inc({ outcome: isUnsure ? "written" : "unknown" });
      return null;
    }
    try {
      const value = await work(this.#replica, (scope) => this.#asOf(scope, written));
      replicaReads.inc({ outcome: "read" });
      return { value };
    } catch (fault) {
      // Whatever it was, a row that is not there yet included: the leader's word counts.
      replicaReads.inc({ outcome: fault instanceof NotHere ? fault.message : "failed" });
      return null;
    }
  }

  async #asOf(scope: FirmScope, written: Position | null): Promise<Date> {
    const { rows } = await sql<{ lsn: string | null }>`
      select case when pg_is_in_recovery() then pg_last_wal_replay_lsn()::text end as lsn`.execute(scope);
    const { lsn } = positionFrom(`00000000.${rows[0]?.lsn?.replace("/", ".")}`) ?? {};
    if (lsn === undefined) throw new NotHere("unknown");
    if (written && lsn < written.lsn) throw new NotHere("written");
    const mark = this.#marks.find((one) => one.lsn <= lsn);
    if (!mark || performance.now() - mark.asked > MOST_BEHIND_MS) throw new NotHere("behind");
    return mark.at;
  }

  /** Keeps where the leader's log is now. */
  async #look(): Promise<void> {
    if (this.#looking) return;
    this.#looking = true;
    const [asked, at] = [performance.now(), new Date()];
    try {
      const found = positionFrom(await positionOf(this.#leader, FLUSHED));
      if (found) this.#keep(found, { lsn: found.lsn, asked, at });
    } catch {
      // Nobody leads: the marks grow old, and with them the replica.
    } finally {
      this.#looking = false;
    }
  }

  #keep({ timeline }: Position, mark: Mark): void {
    if (this.#timeline !== null && this.#timeline !== timeline) {
      this.#changed = mark.asked;
      this.#marks = [];
    }
    this.#timeline = timeline;
    this.#marks = [mark, ...this.#marks.filter((one) => mark.asked - one.asked < 2 * MOST_BEHIND_MS)];
  }

  async close(): Promise<void> {
    clearInterval(this.#timer);
    await this.#replica.destroy();
  }
}
