import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import { afterAll, describe, expect, it } from "vitest";
import { compileMessages } from "../../scripts/lib/messages.mjs";
import type { Language } from "../words";

const folders: string[] = [];
afterAll(() => {
  for (const folder of folders) rmSync(folder, { recursive: true, force: true });
});

type Tree = { [name: string]: string | readonly string[] | Tree };

/** A folder of messages; each language with its files. */
function messages(languages: Record<string, Record<string, Tree>>): string {
  const folder = mkdtempSync(join(tmpdir(), "pelagon-messages-"));
  folders.push(folder);
  for (const [name, files] of Object.entries(languages)) {
    mkdirSync(join(folder, name));
    writeFileSync(join(folder, name, "locale.json"), JSON.stringify({ tag: name, name, ...files.locale }));
    for (const [file, tree] of Object.entries(files))
      if (file !== "locale") writeFileSync(join(folder, name, `${file}.json`), JSON.stringify(tree));
  }
  return folder;
}

/** What stops a folder from being compiled. */
function wrong(folder: string): string {
  try {
    compileMessages(folder);
  } catch (fault) {
    return String(fault);
  }
  return "";
}

async function compiled(folder: string, language: string): Promise<Language> {
  compileMessages(folder);
  return import(pathToFileURL(join(folder, "compiled", `messages-${language}.js`)).href);
}

const STOPS = "{count, plural, one {# stop} other {# stops}}";

describe("the catalogue", () => {
  it("makes functions of messages with arguments, and the types that they take", async () => {
    const folder = messages({
      en: {
        round: {
          round: {
            title: "Round, and it's plain",
            stops: STOPS,
            side: "{side, select, low {below} high {above} other {}} {limit}",
            note: "{why, select, null {no reason} other {reason: {why}}}",
            every: "{days, select, null {never} other {{days, plural, =1 {daily} other {every # days}}}}",
            today: "{today, select, true {today} other {later}}",
            list: ["one", "two"],
          },
        },
      },
    });
    const { messages: said } = (await compiled(folder, "en")) as unknown as {
      messages: { round: Record<string, (values: object) => string> };
    };
    const { round } = said;
    expect(round.title).toBe("Round, and it's plain");
    expect(round.stops?.({ count: 1 })).toBe("1 stop");
    expect(round.stops?.({ count: 1250 })).toBe("1,250 stops");
    expect(round.side?.({ side: "high", limit: "7.8" })).toBe("above 7.8");
    expect(round.note?.({ why: null })).toBe("no reason");
    expect(round.note?.({ why: "rain" })).toBe("reason: rain");
    expect(round.every?.({ days: null })).toBe("never");
    expect(round.every?.({ days: 1 })).toBe("daily");
    expect(round.every?.({ days: 3 })).toBe("every 3 days");
    expect(round.today?.({ today: true })).toBe("today");
    expect(round.today?.({ today: false })).toBe("later");
    const types = readFileSync(join(folder, "compiled", "messages.d.ts"), "utf8");
    for (const type of [
      '"title": string;',
      '"stops": (values: { count: number }) => string;',
      '"side": (values: { side: "low" | "high"; limit: string }) => string;',
      '"note": (values: { why: string | null }) => string;',
      '"every": (values: { days: number | null }) => string;',
      '"today": (values: { today: boolean }) => string;',
      '"list": readonly [string, string];',
    ])
      expect(types).toContain(type);
  });

  it("names file, key and place of what is broken", () => {
    const text = "{count, plural, one {# stop}";
    expect(wrong(messages({ en: { round: { round: { stops: text } } } }))).toMatch(
      /en\/round\.json: round\.stops: .*(column \d+|line \d+ col \d+)/,
    );
    expect(wrong(messages({ en: { a: { a: { x: "{n, date}" } } } }))).toMatch(/en\/a\.json: a\.x: column 1/);
    expect(
      wrong(
        messages({
          en: { a: { a: { x: STOPS } } },
          es: { a: { a: { x: "{count, plural, one {# parada}}" } } },
        }),
      ),
    ).toMatch(/es.*a\.x.*other/i);
    const folder = messages({ en: { a: { a: { x: "x" } } } });
    writeFileSync(join(folder, "en", "b.json"), '{ "b": ');
    expect(wrong(folder)).toMatch(/en\/b\.json: /);
    writeFileSync(join(folder, "en", "b.json"), '{ "a": { "y": "y" } }');
    expect(wrong(folder)).toMatch(/en\/b\.json: a: stands in another file too/);
  });

  it("holds every language to the keys and arguments of the English one", () => {
    const en = { a: { a: { x: "{name} has {count, number}", y: "y" } } };
    expect(wrong(messages({ en, es: { a: { a: { x: "{name}: {count, number}" } } } }))).toMatch(
      /es: a\.y: is missing \(in en\/a\.json\)/,
    );
    expect(wrong(messages({ en, es: { a: { a: { x: "{name}", y: "y", z: "z" } } } }))).toMatch(
      /a\.x: leaves out "count"\s+.*a\.z: is not in en/,
    );
    expect(
      wrong(messages({ en, es: { a: { a: { x: "{nombre}: {name}, {count, number}", y: "y" } } } })),
    ).toMatch(/es\/a\.json: a\.x: takes "nombre", which en does not/);
    expect(wrong(messages({ en, xx: { locale: { tag: "no_locale" }, ...en } }))).toMatch(
      /xx\/locale\.json: "no_locale" is no locale/,
    );
  });

  it("lays a thin layer over its language, with its own way of writing numbers", async () => {
    const folder = messages({
      en: { locale: { tag: "en-US" }, a: { a: { color: "color", amount: "{n, number} L", same: "same" } } },
      "en-GB": { locale: { tag: "de-DE", base: "en" }, a: { a: { color: "colour" } } },
    });
    const { messages: said } = (await compiled(folder, "en-GB")) as unknown as {
      messages: { a: { color: string; same: string; amount(values: { n: number }): string } };
    };
    expect(said.a.color).toBe("colour");
    expect(said.a.same).toBe("same");
    expect(said.a.amount({ n: 1250 })).toBe("1.250 L");
    expect(wrong(messages({ en: { a: { a: "a" } }, "en-GB": { locale: { base: "xx" } } }))).toMatch(
      /en-GB\/locale\.json: there is no language "xx" below it/,
    );
  });

  it("writes nothing anew that did not change, so that a build keeps its age", () => {
    const folder = messages({ en: { a: { a: "a" } } });
    compileMessages(folder);
    const before = readFileSync(join(folder, "compiled", "messages-en.js"), "utf8");
    cpSync(join(folder, "compiled"), join(folder, "before"), { recursive: true, preserveTimestamps: true });
    compileMessages(folder);
    expect(readFileSync(join(folder, "compiled", "messages-en.js"), "utf8")).toBe(before);
  });
});
