import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import {
  ALTERNATIVES,
  type BathingReason,
  CAUTION_CODES,
  CLOSED_FOR,
  CLOSERS,
  type ClosingTrouble,
  DOUBT_CODES,
  type Doubt,
  type Due,
  INCIDENT_KINDS,
  litresFrom,
  QUANTITY_NAMES,
  RANGE_SETS,
  type SampleAdvice,
  SENSE_NAMES,
  SENSES,
  SHIPPED_KITS,
  STATION_ORDER,
  TASKS,
  TRAP_CODES,
} from "#core";
import type { AuditAction } from "#server/db/audit";
import { LANGUAGES } from "../messages/compiled/all";
import {
  auditText,
  bathingReason,
  doubtBack,
  doubtKeep,
  doubtName,
  doubtText,
  dueText,
  faultSentence,
  numberText,
  quantityName,
  quantityShort,
  ruleTexts,
  sampleWhy,
  shipped,
  soldAs,
  speak,
  stepSentence,
  stopName,
  taskText,
  words,
} from ".";

/** A sentence has no holes in it. */
const whole = (text: string) => {
  expect(text).not.toMatch(/undefined|NaN|null|\[object| {2}/);
  expect(text.trim()).toBe(text);
  expect(text.length).toBeGreaterThan(1);
};

const NUMBERS: Partial<Record<(typeof DOUBT_CODES)[number], Doubt["numbers"]>> = {
  "chlorine-bleached": { brought: 12.5, before: 3 },
  "persulfate-in-combined": { hours: 12 },
  "chlorine-purples-ph": { chlorine: 12 },
  "thiosulfate-first": { chlorine: 6 },
  "indicator-bleached": { chlorine: 6 },
  "cyanurate-in-alkalinity": { carbonate: 67.8, cyanuricAcid: 100 },
  "tube-temperature": { temperature: 11, low: 21, high: 32 },
  "tube-over": { next: 2, dilution: 1 },
  "reagent-expired": { days: 1 },
  "shift-across-basins": { share: 0.21, basins: 6 },
  "combined-over-total": { combined: 4, total: 3 },
  "free-over-total": { free: 4, total: 3 },
  "other-sample-size": { now: 250, before: 100 },
  "far-from-expected": { now: 170, low: 104, high: 136 },
  "unlikely-change": { now: 340, before: 200, days: 14, brought: 0 },
};

describe("what speaks against a test", () => {
  it.each(DOUBT_CODES)("%s is a whole sentence at either moment, in either system", (code) => {
    for (const moment of ["before", "result"] as const)
      for (const units of ["us", "metric"] as const)
        for (const because of [
          "dose",
          "last",
          "other-test",
          "smell",
          "log",
          "stains",
          "powder",
          "at-least",
          "at-most",
        ]) {
          const doubt: Doubt = {
            code,
            moment,
            weight: "tell",
            because,
            numbers: { ...NUMBERS[code], other: 5, before: 9 },
          };
          const text = doubtText(doubt, "totalAlkalinity", units);
          whole(text);
          expect(text).toMatch(/[.?!]$/);
          expect(text).not.toContain("? ppm");
        }
    whole(doubtName(code));
  });
  it("has words for going back and for keeping it", () => {
    for (const code of DOUBT_CODES) {
      whole(doubtKeep(code));
      whole(doubtBack(code));
    }
  });
  it("tells a temperature as the firm has it", () => {
    const doubt: Doubt = {
      code: "unlikely-change",
      moment: "result",
      weight: "ask",
      numbers: { now: 10, before: 30, days: 2 },
    };
    expect(doubtText(doubt, "temperature", "us")).toMatch(/50 °F now; 2 days ago it was 86 °F/);
    expect(doubtText(doubt, "temperature", "metric")).toMatch(/10 °C now/);
  });
});

describe("a test", () => {
  it("has every step of every kit in a sentence", () => {
    for (const kit of SHIPPED_KITS)
      for (const method of kit.methods)
        for (const step of method.steps) {
          const text = stepSentence(step);
          whole(text);
          expect(text).toMatch(/\.$/);
        }
    expect(
      stepSentence({ reagent: "melamine reagent", amount: 7, measure: "mL", mix: "shake", wait: 30 }),
    ).toBe("7 mL of melamine reagent, shake for 30 seconds.");
    expect(
      stepSentence({ reagent: "DPD tablet 3", amount: 1, measure: "tablets", mix: "crush", wait: 120 }),
    ).toBe("1 DPD tablet 3, crush and stir until it is gone, then wait 2 minutes.");
    expect(stepSentence({ reagent: "DPD powder", amount: 1, measure: "scoops", mix: "none" })).toBe(
      "1 level scoop of DPD powder.",
    );
  });
  it("says why it is due, or when it comes round", () => {
    const reasons: Due[] = [
      { station: "ph", due: true, reason: { because: "every-visit" } },
      { station: "ph", due: true, reason: { because: "never-tested" } },
      { station: "totalAlkalinity", due: true, reason: { because: "interval", every: 7, daysAgo: 7.2 } },
      { station: "ph", due: true, reason: { because: "out-last-time" } },
      {
        station: "cyanuricAcid",
        due: true,
        reason: { because: "after-product", product: "trichlor", grams: 900 },
      },
      { station: "acidDemand", due: true, reason: { because: "ph-off" } },
      { station: "acidDemand", due: false, nextIn: 1 },
      { station: "calciumHardness", due: false, nextIn: 12 },
      { station: "copper", due: false, nextIn: null },
    ];
    for (const due of reasons) whole(dueText(due));
    expect(dueText(reasons[2] as Due)).toBe("Due: every 7 days, last 7 days ago.");
    expect(dueText(reasons[7] as Due)).toBe("Not due for another 12 days.");
  });
  it("says why a sample size is offered", () => {
    const because: SampleAdvice["because"][] = [
      "only-size",
      "no-last-reading",
      "few-drops",
      "fine-enough",
      "finest-in-reach",
      "fewest-drops",
    ];
    for (const one of because) whole(sampleWhy({ millilitres: 10, because: one, expected: 8 }));
  });
});

const ENGLISH = "app/messages/en";

/** Every English text, as a translator has it. */
const READ = readdirSync(ENGLISH).flatMap((file) =>
  textsOf(JSON.parse(readFileSync(join(ENGLISH, file), "utf8"))),
);

function textsOf(tree: unknown): string[] {
  // Without the names of its arguments, which are the code's.
  if (typeof tree === "string") return [tree.replace(/\{\w+(?=[,}])/g, "{")];
  return typeof tree === "object" && tree !== null ? Object.values(tree).flatMap(textsOf) : [];
}

describe("the voice", () => {
  it.each([
    ["British spelling", /stabilis|sanitis|oxidis|colour|litre|cubic metre|fibreglass|\bgrey\b|practis/i],
    ["a percent sign apart from its number", /[\d}] %/],
    ["chances in their own way", /chances in|nine times in ten|as likely as not|almost surely/i],
    [
      "a private word",
      /\bout of reach\b|\bkept here\b|\bis none\b|\bit changed nothing\b|\bthe next call\b/i,
    ],
  ])("has no %s", (_, pattern) => {
    expect(READ.length).toBeGreaterThan(1800);
    expect(READ.filter((text) => pattern.test(text))).toEqual([]);
  });
});

