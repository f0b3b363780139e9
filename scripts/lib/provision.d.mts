/** Debian's packages that are needed: installed by root, or told what to install. */
export function ensureDebian(needs?: { browser?: boolean }): Promise<void>;
/** The production build, made when a source is newer than it. */
export function ensureBuild(): Promise<void>;
