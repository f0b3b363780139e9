import type { DueTask } from "#core";

/** The day's calls, the sheet for a customer, and the facts of a basin, in English. */
export const roundWords = {
  round: {
    title: "Round",
    calls: (count: number, today: boolean) =>
      `${count === 1 ? "1 call" : `${count} calls`}${today ? " today" : ""}`,
    none: "No calls on this day. A basin is called at on the days set in its facts; every basin can be opened from Basins, or added here.",
    day: "Day",
    dayBefore: "The day before",
    dayAfter: "The day after",
    whose: "Whose calls",
    everybody: "Everybody",
    mine: "Mine",
    print: "Print",
    start: "Start",
    resume: "Go on",
    again: "Test again",
    doneOn: "Done",
    underWay: (name: string) => `Under way, ${name}`,
    allRight: "All in range last time",
    lastSeen: (when: string) => `last seen ${when}`,
    never: "never seen yet",
    move: (name: string) => `Move ${name} in the order`,
    due: "Due:",
    noTests: "no test",
    taskDone: "done",
    taskDoneOf: (task: string) => `Done: ${task}`,
    more: "Who, skip, event",
    who: "Who calls",
    anybody: "Whoever is free",
    usually: "Usually takes",
    skip: "Skip this call",
    skipWhy: "Why it was not made",
    skippedBy: (name: string, why: string) => `Skipped by ${name}: ${why}`,
    unskip: "Make it after all",
    eventDay: "Event on",
    eventName: "What",
    eventAdd: "Add the event; the water is tested the day before",
    eventRemove: "Remove",
    add: "Another basin on this day",
    addGo: "Add",
    load: "To load",
    loadNone: "Nothing: the basins of this day have needed no dose lately.",
    short: (left: string) => `only ${left} left`,
    reagents: "Reagents for the due tests",
    reminders: "Reminders",
    expiring: (reagent: string, day: string) => `${reagent}: good until ${day}`,
    reorder: (name: string) => `Order again: ${name}`,
    missed: "Calls nobody made",
    missedSave: "Note it",
  },
  calendar: {
    title: "Round in your calendar",
    name: (firm: string) => `${firm}: round`,
    hint: "A calendar program that holds a secret address shows the calls of the next two months and follows every change. Whoever has the address can read it; withdraw it when it got about.",
    before: (event: string, day: string) => `Test before: ${event}, ${day}`,
    mine: "My calls",
    all: "All calls",
    makeMine: "Make an address for my calls",
    makeAll: "For all calls",
    linkHint: "Shown once: subscribe to it now. It can be withdrawn here.",
    none: "No address in use.",
  },
  health: {
    title: "Work of the night",
    hint: "The due list of each day, links past their day, and calendar addresses are tended while nobody works.",
    off: "The queue is not running here.",
    names: {
      "due-list": "Due list",
      expiry: "Links, invitations, sessions past their day",
      feeds: "Calendar addresses",
    },
    states: {
      created: "waits",
      active: "runs",
      retry: "failed, tried again",
      completed: "done",
      cancelled: "stopped",
      failed: "failed",
    } as Record<string, string>,
    run: "Run now",
    none: "Nothing has run yet.",
    book: "The book",
    counts: (visits: string, readings: string, photos: string) =>
      `${visits} visits, ${readings} readings, ${photos} photos.`,
  },
  customer: {
    open: "Sheet for the customer",
    title: (basin: string) => `${basin}: visit`,
    from: (firm: string) => `From ${firm}`,
    tested: "What was tested",
    reading: "Reading",
    should: "Should be",
    range: (low: string | null, high: string | null) =>
      low !== null && high !== null
        ? `${low} to ${high}`
        : low !== null
          ? `at least ${low}`
          : high !== null
            ? `at most ${high}`
            : "",
    place: { low: "low", within: "in range", high: "high" },
    given: "What was added",
    givenNone: "Nothing had to be added.",
    swimTitle: "Swimming",
    swimNow: "The water may be used.",
    swimFrom: (when: string) =>
      `Keep out until ${when}: what was added has to mix. The product's label may ask for longer.`,
    swimNot: (names: string) => `Do not use the water until it has been tested again: ${names}.`,
    todo: "What you can do",
    todoPump:
      "Leave the pump running as it is set, and the cover off while nobody is in, until tomorrow morning.",
    todoNothing: "Nothing. Keep the pump and the cover as they are.",
    todoCall: "Call us when the water turns cloudy or green, smells strongly, or stings.",
    next: (day: string) => `Next visit: ${day}`,
    note: "Note",
    by: (name: string, when: string) => `${name}, ${when}`,
    pdf: "PDF",
    print: "Print",
    shareTitle: "Share this sheet",
    shareHint: "Whoever has the link sees this one sheet, without signing in, until the day you choose.",
    shareDays: (days: number) => (days === 365 ? "a year" : `${days} days`),
    shareFor: "Good for",
    share: "Make a link",
    shareLinkHint: "Shown once: copy it now. It can be withdrawn here.",
    shared: (by: string, made: string, until: string) => `${by}, ${made}, good until ${until}`,
    withdraw: "Withdraw",
    footer:
      "Amounts and waits follow the readings of the visit; product labels, local codes and licensed practice come first.",
  },
  facts: {
    title: "Facts",
    edit: "Change facts and calls",
    name: "Name",
    kind: "Kind",
    surface: "Surface",
    where: "Stands",
    sanitiser: "Kept clean by",
    sanitisers: { chlorine: "chlorine", "salt-cell": "salt cell", bromine: "bromine" },
    kit: "Kit",
    calls: "Calls",
    weekdays: "On",
    everyWeeks: "Every … weeks",
    weeksFrom: "Counted from the week of",
    seasonOnly: "Only in a season",
    seasonFrom: "From (05-01)",
    seasonTo: "To (09-30)",
    caller: "Who calls",
    equipment: "Equipment",
    pumpHours: "Pump, hours a day",
    pumpShort: "Pump, h a day",
    cellShort: "Cell, g/h",
    seasonShort: "Season",
    feeder: "Feeder",
    feeders: { none: "none", tablets: "tablets", liquid: "liquid", "salt-cell": "salt cell" },
    cellGrams: "Cell output, g of chlorine an hour",
    cover: "Cover",
    covers: { none: "none", bubble: "bubble", slats: "slats", foam: "foam" },
    notKnown: "not known",
    fill: "Fill water of the whole site",
    fillAlkalinity: "Alkalinity, ppm",
    fillHardness: "Calcium hardness, ppm",
    cadence: "How often, where it is not as in the whole firm",
    cadenceFirm: "How often, for the whole firm",
    cadenceHint: "Days between; 0 tests at every visit. Left empty, it is as usual.",
    tasksHint: "Days between; 0 is never.",
    note: "Note",
    save: "Save",
    saved: "Saved.",
    history: "What changed",
    historyNone: "Nothing has been changed here yet.",
    photos: "Photos of the basin",
    everyOther: (weeks: number, days: string) => (weeks === 1 ? days : `${days}, every ${weeks} weeks`),
    season: (from: string, to: string) => `${from} to ${to}`,
  },
  tasks: {
    shock: "Shock, days between",
    shockInHeat: "Shock in heat, days between",
    algaecide: "Algaecide by label, days between",
    sequestrant: "Sequestrant by label, days between",
    labChecks: "Full checks in a season",
    freshReagents: "Fresh reagents at its start (1 yes, 0 no)",
  },
};

const TASK: Record<DueTask["task"], string> = {
  shock: "Shock",
  "lab-check": "Full check at the shop or lab",
  "fresh-reagents": "Fresh reagents",
  algaecide: "Algaecide, by its label",
  sequestrant: "Sequestrant, by its label",
};

/** A task with why it is due: "Shock: every 7 days in heat". */
export function taskText({ task, because, every }: DueTask): string {
  switch (because) {
    case "heat":
      return `${TASK[task]}: every ${every} days in heat`;
    case "interval":
      return `${TASK[task]}: every ${every} days`;
    case "never-done":
      return `${TASK[task]}: never noted, every ${every} days`;
    case "season":
      return `${TASK[task]}: due this season`;
  }
}