describe("names", () => {
  it("tells a product with its strength, as a label has it", () => {
    expect(soldAs("hydrochloric-acid", 0.3145)).toBe("hydrochloric acid 31.45%");
    expect(soldAs("sodium-bicarbonate", 1)).toBe("baking soda");
  });
  it("are there for every code", () => {
    for (const quantity of QUANTITY_NAMES) {
      whole(quantityName(quantity));
      expect(quantityShort(quantity).length).toBeGreaterThan(1);
    }
    for (const station of STATION_ORDER) whole(stopName(station));
    for (const sense of SENSE_NAMES) {
      whole(words.look.senses[sense]);
      for (const trouble of SENSES[sense]) whole(words.look.troubles[trouble]);
    }
    for (const code of TRAP_CODES) whole(words.trapNames[code]);
    for (const code of CAUTION_CODES) whole(words.plan.cautions[code]);
    for (const name of ALTERNATIVES) whole(words.plan.names[name]);
  });
});

describe("a fault", () => {
  const said = (
    code: Parameters<typeof faultSentence>[0]["code"],
    field: string,
    value: string,
    limit: unknown = null,
  ) => faultSentence({ code, field, value, limit });
  it("names field, value and limit", () => {
    expect(said("too-low", "seen.count", "-3", 0)).toBe("The count is -3. The least allowed is 0.");
    expect(said("too-high", "full", "200000", 100_000)).toBe(
      "The amount in the bottle is 200000. The most allowed is 100,000.",
    );
    expect(said("unknown", "photo", "text/html", ["JPEG", "PNG"])).toMatch(
      /The photo is text\/html. Choose one of: JPEG, PNG/,
    );
    expect(said("changed", "version", "1", 2)).toMatch(/What you typed is still here/);
    expect(said("unconfirmed", "sampling", "off", ["pump-off"])).toMatch(/take it anyway/);
    expect(said("unconfirmed", "calciumHardness", "330", ["unlikely-change"])).toMatch(/answer the question/);
  });
  it("is told in the unit that was typed, and the limit it names is taken", () => {
    const told = (code: "too-low" | "too-high", field: string, value: number, limit: number) =>
      faultSentence({ code, field, value: String(value), limit }, "us");
    // -5 gal an hour is -18.93 L; 10 L are 2.642 gal, so 2.64 would be refused again.
    expect(told("too-low", "fillRate", litresFrom(-5, "us-gal"), 10)).toBe(
      "The fill rate is -5 gal. The least allowed is 2.65 gal.",
    );
    expect(told("too-low", "volume", litresFrom(1.5, "us-gal"), 20)).toMatch(/is 1\.5 gal\. .* 5\.29 gal/);
    expect(told("too-high", "litres", litresFrom(9e9, "us-gal"), 5_000_000)).toMatch(/1,320,000 gal/);
    expect(said("too-low", "volume", "3", 20)).toBe("The volume is 3. The least allowed is 20.");
  });
});

