/** The guide, the demo firm, and what was practised and told to a firm; in English. */
export const toldWords = {
  guide: { title: "Guide: a technician's day" },
  demo: {
    strip: "Demo: a made-up firm.",
    more: "About the demo",
    title: "This is the demo",
    about: (firm: string) =>
      `${firm}, its people, basins and their year are made up. Change what you like. Your own firm is separate and has its own sign-in. Until it exists, the start command prints a code for /setup.`,
    throw: "Delete the demo",
    sure: (firm: string) =>
      `This deletes all of ${firm} for everyone who uses it. It does not come back with the next start. Your own firms are not touched.`,
    yes: "Yes, delete it",
    no: "Keep it",
  },
  told: {
    title: "Practice",
    settings: "Share your practice, use your own scatter, and see who practiced what (owners).",
    hint: "Practice stays on your device. You can share it with the firm here. An owner then sees which tests you practiced, how often, and which traps you met. An owner sees no figures.",
    here: "On this device",
    whose: (name: string) => `Practice done alone on this device. Share it only if it was you, ${name}.`,
    nothing:
      "No practice alone on this device yet. After five runs of a test its bias and scatter are known.",
    tell: "Share with my firm",
    tellAndUse: "Share, and use my scatter",
    usedHint: (runs: number) =>
      `If you use it, your own scatter replaces the usual one (5% for drops) for each test with ${runs} runs or more, from your next reading. It changes how sure verdicts and plans are. It does not change the book. Everyone in the firm who opens such a reading can see the figure.`,
    done: "Saved.",
    told: "Shared with the firm",
    toldAt: (when: string) => `Shared on ${when}.`,
    inUse: "Your readings use your own scatter.",
    notInUse: "Your readings use the usual scatter.",
    notTold: "Nothing shared yet.",
    back: "Stop sharing",
    test: "Test",
    runs: "Runs",
    bias: "Bias",
    scatter: "Scatter",
    who: "Who practiced what",
    whoHint: "Only what people shared, without figures. Use it to ask who would like help with a test.",
    nobody: "Nobody has shared anything yet.",
    line: (runs: number, day: string, seen: number, missed: number) =>
      `${runs} ${runs === 1 ? "run" : "runs"}, last on ${day}${
        seen + missed > 0 ? `, traps seen ${seen}, missed ${missed}` : ""
      }`,
  },
};
