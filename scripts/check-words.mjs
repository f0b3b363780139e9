// Holds that every word a user reads stands in app/messages, and that every message is used. Part of npm test.
import { join, relative } from "node:path";
import ts from "typescript";
import { ROOT } from "./lib/provision.mjs";
import { main, say } from "./lib/terminal.mjs";

const MESSAGES = join(ROOT, "app", "messages", "compiled", "messages.d.ts");

/** Attributes that somebody reads or hears. */
const SPOKEN = /^(aria-label|aria-description|title|placeholder|alt|label|heading|summary)$/;
/** Calls and classes whose texts are for whoever runs the server, or for programs. */
const TECHNICAL =
  /\b(Error|Response|StartupError|RegExp|console|log|send|write|fetch|setHeader|querySelector\w*|test|exec|match|sql|getItem|setItem|route|URL)\b/;
const PLAIN_ATTRIBUTES =
  /^(className|style|d|transform|to|href|src|action|id|key|name|value|type|role|points|content)$/;

main(async () => {
  const { config } = ts.readConfigFile(join(ROOT, "tsconfig.json"), ts.sys.readFile);
  const { options, fileNames } = ts.parseJsonConfigFileContent(config, ts.sys, ROOT);
  const program = ts.createProgram(fileNames, options);
  // Gives every node its parent.
  program.getTypeChecker();
  const sources = program.getSourceFiles().filter(({ fileName }) => {
    const path = relative(ROOT, fileName);
    // What the server tells whoever runs it is no page.
    if (path.startsWith("app/web/")) return false;
    return (
      path.startsWith("app/") && !path.startsWith("app/messages/") && !/\.(test|fixtures)\.tsx?$/.test(path)
    );
  });
  const wrong = [...sources.flatMap(strayWords), ...unusedMessages(program, sources)];
  for (const one of wrong) say(one);
  process.exitCode = wrong.length > 0 ? 1 : 0;
});

/** Words that stand in a component or a function: sentences, texts between tags, and words joined with values. */
function strayWords(file) {
  const found = [];
  const note = (node, said) => {
    const { line } = file.getLineAndCharacterOfPosition(node.getStart());
    found.push(`${relative(ROOT, file.fileName)}:${line + 1}: ${said}: ${node.getText().slice(0, 80)}`);
  };
  const isWithin = (node, test) => {
    for (let at = node.parent; at; at = at.parent) if (test(at)) return true;
    return false;
  };
  const isTechnical = (node) =>
    isWithin(
      node,
      (at) =>
        ts.isImportDeclaration(at) ||
        ts.isTypeNode(at) ||
        ts.isTaggedTemplateExpression(at) ||
        ((ts.isCallExpression(at) || ts.isNewExpression(at)) && TECHNICAL.test(at.expression.getText())) ||
        (ts.isJsxAttribute(at) && PLAIN_ATTRIBUTES.test(at.name.getText())),
    );
  const visit = (node) => {
    // A key on a cap is drawn as it is.
    if (ts.isJsxText(node) && /\p{L}{2}/u.test(node.text)) note(node, "a text between tags");
    if (
      ts.isIdentifier(node) &&
      node.text === "words" &&
      ts.isPropertyAccessExpression(node.parent) &&
      node.parent.expression === node &&
      !isWithin(node, ts.isFunctionLike)
    )
      note(node.parent, "read when its file is, before there is a language");
    if (ts.isStringLiteral(node) || ts.isNoSubstitutionTemplateLiteral(node)) {
      const isSpoken = ts.isJsxAttribute(node.parent) && SPOKEN.test(node.parent.name.getText());
      const isSentence = /^\p{Lu}\p{Ll}+ .*\p{L}{2}|\p{L}{2,} \p{L}{2,}.*[.?!]$/u.test(node.text);
      if ((isSpoken && /\p{L}/u.test(node.text)) || (isSentence && !isTechnical(node)))
        note(node, "a text in code");
    }
    if (ts.isTemplateExpression(node) && !isTechnical(node)) {
      const texts = [node.head.text, ...node.templateSpans.map(({ literal }) => literal.text)];
      // A word with blanks at both sides, or one that ends in a mark of a sentence.
      if (texts.some((text) => /\s\p{L}{2,}\s|^\p{L}{2,}\s.*\s$|\p{L}{2,}[.?!]\s/u.test(text)))
        note(node, "a sentence put together");
    }
    ts.forEachChild(node, visit);
  };
  visit(file);
  return found;
}

/** Messages that no file reads. A table that is asked by a value is used as a whole. */
function unusedMessages(program, sources) {
  const checker = program.getTypeChecker();
  const types = program.getSourceFile(MESSAGES);
  if (!types) return ["app/messages/compiled/messages.d.ts is not there: run npm run messages"];
  const used = new Set();
  const mark = (symbol) => {
    // What may be one message or another is both of them.
    for (const root of symbol ? checker.getRootSymbols(symbol) : [])
      for (const declaration of root.declarations ?? [])
        if (declaration.getSourceFile() === types) used.add(declaration);
  };
  /** All below the type of an expression. */
  const markAll = (node) => {
    for (const property of checker.getTypeAtLocation(node).getProperties()) {
      const [declaration] = property.declarations ?? [];
      if (declaration?.getSourceFile() !== types || used.has(declaration)) continue;
      used.add(declaration);
      const visit = (below) => {
        if (ts.isPropertySignature(below)) used.add(below);
        ts.forEachChild(below, visit);
      };
      visit(declaration);
    }
  };
  for (const source of sources) {
    // It hands out any area by its name.
    if (source.fileName.endsWith("app/words/language.ts")) continue;
    const visit = (node) => {
      if (ts.isPropertyAccessExpression(node)) mark(checker.getSymbolAtLocation(node.name));
      else if (ts.isElementAccessExpression(node)) {
        if (ts.isStringLiteralLike(node.argumentExpression))
          mark(checker.getTypeAtLocation(node.expression).getProperty(node.argumentExpression.text));
        else markAll(node.expression);
      } else if (ts.isBindingElement(node) && ts.isObjectBindingPattern(node.parent)) {
        const name = (node.propertyName ?? node.name).getText();
        mark(checker.getTypeAtLocation(node.parent).getProperty(name));
      } else if (ts.isSpreadAssignment(node) || ts.isSpreadElement(node)) markAll(node.expression);
      else if (ts.isCallExpression(node))
        for (const argument of node.arguments) if (isTable(argument)) markAll(argument);
      ts.forEachChild(node, visit);
    };
    const isTable = (node) =>
      (ts.isPropertyAccessExpression(node) || ts.isIdentifier(node)) &&
      checker
        .getTypeAtLocation(node)
        .getProperties()
        .some(({ declarations }) => declarations?.[0]?.getSourceFile() === types);
    visit(source);
  }
  const unused = [];
  const walk = (node, path) => {
    if (ts.isPropertySignature(node)) {
      const key = [...path, node.name.text];
      const isBranch = node.type && ts.isTypeLiteralNode(node.type);
      if (isBranch) ts.forEachChild(node.type, (below) => walk(below, key));
      else if (!used.has(node)) unused.push(`app/messages/en: ${key.join(".")}: is not used`);
    } else ts.forEachChild(node, (below) => walk(below, path));
  };
  walk(types, []);
  return unused;
}
