/** The first hour of a firm, in English. */
export const setupWords = {
  setup: {
    title: "Set up your firm",
    intro:
      "This Pelagon server has no firm yet. The start command printed a code that works once. You can change everything here later in Settings.",
    code: "Code from the start command",
    firm: "Name of the firm",
    zone: "Time zone",
    units: "Units",
    currency: "Currency",
    owner: "Your name",
    go: "Create firm",
    link: "Set up your own firm",
    first: {
      title: "The first hour",
      done: "done",
      basin: "Add a basin",
      basinHint: "Its site, kind and volume. Pelagon picks a kit and ranges that fit.",
      bring:
        "Do you have a spreadsheet? Import it as it is and match its columns to basins, readings and doses.",
      import: "Import a spreadsheet",
      calls: "Visit days",
      callsHint: "On these days the basin is on the Round.",
      callsGo: "Set visit days",
      visit: "First visit",
      visitHint: "Look, sample, test, judge, dose, close. Each step shows the next one.",
      goOn: "Continue visit",
      practise: "Practice a count first",
    },
  },
};