/** Does some work in another language than the tests'. */
function inAnother<Made>(name: string, work: () => Made): Made {
  const [english, other] = [LANGUAGES.en, LANGUAGES[name]];
  if (!english || !other) throw new Error(`There is no language "${name}".`);
  speak(other);
  try {
    return work();
  } finally {
    speak(english);
  }
}

describe("in Spanish", () => {
  const CODES = [
    "missing",
    "too-low",
    "too-high",
    "not-a-number",
    "not-a-whole-number",
    "too-long",
    "inconsistent",
    "unconfirmed",
    "changed",
    "key-taken",
    "not-there",
    "unknown",
    "malformed",
  ] as const;
  it.each(CODES)("the fault %s of every field is a sentence, and no English one", (code) => {
    for (const field of [...Object.keys(words.faults.fields), "sender", "tries", "sampling"])
      for (const limit of [null, 11, "text", ["one", "two"], "twice"]) {
        const fault = { code, field, value: "300", limit };
        const told = inAnother("es", () => faultSentence(fault));
        whole(told);
        if (field !== "incident") expect(told).not.toBe(faultSentence(fault));
      }
  });

  it("a doubt, a due test and a step are sentences, and no English ones", () => {
    for (const code of DOUBT_CODES)
      for (const moment of ["before", "result"] as const) {
        const doubt: Doubt = { code, moment, weight: "tell", because: "dose", numbers: { ...NUMBERS[code] } };
        const told = inAnother("es", () => doubtText(doubt, "totalAlkalinity", "metric"));
        whole(told);
        expect(told).not.toBe(doubtText(doubt, "totalAlkalinity", "metric"));
      }
    for (const kit of SHIPPED_KITS)
      for (const method of kit.methods)
        for (const step of method.steps) {
          const told = inAnother("es", () => stepSentence(step));
          whole(told);
          expect(told).not.toMatch(/swirl|drops of|scoop|\bthen\b/);
        }
    expect(
      inAnother("es", () =>
        doubtText(
          {
            code: "tube-temperature",
            moment: "before",
            weight: "tell",
            numbers: { temperature: 11.5, low: 21, high: 32 },
          },
          "cyanuricAcid",
          "metric",
        ),
      ),
    ).toBe(
      "El agua está a 11.5 °C. El tubo lee bien de 21 °C a 32 °C. Deje primero que la muestra llegue a eso.",
    );
    // Spain writes its decimals with a comma.
    expect(inAnother("es-ES", () => numberText(11_250.5, 1))).toBe("11.250,5");
    expect(inAnother("es", () => numberText(11_250.5, 1))).toBe("11,250.5");
  });

  it("every text that ships with a kit or a range set has one of its own", () => {
    const texts = new Set<string>();
    const collect = (value: unknown, name = ""): void => {
      if (typeof value === "string") {
        if (["name", "reagent", "titrant", "word", "purpose", "strip"].includes(name)) texts.add(value);
      } else if (Array.isArray(value)) for (const one of value) collect(one, name);
      else if (value && typeof value === "object")
        for (const [key, one] of Object.entries(value)) collect(one, key);
    };
    collect([SHIPPED_KITS, RANGE_SETS]);
    expect(texts.size).toBeGreaterThan(80);
    for (const text of texts) {
      expect(shipped(text)).toBe(text);
      expect(Object.keys(words.shipped), text).toContain(text);
    }
    expect(inAnother("es", () => shipped("Free chlorine by drops"))).toBe("Cloro libre por gotas");
    // What a firm wrote itself stays as written.
    expect(inAnother("es", () => shipped("Our own test"))).toBe("Our own test");
  });
});

