// Keeps a web server and its database up: whichever falls is started again, and told when it cannot be.
import { spawn } from "node:child_process";
import { join } from "node:path";
import { setTimeout as delay } from "node:timers/promises";
import { ROOT } from "./provision.mjs";
import { say } from "./terminal.mjs";

/** How often the postmaster is looked after. Milliseconds */
const LOOK_MS = 200;
/** Waits before one start after another that fell again. Milliseconds */
const BACKOFF = [0, 200, 500, 1000, 2000, 5000, 10_000, 20_000];
/** What stood for so long has come up, and falls anew: only what falls again and again at once is given up. */
const STOOD_MS = 3000;
/** A web server that is told to stop finishes what it does; one that hangs is not waited for. Milliseconds */
const LAST_WORDS_MS = 15_000;

/** A ladder of waits for what came up at `since` and fell now; it begins anew when that stood; null at its end. */
function patience() {
  let falls = 0;
  return (since) => {
    if (Date.now() - since > STOOD_MS) falls = 0;
    return BACKOFF[falls++] ?? null;
  };
}

/**
 * Runs until it is told to stop, or until what fell does not come up any more.
 * @returns the exit code: 0 when it was told to stop
 */
export async function keepUp(cluster, script, environment) {
  let stopping = false;
  let atOnce = null;
  let web = null;
  let gaveUp = null;
  const ended = new Promise((resolve) => {
    gaveUp = (why) => {
      if (why) process.stderr.write(`\n${why}\n`);
      resolve(why ? 1 : 0);
    };
  });

  for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"])
    process.on(signal, () => {
      if (stopping) {
        atOnce ??= endAtOnce(cluster, web);
        return;
      }
      stopping = true;
      say("Stopping. Once more stops at once.");
      gaveUp(null);
    });

  const nextWeb = patience();
  const startWeb = () => {
    let listenedAt = null;
    web = spawn(process.execPath, [join(ROOT, "scripts", script)], {
      cwd: ROOT,
      env: environment,
      stdio: ["inherit", "inherit", "inherit", "ipc"],
    });
    web.on("message", () => {
      listenedAt = Date.now();
    });
    web.on("exit", async (code, signal) => {
      if (stopping) return;
      everListened ||= listenedAt !== null;
      const wait = nextWeb(listenedAt ?? Date.now());
      // What keeps it from starting at all it has said itself.
      if (!everListened) return gaveUp(`The web server does not start (${signal ?? `exit ${code}`}).`);
      if (wait === null)
        return gaveUp(`The web server fell ${BACKOFF.length} times in a row (${signal ?? `exit ${code}`}).`);
      say(`The web server fell (${signal ?? `exit ${code}`}); it is started again.`);
      await delay(wait);
      if (!stopping) startWeb();
    });
  };
  let everListened = false;
  startWeb();
  if (cluster) void watchDatabase(cluster, () => stopping, gaveUp);

  const code = await ended;
  stopping = true;
  await stopWeb(web);
  // Asked once more while the database stops, it is stopped at once; both ways lead to its end.
  if (!atOnce) await cluster?.stop();
  return atOnce ? await atOnce : code;
}

async function watchDatabase(cluster, isStopping, gaveUp) {
  const next = patience();
  let since = Date.now();
  for (;;) {
    await delay(LOOK_MS);
    if (isStopping()) return;
    if (cluster.running()) continue;
    const wait = next(since);
    if (wait === null) return gaveUp(`The database fell ${BACKOFF.length} times in a row.`);
    say("The database fell; it is started again.");
    await delay(wait);
    if (isStopping()) return;
    await cluster.start().then(
      () => {
        since = Date.now();
        say("The database is back.");
      },
      (fault) => say(fault.message),
    );
  }
}

async function stopWeb(web) {
  if (!web || web.exitCode !== null || web.signalCode !== null) return;
  const over = new Promise((resolve) => web.once("exit", resolve));
  web.kill("SIGTERM");
  const late = setTimeout(() => web.kill("SIGKILL"), LAST_WORDS_MS);
  await over;
  clearTimeout(late);
}

/** Somebody asked twice: nothing is waited for. The database recovers at its next start. */
async function endAtOnce(cluster, web) {
  say("Stopped at once.");
  web?.kill("SIGKILL");
  await cluster?.stop({ atOnce: true });
  return 1;
}
