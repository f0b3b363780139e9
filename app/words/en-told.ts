/** The guide, the demo firm, and what was practised and told to a firm; in English. */
export const toldWords = {
  guide: { title: "Guide: a technician's day" },
  demo: {
    strip: "Demo: a made-up firm.",
    more: "Your own instead",
    title: "This is the demo",
    about: (firm: string) =>
      `${firm}, its people, basins and their year are made up: change what you like. A firm of your own lives beside it, with its own sign-in; a start command prints the code for /setup until there is one.`,
    throw: "Throw the demo away",
    sure: (firm: string) =>
      `All of ${firm} goes, for everybody who is signed in to it, and does not come back with the next start. Firms of your own are not touched.`,
    yes: "Yes, throw it away",
    no: "Keep it",
  },
  told: {
    title: "Practice",
    settings: "What you practised, your own scatter in your readings, and for owners who practised what.",
    hint: "Practice stays on the device that it was done on. Here it is told to the firm, if you say so: an owner then sees which tests were practised, how often and which traps were met, and no figures.",
    here: "On this device",
    whose: (name: string) =>
      `Worked alone on this device. Tell it only if it was you, ${name}: a device does not know whose hands it was.`,
    nothing:
      "Nothing was worked alone on this device yet. After five runs of a test its bias and scatter are known.",
    tell: "Tell my firm",
    tellAndUse: "Tell it, and use my scatter",
    usedHint: (runs: number) =>
      `Used, your own scatter stands in for the usual one (5 % for drops) in how sure your readings are taken to be, in judgement and plan, from the next reading on, for each test with ${runs} runs or more. What stands in the book is not changed by it. Each of those readings carries the figure, and everybody in the firm who opens the reading can see it.`,
    done: "Saved.",
    told: "What the firm knows",
    toldAt: (when: string) => `Told on ${when}.`,
    inUse: "Your scatter stands in your readings.",
    notInUse: "Your readings have the usual scatter.",
    notTold: "Nothing was told.",
    back: "Take it back",
    test: "Test",
    runs: "Runs",
    bias: "Bias",
    scatter: "Scatter",
    who: "Who practised what",
    whoHint:
      "As far as people told it. By name, without figures: it is for asking what somebody would like to be shown.",
    nobody: "Nobody told anything yet.",
    line: (runs: number, day: string, seen: number, missed: number) =>
      `${runs} ${runs === 1 ? "run" : "runs"}, last on ${day}${
        seen + missed > 0 ? `, traps seen ${seen}, missed ${missed}` : ""
      }`,
  },
};
