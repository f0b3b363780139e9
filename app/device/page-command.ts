import type { CommandName, VisitCommands } from "#core";
import { fieldsOf } from "../request";

/** A command for a visit as a page sends it; the same on the device and on the server. */
export interface PageCommand<Name extends CommandName = CommandName> {
  /** What was sent as a command; the server checks what it carries. */
  command(body: unknown): { id?: unknown; name: Name; given: VisitCommands[Name] };
  /** Where the page goes on, below the visit; null where it stays and is told that it is saved. */
  next(body: unknown, answer: string | null): string | null;
}

/** What the core's schema has not seen yet. */
const unchecked = <T>(value: unknown): T => value as T;

const STOP = /^[a-zA-Z]{2,30}$/;
const stopIn = (body: unknown): string => {
  const { next } = fieldsOf(body);
  return typeof next === "string" && STOP.test(next) ? next : "judge";
};

export const lookCommand: PageCommand<"look"> = {
  command(body) {
    const { id, next: _, ...look } = fieldsOf(body);
    return { id, name: "look", given: unchecked(look) };
  },
  next: (body) => stopIn(body),
};

export const sampleCommand: PageCommand<"sample"> = {
  command(body) {
    const { id, next: _, ...sampling } = fieldsOf(body);
    return { id, name: "sample", given: unchecked(sampling) };
  },
  next: (body) => stopIn(body),
};

/** One test, or the pads of a strip as a list: they are one command, under the key of the first. */
export const readCommand: PageCommand<"read"> = {
  command(body) {
    const tests = (Array.isArray(body) ? body : [body]).map((test) => {
      const { stay: _, ...seen } = fieldsOf(test);
      return seen;
    });
    return { id: tests[0]?.id, name: "read", given: { tests: unchecked(tests) } };
  },
  /** One that is saved from another page says so, and that page stays. */
  next: (body, answer) => (fieldsOf(body).stay === true ? null : (answer ?? "judge")),
};

export const giveCommand: PageCommand<"give"> = {
  command(body) {
    const { id, ...given } = fieldsOf(body);
    return { id, name: "give", given: unchecked(given) };
  },
  next: () => null,
};

/** A plan is begun, a step of it ends, or it is stopped. */
export const planCommand: PageCommand<"begin-plan" | "settle-step" | "stop-plan"> = {
  command(body) {
    const { id, ...given } = fieldsOf(body);
    if (given.stop !== undefined) return { id, name: "stop-plan", given: unchecked(given) };
    if (given.planId !== undefined) return { id, name: "settle-step", given: unchecked(given) };
    return { id, name: "begin-plan", given: unchecked(given) };
  },
  next: (body) => {
    const { stop, planId } = fieldsOf(body);
    return stop === undefined && planId !== undefined ? null : "dose";
  },
};

export const workCommand: PageCommand<"work"> = {
  command(body) {
    const { id, ...given } = fieldsOf(body);
    return { id, name: "work", given: unchecked(given) };
  },
  next: () => null,
};

export const plantCommand: PageCommand<"read-plant"> = {
  command(body) {
    const { id, ...given } = fieldsOf(body);
    return { id, name: "read-plant", given: unchecked(given) };
  },
  next: () => null,
};

export const placeCommand: PageCommand<"place"> = {
  command(body) {
    const { id, ...given } = fieldsOf(body);
    return { id, name: "place", given: unchecked(given) };
  },
  next: () => null,
};

/** Something happened, or it is over. */
export const incidentCommand: PageCommand<"report-incident" | "end-incident"> = {
  command(body) {
    const { id, ...given } = fieldsOf(body);
    return {
      id,
      name: given.incidentId === undefined ? "report-incident" : "end-incident",
      given: unchecked(given),
    };
  },
  next: () => null,
};

/** Something is broken, or mended. */
export const defectCommand: PageCommand<"report-defect" | "mend-defect"> = {
  command(body) {
    const { id, ...given } = fieldsOf(body);
    return {
      id,
      name: given.defectId === undefined ? "report-defect" : "mend-defect",
      given: unchecked(given),
    };
  },
  next: () => null,
};

/** A job of several calls is done, or given up. */
export const jobCommand: PageCommand<"end-job"> = {
  command(body) {
    const { id, ...given } = fieldsOf(body);
    return { id, name: "end-job", given: unchecked(given) };
  },
  next: () => null,
};

export const closeCommand: PageCommand<"close"> = {
  command(body) {
    const { id, note = "", feederSetting = "", untested = "" } = fieldsOf(body);
    const typed = String(feederSetting).trim().replace(",", ".");
    // What is no number goes out as it stands, so that the answer can name it.
    const setting = typed === "" ? null : Number.isNaN(Number(typed)) ? typed : Number(typed);
    return {
      id,
      name: "close",
      given: {
        note: unchecked(note),
        ...(setting === null ? {} : { feederSetting: unchecked(setting) }),
        ...(untested === "" ? {} : { untested: unchecked(untested) }),
      },
    };
  },
  next: (_, answer) => (answer === "before" ? "?closed=before" : ""),
};

export const correctCommand: PageCommand<"correct"> = {
  command(body) {
    const { id, ...given } = fieldsOf(body);
    return { id, name: "correct", given: unchecked(given) };
  },
  next: () => null,
};

/** Changes with every write that was kept, so that the next one gets a key of its own. */
export function savedIn(body: unknown): string {
  const { id, position, state } = (body ?? {}) as Record<string, unknown>;
  return position === undefined ? `${id}` : `${position}.${state}`;
}
