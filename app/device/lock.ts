/**
 * A code of this device's own, asked for at a cold start and after a while out of sight. It keeps other
 * hands off an open device; what lies on the disk is the browser's and is not enciphered by it.
 */

const CODE = "pelagon.lock";
const OPEN = "pelagon.unlocked";
/** Out of sight this long, the device asks again. */
export const LOCK_AFTER_MS = 5 * 60_000;
/** Digits of a code. */
export const CODE_LENGTH = { least: 4, most: 12 } as const;
/** Wrong tries that cost no wait; each further one doubles it, from this to that. Seconds */
const FREE_TRIES = 3;
const FIRST_WAIT = 5;
const LONGEST_WAIT = 300;
/** What one try costs whoever has the storage: OWASP's figure for PBKDF2 with SHA-256. */
const ITERATIONS = 600_000;

interface KeptCode {
  salt: string;
  hash: string;
  /** Wrong tries since the last right one, and until when no other is taken. */
  wrong: number;
  until: number;
}

const hex = (bytes: ArrayBuffer | Uint8Array): string =>
  [...new Uint8Array(bytes)].map((byte) => byte.toString(16).padStart(2, "0")).join("");

async function hashOf(code: string, salt: string): Promise<string> {
  const key = await crypto.subtle.importKey("raw", new TextEncoder().encode(code), "PBKDF2", false, [
    "deriveBits",
  ]);
  const salted = {
    name: "PBKDF2",
    hash: "SHA-256",
    salt: new TextEncoder().encode(salt),
    iterations: ITERATIONS,
  };
  return hex(await crypto.subtle.deriveBits(salted, key, 256));
}

function keptCode(): KeptCode | null {
  try {
    return JSON.parse(localStorage.getItem(CODE) ?? "null");
  } catch {
    return null;
  }
}

const keep = (code: KeptCode): void => localStorage.setItem(CODE, JSON.stringify(code));

export const hasCode = (): boolean => keptCode() !== null;

/** Whether the code is to be given before anything is shown. */
export const isLocked = (): boolean => hasCode() && sessionStorage.getItem(OPEN) === null;

export const isCode = (text: string): boolean =>
  /^\d+$/.test(text) && text.length >= CODE_LENGTH.least && text.length <= CODE_LENGTH.most;

/** Gives this device a code; it stays open in this tab. */
export async function setCode(code: string): Promise<void> {
  const salt = hex(crypto.getRandomValues(new Uint8Array(16)));
  keep({ salt, hash: await hashOf(code, salt), wrong: 0, until: 0 });
  sessionStorage.setItem(OPEN, "yes");
}

/**
 * Tries a code.
 * @returns "right", or the seconds until another try is taken: 0 where one may follow at once
 */
export async function tryCode(code: string, now = Date.now()): Promise<"right" | number> {
  const kept = keptCode();
  if (!kept) return "right";
  if (now < kept.until) return Math.ceil((kept.until - now) / 1000);
  if ((await hashOf(code, kept.salt)) === kept.hash) {
    keep({ ...kept, wrong: 0, until: 0 });
    sessionStorage.setItem(OPEN, "yes");
    return "right";
  }
  const wrong = kept.wrong + 1;
  const wait = wrong < FREE_TRIES ? 0 : Math.min(LONGEST_WAIT, FIRST_WAIT * 2 ** (wrong - FREE_TRIES));
  keep({ ...kept, wrong, until: now + wait * 1000 });
  return wait;
}

/** Takes the code away: for whoever gave it just now, and for whoever signs out. */
export function removeCode(): void {
  try {
    localStorage.removeItem(CODE);
  } catch {
    // Where nothing can be kept there is no code.
  }
}

/** Asks again from now on, in this tab. */
export const lock = (): void => sessionStorage.removeItem(OPEN);

/** Run before anything is drawn, as text in the page's head: a locked device shows nothing for a moment either. */
export const HIDE_WHILE_LOCKED = `try{if(localStorage.getItem("${CODE}")&&!sessionStorage.getItem("${OPEN}"))document.documentElement.dataset.locked=""}catch{}`;
