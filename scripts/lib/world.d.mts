/** Addresses of one database: for the web server, and for what changes its tables. */
export interface Addresses {
  url: string;
  ownerUrl: string;
}
export function throwAwayCluster(how?: { keeps?: boolean }): Promise<
  Addresses & {
    /** Process id of its postmaster. */
    postmaster: () => number;
    startAgain: () => Promise<void>;
    superuserUrl: string;
    standby: (delayMs?: number) => Promise<{ at: (address: string) => string; stop: () => Promise<void> }>;
    stop: () => Promise<void>;
  }
>;
export function webServer(
  database: Addresses,
  environment?: Record<string, string>,
): Promise<{
  address: string;
  pid: () => number | undefined;
  /** What it wrote since it was started last. */
  said: () => string;
  start: () => Promise<void>;
  kill: () => Promise<void>;
  stop: () => Promise<void>;
}>;
