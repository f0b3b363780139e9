import { describe, expect, it } from "vitest";
import { SetupCode } from "./setup-code";

describe("the code that sets a fresh instance up", () => {
  it("is read as people type it, and is another each time", () => {
    const setup = new SetupCode("ABCDE-FGHJK");
    for (const typed of ["ABCDE-FGHJK", "abcde fghjk", " abcdefghjk "]) expect(setup.is(typed)).toBe(true);
    for (const typed of ["", "ABCDE", "ABCDE-FGHJL", "ABCDE-FGHJKK"]) expect(setup.is(typed)).toBe(false);
    const codes = new Set(Array.from({ length: 50 }, () => new SetupCode().code));
    expect(codes.size).toBe(50);
    for (const code of codes) expect(code).toMatch(/^[A-HJKMNP-Z2-9]{5}-[A-HJKMNP-Z2-9]{5}$/);
  });

  it("of blanks, dashes or letters that do not count is no code that anybody knows", () => {
    for (const code of ["--------", "        ", "ключключ", "ABC-DEF"])
      for (const typed of ["", "--------", "ключключ", "ABCDEF", code])
        expect(new SetupCode(code).is(typed), `${code} ${typed}`).toBe(false);
  });

  it("is good once: of two at once one goes through, and after a failure it is good again", async () => {
    const setup = new SetupCode();
    await expect(
      setup.use(async () => {
        throw new Error("the address is taken");
      }),
    ).rejects.toThrow("taken");
    const none = async () => false;
    expect(await setup.isOpen(none)).toBe(true);
    const both = await Promise.all([setup.use(async () => "first"), setup.use(async () => "second")]);
    expect(both).toEqual(["first", null]);
    expect(await setup.isOpen(none)).toBe(false);
    expect(await setup.use(async () => "third")).toBeNull();
  });

  it("is good for nothing once a firm was made beside it", async () => {
    const setup = new SetupCode();
    expect(await setup.isOpen(async () => true)).toBe(false);
    expect(await setup.use(async () => "another firm")).toBeNull();
  });
});
