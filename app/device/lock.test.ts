import { beforeEach, describe, expect, it, vi } from "vitest";
import { hasCode, isCode, isLocked, lock, removeCode, setCode, tryCode } from "./lock";

/** Storage as a browser has it. */
function storage(): Storage {
  const kept = new Map<string, string>();
  return {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => void kept.set(key, value),
    removeItem: (key: string) => void kept.delete(key),
  } as Storage;
}

beforeEach(() => {
  vi.stubGlobal("localStorage", storage());
  vi.stubGlobal("sessionStorage", storage());
});

describe("a device's code", () => {
  it("is asked for at a cold start, and opens with the right one only", async () => {
    expect([hasCode(), isLocked()]).toEqual([false, false]);
    await setCode("2468");
    expect([hasCode(), isLocked()]).toEqual([true, false]);
    vi.stubGlobal("sessionStorage", storage());
    expect(isLocked()).toBe(true);
    expect(await tryCode("2469")).toBe(0);
    expect(isLocked()).toBe(true);
    expect(await tryCode("2468")).toBe("right");
    expect(isLocked()).toBe(false);
    lock();
    expect(isLocked()).toBe(true);
    removeCode();
    expect([hasCode(), isLocked(), await tryCode("")]).toEqual([false, false, "right"]);
  });

  it("lets nobody guess: the waits double, outlive a start, and the right one in a wait is not taken", async () => {
    // The waits are what is looked at: a try need not cost what it costs a thief.
    const derive = crypto.subtle.deriveBits.bind(crypto.subtle);
    vi.spyOn(crypto.subtle, "deriveBits").mockImplementation((way, ...rest) =>
      derive({ ...(way as Pbkdf2Params), iterations: 1000 }, ...rest),
    );
    await setCode("13579");
    const waits = [];
    let now = 1e12;
    for (let wrong = 0; wrong < 12; wrong++) {
      const wait = (await tryCode("0000", now)) as number;
      waits.push(wait);
      if (wait > 0) expect(await tryCode("13579", now + wait * 1000 - 500)).toBe(1);
      now += wait * 1000;
    }
    expect(waits).toEqual([0, 0, 5, 10, 20, 40, 80, 160, 300, 300, 300, 300]);
    expect(await tryCode("13579", now)).toBe("right");
    expect(await tryCode("0000", now)).toBe(0);
    vi.restoreAllMocks();
  });

  it("lies here only as a salted hash, and is four to twelve digits", async () => {
    await setCode("2468");
    const first = localStorage.getItem("pelagon.lock");
    await setCode("2468");
    expect(first).not.toContain("2468");
    expect(localStorage.getItem("pelagon.lock")).not.toBe(first);
    expect(["123", "1234567890123", "12a4", "", " 1234"].map(isCode)).toEqual(Array(5).fill(false));
    expect(["1234", "123456789012"].map(isCode)).toEqual([true, true]);
  });
});
