import { RateLimiterMemory, RateLimiterRes } from "rate-limiter-flexible";

/**
 * Brakes on guessing passwords: by account against a patient guesser, by address against a broad one.
 * Kept in memory: there is one web process, and a restart forgives nobody for long.
 */
export interface SignInLimits {
  /** Counts a try; returns the seconds to wait when there were too many, else null. */
  tried(email: string, address: string): Promise<number | null>;
  /** A right password forgets the account's wrong ones. */
  succeeded(email: string): Promise<void>;
  /** Counts a link that opens nothing; returns the seconds to wait when there were too many, else null. */
  guessed(address: string): Promise<number | null>;
}

export function signInLimits({ byAccount = 8, byAddress = 60, links = 30 } = {}): SignInLimits {
  const account = new RateLimiterMemory({ points: byAccount, duration: 15 * 60 });
  const address = new RateLimiterMemory({ points: byAddress, duration: 15 * 60 });
  const link = new RateLimiterMemory({ points: links, duration: 15 * 60 });
  const waiting = async (limiter: RateLimiterMemory, key: string): Promise<number> => {
    try {
      await limiter.consume(key);
      return 0;
    } catch (refused) {
      if (refused instanceof RateLimiterRes) return Math.ceil(refused.msBeforeNext / 1000);
      throw refused;
    }
  };
  return {
    async tried(email, from) {
      const waits = [
        await waiting(account, email.trim().toLowerCase().slice(0, 254)),
        await waiting(address, from),
      ];
      const longest = Math.max(...waits);
      return longest > 0 ? longest : null;
    },
    async succeeded(email) {
      await account.delete(email.trim().toLowerCase().slice(0, 254));
    },
    async guessed(from) {
      const wait = await waiting(link, from);
      return wait > 0 ? wait : null;
    },
  };
}
