import { describe, expect, it } from "vitest";
import { emergencyNumbers } from "./emergency";

describe("whom to ring", () => {
  it.each([
    ["America/Denver", "911", "1-800-222-1222"],
    ["America/Indiana/Knox", "911", "1-800-222-1222"],
    ["America/Toronto", "911", "1-844-764-7669"],
    ["America/Mexico_City", "911", null],
    ["Europe/Madrid", "112", null],
    ["Europe/London", "999", null],
    ["Australia/Perth", "000", "13 11 26"],
    ["Asia/Tokyo", "112", null],
    ["UTC", "112", null],
  ])("%s", (zone, emergency, poison) => {
    expect(emergencyNumbers(zone)).toEqual({ emergency, poison });
  });
});
