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

/** One import under way: who, how far, what was wrong, and whether to stop. */
export class Importing {
  readonly report: ImportReport;
  private stopped = false;
  /** Changed lately: reading a file does not keep it alive. */
  touched = Date.now();

  constructor(
    readonly firmId: string,
    readonly memberId: string,
    readonly now: Date,
    private readonly bytes: number,
    dry: boolean,
  ) {
    this.report = { state: "running", dry, share: 0, fresh: 0, known: 0, faultCount: 0, faults: [] };
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

  /** Lets others have their turn; throws `Cancelled` when it is to stop. */
  async breathe(): Promise<void> {
    await setImmediate();
    if (this.stopped) throw new Cancelled();
  }

  end(state: ImportState): void {
    this.report.state = state;
    if (state === "done") this.report.share = 1;
    this.touched = Date.now();
  }
}
