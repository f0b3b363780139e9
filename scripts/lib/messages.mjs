// Messages of every language, from files that a translator works with to what the application runs.
//
// app/messages/<locale>/*.json hold ICU MessageFormat. app/messages/compiled gets one module a locale, whose
// messages are texts and functions, and one file of types made from the English. What is broken stops it, with
// file, key and place.
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import MessageFormat from "@messageformat/core";
import { parse } from "@messageformat/parser";
import * as runtime from "@messageformat/runtime";

/** The language that the types are made from. */
const BASE = "en";

/**
 * The language that nobody speaks, made from the English one: accented, a third longer, each message between
 * marks. A page read in it (`?language=en-XA`) shows what is in no message, and what has no room to grow.
 */
const PSEUDO = "en-XA";

/** @typedef {{ file: string, key: string, text: string }} Message one text with the place it stands at */

/**
 * Compiles all languages of a folder.
 * @param {string} folder holds one folder a locale
 * @param {string} [out] where modules and types go
 * @throws {Error} naming every file, key and place that is wrong
 */
export function compileMessages(folder, out = join(folder, "compiled")) {
  const wrong = [];
  const languages = readdirSync(folder, { withFileTypes: true })
    .filter((entry) => entry.isDirectory() && existsSync(join(folder, entry.name, "locale.json")))
    .map(({ name }) => readLanguage(folder, name, wrong));
  const base = languages.find(({ name }) => name === BASE);
  if (!base) throw new Error(`${folder}: no folder "${BASE}"`);
  const args = new Map([...base.messages].map(([key, message]) => [key, argumentsOf(message, wrong)]));
  for (const language of languages) checkAgainst(language, languages, args, wrong);
  if (wrong.length > 0) throw new Error(`Messages cannot be used:\n  ${wrong.join("\n  ")}`);

  mkdirSync(out, { recursive: true });
  const written = new Set();
  const write = (name, text) => {
    written.add(name);
    // A file that did not change keeps its time, and so the build its age.
    const path = join(out, name);
    if (!existsSync(path) || readFileSync(path, "utf8") !== text) writeFileSync(path, text);
  };
  for (const language of languages) {
    const below = language.base ? languages.find(({ name }) => name === language.base) : undefined;
    const tree = below ? laidOver(below.tree, language.tree) : language.tree;
    write(`messages-${language.name}.js`, moduleOf(language, tree));
  }
  write("messages.d.ts", typesOf(base.tree, args));
  write(
    `messages-${PSEUDO}.js`,
    moduleOf({ name: PSEUDO, tag: PSEUDO, ownName: PSEUDO }, mapped(base.tree, pseudo)),
  );
  const names = [...languages.map(({ name }) => name), PSEUDO];
  const variable = (name) => name.replaceAll("-", "_");
  // All languages, for a server; and where a browser finds its own.
  write(
    "all.js",
    tableOf(
      "LANGUAGES",
      names,
      variable,
      (name) => `import * as ${variable(name)} from "./messages-${name}.js";`,
    ),
  );
  write(
    "all.d.ts",
    'import type { Language } from "../../words/language";\nexport const LANGUAGES: Readonly<Record<string, Language>>;\n',
  );
  write(
    "addresses.js",
    tableOf(
      "ADDRESSES",
      names,
      variable,
      (name) => `import ${variable(name)} from "./messages-${name}.js?url";`,
    ),
  );
  write("addresses.d.ts", "export const ADDRESSES: Readonly<Record<string, string>>;\n");
  for (const name of readdirSync(out)) if (!written.has(name)) rmSync(join(out, name));
}

const tableOf = (table, names, variable, importOf) =>
  `${names.map(importOf).join("\n")}\nexport const ${table} = { ${names
    .map((name) => `${JSON.stringify(name)}: ${variable(name)}`)
    .join(", ")} };\n`;

function readLanguage(folder, name, wrong) {
  const {
    tag,
    base = null,
    name: ownName,
  } = JSON.parse(readFileSync(join(folder, name, "locale.json"), "utf8"));
  const tree = {};
  const messages = new Map();
  for (const file of readdirSync(join(folder, name)).sort()) {
    if (!file.endsWith(".json") || file === "locale.json") continue;
    const where = `${name}/${file}`;
    let areas;
    try {
      areas = JSON.parse(readFileSync(join(folder, name, file), "utf8"));
    } catch (fault) {
      wrong.push(`${where}: ${fault.message}`);
      continue;
    }
    for (const [area, content] of Object.entries(areas)) {
      if (area in tree) wrong.push(`${where}: ${area}: stands in another file too`);
      tree[area] = content;
    }
    for (const [key, text] of leaves(areas)) {
      if (typeof text === "string") messages.set(key, { file: where, key, text });
      else wrong.push(`${where}: ${key}: is no text`);
    }
  }
  return { name, tag, base, ownName, tree, messages };
}

