import {
  type BathingReason,
  CLOSED_FOR,
  type Closer,
  type ClosingTrouble,
  type IncidentKind,
  type NotOver,
  type Quantity,
  type SeenDanger,
  type StorageGroup,
  type UrgentTrouble,
} from "#core";

/** What keeps people from harm, in American English: the danger first, then the rule. */

const DANGERS: Record<SeenDanger, string> = {
  "drowning-unseen": "Someone lying on the floor would not be seen.",
  entrapment: "A drain without a sound cover can hold a person under water.",
  cuts: "Broken glass cannot be seen under water.",
  electrocution: "Loose wiring can kill anyone in the water.",
  gas: "Chlorine gas in the plant room can kill.",
};

const SEEN: Record<ClosingTrouble, string> = {
  "floor-hidden": "The floor or the main drain cannot be seen clearly.",
  cloudy: "The water is cloudy.",
  green: "The water is green.",
  brown: "The water is brown or black.",
  "drain-cover": "A drain or suction cover is broken, loose, or missing.",
  glass: "There is broken glass.",
  wiring: "Wiring or a light is loose or damaged.",
  "chlorine-gas": "It smells of chlorine in the plant room.",
};

/** What has to be done about it before anything else. */
const SEEN_DO: Record<ClosingTrouble, string> = {
  "floor-hidden": "Check the floor by hand or with a pole now. Clear the water before anyone goes in.",
  cloudy: "Check the floor by hand or with a pole now. Clear the water before anyone goes in.",
  green: "Check the floor by hand or with a pole now. Clear the water before anyone goes in.",
  brown: "Check the floor by hand or with a pole now. Clear the water before anyone goes in.",
  "drain-cover": "Turn the pump off. Call a licensed contractor for a new cover.",
  glass: "Lock the gate. Take the glass out, vacuum to waste, and look again in low light.",
  wiring: "Stay out of the water. Turn the breaker off. Call an electrician.",
  "chlorine-gas": "Get out and keep everyone away, upwind. Call the fire department. Do not go back in.",
};

const URGENT: Record<UrgentTrouble, { says: string; why: string }> = {
  "pump-off": {
    says: "The pump is not running: gas can build up in feeders and pipes.",
    why: "Before it starts: everyone out, feeders checked and off, water clear. Then start the pump, wait, and turn the feeders on last.",
  },
  gate: {
    says: "A child can get in alone: the gate or fence does not close by itself.",
    why: "Tell the owner before you leave. Stay, or lock the place, until the gate shuts and latches by itself.",
  },
  "rescue-gear": {
    says: "There is no rescue gear within reach.",
    why: "Tell the owner before you leave: a ring or a reaching pole hangs at the water. A public pool stays closed without it.",
  },
};

const SINCE: Record<Closer["what"], string> = {
  seen: "The water was not tested after what was found here.",
  incident: "The water was not tested after the incident.",
  "closed-dose": "The water was not tested after the dose.",
  shock: "A large dose of chlorine was added. The water was not tested after it.",
  "chlorine-out": "Chlorine was removed. The water was not tested after it.",
  "ph-moved": "The dose may have taken the pH out of its limits. The water was not tested after it.",
  oxidiser: "An oxidizer was added. The water was not tested after it.",
  clouding: "A product that clouds the water was added. The water was not checked and tested after that.",
  "water-replaced": "Water was replaced. It was not tested after that.",
  recipe: "The job here is not finished: its last test is missing.",
};

interface IncidentText {
  name: string;
  /** What to do, in this order. */
  steps: string[];
  /** What has to be so before it is over, in words. */
  over: string;
}

const OUT = "Everyone out of the water. Close and lock the basin.";
const HELP = "Call the poison center or the emergency number now.";

