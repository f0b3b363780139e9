/**
 * The core from the command line: one JSON object a line in, one answer a line out, in order.
 *   npm run -s core -- convert < in.ndjson > out.ndjson
 */
import { stdin, stdout } from "node:process";
import { faultAnswer, type Highs, InputFault, solverOf, VERBS, type WeekSolver } from "#core/verbs";

/** A line of one water, and one of a firm with its years. */
const MOST_CHARACTERS = { usual: 1_000_000, learn: 200_000_000, week: 50_000_000 };

const [name = "", option] = process.argv.slice(2);
const most = name === "learn" || name === "week" ? MOST_CHARACTERS[name] : MOST_CHARACTERS.usual;

/** Lines of a stream; one over the limit comes as null and is never held whole. */
async function* lines(input: AsyncIterable<string>): AsyncGenerator<string | null> {
  let held = "";
  let over = false;
  let first = true;
  for await (const chunk of input) {
    // A byte order mark is no part of the first line.
    let rest = first ? chunk.replace(/^\uFEFF/, "") : chunk;
    first = false;
    for (let end = rest.indexOf("\n"); end >= 0; end = rest.indexOf("\n")) {
      const tail = rest.slice(0, end);
      rest = rest.slice(end + 1);
      yield over || held.length + tail.length > most ? null : held + tail;
      held = "";
      over = false;
    }
    over ||= held.length + rest.length > most;
    held = over ? "" : held + rest;
  }
  if (over) yield null;
  else if (held.trim() !== "") yield held;
}

const usage = `usage: npm run -s core -- VERB [--help | --schema] < in.ndjson > out.ndjson\nverbs: ${Object.keys(VERBS).join(", ")}\n`;
const verb = Object.hasOwn(VERBS, name) ? VERBS[name as keyof typeof VERBS] : undefined;

if (name === "--help" || name === "-h") {
  stdout.write(usage);
} else if (!verb || (option !== undefined && option !== "--help" && option !== "--schema")) {
  process.stderr.write(usage);
  process.exitCode = 2;
} else if (option === "--help") {
  stdout.write(`${verb.help}\n`);
} else if (option === "--schema") {
  stdout.write(`${JSON.stringify(verb.schema, null, 2)}\n`);
} else {
  stdin.setEncoding("utf8");
  const highs = name === "plan" || name === "week" ? await (await import("highs")).default() : undefined;
  const solver = highs && solverOf(highs as unknown as Highs);
  for await (const line of lines(stdin)) {
    if (line !== null && line.trim() === "") continue;
    const answer =
      line === null
        ? faultAnswer(new InputFault("too-long", "line", undefined, most))
        : verb.answer(line, solver, highs as unknown as WeekSolver);
    if (!stdout.write(`${JSON.stringify(answer)}\n`)) await new Promise((done) => stdout.once("drain", done));
  }
}
