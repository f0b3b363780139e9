import loadHighs from "highs";
import { beforeAll, describe, expect, it } from "vitest";
import { type Highs, solverOf } from "../dosing/plan/highs";
import type { Solver } from "../dosing/plan/programme";
import { InputFault } from "../fault";
import { type Recipe, recipeFor } from "../recipes";
import { DOUBT_CODES } from "../testing/doubt";
import { nothingFound, type Trouble } from "../testing/order/look";
import { bathingAt } from "./bathing";
import type { Brought, EarlierDose, JobBefore } from "./brought";
import { closingOf } from "./closing";
import type { CommandName, VisitCommands } from "./commands";
import { commandOf, decide } from "./decide";
import { afterCommand } from "./facts";
import { jobAt, nextCallAt } from "./jobs";
import { contentOfRecipe, problemOrThrow } from "./plans";
import { problemOf, recipeInputOf } from "./problem";
import { openJobs, visitOf } from "./visit";
import { brought, uuidOf, WREN } from "./visit.fixtures";
import { NOTHING_WRITTEN, type Written } from "./written";

/** A green pool over its calls, by the commands of its visits. */

let solver: Solver;
beforeAll(async () => {
  solver = solverOf((await loadHighs()) as unknown as Highs);
});

const MORNING = Date.parse("2026-06-08T08:00:00Z");
const HOUR = 3_600_000;
let key = 5000;

/** One call: it writes, and is brought along to the next as the server would. */
class Call {
  written: Written = NOTHING_WRITTEN;
  minute = 0;

  constructor(
    readonly brought: Brought,
    readonly at: number,
  ) {}

  static first(at = MORNING): Call {
    const base = brought();
    return new Call({ ...base, visit: { ...base.visit, startedAt: new Date(at) } }, at);
  }

  next(at: number): Call {
    const opened = this.opened();
    const read = [...opened.before, ...opened.readings].filter(({ quantity }) => quantity === "freeChlorine");
    const readAt = (one: (typeof read)[number] | undefined) =>
      one ? { value: one.value, at: one.takenAt } : null;
    const jobs: JobBefore[] = openJobs(opened).map(({ job, calls }) => ({
      job,
      calls: [
        ...calls,
        {
          at: new Date(this.at),
          look: this.written.look,
          sight: this.written.plant?.find(({ kind }) => kind === "sight")?.value ?? null,
          first: readAt(read.at(0)),
          last: readAt(read.at(-1)),
        },
      ],
    }));
    const doses: EarlierDose[] = this.written.doses.flatMap(({ productId, givenGrams, givenAt }) => {
      const product = this.brought.products.find(({ id }) => id === productId);
      return product && givenGrams > 0
        ? [
            {
              product: product.product,
              strength: product.strength,
              grams: givenGrams,
              litres: 40_000,
              givenAt,
            },
          ]
        : [];
    });
    return new Call(
      {
        ...this.brought,
        visit: { ...this.brought.visit, id: uuidOf(++key), startedAt: new Date(at) },
        jobs,
        dosesBefore: [...doses, ...this.brought.dosesBefore],
        earlier: [...opened.readings, ...opened.earlier].filter(
          (one, index, all) => all.findIndex(({ quantity }) => quantity === one.quantity) === index,
        ),
      },
      at,
    );
  }

  now(): Date {
    return new Date(this.at + this.minute * 60_000);
  }

  opened() {
    return visitOf(this.brought, this.written, this.now());
  }

  give<Name extends CommandName>(name: Name, given: VisitCommands[Name], id = uuidOf(++key)): void {
    this.minute += 2;
    this.written = afterCommand(
      this.written,
      decide(this.brought, this.written, commandOf(name, given, { id, by: WREN, at: this.now() })),
    );
  }

  refused(name: CommandName, given: VisitCommands[CommandName]): InputFault {
    try {
      this.give(name, given);
    } catch (fault) {
      if (fault instanceof InputFault) return fault;
      throw fault;
    }
    throw new Error("it was taken");
  }

  look(...see: Trouble[]): void {
    this.give("look", { ...nothingFound(), see: see as never });
  }

  drops(methodId: string, count: number, sample = 25): void {
    const seen = { kind: "drops" as const, count, sample };
    this.give("read", { tests: [{ id: uuidOf(++key), methodId, seen, confirmed: [...DOUBT_CODES] }] });
  }

