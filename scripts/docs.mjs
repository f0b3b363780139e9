// npm run docs: writes docs/api.md from the comments of the core's public functions.
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { ensureModules, ROOT } from "./lib/provision.mjs";
import { main, say } from "./lib/terminal.mjs";

const HEAD = `# The core's functions

Made by \`npm run docs\` from their comments. They are imported from \`#core\`; types stand beside them in the code.
Masses in grams, volumes in liters, concentrations in mg/L, times in ms since 1970, unless a function says otherwise.
`;

main(async () => {
  await ensureModules();
  const out = mkdtempSync(join(tmpdir(), "pelagon-docs-"));
  try {
    execFileSync(join(ROOT, "node_modules", ".bin", "typedoc"), ["--out", out], {
      cwd: ROOT,
      stdio: "inherit",
    });
    const [, functions = ""] = readFileSync(join(out, "api.md"), "utf8").split(/^## Functions$/m);
    const [only = ""] = functions.split(/^## /m);
    const file = join(ROOT, "docs", "api.md");
    // Types are not told of here: a link to one would lead nowhere.
    const named = new Set([...only.matchAll(/^### (\w+)\(\)$/gm)].map(([, name]) => name.toLowerCase()));
    const text = only.replace(/\[(`\w+`)\]\(#(\w+)\)/g, (link, name, to) => (named.has(to) ? link : name));
    writeFileSync(file, `${HEAD}${text.replace(/^###/gm, "##").trimEnd()}\n`);
    say(`${file}: ${named.size} functions`);
  } finally {
    rmSync(out, { recursive: true });
  }
});