export const INCIDENT_TEXT: Record<IncidentKind, IncidentText> = {
  "stool-formed": {
    name: "Stool in the water, formed",
    steps: [
      OUT,
      "Take it out with a net or scoop. Never vacuum it. Wear gloves.",
      "Bring free chlorine to 2 ppm or more and pH to 7.5 or less. Keep both for 25 minutes.",
      "Leave the net in that water for the same time. Wash your hands.",
      "Test free chlorine and pH before anyone goes in.",
    ],
    over: "Free chlorine 2 ppm or more and pH 7.5 or less, for 25 minutes.",
  },
  "stool-loose": {
    name: "Diarrhea in the water",
    steps: [
      `${OUT} Close every basin on the same filter.`,
      "Take out what you can with a net. Never vacuum it. Wear gloves.",
      "Bring free chlorine to 20 ppm and pH to 7.5 or less. Keep both for 12 hours 45 minutes, filter running.",
      "With stabilizer in the water keep 20 ppm for 28 hours. Over 15 ppm of stabilizer, lower it first.",
      "A spa: drain it, scrub it, change the filter, and refill.",
      "Backwash to waste afterward. Bring chlorine back into range and test before anyone goes in.",
    ],
    over: "Free chlorine 20 ppm and pH 7.5 or less, for 12 hours 45 minutes; 28 hours with stabilizer.",
  },
  vomit: {
    name: "Vomit in the water",
    steps: [
      OUT,
      "Take it out with a net or scoop. Never vacuum it. Wear gloves.",
      "Bring free chlorine to 2 ppm or more and pH to 7.5 or less. Keep both for 25 minutes.",
      "Test free chlorine and pH before anyone goes in.",
    ],
    over: "Free chlorine 2 ppm or more and pH 7.5 or less, for 25 minutes.",
  },
  blood: {
    name: "Blood in the water",
    steps: [
      OUT,
      "Help the person first. Wear gloves.",
      "Clean blood off the deck with bleach and water, ten parts water to one, and wait 20 minutes.",
      "Test free chlorine and pH. Nobody goes in until both are in range.",
    ],
    over: "Test free chlorine and pH after it.",
  },
  legionella: {
    name: "Legionella suspected",
    steps: [
      `${OUT} Turn jets, air, and sprays off: the spray carries it into lungs.`,
      "Do not drain and do not dose: the health authority takes samples first.",
      "Call the health authority now.",
      "Only the health authority opens the basin again.",
    ],
    over: "The health authority says so. Write down who.",
  },
  gas: {
    name: "Chlorine gas or a smell at the feeder",
    steps: [
      "Chlorine gas kills. Get out, keep everyone away, and stay upwind.",
      "Call the fire department. Do not go back in, not for the switch either.",
      "Anyone who coughs or cannot breathe: fresh air, sit upright, emergency number.",
      "After a pump stopped, check feeders and let no one in before it restarts: built-up gas comes out at the returns.",
    ],
    over: "The fire department says so. Write down who.",
  },
  "chemical-skin": {
    name: "Chemical on skin",
    steps: [
      "Take off wet clothing. Rinse with running water for 20 minutes.",
      "Acid or dry chlorine: brush dry powder off first, then rinse.",
      HELP,
      "Take the label along.",
    ],
    over: "The person was helped. Test the water before anyone goes in.",
  },
  "chemical-eyes": {
    name: "Chemical in an eye",
    steps: [
      "Rinse at once with running water for 20 minutes. Hold the lids open. Take contact lenses out.",
      HELP,
      "Keep rinsing on the way. Take the label along.",
    ],
    over: "The person was helped. Test the water before anyone goes in.",
  },
  "chemical-swallowed": {
    name: "Chemical swallowed",
    steps: [
      "Do not make the person vomit.",
      HELP,
      "Rinse the mouth. Give sips of water only if the poison center says so.",
      "Not breathing or not awake: emergency number first.",
    ],
    over: "The person was helped. Test the water before anyone goes in.",
  },
  "chemical-inhaled": {
    name: "Chemical breathed in",
    steps: [
      "Fresh air at once. Do not go in after someone without breathing gear.",
      "Sit the person upright and keep them warm and still.",
      "Call the emergency number for any cough or short breath: lungs can fill hours later.",
    ],
    over: "The person was helped. Test the water before anyone goes in.",
  },
  glass: {
    name: "Broken glass",
    steps: [
      OUT,
      "Glass cannot be seen under water. Vacuum to waste, every inch of floor, and the deck.",
      "Look again with a light held low. When in doubt, drain.",
      "Check skimmer and pump baskets with gloves on.",
    ],
    over: "Floor and deck were searched twice. Test the water before anyone goes in.",
  },
  lightning: {
    name: "Thunderstorm",
    steps: [
      "Lightning kills in water and beside it. Everyone out and indoors, indoor pools too.",
      "Stay out for 30 minutes after the last thunder.",
      "Do not touch metal, pumps, or water until then.",
    ],
    over: "30 minutes without thunder.",
  },
};

/** Writers of a reading and a limit with their units. */
interface Writers {
  value: (quantity: Quantity, value: number) => string;
  limit: (quantity: Quantity, value: number) => string;
  name: (quantity: Quantity) => string;
}

/** A reason to stay out, as one sentence. */
export function bathingReason(reason: BathingReason, { value, limit, name }: Writers): string {
  switch (reason.code) {
    case "reading":
    case "off": {
      const isLow = reason.finding.endsWith(".low");
      const bound =
        reason.code === "reading"
          ? `closed ${isLow ? "below" : "above"}`
          : `should be ${isLow ? "at least" : "at most"}`;
      const said = `${name(reason.quantity)} is ${value(reason.quantity, reason.value)}, ${bound} ${limit(
        reason.quantity,
        reason.limit,
      )}.`;
      return reason.quantity === "temperature"
        ? `Water this hot can make people faint and drown. ${said} Young children and pregnant women stay out of hot water.`
        : said;
    }
    case "seen":
      return `${SEEN[reason.trouble]} ${DANGERS[CLOSED_FOR[reason.trouble]]}`;
    case "incident":
      return `${INCIDENT_TEXT[reason.incident].name}.`;
    case "since":
      return SINCE[reason.what];
    case "not-read":
      return `${name(reason.quantity)} was not tested today.`;
    case "off-scale":
      return `${name(reason.quantity)} is off its scale at ${value(reason.quantity, reason.value)}.`;
    case "not-looked":
      return "Nobody checked whether the floor can be seen.";
  }
}