  place(methodId: string, from: number): void {
    const seen = { kind: "place" as const, place: { from, to: from } };
    this.give("read", { tests: [{ id: uuidOf(++key), methodId, seen, confirmed: [...DOUBT_CODES] }] });
  }

  recipe(): Recipe {
    const given = recipeInputOf(this.opened(), "green-pool");
    if ("reason" in given) throw new Error(given.reason);
    const recipe = recipeFor("green-pool", given, solver);
    if (typeof recipe === "string") throw new Error(recipe);
    return recipe;
  }

  /** Follows the recipe to its last step. */
  follow(): string {
    const recipe = this.recipe();
    const content = contentOfRecipe(problemOrThrow(problemOf(this.opened(), "green-pool")), recipe);
    const planId = uuidOf(++key);
    this.give("begin-plan", { origin: "recipe", name: "green-pool", content }, planId);
    recipe.steps.forEach((step, position) => {
      const dose = step.kind === "dose" ? { id: uuidOf(++key), givenGrams: step.grams } : undefined;
      this.minute += step.waitMinutes;
      this.give("settle-step", { planId, position, state: "done", why: "", dose });
    });
    return planId;
  }
}

/** The first call: green, a forearm deep, no chlorine, pH 8.0, stabiliser 40. */
function begun(): Call {
  const call = Call.first();
  call.look("green", "floor-hidden");
  call.give("read-plant", { kind: "sight", value: 35, changed: false });
  call.give("sample", { circulation: "running", ignored: [] });
  call.drops("free-chlorine-fas-dpd", 0);
  call.place("ph-phenol-red", 8);
  call.drops("total-alkalinity", 10);
  call.place("cyanuric-acid-tube", 40);
  call.follow();
  return call;
}

const green = (call: Call) => jobAt(call.opened(), openJobs(call.opened())[0] as JobBefore);

