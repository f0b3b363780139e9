/** What is said where there is no reach, by the pages and by what answers in their place. */
export const away = {
  /** A page that this device has not taken along, asked for by the browser itself. */
  page: {
    title: "Offline",
    text: "This page is not on this device, and the server does not answer. Your entries stay on this device and are sent later.",
    round: "Back to the round",
  },
  /** A part of the application that could not be fetched. */
  missing: "This part of Pelagon is not on this device yet. Go online once to load it.",
};

const commands = (count: number, one: string, many: string) => (count === 1 ? one : many);

/** The device's own code. */
export const lock = {
  title: "Locked",
  code: "Code of this device",
  open: "Open",
  wrong: "That code is wrong.",
  wait: (seconds: number): string => `That code is wrong. Try again in ${seconds} seconds.`,
  forgotten:
    "Forgot the code? While you are online, sign out and sign in again with your password. That removes the code.",
  device: "Code of this device",
  hint: "Pelagon asks for it at the start and after five minutes in the background. It keeps other people off the pages. It does not encrypt the disk, and files such as exports open without it for anyone who knows their address.",
  present: "Current code",
  next: (least: number, most: number): string => `New code, ${least} to ${most} digits`,
  length: (least: number, most: number): string => `A code has ${least} to ${most} digits.`,
  give: "Set the code",
  change: "Change the code",
  take: "Remove the code",
  set: "This device now has a code.",
  taken: "This device no longer has a code.",
};

/** An owner takes in a file of work that its maker cannot send. */
export const work = {
  title: "Work from a file",
  hint: "Someone who can no longer send their work can save it as a file. Open that file here to add it to the book under their name, with the time it was done.",
  open: "Open a work file",
  choose: "Choose a file",
  none: "This is not a work file. Choose a file whose name ends in .work.json.",
  stranger: (name: string, firm: string): string =>
    `This work is by ${name || "someone"}${firm ? ` of ${firm}` : ""}, who is not on your team. It cannot be added here.`,
  by: (name: string, count: number): string => `${count} ${commands(count, "entry", "entries")} by ${name}`,
  take: (name: string): string => `Add to the book as work by ${name}`,
  going: (done: number, all: number): string => `${done} of ${all} added`,
  taken: (count: number): string => `${count} ${commands(count, "entry is", "entries are")} in the book.`,
  refused: (count: number): string => `${count} could not be added:`,
  broke: "The server did not answer. Try again: nothing is added twice.",
};

/** What lies on this device, what waits to be sent, and what was refused. */
export const store = {
  title: "On this device",
  open: "What is on this device",
  away: "Offline",
  awayText: "The server does not answer. You can do all of today's round here. It is sent later.",
  kept: (count: number): string => `${count} not sent yet`,
  refused: (count: number): string => `${count} not accepted`,
  bundle: (age: string): string => `Today's and tomorrow's round were downloaded ${age}.`,
  noBundle: "Today's round is not downloaded yet.",
  waiting: (count: number): string =>
    `${count} ${commands(count, "entry waits", "entries wait")} to be sent. You can leave this page: nothing is lost.`,
  nothingWaits: "Everything is sent.",
  signedOut:
    "You are signed out. Your entries are sent after you sign in again. If you can no longer sign in, save them as a file on the sign-in page.",
  /** Work that nobody here may send. */
  unsent: {
    title: (count: number, name: string, age: string): string =>
      count === 1
        ? `1 entry${name ? ` by ${name}` : ""} on this device was never sent. It was made ${age}.`
        : `${count} entries${name ? ` by ${name}` : ""} on this device were never sent. The first was made ${age}.`,
    "signed-out": (count: number, name: string): string =>
      `${commands(count, "It is", "They are")} sent when ${name || `whoever made ${commands(count, "it", "them")}`} signs in here again. If that is not possible, save ${commands(count, "it", "them")} as a file: an owner can add it under Settings.`,
    reader: (count: number): string =>
      `You can only read now, so ${commands(count, "it", "they")} cannot be sent from here. Save ${commands(count, "it", "them")} as a file: an owner can add it under Settings.`,
    save: "Save as a file",
    saved: "The file is with your downloads. Give it to an owner of the firm.",
    discard: "Remove from this device",
    discardSure: (count: number): string =>
      `Remove ${count} ${commands(count, "entry", "entries")} for good?`,
  },
  signOutLoose: (count: number): string =>
    `${count} ${commands(count, "result", "results")} of the quick bench ${commands(count, "is", "are")} not in a basin yet and ${commands(count, "is", "are")} lost too.`,
  now: "Send and download now",
  what: "Entry",
  again: "Send again",
  toVisit: "Open the visit",
  drop: "Discard",
  dropSure: "Discard for good?",
  nothingKept: "This device cannot store anything",
  noStore: {
    denied:
      "This browser does not let Pelagon store anything: this is a private window, or storage is blocked or full. Pelagon works online only.",
    newer:
      "A newer Pelagon was used on this device. Go online and reload this page. Until then nothing is stored here.",
  },
  newBuild: "A new version of Pelagon is ready.",
  takeOver: "Update now",
  signOutWaits: (count: number): string =>
    `${count} ${commands(count, "entry on this device was", "entries on this device were")} not sent yet. Signing out loses ${commands(count, "it", "them")}.`,
  signOutAnyway: (count: number): string => `Sign out and lose ${count}`,
  commands: {
    start: "Start of a visit",
    look: "Look around",
    sample: "Sample",
    read: "Test",
    count: "Count",
    give: "Dose",
    "begin-plan": "Start of a plan",
    "settle-step": "Step of a plan",
    "stop-plan": "End of a plan",
    "report-incident": "Incident",
    "end-incident": "End of an incident",
    photograph: "Photo",
    "hide-photo": "Photo removed",
    close: "Close",
    correct: "Correction",
  },
};
