import { expect, it } from "vitest";
import { withoutTokens } from "./log";

const token = "Zm9vYmFyYmF6cXV4Zm9vYmFyYmF6cXV4Zm9vYmFyYmE";

it("leaves nothing of a token that would open what it opens", () => {
  for (const path of [
    `/join/${token}`,
    `/s/${token}/sheet.pdf`,
    `/calendar/${token}.ics`,
    `/reset/${token}.data`,
  ]) {
    const written = String(withoutTokens(path));
    expect(written).not.toContain(token.slice(0, 12));
    expect(written.startsWith(path.slice(0, 6))).toBe(true);
  }
  const fault = new Error(`no match for "/join/${token}"`);
  expect(JSON.stringify(withoutTokens(fault))).not.toContain(token.slice(0, 12));
});

it("leaves the rest as it is", () => {
  const id = "018f6b1e-7c3a-7abc-9def-0123456789ab";
  expect(withoutTokens(`/visits/${id}/totalAlkalinity`)).toBe(`/visits/${id}/totalAlkalinity`);
  expect(withoutTokens("/assets/route-DZP8x1aB.js")).toBe("/assets/route-DZP8x1aB.js");
  expect(withoutTokens(undefined)).toBeUndefined();
});
