/** The first hour of a firm, in English. */
export const setupWords = {
  setup: {
    title: "Set up your firm",
    intro:
      "This Pelagon has no firm of its own yet. The code was printed where it was started; it is good once. Everything here can be changed later in Settings.",
    code: "Code from the start command",
    firm: "Name of the firm",
    zone: "Time zone",
    units: "Units",
    currency: "Currency of its prices",
    owner: "Your name",
    go: "Set it up",
    link: "Set up a firm of your own",
    first: {
      title: "The first hour",
      done: "done",
      basin: "A basin",
      basinHint: "Where it is, what it is, how much it holds. Kit and ranges come as they fit its kind.",
      bring:
        "Most firms come with a spreadsheet: it comes in as it is, its columns are matched to basins, readings and doses.",
      import: "Bring in a spreadsheet",
      calls: "The days of its calls",
      callsHint: "On those days it stands on the Round.",
      callsGo: "Set its days",
      visit: "The first call",
      visitHint: "Look, sample, test, judge, dose, close: each step says what is next.",
      goOn: "Go on with the visit",
      practise: "Practise a count first",
    },
  },
};
