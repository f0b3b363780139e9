export interface Cluster {
  /** For the web server. */
  url: string;
  /** For what changes tables. */
  ownerUrl: string;
  superuserUrl: (database?: string) => string;
  found: boolean;
  running: () => boolean;
  start: () => Promise<void>;
  program: (
    name: string,
    args: string[],
    how?: { database?: string; input?: string },
  ) => Promise<{ code: number; out: string }>;
  psql: (sql: string, database?: string) => Promise<string>;
  stop: (how?: { atOnce?: boolean }) => Promise<void>;
}
export function dataFolder(environment?: NodeJS.ProcessEnv): string;
export function openCluster(folder: string, options?: { throwAway?: boolean }): Promise<Cluster>;
export function closeAfter(folder: string, cluster: Cluster): Promise<void>;
