import { RateLimiterMemory } from "rate-limiter-flexible";
import { describe, expect, it } from "vitest";
import { type Brakes, neighbourhood, QUARTER_HOUR, signInLimits } from "./limits";

const inMemory: Brakes = (_, points) => new RateLimiterMemory({ points, duration: QUARTER_HOUR });

const many = async (count: number, work: () => Promise<unknown>) => {
  const answers: unknown[] = [];
  for (let index = 0; index < count; index++) answers.push(await work());
  return answers;
};

describe("who counts as one", () => {
  it.each([
    ["192.0.2.7", "192.0.2.7"],
    ["::ffff:192.0.2.7", "192.0.2.7"],
    ["2001:db8:1:2:3:4:5:6", "2001:db8:1:2::/64"],
    ["2001:0db8:1:2::9", "2001:db8:1:2::/64"],
    ["2001:db8::1", "2001:db8:0:0::/64"],
    ["fe80::1%eth0", "fe80:0:0:0::/64"],
    ["::1", "0:0:0:0::/64"],
    ["", ""],
  ])("%s is of %s", (address, network) => expect(neighbourhood(address)).toBe(network));
});

describe("the brakes on sign-in", () => {
  it("refuse whoever tries one account too often from one place", async () => {
    const limits = signInLimits(inMemory);
    const answers = await many(10, () => limits.tried("a@firm.example", "192.0.2.1"));
    expect(answers.slice(0, 8).every((one) => "delayMs" in (one as object))).toBe(true);
    expect(answers[9]).toMatchObject({ refusedFor: expect.any(Number) });
  });

  it("shut nobody out of their own account from elsewhere, however often it is tried", async () => {
    const limits = signInLimits(inMemory, { byAddress: 1000 });
    for (let host = 0; host < 40; host++)
      await many(8, () => limits.tried("a@firm.example", `192.0.2.${host}`));
    const own = await limits.tried("A@firm.example ", "198.51.100.1");
    expect(own).toEqual({ delayMs: 3000 });
    await limits.succeeded("a@firm.example", "198.51.100.1");
    expect(await limits.tried("a@firm.example", "198.51.100.1")).toEqual({ delayMs: 0 });
  });

  it("count a refused address against no account", async () => {
    const limits = signInLimits(inMemory, { byAddress: 5 });
    for (let one = 0; one < 50; one++) await limits.tried(`${one}@firm.example`, "192.0.2.1");
    await many(50, () => limits.tried("a@firm.example", "192.0.2.1"));
    expect(await limits.tried("a@firm.example", "192.0.2.2")).toEqual({ delayMs: 0 });
  });

  it("count the addresses of one IPv6 subscriber together", async () => {
    const limits = signInLimits(inMemory, { byAddress: 5 });
    for (let one = 0; one < 6; one++) await limits.tried(`${one}@firm.example`, `2001:db8:1:2::${one}`);
    expect(await limits.tried("x@firm.example", "2001:db8:1:2:ffff::")).toMatchObject({
      refusedFor: expect.any(Number),
    });
    expect(await limits.tried("x@firm.example", "2001:db8:1:3::1")).toEqual({ delayMs: 0 });
  });

  it("give those who sign in their tries back", async () => {
    const limits = signInLimits(inMemory, { byAddress: 3 });
    for (let one = 0; one < 20; one++) {
      expect(await limits.tried("a@firm.example", "192.0.2.1")).toEqual({ delayMs: 0 });
      await limits.succeeded("a@firm.example", "192.0.2.1");
    }
  });
});
