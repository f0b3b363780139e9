// npm run bench:all: every benchmark in its smallest form, one after another, in some minutes. It ends with 1 when one
// of them does, or cannot be run. Figures to quote come from each one whole.
import { spawn } from "node:child_process";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { ensureBuild, ensureDebian, ensureModules, ROOT } from "./lib/provision.mjs";
import { main, say } from "./lib/terminal.mjs";

const { scripts } = JSON.parse(readFileSync(join(ROOT, "package.json"), "utf8"));
const ALL = Object.keys(scripts).filter((name) => name.startsWith("bench:") && name !== "bench:all");

const run = (name) =>
  new Promise((resolve) => {
    const env = { ...process.env, BENCH_SMALL: "1" };
    const child = spawn("npm", ["run", "-s", name], {
      cwd: ROOT,
      stdio: ["ignore", "inherit", "inherit"],
      env,
    });
    child.on("exit", (code) => resolve(code ?? 1));
  });

main(async () => {
  await ensureDebian({ browser: true });
  await ensureModules();
  await ensureBuild();
  const wrong = [];
  for (const name of ALL) {
    const begun = Date.now();
    const code = await run(name);
    say(
      `${name}: ${code === 0 ? "fine" : `ended with ${code}`} in ${((Date.now() - begun) / 1000).toFixed(0)} s`,
    );
    if (code !== 0) wrong.push(name);
  }
  say(wrong.length === 0 ? `${ALL.length} benchmarks ran.` : `Wrong: ${wrong.join(", ")}`);
  process.exitCode = wrong.length > 0 ? 1 : 0;
});
