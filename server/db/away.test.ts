import { describe, expect, it } from "vitest";
import { isBroken, isInvalidData, isStarting, isUnavailable } from "./away";

const fault = (code: string) => Object.assign(new Error("x"), { code });

describe("the database is away", () => {
  it.each([
    ["08006", "a connection that failed"],
    ["53100", "a full disk"],
    ["53300", "no connection left"],
    ["57P01", "an end by its keeper"],
    ["57P03", "its recovery"],
    ["57014", "a statement that took too long"],
    ["58030", "a disk that fails"],
    ["25006", "read only"],
    ["55P03", "a row that somebody holds"],
    ["40P01", "a deadlock"],
  ])("by %s: %s", (code) => {
    expect(isUnavailable(fault(code))).toBe(true);
    expect(isInvalidData(fault(code))).toBe(false);
  });

  it("when it says nothing, or nobody listens", () => {
    for (const text of [
      "Connection terminated unexpectedly",
      "Query read timeout",
      "timeout exceeded when trying to connect",
      "Client has encountered a connection error and is not queryable",
    ]) {
      expect(isUnavailable(new Error(text)), text).toBe(true);
      expect(isBroken(new Error(text)), text).toBe(true);
    }
    const refused = Object.assign(new Error("connect ECONNREFUSED"), {
      code: "ECONNREFUSED",
      syscall: "connect",
    });
    expect(isUnavailable(refused)).toBe(true);
    // As Node gives it, without the name of a call.
    const cut = Object.assign(
      new Error("Client network socket disconnected before secure TLS connection was established"),
      { code: "ECONNRESET" },
    );
    expect(isUnavailable(cut)).toBe(true);
    expect(isStarting(cut)).toBe(true);
  });

  it("when its certificate ran out, which waiting does not mend", () => {
    for (const code of [
      "CERT_HAS_EXPIRED",
      "ERR_TLS_CERT_ALTNAME_INVALID",
      "UNABLE_TO_VERIFY_LEAF_SIGNATURE",
    ]) {
      expect(isUnavailable(fault(code)), code).toBe(true);
      expect(isStarting(fault(code)), code).toBe(false);
    }
  });

  it("not for a fault of ours, or of what was sent", () => {
    for (const other of [
      fault("42601"),
      fault("42P01"),
      fault("22P02"),
      fault("23505"),
      new TypeError("x"),
      null,
      "08006",
    ])
      expect(isUnavailable(other)).toBe(false);
    expect(isInvalidData(fault("22021"))).toBe(true);
    expect(isInvalidData(fault("23503"))).toBe(true);
  });

  it("leaves a connection that still answers", () => {
    for (const code of ["55P03", "53100", "25006", "57014", "40001"])
      expect(isBroken(fault(code)), code).toBe(false);
  });
});