describe("who did what", () => {
  it("is a sentence with what changed and into what", () => {
    const actions: AuditAction[] = [
      "member-invited",
      "share-made",
      "firm-changed",
      "call-skipped",
      "call-moved",
      "stock-counted",
    ];
    for (const action of actions) whole(auditText({ action, detail: { name: "Terrace pool" } }));
    expect(
      auditText({
        action: "basin-changed",
        detail: {
          name: "Terrace pool",
          changes: {
            litres: { was: 38_000, became: 41_500 },
            season: { was: null, became: { from: "05-01", to: "09-30" } },
            callDays: { was: [1, 3], became: [] },
          },
        },
      }),
    ).toBe(
      "Changed the basin Terrace pool (liters: 38000 → 41500; season: nothing → from 05-01, to 09-30; visit days: 1, 3 → nothing)",
    );
    expect(auditText({ action: "book-imported", detail: { name: "old.csv", count: 12 } })).toBe(
      "Imported old.csv, 12 visits",
    );
  });
});

describe("what keeps people from harm", () => {
  const write: Parameters<typeof bathingReason>[1] = {
    value: (_, value) => `${value} ppm`,
    limit: (_, value) => `${value} ppm`,
    name: quantityName,
  };
  const reasons: BathingReason[] = [
    ...(Object.keys(CLOSED_FOR) as ClosingTrouble[]).map((trouble) => ({ code: "seen" as const, trouble })),
    ...CLOSERS.map((what) => ({ code: "since" as const, what })),
    ...INCIDENT_KINDS.map((incident) => ({ code: "incident" as const, incident })),
    { code: "not-looked" },
    { code: "not-read", quantity: "ph" },
    { code: "off-scale", quantity: "freeChlorine", value: 5 },
  ];
  it("is a whole sentence for every reason, and none leaves a cover off or opens by a clock", () => {
    for (const reason of reasons) whole(bathingReason(reason, write));
    for (const trouble of Object.keys(CLOSED_FOR) as ClosingTrouble[]) whole(words.safety.seenDo[trouble]);
    for (const code of CAUTION_CODES) {
      expect(words.plan.cautions[code]).not.toMatch(/cover off/i);
      whole(words.plan.cautions[code]);
    }
    const said = JSON.stringify(words.customer) + JSON.stringify(words.plan.tasks) + words.visit.rinse;
    expect(said).not.toMatch(/cover off|down the drain/i);
    expect(words.customer.swimNot).toMatch(/only after a test/);
  });
  it("puts help before the water, and names who decides", () => {
    for (const kind of INCIDENT_KINDS) {
      const { name, steps, over } = words.incidentTexts[kind];
      whole(name);
      whole(over);
      for (const step of steps) whole(step);
    }
    for (const kind of ["chemical-eyes", "chemical-swallowed"] as const)
      expect(words.incidentTexts[kind].steps.join(" ")).toMatch(/poison center/);
    expect(words.incidentTexts["chemical-swallowed"].steps[0]).toMatch(/not make the person vomit/);
    expect(words.incidentTexts.legionella.over).toMatch(/health authority/);
  });
  it("says why an incident is not over yet, with the numbers", () => {
    const said = (limit: unknown) =>
      faultSentence({ code: "unconfirmed", field: "incident", value: "glass", limit });
    expect(said(["too-soon", 90])).toBe("Too soon: 1 h 30 min more.");
    expect(said(["not-held", 2, 7.5])).toMatch(/2 ppm or more and pH 7.5 or less/);
    expect(said(["stabiliser-too-high", 15])).toMatch(/over 15 ppm/);
  });
});

describe("a task", () => {
  it("says why it is due", () => {
    for (const task of TASKS)
      for (const because of ["heat", "interval", "never-done", "season"] as const)
        whole(taskText({ task, because, every: 7 }));
    expect(taskText({ task: "shock", because: "heat", every: 7 })).toBe("Shock: every 7 days in heat");
  });
});

describe("what does not hold in a week", () => {
  it("tells a day off once, and how many minutes are too many", () => {
    const names = { basin: (id: string) => id, who: (id: string) => id };
    const day = "2026-12-03";
    const off = (basin: string) => ({ rule: "off", person: "Jory", day, basin }) as const;
    expect(
      ruleTexts(
        [
          off("Fern spa"),
          { rule: "hours", person: "Wren", day, minutes: 133, most: 120 },
          off("Slate spa"),
          { rule: "fewest", basin: "Splash pad", day, calls: 1, fewest: 2 },
        ],
        names,
      ),
    ).toEqual([
      "Jory does not work on Thu Dec 3, but has Fern spa; Slate spa.",
      "Wren, Thu Dec 3: 13 min more work and driving than 2 hours allow.",
      "Splash pad: only 1 stop instead of 2. Enter a contract to allow fewer.",
    ]);
  });
});
