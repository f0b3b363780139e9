import { setImmediate } from "node:timers/promises";
import { MOST_TOLD, type RowFault } from "./fault";

/** Told to stop by whoever began it. */
export class Cancelled extends Error {}

export type ImportState = "running" | "done" | "refused" | "cancelled" | "failed";

export interface ImportReport {
  state: ImportState;
  /** Nothing is written. */
  dry: boolean;
  /** How much of the file was read, 0…1. */
  share: number;
  /** Visits that are new, and that were here already. */
  fresh: number;
  known: number;
  faultCount: number;
  /** The first of them. */
  faults: RowFault[];
}

/** What an import has come to before it has begun. */
export const begun = (dry: boolean): ImportReport => ({
  state: "running",
  dry,
  share: 0,
  fresh: 0,
  known: 0,
  faultCount: 0,
  faults: [],
});

interface Work {
  firmId: string;
  memberId: string;
  now: Date;
  bytes: number;
  dry: boolean;
}

/** One import under way: who, how far, what was wrong, and whether to stop. */
export class Importing {
  readonly firmId: string;
  readonly memberId: string;
  readonly now: Date;
  readonly report: ImportReport;
  private readonly bytes: number;
  private stopped = false;

  /** @param tell hears how it goes, from time to time and at the end */
  constructor(
    { firmId, memberId, now, bytes, dry }: Work,
    private readonly tell: (report: ImportReport) => void,
  ) {
    this.firmId = firmId;
    this.memberId = memberId;
    this.now = now;
    this.bytes = bytes;
    this.report = begun(dry);
  }

  get faultCount(): number {
    return this.report.faultCount;
  }

  reached(bytes: number): void {
    this.report.share = this.bytes === 0 ? 1 : Math.min(1, bytes / this.bytes);
  }

  counted(fresh: number, known: number): void {
    this.report.fresh += fresh;
    this.report.known += known;
  }

  fault(fault: RowFault): void {
    this.report.faultCount++;
    if (this.report.faults.length < MOST_TOLD) this.report.faults.push(fault);
  }

  stop(): void {
    this.stopped = true;
  }

  /** Tells how far it is and hears whether to stop; throws `Cancelled` then. */
  async breathe(): Promise<void> {
    this.tell(this.report);
    await setImmediate();
    if (this.stopped) throw new Cancelled();
  }

  end(state: ImportState): void {
    this.report.state = state;
    if (state === "done") this.report.share = 1;
    this.tell(this.report);
  }
}