export const safetyWords = {
  safety: {
    closed: "Closed: nobody in the water.",
    untested: "Not tested: nobody in the water.",
    care: "Not closed, but out of range.",
    mixing: (when: string) => `Nobody in the water before ${when}: the chemicals have to mix.`,
    open: "You can use the water.",
    jetsOff: "Keep jets and air off until the water is tested: the spray reaches lungs.",
    opens: (tests: string) =>
      `It opens again after a test: ${tests}. A local code or the health authority may ask for more.`,
    seenDo: (trouble: ClosingTrouble): string => SEEN_DO[trouble],
    urgent: (trouble: UrgentTrouble) => URGENT[trouble],
    hot: (value: string, limit: string) => ({
      says: `Hot water: ${value}. Children under 5 and pregnant women stay out.`,
      why: `Hot water makes people drowsy and faint, and drown. Ten minutes at a time, no alcohol. Over ${limit} it is closed for everyone.`,
    }),
    cold: (value: string, limit: string) => ({
      says: `Cold water: ${value}. The shock of it can stop breath and heart.`,
      why: `Under ${limit} go in slowly, never alone, a few minutes at most. Not with a heart condition, not for children, not in pregnancy.`,
    }),
  },
  apart: {
    title: "Keep apart, on the shelf and in the truck",
    danger:
      "Acid beside chlorine makes poison gas. Two kinds of chlorine together burn or explode. Each group in a closed tray or box of its own, never one above another.",
    groups: {
      acid: "Acids",
      "liquid-chlorine": "Liquid chlorine",
      "cal-hypo": "Cal-hypo",
      "stabilised-chlorine": "Trichlor and dichlor",
      bromine: "Bromine",
      oxidiser: "Other oxidizers",
      other: "The rest",
    } satisfies Record<StorageGroup, string>,
    how: "Upright, caps tight, dry, shaded, ventilated. Never in the cab. No oil, paper, or rags beside them.",
    spill: "A spill: first steps",
    spillSteps: [
      "Fumes can kill. Move away, upwind. Keep everyone back.",
      "Do not mix anything with it. Put goggles and gloves on.",
      "A cup of dry product: into a clean, dry bucket with a clean, dry scoop. Never into the trash, never back into its drum.",
      "A cup of acid: cover it with soda ash from the edge inward, then rinse with much water.",
      "Gas, fire, or more than a bucket: emergency number.",
    ],
  },
  whichNumber: {
    asks: (text: string) => `“${text}” can mean two numbers. Which one?`,
    is: (value: string, unit: string) => `${value} ${unit}`,
  },
  incidents: {
    title: "Something happened",
    link: "Something happened",
    hint: "Tap what happened. It closes this basin, says what to do now, and goes into the log. It works offline.",
    emergency: "Fire, gas, trouble breathing, or someone not awake:",
    poison: "Poison center:",
    hurt: "Someone is hurt",
    water: "In or around the water",
    report: "Close the basin and log it",
    note: "What happened, where, who was told",
    reported: (by: string, when: string) => `Logged by ${by}, ${when}`,
    todo: "Do this now",
    overTitle: "Before it is over",
    over: "It is over",
    who: "Who decided that it is over",
    isOver: (by: string, when: string, who: string) =>
      `Over: ${by}, ${when}${who ? `, decided by ${who}` : ""}`,
    thenTest: "Then test sanitizer and pH. The basin opens by that test.",
    another: "Something else happened",
    back: "Back",
    local: "Your local procedure, the label, and the authorities outrank this page.",
  },
};

/** Why an incident is not over yet, out of a fault's limit. */
export function notOverText(limit: readonly (string | number)[]): string {
  const [code, first, second] = limit;
  switch (code as NotOver["code"]) {
    case "too-soon":
      return `Too soon: ${hoursAndMinutes(Number(first))} more.`;
    case "not-held":
      return `Test first: free chlorine ${first} ppm or more and pH ${second} or less must be read, and stay so.`;
    case "stabiliser-too-high":
      return `Stabilizer is over ${first} ppm: replace water first. Chlorine cannot do it in this water.`;
    case "nobody-named":
      return "Write down who decided that it is over.";
  }
}

const hoursAndMinutes = (minutes: number): string =>
  minutes < 60 ? `${minutes} minutes` : `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
