import { isIPv6 } from "node:net";
import { RateLimiterRes } from "rate-limiter-flexible";

/**
 * Brakes on guessing. Whoever guesses is braked by where they come from; somebody whose account is guessed
 * at from elsewhere is slowed down at most, never shut out.
 */
export interface SignInLimits {
  /**
   * Counts a try at an account. Refused by its address first, then by account and address together.
   * @returns the seconds after which to come back, or else how long to wait before looking at the password
   */
  tried(account: string, address: string): Promise<{ refusedFor: number } | { delayMs: number }>;
  /** A right password forgets the wrong ones made from here. */
  succeeded(account: string, address: string): Promise<void>;
  /** Counts a link that opens nothing; returns the seconds to wait when there were too many, else null. */
  guessed(address: string): Promise<number | null>;
}

/** Seconds in which tries are counted together. */
export const QUARTER_HOUR = 15 * 60;
/** What one more wrong try at an account costs, from wherever it came. Milliseconds */
const DELAY_STEP = 250;
const LONGEST_DELAY = 3000;

/** Counts tries of whoever is named, and rejects with a `RateLimiterRes` once there are too many. */
export interface Brake {
  consume(who: string): Promise<RateLimiterRes>;
  delete(who: string): Promise<boolean>;
  reward(who: string): Promise<RateLimiterRes>;
}

/** What counts: the database for all servers, or memory for one. */
export type Brakes = (name: string, points: number) => Brake;

/** More than anybody tries in a quarter of an hour, and still an integer of the database. */
const NO_END = 2_000_000_000;

interface Settings {
  /** Tries at one account from one address. */
  byAccount?: number;
  byAddress?: number;
  /** Tries at one account from everywhere that cost no wait yet. */
  free?: number;
  links?: number;
}

export function signInLimits(
  brake: Brakes,
  { byAccount = 8, byAddress = 60, free = 8, links = 30 }: Settings = {},
): SignInLimits {
  const ofAddress = brake("address", byAddress);
  const ofBoth = brake("both", byAccount);
  const ofAccount = brake("account", NO_END);
  const ofLinks = brake("link", links);
  return {
    async tried(account, address) {
      const from = neighbourhood(address);
      // The address first: whoever is refused by it counts against nobody's account.
      const refusedFor = (await over(ofAddress, from)) || (await over(ofBoth, `${from} ${named(account)}`));
      if (refusedFor > 0) return { refusedFor };
      const { consumedPoints } = await ofAccount.consume(named(account));
      return { delayMs: Math.min(LONGEST_DELAY, Math.max(0, consumedPoints - free) * DELAY_STEP) };
    },
    async succeeded(account, address) {
      const from = neighbourhood(address);
      await ofBoth.delete(`${from} ${named(account)}`);
      await ofAccount.delete(named(account));
      await ofAddress.reward(from);
    },
    async guessed(address) {
      return (await over(ofLinks, neighbourhood(address))) || null;
    },
  };
}

const named = (account: string): string => account.trim().toLowerCase().slice(0, 254);

/** Counts one; the seconds until there is room again, 0 while there is. */
async function over(brake: Brake, key: string): Promise<number> {
  try {
    await brake.consume(key);
    return 0;
  } catch (refused) {
    if (refused instanceof RateLimiterRes) return Math.ceil(refused.msBeforeNext / 1000);
    throw refused;
  }
}

/**
 * Who counts as one: an IPv4 address, and of IPv6 the /64 that one subscriber is given to choose from.
 * @see https://www.rfc-editor.org/rfc/rfc6177
 */
export function neighbourhood(address: string): string {
  const mapped = /^::ffff:(\d+\.\d+\.\d+\.\d+)$/i.exec(address);
  if (mapped?.[1]) return mapped[1];
  const plain = address.split("%")[0] ?? "";
  if (!isIPv6(plain)) return address;
  const [head = "", tail] = plain.split("::");
  const left = head.split(":").filter(Boolean);
  const right = (tail ?? "").split(":").filter(Boolean);
  const groups =
    tail === undefined ? left : [...left, ...Array(8 - left.length - right.length).fill("0"), ...right];
  return `${groups
    .slice(0, 4)
    .map((group) => Number.parseInt(group, 16).toString(16))
    .join(":")}::/64`;
}
