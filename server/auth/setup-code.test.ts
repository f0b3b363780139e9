import { describe, expect, it } from "vitest";
import { isCode, newCode } from "./setup-code";

describe("the code that sets a fresh instance up", () => {
  it("is read as people type it, and is another each time", () => {
    for (const typed of ["ABCDE-FGHJK", "abcde fghjk", " abcdefghjk "])
      expect(isCode(typed, "ABCDE-FGHJK")).toBe(true);
    for (const typed of ["", "ABCDE", "ABCDE-FGHJL", "ABCDE-FGHJKK"])
      expect(isCode(typed, "ABCDE-FGHJK")).toBe(false);
    const codes = new Set(Array.from({ length: 50 }, newCode));
    expect(codes.size).toBe(50);
    for (const code of codes) expect(code).toMatch(/^[A-HJKMNP-Z2-9]{5}-[A-HJKMNP-Z2-9]{5}$/);
  });

  it("of blanks, dashes or letters that do not count is no code that anybody knows", () => {
    for (const code of ["--------", "        ", "ключключ", "ABC-DEF"])
      for (const typed of ["", "--------", "ключключ", "ABCDEF", code])
        expect(isCode(typed, code), `${code} ${typed}`).toBe(false);
  });
});
