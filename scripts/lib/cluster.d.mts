export function dataFolder(environment?: NodeJS.ProcessEnv): string;
export function openCluster(
  folder: string,
  options?: { throwAway?: boolean },
): Promise<{ url: string; superuserUrl: (database?: string) => string; found: boolean; stop: () => void }>;
