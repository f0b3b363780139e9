// npm run coverage: how much of the core its tests reach, told by folder. Server and pages are tested as a build, in
// processes of their own, where nothing counts lines.
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, relative } from "node:path";
import { ensureDebian, ensureModules, ROOT } from "./lib/provision.mjs";
import { main, say } from "./lib/terminal.mjs";

main(async () => {
  await ensureDebian({ browser: false });
  await ensureModules();
  const out = mkdtempSync(join(tmpdir(), "pelagon-coverage-"));
  try {
    execFileSync(
      join(ROOT, "node_modules", ".bin", "vitest"),
      [
        "run",
        "--project=core",
        "--coverage.enabled",
        "--coverage.provider=v8",
        "--coverage.reporter=json-summary",
        `--coverage.reportsDirectory=${out}`,
        "--coverage.include=core/**/*.ts",
        "--coverage.exclude=**/*.{test,fixtures,schema}.ts",
      ],
      { cwd: ROOT, stdio: ["ignore", "ignore", "inherit"] },
    );
    const { total: _, ...files } = JSON.parse(readFileSync(join(out, "coverage-summary.json"), "utf8"));
    const folders = new Map();
    for (const [file, { lines, branches }] of Object.entries(files)) {
      const [root, folder = ""] = relative(ROOT, file).split("/");
      const name = folder.endsWith(".ts") ? root : `${root}/${folder}`;
      const of = folders.get(name) ?? { lines: 0, linesCovered: 0, branches: 0, branchesCovered: 0 };
      of.lines += lines.total;
      of.linesCovered += lines.covered;
      of.branches += branches.total;
      of.branchesCovered += branches.covered;
      folders.set(name, of);
    }
    const percent = (part, whole) => (whole === 0 ? "" : `${((100 * part) / whole).toFixed(1)} %`);
    say("| folder | lines | reached | branches reached |");
    say("| --- | --- | --- | --- |");
    for (const [name, of] of [...folders].sort(([a], [b]) => a.localeCompare(b)))
      say(
        `| ${name} | ${of.lines} | ${percent(of.linesCovered, of.lines)} | ${percent(of.branchesCovered, of.branches)} |`,
      );
  } finally {
    rmSync(out, { recursive: true, force: true });
  }
});
