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

const commands = (count: number, one: string, many: string) => (count === 1 ? one : many);

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
  hint: "Asked for at a start and after five minutes out of sight. It keeps other hands off the pages. It does not encipher the disk, and files such as exports open without it for whoever knows their address.",
  present: "Present code",
  next: (least: number, most: number): string => `New code, ${least} to ${most} digits`,
  length: (least: number, most: number): string => `A code has ${least} to ${most} digits.`,
  give: "Set the code",
  change: "Change the code",
  take: "Take the code away",
  set: "This device has a code now.",
  taken: "This device has no code any more.",
};

/** An owner takes in a file of work that its maker cannot send. */
export const work = {
  title: "Work from a file",
  hint: "Somebody who can no longer send their work can save it as a file on their device. Here it goes into the book under their name, with the time it was done.",
  open: "Open a work file",
  choose: "Choose a file",
  none: "This is not a work file. Choose a file whose name ends in .work.json.",
  stranger: (name: string, firm: string): string =>
    `This work is by ${name || "somebody"}${firm ? ` of ${firm}` : ""}, who is not on your team. It cannot be taken in here.`,
  by: (name: string, count: number): string => `${count} ${commands(count, "entry", "entries")} by ${name}`,
  take: (name: string): string => `Put into the book as work by ${name}`,
  going: (done: number, all: number): string => `${done} of ${all} taken in`,
  taken: (count: number): string => `${count} ${commands(count, "entry is", "entries are")} in the book.`,
  refused: (count: number): string => `${count} could not be taken in:`,
  broke: "The server did not answer. Try again: nothing is taken in twice.",
};

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
  signedOut:
    "The session is over. What is kept here is sent after you sign in again. If you cannot sign in any more, save it as a file on the sign-in page.",
  /** Work that nobody here may send. */
  unsent: {
    title: (count: number, name: string, age: string): string =>
      count === 1
        ? `1 entry${name ? ` by ${name}` : ""} on this device was never sent. It was made ${age}.`
        : `${count} entries${name ? ` by ${name}` : ""} on this device were never sent. The first was made ${age}.`,
    "signed-out": (count: number, name: string): string =>
      `${commands(count, "It is", "They are")} sent when ${name || `whoever made ${commands(count, "it", "them")}`} signs in here again. If that is not possible, save ${commands(count, "it", "them")} as a file: an owner can take it in under Settings.`,
    reader: (count: number): string =>
      `You can only read now, so ${commands(count, "it", "they")} cannot be sent from here. Save ${commands(count, "it", "them")} as a file: an owner can take it in under Settings.`,
    save: "Save as a file",
    saved: "The file is with your downloads. Give it to an owner of the firm.",
    discard: "Remove from this device",
    discardSure: (count: number): string => `Really remove ${count} ${commands(count, "entry", "entries")}?`,
  },
  signOutLoose: (count: number): string =>
    `${count} ${commands(count, "result", "results")} of the quick bench ${commands(count, "is", "are")} in no basin yet and ${commands(count, "goes", "go")} too.`,
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