describe("a green pool", () => {
  it("is a job from its first recipe on, told before the first dose", () => {
    const call = begun();
    const [one] = call.written.jobs ?? [];
    expect(one).toMatchObject({ kind: "green", by: "Wren", over: null });
    expect(one?.told?.days.low).toBeGreaterThanOrEqual(1);
    expect(one?.told?.days.high).toBeLessThan(15);
    // 40 m³ at the firm's 30 a call: no less than two calls.
    expect(one?.told?.money.low).toBeGreaterThan(60);
    // The same recipe again begins no second one.
    call.follow();
    expect(call.written.jobs).toHaveLength(1);
  });

  it("has acid before the chlorine, and chlorine to what its stabiliser asks for", () => {
    const call = Call.first();
    call.look("green");
    call.drops("free-chlorine-fas-dpd", 0);
    call.place("ph-phenol-red", 8);
    call.drops("total-alkalinity", 10);
    call.place("cyanuric-acid-tube", 40);
    const { steps, facts } = call.recipe();
    const doses = steps.flatMap((step) => (step.kind === "dose" ? [step.compound] : []));
    expect(doses).toEqual(["hydrochloric-acid", "sodium-hypochlorite"]);
    // 0.3 mg/L of HOCl with 40 mg/L of stabiliser takes about 15: between the 12 at 30 and the 20 at 50.
    expect(facts.freeChlorine).toBeGreaterThan(13);
    expect(facts.freeChlorine).toBeLessThan(17);
    // By hand: 40 m³ × 15.7 g/m³ = 628 g of chlorine, 5.3 L at 125 g/L.
    const chlorine = steps.find((step) => step.kind === "dose" && step.compound === "sodium-hypochlorite");
    if (chlorine?.kind !== "dose") throw new Error("no chlorine");
    expect(chlorine.grams * 0.125 * 0.85).toBeGreaterThan(40 * 13 * 0.7);
  });

  it("stays closed however clear and right it reads, until the job is done", () => {
    const first = begun();
    const call = first.next(MORNING + 24 * HOUR);
    call.look();
    call.drops("free-chlorine-fas-dpd", 15);
    call.place("ph-phenol-red", 7.4);
    expect(bathingAt(call.opened()).state).toBe("closed");
    expect(bathingAt(call.opened()).because).toContainEqual({ code: "job", job: "green" });
  });

  it("is not done before the floor shows, a night holds and nothing is combined", () => {
    const first = begun();
    const call = first.next(MORNING + 24 * HOUR);
    call.look("cloudy");
    call.drops("free-chlorine-fas-dpd", 10);
    const [one] = openJobs(call.opened());
    const jobId = one?.job.id as string;
    expect(call.refused("end-job", { jobId, won: true, why: "" })).toMatchObject({
      code: "unconfirmed",
      field: "job",
      limit: ["floor", "overnight", "combined"],
    });
    expect(call.refused("end-job", { jobId, won: false, why: " " })).toMatchObject({
      code: "missing",
      field: "why",
    });
    expect(call.refused("end-job", { jobId: uuidOf(1), won: true, why: "" }).code).toBe("unknown");
    const { checks, day } = green(call);
    expect(day).toBe(2);
    // It was left with about 15, and 2 were found.
    expect(checks.find(({ code }) => code === "overnight")?.value).toBeGreaterThan(11);
  });

  it("says nothing of a night after which more was found than was left", () => {
    const first = begun();
    const level = first.recipe().facts.freeChlorine ?? 0;
    const call = first.next(MORNING + 24 * HOUR);
    call.look();
    call.drops("free-chlorine-fas-dpd", Math.round((level + 4) / 0.5), 10);
    expect(green(call).checks.find(({ code }) => code === "overnight")).toMatchObject({
      holds: null,
      value: null,
    });
  });

  it("is done when all shows, and is then a water like any other", () => {
    const first = begun();
    const level = first.recipe().facts.freeChlorine ?? 0;
    const call = first.next(MORNING + 24 * HOUR);
    call.look();
    // Drops of 0.5: what was left, less half a part.
    call.drops("free-chlorine-fas-dpd", Math.round((level - 0.5) / 0.5), 10);
    call.drops("combined-chlorine-fas-dpd", 0, 10);
    const [one] = openJobs(call.opened());
    call.give("end-job", { jobId: one?.job.id as string, won: true, why: "" });
    expect(openJobs(call.opened())).toEqual([]);
    expect(call.opened().jobs[0]?.job.over).toMatchObject({ won: true, by: "Wren" });
    const { because } = bathingAt(call.opened());
    expect(because.map(({ code }) => code)).not.toContain("job");
    // Fifteen parts of chlorine are no water to bathe in either.
    expect(bathingAt(call.opened()).state).toBe("closed");
    // Once more is no news.
    const before = call.written;
    call.give("end-job", { jobId: one?.job.id as string, won: true, why: "" });
    expect(call.written.jobs).toEqual(before.jobs);
  });

  it("is planned for over ten parts of chlorine, where no drop reads the pH", () => {
    const first = begun();
    const call = first.next(MORNING + 10 * HOUR);
    call.look("green");
    call.give("read-plant", { kind: "sight", value: 60, changed: false });
    call.drops("free-chlorine-fas-dpd", 22, 10);
    expect(recipeInputOf(call.opened())).toMatchObject({ reason: "needs-reading", quantity: "ph" });
    const doses = call.recipe().steps.flatMap((step) => (step.kind === "dose" ? [step.compound] : []));
    expect(doses).toEqual(["sodium-hypochlorite"]);
    call.follow();
    const { calls, outlook } = green(call);
    expect(calls).toHaveLength(2);
    expect(calls[0]).toMatchObject({ sight: 35, found: 0 });
    expect(calls[0]?.left).toBeGreaterThan(13);
    expect(calls[1]).toMatchObject({ sight: 60, found: 11 });
    expect(outlook).not.toBeNull();
  });

  it("calls again the same evening, then every morning, before the basin's own day", () => {
    const first = begun();
    expect(green(first)).toMatchObject({ isMorning: true, next: "2026-06-08" });
    expect(nextCallAt(first.opened())).toBe("2026-06-08");
    const evening = first.next(MORNING + 10 * HOUR);
    expect(green(evening)).toMatchObject({ isMorning: false, next: "2026-06-09" });
    expect(closingOf(evening.opened()).next).toBe("2026-06-09");
    // Mondays: without a job the next call would be a week later.
    expect(nextCallAt(Call.first().opened())).toBe("2026-06-15");
  });
});
