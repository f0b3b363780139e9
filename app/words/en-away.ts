/** What is said where there is no reach, by the pages and by what answers in their place. */
export const away = {
  /** A page that this device has not taken along, asked for by the browser itself. */
  page: {
    title: "Out of reach",
    text: "This page is not on this device, and the server does not answer. What was entered here is kept and sent when it does.",
    round: "Back to the round",
  },
  /** A part of the application that could not be fetched. */
  missing: "This part of Pelagon is not on this device yet. It comes when there is reach again.",
};

/** The device's own code. */
export const lock = {
  title: "Locked",
  code: "Code of this device",
  open: "Open",
  wrong: "That is not the code of this device.",
  wait: (seconds: number): string => `Not the code. The next try is taken in ${seconds} seconds.`,
  forgotten:
    "Forgotten? Sign out while there is reach and sign in again with your password: that takes the code away.",
  device: "Code of this device",
  hint: "Asked for at a start and after five minutes out of sight. It keeps other hands off; it does not encipher the disk.",
  present: "Present code",
  next: (least: number, most: number): string => `New code, ${least} to ${most} digits`,
  length: (least: number, most: number): string => `A code has ${least} to ${most} digits.`,
  give: "Set the code",
  change: "Change the code",
  take: "Take the code away",
  set: "This device has a code now.",
  taken: "This device has no code any more.",
};

const commands = (count: number, one: string, many: string) => (count === 1 ? one : many);

/** What lies on this device, what waits to be sent, and what was refused. */
export const store = {
  title: "On this device",
  open: "What lies on this device",
  away: "Out of reach",
  awayText: "The server does not answer. Everything of today's round goes on here and is sent when it does.",
  kept: (count: number): string => `${count} kept here`,
  refused: (count: number): string => `${count} not taken`,
  bundle: (age: string): string => `Today's and tomorrow's round were taken along ${age}.`,
  noBundle: "Today's round has not been taken along yet.",
  waiting: (count: number): string =>
    `${count} ${commands(count, "entry waits", "entries wait")} here to be sent. Nothing is lost by leaving.`,
  nothingWaits: "Nothing waits to be sent.",
  signedOut: "The session is over. What is kept here is sent after you sign in again.",
  now: "Send and fetch now",
  what: "What was entered",
  again: "Send it again",
  toVisit: "Open the visit",
  drop: "Let it go",
  dropSure: "Really let it go?",
  nothingKept: "Nothing can be kept on this device",
  noStore: {
    denied:
      "This browser keeps nothing for Pelagon here: a private window, or its storage is denied or full. Everything works while the server answers, and nothing works without it.",
    newer:
      "A newer Pelagon was used on this device. Load this page again when there is reach; until then nothing is kept here.",
  },
  newBuild: "A newer Pelagon is here.",
  takeOver: "Use it now",
  signOutWaits: (count: number): string =>
    `${count} ${commands(count, "entry on this device was", "entries on this device were")} not sent yet. Signing out loses ${commands(count, "it", "them")}.`,
  signOutAnyway: (count: number): string => `Sign out and lose ${count}`,
  commands: {
    start: "Start of a visit",
    look: "Look round",
    sample: "Sample",
    read: "Test",
    count: "Count",
    give: "Dose",
    "begin-plan": "Start of a plan",
    "settle-step": "Step of a plan",
    "stop-plan": "End of a plan",
    "report-incident": "Something happened",
    "end-incident": "It is over",
    photograph: "Photo",
    "hide-photo": "Photo taken away",
    close: "Close",
    correct: "Correction",
  },
};