/** Every text of a tree with its key: "round.sorting.how", "sampling.guide.0". */
function leaves(tree, path = "") {
  if (typeof tree !== "object" || tree === null) return [[path, tree]];
  return Object.entries(tree).flatMap(([name, below]) => leaves(below, path ? `${path}.${name}` : name));
}

function laidOver(below, above) {
  if (typeof above !== "object" || above === null || Array.isArray(above)) return above;
  const whole = { ...below };
  for (const [name, one] of Object.entries(above)) whole[name] = laidOver(below[name], one);
  return whole;
}

/**
 * What a message takes, by name. `{x}` is a text, `{x, number}` and `{x, plural, …}` a number, `{x, select, …}`
 * one of its cases; a case `null` says that there may be nothing, `true` that it is a yes or no. Where `other`
 * holds something beside named cases, any text may come.
 * @param {Message} message
 * @returns {Map<string, string>} TypeScript types
 */
function argumentsOf(message, wrong) {
  const found = new Map();
  const note = (name, what) => found.set(name, { ...found.get(name), ...what });
  const walk = (tokens) => {
    for (const token of tokens) {
      if (token.type === "argument") note(token.arg, { isText: true });
      if (token.type === "function") {
        if (token.key !== "number")
          wrong.push(at(message, token, `"${token.key}" is not used here: pass it as a text`));
        note(token.arg, { isNumber: true });
      }
      if (token.type === "plural" || token.type === "selectordinal") note(token.arg, { isNumber: true });
      if (token.type === "select") {
        const keys = token.cases.map(({ key }) => key).filter((key) => key !== "other");
        const named = keys.filter((key) => key !== "null" && key !== "true");
        const rest = token.cases.find(({ key }) => key === "other");
        note(token.arg, {
          ...(keys.includes("null") ? { isNullable: true } : {}),
          ...(keys.includes("true") ? { isYesOrNo: true } : {}),
          ...(named.length > 0 && (rest?.tokens.length ?? 0) > 0 ? { isText: true } : {}),
          cases: [...new Set([...(found.get(token.arg)?.cases ?? []), ...named])],
        });
      }
      for (const { tokens: inner } of token.cases ?? []) walk(inner);
    }
  };
  walk(parsed(message, wrong));
  return new Map(
    [...found].map(([name, { isText, isNumber, isNullable, isYesOrNo, cases = [] }]) => {
      const type = isNumber
        ? "number"
        : isYesOrNo
          ? "boolean"
          : cases.length > 0 && !isText
            ? cases.map((one) => JSON.stringify(one)).join(" | ")
            : "string";
      return [name, isNullable ? `${type} | null` : type];
    }),
  );
}

function parsed(message, wrong) {
  try {
    return parse(message.text, { strict: true });
  } catch (fault) {
    // The parser shows the text with a mark below; one line says where.
    const [said] = fault.message.split("\n");
    const place = /line (\d+) col (\d+)/.exec(fault.message);
    wrong.push(`${message.file}: ${message.key}: ${place ? `column ${place[2]}: ` : ""}${said}`);
    return [];
  }
}

const at = ({ file, key }, { ctx }, said) => `${file}: ${key}: column ${ctx.col}: ${said}`;

function isLocale(tag) {
  try {
    return Intl.getCanonicalLocales(tag).length === 1;
  } catch {
    return false;
  }
}

/** A language has every message of the English one, a layer some; none has others, or takes other arguments. */
function checkAgainst(language, languages, args, wrong) {
  const { name, messages, base } = language;
  if (!isLocale(language.tag)) wrong.push(`${name}/locale.json: "${language.tag}" is no locale`);
  if (base && !languages.some((one) => one.name === base && !one.base))
    wrong.push(`${name}/locale.json: there is no language "${base}" below it`);
  for (const [key, message] of messages) {
    const wanted = args.get(key);
    if (!wanted) {
      wrong.push(`${message.file}: ${key}: is not in ${BASE}`);
      continue;
    }
    const taken = name === BASE ? wanted : argumentsOf(message, wrong);
    for (const one of taken.keys())
      if (!wanted.has(one)) wrong.push(`${message.file}: ${key}: takes "${one}", which ${BASE} does not`);
    for (const [one, type] of wanted)
      if (!taken.has(one) && (type === "string" || type === "number"))
        wrong.push(`${message.file}: ${key}: leaves out "${one}"`);
  }
  if (base) return;
  const { messages: wanted } = languages.find((one) => one.name === BASE);
  for (const [key, { file }] of wanted)
    if (!messages.has(key)) wrong.push(`${name}: ${key}: is missing (in ${file})`);
}

