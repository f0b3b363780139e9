export function throwAwayCluster(): Promise<{ url: string; stop: () => void }>;
export function webServer(
  databaseUrl: string,
  environment?: Record<string, string>,
): Promise<{
  address: string;
  start: () => Promise<void>;
  kill: () => Promise<void>;
  stop: () => Promise<void>;
}>;
