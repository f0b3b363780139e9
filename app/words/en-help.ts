/** What each screen is for, in ten lines at most, with the drawing that belongs to it; in English. */
export type HelpDrawing = "calls" | "sample" | "drop" | "comparator" | "staff" | "pours" | "trend" | "bottle";

export interface ScreenHelp {
  /** The addresses that it is of. */
  at: RegExp;
  title: string;
  drawing: HelpDrawing;
  lines: string[];
}

export const SCREEN_HELP: readonly ScreenHelp[] = [
  {
    at: /^\/$/,
    title: "Round: today's stops",
    drawing: "calls",
    lines: [
      "Stops are in visiting order. Drag one, or tap “Sort by need”, to change the order.",
      "Each stop shows what was out of range, what will not last, which tests are due, and label doses.",
      "“Start” opens a visit. You can continue a visit that someone else started.",
      "“Load list” shows what the last plans expect for today's stops, and the reagents for their tests.",
      "“Edit stop”: assign it, skip it with a reason, or add an event.",
      "A missed stop stays listed until someone gives a reason.",
    ],
  },
  {
    at: /^\/practice$/,
    title: "Practice bench",
    drawing: "drop",
    lines: [
      "You test a made-up water. Nothing here goes into the book.",
      "Rehearsal: put the steps in order. Guided: see the next step and each mistake at once.",
      "Alone: one test, or a whole sheet from sample to dose. You see the true water afterward.",
      "Hold to pour. The bottom of the curve belongs on the line.",
      "Hold the bottle upright with the slider or [ and ]. Tap for a drop. Hold W or “Swirl” to mix.",
      "“Name the color” says which color you see and how far along it is.",
      "What you miss comes back soon. After five runs of a test you see its bias and scatter.",
    ],
  },
  {
    at: /^\/basins\/new$/,
    title: "Add a basin",
    drawing: "staff",
    lines: [
      "Enter the site, the kind and the volume. You can measure the volume later.",
      "Pelagon picks a kit and ranges that fit. Change them under Facts or Ranges and limits.",
      "Next, set the visit days, the feeder and the fill water under Facts.",
    ],
  },
  {
    at: /^\/basins\/held$/,
    title: "Waters that plans cannot hold",
    drawing: "trend",
    lines: [
      "These basins will probably be out of range for more than 5% of the next four weeks.",
      "Each shows the lowest-cost change that would keep it in range, or the one that comes closest.",
      "Costs count visits, chemicals and devices for a month.",
    ],
  },
  {
    at: /^\/basins$/,
    title: "Basins: the list",
    drawing: "staff",
    lines: [
      "All basins of the firm, by site. Tap one to open it.",
      "A mark shows what was out of range at the last visit, or that it is closed.",
      "“Add a basin” asks for a site, a kind and a volume.",
    ],
  },
  {
    at: /^\/basins\/[^/]+\/facts$/,
    title: "Facts of a basin",
    drawing: "staff",
    lines: [
      "Name, kind, surface, sanitizer, equipment and cover. Plans and ranges depend on them.",
      "Visit days put the basin on the Round. A season limits them to part of the year.",
      "Fill water is for the whole site. Without it, Pelagon uses typical values.",
      "“How often to test” overrides the firm's rules for this basin.",
    ],
  },
  {
    at: /^\/basins\/[^/]+\/volume$/,
    title: "Volume",
    drawing: "staff",
    lines: [
      "Every dose depends on the volume.",
      "Measure with a tape, use a water meter, or enter what you know.",
      "A weighed dose with a test before and after checks the volume.",
      "Finished visits keep the volume they used.",
    ],
  },
  {
    at: /^\/basins\/[^/]+\/judgement$/,
    title: "Ranges and limits",
    drawing: "staff",
    lines: [
      "Choose the range set for this basin. Limits you enter here replace its limits.",
      "“Products not used here” leaves a product out of plans for this basin.",
      "“Minutes for dosing” limits what a plan adds at one visit.",
    ],
  },
  {
    at: /^\/basins\/[^/]+\/what-if$/,
    title: "What if",
    drawing: "staff",
    lines: [
      "Change a reading or an amount and see the result at once.",
      "Nothing is saved until you save it as a plan of a visit.",
      "“Back to the readings” undoes your changes.",
    ],
  },
  {
    at: /^\/basins\/[^/]+\/season$/,
    title: "Season",
    drawing: "trend",
    lines: [
      "Compares ways to chlorinate over the next months: cost, chemicals, and water to replace.",
      "Change sun, use and prices to fit this basin.",
      "The price of a new device is not included.",
    ],
  },
  {
    at: /^\/basins\/[^/]+\/compare$/,
    title: "One water, two range sets",
    drawing: "staff",
    lines: [
      "The same readings judged by two range sets.",
      "Where the results differ, the sets differ, not the water.",
      "Comparing changes nothing.",
    ],
  },
  {
    at: /^\/basins\/[^/]+/,
    title: "A basin",
    drawing: "trend",
    lines: [
      "Each scale shows a reading: its range, the last reading, and how sure it is.",
      "Habits come from its own log: what it loses and how it rises, and how sure that is.",
      "Over time: readings against their range, with doses marked below.",
      "What if: change a reading or an amount and see the rest change.",
      "Volume: with a tape, a water meter, or a dose and its retest.",
      "Season: ways to chlorinate, side by side.",
    ],
  },
  {
    at: /^\/visits\/[^/]+\/(look|sample)$/,
    title: "Before the tests",
    drawing: "sample",
    lines: [
      "First tap what you see, hear, smell and feel. Some findings close the basin.",
      "“Something happened”: stool, glass, gas, or a chemical on someone. It shows what to do first.",
      "Rinse three times. Go in upside down, elbow deep, away from returns and the surface. Turn over, then up.",
      "Fill to the line at eye level, with the bottom of the curve on the line.",
      "Pelagon names problems with the sample. You can go on anyway, and the book notes it.",
      "S goes to the next step.",
    ],
  },
  {
    at: /^\/visits\/[^/]+\/(ph|totalChlorine)$/,
    title: "A color comparator",
    drawing: "comparator",
    lines: [
      "Hold it against a white card, in the shade, without tinted glasses.",
      "Choose a standard, or the gap between two.",
      "The last standard means “at least” or “at most”. Dilute, or count the demand drops.",
      "A lot of chlorine turns phenol red purple. Do not act on that pH.",
    ],
  },
  {
    at: /^\/visits\/[^/]+\/cyanuricAcid$/,
    title: "The viewing tube",
    drawing: "comparator",
    lines: [
      "Fill the tube slowly until you cannot see the dot. Read the line at eye level.",
      "Stand with your back to the sun and hold the tube at waist height.",
      "Pour back and read again. The average is better than one reading.",
      "Above the last line: dilute with tap water and multiply.",
    ],
  },
  {
    at: /^\/visits\/[^/]+\/(judge|retest)$/,
    title: "Judge: each reading and its range",
    drawing: "staff",
    lines: [
      "Plain is in range. ▼ is low, ▲ is high. ◆ and a red edge: unsafe, keep the basin closed.",
      "A hollow mark is what the last plan expected.",
      "The beam is the saturation index: balanced, etching or scaling.",
      "“Close to a limit”: the reading is in range, but the real value may not be.",
      "Below that you see what the readings and the log show together.",
    ],
  },
  {
    at: /^\/visits\/[^/]+\/(dose|recipes.*)$/,
    title: "Dose: what to add now",
    drawing: "pours",
    lines: [
      "The first card is the first dose. Measure it, add it, tick it.",
      "Acid and chlorine stay 30 minutes apart, and so do two portions. The clock shows the next one.",
      "“Minutes here”: what does not fit is left for the next visit.",
      "The chart shows the water until the next visit, with and without today's doses.",
      "Label doses such as algaecide are listed when they are due.",
      "Jobs that take days are never part of today's doses.",
      "Goggles, gloves, nobody in the water, pump on. The label and local code come first.",
    ],
  },
  {
    at: /^\/visits\/[^/]+\/incident$/,
    title: "Something happened",
    drawing: "sample",
    lines: [
      "Tap what happened. It closes this basin, says what to do now, and goes into the log.",
      "It works offline.",
      "The basin opens only when the incident is over and a test is in range.",
    ],
  },
  {
    at: /^\/visits\/[^/]+\/close$/,
    title: "Close the visit",
    drawing: "calls",
    lines: [
      "Check the readings, the doses, what is still out of range, and the next visit.",
      "Tap once why something stays out of range.",
      "“Write a note for the customer” drafts a note. Change it as you like.",
      "After closing, only a correction with a reason changes the visit.",
    ],
  },
  {
    at: /^\/visits\/[^/]+\/customer$/,
    title: "Sheet for the customer",
    drawing: "bottle",
    lines: [
      "This is what the customer reads: readings, doses, and when the water can be used.",
      "Share it as a link or as a PDF. A link works until the day you choose.",
      "You can withdraw a link here.",
    ],
  },
  {
    at: /^\/visits\/[^/]+$/,
    title: "A visit",
    drawing: "calls",
    lines: [
      "The steps of this visit. Tap one to open it. Due tests come first.",
      "After the visit is closed you see its readings, doses, notes and photos.",
      "“Correct” changes a saved reading. It asks for a reason and keeps the old value.",
    ],
  },
  {
    at: /^\/(visits\/|bench)/,
    title: "A count of drops",
    drawing: "drop",
    lines: [
      "Tap anywhere, or press Space, Enter or a foot switch, for each drop. ⌫ removes one.",
      "Go fast while the color is far from the end. Near it: one drop, swirl, look.",
      "P starts the beat: it announces numbers while your hands are busy. Any key stops it.",
      "When in doubt, add one more drop. X marks that it did not change the color.",
      "A count of n drops means more than n − 1 and up to n. The range is under the number.",
      "Hold the bottle upright, or drops are small and the count is high.",
      "Each drop is saved on this device at once.",
    ],
  },
  {
    at: /^\/book\/import/,
    title: "Import",
    drawing: "trend",
    lines: [
      "Choose a CSV or JSON file. Files from Pelagon work as they are.",
      "For other tables, say what each column is, and which date and number format it uses.",
      "“Check the file” writes nothing and lists every bad row.",
      "“Import” adds all rows or none. Rows that are already here stay.",
    ],
  },
  {
    at: /^\/book/,
    title: "Book: every visit",
    drawing: "trend",
    lines: [
      "Search by basin, day, person, or a word in a note.",
      "Download CSV or JSON, or open a visit for its sheet.",
      "Import adds visits from a spreadsheet.",
    ],
  },
  {
    at: /^\/shelf\/products/,
    title: "Products",
    drawing: "bottle",
    lines: [
      "Plans use these products in this order. Strength and price decide the amounts.",
      "Enter the strength from the label. Every dose depends on it.",
      "Stock is your last count minus the doses since.",
      "If readings suggest a weak delivery, Pelagon shows why.",
    ],
  },
  {
    at: /^\/shelf\/trucks/,
    title: "Trucks",
    drawing: "bottle",
    lines: [
      "Each truck has its own stock. Doses by its driver come off that stock.",
      "Plans of the driver use what is left on the truck.",
      "“Load from the shelf” moves stock. A count corrects it.",
    ],
  },
  {
    at: /^\/shelf\/kits/,
    title: "Kits",
    drawing: "drop",
    lines: [
      "A kit is a list of tests: reagents, steps, and the value of a drop.",
      "Saving makes a new version. Past counts keep their version.",
      "You can export and import kits as JSON.",
    ],
  },
  {
    at: /^\/shelf/,
    title: "Reagents",
    drawing: "bottle",
    lines: [
      "Each test subtracts its drops from the bottle.",
      "“This week” shows what the next seven days need.",
      "If readings suggest a bad bottle, Pelagon shows why.",
    ],
  },
  {
    at: /^\/settings\/team/,
    title: "Team",
    drawing: "calls",
    lines: [
      "Owners manage the firm, technicians make visits, readers see their own sites.",
      "Invite someone: create a link and send it yourself. It works once.",
      "“Block” stops someone from signing in. Their work stays in the book.",
    ],
  },
  {
    at: /^\/settings\/ranges/,
    title: "Range sets",
    drawing: "staff",
    lines: [
      "A range set says what is in range, what to aim for, and what closes a basin.",
      "Sets that ship with Pelagon stay as they are. Make a copy to edit one.",
      "Past visits keep the version they used.",
    ],
  },
  {
    at: /^\/settings\/audit/,
    title: "Who did what",
    drawing: "calls",
    lines: [
      "Changes by people and by background jobs, newest first.",
      "Each line shows the old and the new value.",
      "Nothing here can be changed.",
    ],
  },
  {
    at: /^\/settings\/health/,
    title: "Background jobs",
    drawing: "calls",
    lines: [
      "Jobs run by themselves. “Run now” starts one at once.",
      "Each shows when it last ran and whether it worked.",
      "A failed job is tried again.",
    ],
  },
  {
    at: /^\/settings\/calendar/,
    title: "Round in your calendar",
    drawing: "calls",
    lines: [
      "Create an address and subscribe to it in your calendar app.",
      "Anyone with the address can read it. Withdraw it if others got it.",
      "It shows the stops of the next two months.",
    ],
  },
  {
    at: /^\/settings\/practice/,
    title: "Practice you share",
    drawing: "drop",
    lines: [
      "Practice stays on your device until you share it.",
      "An owner sees which tests you practiced, and no figures.",
      "You can use your own scatter for your readings, and stop at any time.",
    ],
  },
  {
    at: /^\/settings\/work/,
    title: "Work from a file",
    drawing: "calls",
    lines: [
      "For entries that someone can no longer send themselves.",
      "Open their file here. It goes into the book under their name and time.",
      "Opening a file twice adds nothing twice.",
    ],
  },
  {
    at: /^\/settings/,
    title: "Settings",
    drawing: "calls",
    lines: [
      "Units, minutes for dosing, how often to test, and the start of the season.",
      "Only an owner can change what applies to the whole firm.",
      "Your own settings: appearance, password, devices, and the key that counts a drop.",
    ],
  },
];

/** What the `?` of a page says. */
export const helpFor = (path: string): ScreenHelp | null =>
  SCREEN_HELP.find(({ at }) => at.test(path)) ?? null;