const mapped = (node, change) =>
  typeof node === "string"
    ? change(node)
    : Array.isArray(node)
      ? node.map((one) => mapped(one, change))
      : Object.fromEntries(Object.entries(node).map(([name, below]) => [name, mapped(below, change)]));

const PLAIN = "aeioucnyAEIOUCNYszSZ";
const ACCENTS = "àéîöûçñýÀÉÎÖÛÇÑÝšžŠŽ";

/** A message as it would be in a longer language: "Save" is "⟦Šàvéö⟧". Its arguments stay as they are. */
function pseudo(text) {
  if (text.trim() === "") return text;
  return `⟦${inPseudo(parse(text, { strict: true }))}⟧`;
}

/** Accented, and each word a third longer. */
const longer = (text) =>
  text.replace(
    /[a-z]+/gi,
    (word) =>
      word.replace(/./g, (letter) => ACCENTS[PLAIN.indexOf(letter)] ?? letter) +
      "ö".repeat(Math.floor(word.length / 3)),
  );

const inPseudo = (tokens) =>
  tokens
    .map((token) => {
      if (token.type === "content") return longer(token.value).replace(/[{}#]/g, "'$&'");
      if (token.type === "octothorpe") return "#";
      if (token.type === "argument") return `{${token.arg}}`;
      if (token.type === "function") return `{${token.arg}, ${token.key}}`;
      const cases = token.cases.map(
        ({ key, tokens: inner }) => `${/^\d+$/.test(key) ? `=${key}` : key} {${inPseudo(inner)}}`,
      );
      return `{${token.arg}, ${token.type}, ${cases.join(" ")}}`;
    })
    .join("");

/** The module of a locale: its messages, with the few functions that they call. It imports nothing. */
function moduleOf({ name, tag, ownName }, tree) {
  const language = name.split("-")[0];
  const format = new MessageFormat(language, { strictPluralKeys: true, returnType: "string" });
  const source = (text, key) => {
    if (parse(text, { strict: true }).every(({ type }) => type === "content"))
      return JSON.stringify(format.compile(text)({}));
    try {
      return format.compile(text).toString().replaceAll(`number("${language}"`, `number("${tag}"`);
    } catch (fault) {
      throw new Error(`Messages cannot be used:\n  ${name}: ${key}: ${fault.message}`);
    }
  };
  const emit = (node, key) => {
    if (typeof node === "string") return source(node, key);
    if (Array.isArray(node)) return `[${node.map((one, index) => emit(one, `${key}.${index}`)).join(",")}]`;
    return `{${Object.entries(node)
      .map(([one, below]) => `${JSON.stringify(one)}:${emit(below, key ? `${key}.${one}` : one)}`)
      .join(",\n")}}`;
  };
  return [
    `// Made from app/messages/${name} by scripts/lib/messages.mjs.`,
    runtime._nf.toString().replace(/^\s*\/\/.*$/gm, ""),
    runtime.number.toString(),
    runtime.plural.toString(),
    runtime.select.toString(),
    `const ${language} = ${format.resolvedOptions().plurals[0].getPlural.toString()};`,
    `export const locale = ${JSON.stringify(tag)};`,
    `export const language = ${JSON.stringify(name)};`,
    `export const ownName = ${JSON.stringify(ownName)};`,
    `export const messages = ${emit(tree, "")};`,
    "",
  ].join("\n");
}

/** The types, from the English: each message with its text above. */
function typesOf(tree, args) {
  const type = (node, key, indent) => {
    if (typeof node === "string") {
      const taken = [...(args.get(key) ?? [])];
      if (taken.length === 0) return "string";
      return `(values: { ${taken.map(([name, one]) => `${name}: ${one}`).join("; ")} }) => string`;
    }
    if (Array.isArray(node))
      return `readonly [${node.map((one, index) => type(one, `${key}.${index}`, indent)).join(", ")}]`;
    return `{\n${Object.entries(node)
      .map(([name, below]) => {
        const path = key ? `${key}.${name}` : name;
        const doc = typeof below === "string" ? `${indent}/** ${below.replaceAll("*/", "* /")} */\n` : "";
        return `${doc}${indent}readonly ${JSON.stringify(name)}: ${type(below, path, `${indent}  `)};\n`;
      })
      .join("")}${indent.slice(2)}}`;
  };
  return `// Made from app/messages/${BASE} by scripts/lib/messages.mjs.\nexport interface Messages ${type(tree, "", "  ")}\n`;
}
