import {
  ACID_CHLORINE_MINUTES,
  type ColourName,
  type DoseRisk,
  type DrillKind,
  type Light,
  type Place,
  type SamplePlace,
  type SampleSlip,
  type Slip,
  type Story,
} from "#core";

const NAMES: Record<ColourName, string> = {
  clear: "clear",
  "pale pink": "pale pink",
  pink: "pink",
  "deep pink": "deep pink",
  red: "red",
  orange: "orange",
  yellow: "yellow",
  green: "green",
  blue: "blue",
  violet: "violet",
  purple: "purple",
  brown: "brown",
  grey: "grey",
};

const percent = (share: number): string => `${Math.round(Math.abs(share) * 100)} %`;
const drops = (count: number): string => (count === 1 ? "one drop" : `${count} drops`);

/** What was wrong, and why it matters. */
function slipText(slip: Slip): [what: string, why: string] {
  switch (slip.code) {
    case "over-filled":
      return [
        `The sample stood ${percent(slip.share)} over the line.`,
        "More water takes more drops: it reads high.",
      ];
    case "under-filled":
      return [
        `The sample stood ${percent(slip.share)} under the line.`,
        "Less water takes fewer drops: it reads low.",
      ];
    case "left-out":
      return [`${slip.reagent} was left out.`, "Without it the colour is another one, or none."];
    case "heaped":
      return [
        `${slip.reagent}: heaped, ${percent(slip.share)} too much.`,
        "Level it off: too much powder clouds the end.",
      ];
    case "scant":
      return [
        `${slip.reagent}: ${percent(slip.share)} too little.`,
        "Less powder makes pink of less chlorine, and is bleached sooner.",
      ];
    case "wrong-amount":
      return [
        `${slip.reagent}: ${slip.given} in place of ${slip.amount}.`,
        "The colours of the test are made for its own amounts.",
      ];
    case "wrong-order":
      return [`${slip.reagent} went in too early.`, "Each reagent prepares the sample for the next."];
    case "wrong-reagent":
      return [
        `${slip.reagent} does not belong in this test.`,
        "Pour it out and begin again; caps back on their own bottles.",
      ];
    case "not-mixed":
      return [`${slip.reagent} was not mixed in.`, "What lies at the bottom does nothing."];
    case "shaken":
      return [
        "It was shaken.",
        "Shaking drives carbon dioxide out, and the pH rises: swirl, or turn it over gently.",
      ];
    case "too-short":
      return [
        `${slip.reagent}: ${Math.round(slip.seconds)} s of ${slip.wanted} s.`,
        "The colour, or the cloud, had not come out yet.",
      ];
    case "slanted":
      return [
        `The bottle was held at ${Math.round(slip.angle)}°.`,
        `Its drops are ${percent(slip.share)} smaller: more of them are counted, and it reads high. Upright, they are all alike.`,
      ];
    case "not-swirled":
      return [
        "Near the end drops fell into the cloud of those before.",
        "Unswirled, the end is hidden for one to three drops: it reads high.",
      ];
    case "waited":
      return [
        `The sample stood for ${Math.round(slip.seconds / 60)} minutes.`,
        "Chlorine fades and the colour with it: it reads low. Once begun, go on to the end.",
      ];
    case "sun":
      return [
        "It was read in the sun.",
        "Against a white card in the shade the last trace of a colour is seen, and the sun eats chlorine.",
      ];
    case "tinted":
      return ["It was read through tinted glasses.", "They take a part of the colour away."];
    case "past-end":
      return [
        `The end was called ${drops(slip.drops)} late.`,
        "Each drop too many is counted: it reads high.",
      ];
    case "short-of-end":
      return [
        `The end was called ${drops(slip.drops)} early.`,
        "When in doubt one more drop; if nothing changes it does not count.",
      ];
    case "miscounted":
      return [
        `${drops(slip.fell)} fell and ${slip.counted} were counted.`,
        "Let the beat call the numbers, or count aloud.",
      ];
  }
}

