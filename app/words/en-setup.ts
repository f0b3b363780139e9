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
      basin:
        "Begin with one basin: where it is, how much it holds, what it is tested with. A call there is next.",
      bring:
        "What you have in a spreadsheet comes in as it is: its columns are matched to basins, readings and doses.",
      import: "Bring in a spreadsheet",
      practise: "And before the first drop at a customer's: the practice bench.",
    },
  },
};