/** The practice bench, in English. */
export const practiceWords = {
  practice: {
    title: "Practice bench",
    intro:
      "A made-up sample and real drops' habits: nothing here goes into the book. Counting, colours, hands and traps, as often as you like.",
    tests: "Tests",
    how: "How",
    ways: {
      rehearsal: ["Rehearsal", "The steps by heart, without liquid"],
      guided: ["Guided", "Every slip is told at once, with why"],
      alone: ["Alone", "Scored afterwards against the hidden water"],
    } satisfies Record<string, [string, string]>,
    begin: "Begin",
    next: "Next for you",
    nextWhy: (test: string, story: string | null) => (story ? `${test}: something you missed` : test),
    back: "Another test",
    overWeeks: "Your figures over weeks",
    ownNone: "After five runs of a test its bias and scatter stand here.",
    ownLine: (runs: number, bias: string, scatter: string) =>
      `${runs} runs: bias ${bias}, scatter ${scatter}`,
    tell: "Tell your firm what you practised, or use your own scatter in your readings (signed in)",
    forget: "Forget all practice on this device",
    hands: "Hands",
    groups: {
      sample: "The sample",
      bottles: "From the case",
      mixing: "Mix, or wait",
      more: "Light, and what else hands can do",
    },
    fill: "Pour",
    fillHint: (line: number) => `Hold to pour; let go with the bottom of the curve on the ${line} mL line.`,
    empty: "Pour it out",
    scoop: { level: "Scoop, levelled off", asItComes: "Scoop, as it comes" },
    add: (reagent: string, measure: string) => `${reagent}, one ${measure}`,
    addMl: (reagent: string, amount: number) => `${reagent}, ${amount} mL`,
    given: (amount: string) => `${amount} in`,
    mixes: { swirl: "Swirl", invert: "Turn over", shake: "Shake" },
    holdTo: (what: string) => `${what} (hold)`,
    wait: (seconds: number) => `Let ${seconds} s pass`,
    tilt: "Bottle off the vertical",
    tiltPhone: "Use the phone's own tilt",
    tiltNone: "This device tells no tilt, or was not allowed to: use the slider.",
    lights: {
      white: "White card, shade",
      sun: "In the sun",
      tinted: "Tinted glasses",
    } satisfies Record<Light, string>,
    light: "Seen",
    handle: "What else",
    dilute: "Dilute: one part with one part of tap water",
    warm: "Warm it in the hand",
    ahead: "A drop of titrant now, ahead of the indicator",
    pourTube: "Fill the tube (hold)",
    pourBack: "Pour a little back",
    aids: "For the eye",
    nameIt: "Name the colour",
    weakEye: "Light and dark in place of red and green",
    sound: "Sound of the drop",
    colour: (name: ColourName, share: number | null) =>
      share === null ? NAMES[name] : `${NAMES[name]}, ${Math.round(share * 100)} % of the way`,
    step: (sentence: string) => `Now: ${sentence}`,
    stepCount: "Now drop and swirl, to the drop that changes the colour. Then save.",
    stepPlace: "Now find the standard that it matches, and save.",
    stepTube: "Now fill the tube until the dot is gone, read the line, and save.",
    slipNow: "A slip",
    setAside: "I would not act on this reading",
    result: "How it came out",
    read: "You read",
    was: "The water has",
    inBracket: "Inside your bracket.",
    outsideShort: "Outside your bracket.",
    outside: (error: string) => `Off by ${error}.`,
    noSlips: "No slip.",
    traps: {
      "bleaching-chlorine": [
        "Very much chlorine",
        "It bleaches DPD and turns phenol red purple: dilute, take more powder or set the reading aside.",
      ],
      persulfate: [
        "Persulfate was given yesterday",
        "It reads as combined chlorine for a day or two: set the reading aside.",
      ],
      copper: [
        "Copper in the water",
        "It holds the indicator: some drops of titrant ahead of it, and count them.",
      ],
      "stabiliser-over": ["Stabiliser over the top line", "Dilute one to one, read, double."],
      "ph-off-scale": ["pH off its scale", "The last standard is “at least” or “at most”, never a number."],
      combined: ["Much combined chlorine", ""],
      "soft-spa": ["A soft spa", "Under the lowest line is “less than”, not nothing."],
      "cold-sample": ["A cold sample", "The tube reads wrong when cold: warm it first."],
      ordinary: ["", ""],
    } satisfies Record<Story, [string, string]>,
    trapSeen: "You saw it.",
    trapMissed: "You missed it: it comes back soon.",
    cost: (amount: string, product: string, volume: string) =>
      `In ${volume} the error is ${amount} of ${product}, too much or too little.`,
    risks: {
      "low-chlorine-unseen": "And water with next to no chlorine would have been called safe.",
      "high-chlorine-unseen": "And water that nobody should bathe in would have been called safe.",
      "ph-unseen": "And a pH that hurts would have been called right.",
    },
    seconds: (seconds: number) => `${Math.round(seconds)} s from the sample to the end.`,
    sheet: {
      title: "A whole sheet",
      hint: "One hidden water from the sample to the dose, alone: six tests, your judgement, what you would pour. Told afterwards, against the water itself.",
      begin: "Begin a sheet",
      stops: "The sheet",
      basin: (kind: "pool" | "spa", volume: string) =>
        kind === "spa" ? `A spa of ${volume}, acrylic` : `An outdoor pool of ${volume}, plaster`,
      sample: "The sample",
      found: {
        running: "The pump runs.",
        off: "The pump stands still.",
        none: "Nothing went in since yesterday.",
        dosed: (hours: string) => `Acid went in ${hours} ago.`,
      },
      where: "Where do you take it?",
      places: {
        surface: "At the surface, by the steps",
        "elbow-deep": "Elbow-deep, away from the returns",
        "at-return": "In front of a return",
      } satisfies Record<SamplePlace, string>,
      now: "Take it now",
      waited: "Run the pump first, and come back",
      choosePlace: "Say first where you take it.",
      takenSo: "Taken",
      again: "Test it again",
      setAside: "set aside",
      notYet: "not tested",
      goOn: "Go on with your sheet",
      another: "Begin another",
      backToSheet: "Back to the sheet",
      judge: "Judge it",
      backToJudge: "Back to judging",
      judgeHint: "By your own readings. What is said here is held against the water.",
      range: (text: string) => `range ${text}`,
      saturation: "The water itself",
      saturationHint: "By all of it together, and its temperature",
      solids: (value: string) => `${value} ppm dissolved solids`,
      saidPlace: {
        low: "low",
        within: "in range",
        high: "high",
      } satisfies Record<Place, string>,
      saidIndex: {
        low: "takes up lime",
        within: "in balance",
        high: "drops lime",
      } satisfies Record<Place, string>,
      dose: "Dose it",
      doseHint: "What goes in today; leave empty what does not. Nothing is a dose, too.",
      strength: (percent: string) => `${percent} %`,
      replaced: "Water replaced first, %",
      bad: (name: string, value: string, most: string) =>
        `${name}: “${value}” must be a number from 0 to ${most}.`,
      finish: "That is my sheet",
      result: "The sheet against the water",
      tests: "Readings",
      judged: "Judged",
      verdict: (said: string, truly: string) =>
        said === truly ? `${said}: so it is` : `${said}; it is ${truly}`,
      misled: "your reading misled you",
      nothingSaid: "nothing said",
      dosed: "Your dose in that water",
      plan: "What the planner would have poured",
      planNothing: "Nothing.",
      planReplaced: (percent: string) => `${percent} % of the water replaced`,
      planWait: "Working it out …",
      planNone: "It could not be worked out here.",
      outOf: (names: string) => `Out of range afterwards: ${names}.`,
      allIn: "All readings come into their range.",
      noWater: "No water comes of that dose: it drives the chemistry off every scale.",
      risks: {
        "chlorine-over": "More chlorine than anybody may bathe in.",
        "chlorine-under": "Next to no chlorine is left in it: nobody may bathe.",
        "ph-out": "A pH that hurts eyes and skin.",
        "acid-and-chlorine": `Acid and chlorine make poison gas: never through one bucket, ${ACID_CHLORINE_MINUTES} minutes apart, with the pump running; their labels go first.`,
        "in-portions": "More than goes in at once: in portions, with a retest between.",
      } satisfies Record<DoseRisk, string>,
      sampleSlips: {
        "pump-off": "The pump stood still: the sample is only the corner that it was taken from.",
        "recent-dose":
          "What was dosed had not gone everywhere yet: wait a turnover, in a spa twenty minutes.",
        surface: "At the surface it is the skin of the water: sun, leaves and what floats.",
        "at-return": "In front of a return it is what the plant has just treated.",
        "waited-for-nothing": "Waiting was not needed.",
      } satisfies Record<SampleSlip, string>,
      story: "The story",
      ordinary: "An ordinary water: nothing was hidden.",
      time: (minutes: string) => `${minutes} min at the bench.`,
    },
    drills: "Drills",
    drillsHint: "One look, one answer; what you miss comes back sooner.",
    drillNames: {
      endpoint: "Is it there yet?",
      standard: "Between standards",
      dot: "The tube's dot",
      meniscus: "The line",
      "sample-size": "Which sample?",
    } satisfies Record<DrillKind, string>,
    drillAsk: {
      endpoint: (test: string) => `${test}: has the colour changed, or one more drop?`,
      standard: () => "Which standard does it match, or between which two?",
      dot: () => "Look straight down: is the dot gone?",
      meniscus: () => "At eye level: where is the bottom of the curve?",
      "sample-size": (test: string, last: string) => `${test} was ${last} last time. How large a sample?`,
    } satisfies Record<DrillKind, (...args: never[]) => string>,
    choices: {
      "not-yet": "One more drop",
      there: "It is there",
      "dot-seen": "I still see it",
      "dot-gone": "It is gone",
      under: "Under the line",
      "on-line": "On the line",
      over: "Over the line",
    },
    drillWhy: {
      endpoint:
        "The end is the colour that no further drop changes. When in doubt one more; if nothing changes it does not count.",
      standard: "Between two standards is between: it is no use to choose one of them.",
      dot: "Stop at the first moment at which nothing of it is seen; pour back and read again.",
      meniscus: "The bottom of the curve belongs on the line, not its edge at the glass.",
      "sample-size":
        "Few drops are coarse, many are lost count of: the sample that gives under twenty-five or so, and still steps finely.",
    } satisfies Record<DrillKind, string>,
    drillRight: "Right.",
    drillWrong: (right: string) => `No: ${right.toLowerCase()}.`,
    drillNext: "Next",
    drillSoFar: (right: number, of: number) => `${right} of ${of} right`,
    again: "Once more",
    slip: slipText,
    elsewhere: "This test goes on in another tab.",
    here: "Go on here",
    rehearse: "What comes next?",
    rehearseWrong: (right: string) => `Not yet. First: ${right}`,
    rehearseDone: (wrong: number) =>
      wrong === 0
        ? "All in order, without a look. Now with liquid."
        : `Done, with ${wrong} wrong. Once more until none is.`,
    keysHint: "W swirl (hold), [ and ] tilt, D a drop apart from the count",
    signIn: "Practice bench: learn the drops, without signing in",
    five: (reagent: string) => `${reagent}, five drops`,
  },
};
