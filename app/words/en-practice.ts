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
  grey: "gray",
};

const percent = (share: number): string => `${Math.round(Math.abs(share) * 100)}%`;
const drops = (count: number): string => (count === 1 ? "one drop" : `${count} drops`);

/** What was wrong, and why it matters. */
function slipText(slip: Slip): [what: string, why: string] {
  switch (slip.code) {
    case "over-filled":
      return [
        `The sample was ${percent(slip.share)} above the line.`,
        "More water takes more drops: it reads high.",
      ];
    case "under-filled":
      return [
        `The sample was ${percent(slip.share)} below the line.`,
        "Less water takes fewer drops: it reads low.",
      ];
    case "left-out":
      return [`${slip.reagent} was left out.`, "Without it the color is wrong or missing."];
    case "heaped":
      return [
        `${slip.reagent}: heaped, ${percent(slip.share)} too much.`,
        "Level it off. Too much powder clouds the color change.",
      ];
    case "scant":
      return [
        `${slip.reagent}: ${percent(slip.share)} too little.`,
        "With less powder the test sees less chlorine and bleaches sooner.",
      ];
    case "wrong-amount":
      return [
        `${slip.reagent}: ${slip.given} instead of ${slip.amount}.`,
        "The colors of the test are made for the right amounts.",
      ];
    case "wrong-order":
      return [`${slip.reagent} was added too early.`, "Each reagent prepares the sample for the next."];
    case "wrong-reagent":
      return [
        `${slip.reagent} does not belong in this test.`,
        "Pour it out and start again. Put each cap back on its own bottle.",
      ];
    case "not-mixed":
      return [`${slip.reagent} was not mixed in.`, "Reagent at the bottom does nothing."];
    case "shaken":
      return [
        "You shook the sample.",
        "Shaking drives carbon dioxide out, and the pH rises. Swirl, or turn it over gently.",
      ];
    case "too-short":
      return [
        `${slip.reagent}: ${Math.round(slip.seconds)} s instead of ${slip.wanted} s.`,
        "The color or cloud was not complete yet.",
      ];
    case "slanted":
      return [
        `You held the bottle at ${Math.round(slip.angle)}°.`,
        `Its drops are ${percent(slip.share)} smaller, so you count more and it reads high. Hold it upright: then all drops are alike.`,
      ];
    case "not-swirled":
      return [
        "Near the end you added drops without swirling.",
        "The color change is hidden for one to three drops, so it reads high.",
      ];
    case "waited":
      return [
        `The sample waited for ${Math.round(slip.seconds / 60)} minutes.`,
        "Chlorine and color fade, so it reads low. Once you start, go on to the end.",
      ];
    case "sun":
      return [
        "You read it in the sun.",
        "Read it against a white card in the shade: you see the last trace of color there, and sun destroys chlorine.",
      ];
    case "tinted":
      return ["You read it through tinted glasses.", "They take some of the color away."];
    case "past-end":
      return [`You stopped ${drops(slip.drops)} late.`, "Each extra drop counts, so it reads high."];
    case "short-of-end":
      return [
        `You stopped ${drops(slip.drops)} early.`,
        "When in doubt, add one more drop. If the color does not change, it does not count.",
      ];
    case "miscounted":
      return [
        `${drops(slip.fell)} fell, and you counted ${slip.counted}.`,
        "Let the beat announce the numbers, or count aloud.",
      ];
  }
}

/** The practice bench, in English. */
export const practiceWords = {
  practice: {
    title: "Practice bench",
    intro:
      "Practice with a made-up sample that behaves like a real one. Nothing here goes into the book. Repeat it as often as you like.",
    tests: "Tests",
    how: "How",
    ways: {
      rehearsal: ["Rehearsal", "The steps in order, without liquid"],
      guided: ["Guided", "Shows each mistake at once, and why it matters"],
      alone: ["Alone", "Compares you with the hidden water afterward"],
    } satisfies Record<string, [string, string]>,
    begin: "Start",
    next: "Next for you",
    nextWhy: (test: string, story: string | null) => (story ? `${test}: something you missed` : test),
    back: "Another test",
    overWeeks: "Your figures over weeks",
    ownNone: "After five runs of a test you see its bias and scatter here.",
    ownLine: (runs: number, bias: string, scatter: string) =>
      `${runs} runs: bias ${bias}, scatter ${scatter}`,
    tell: "Share your practice with your firm, or use your own scatter in your readings (sign in)",
    forget: "Delete all practice on this device",
    hands: "Hands",
    groups: {
      sample: "The sample",
      bottles: "Reagents",
      mixing: "Mix or wait",
      more: "Light and more",
    },
    fill: "Pour",
    fillHint: (line: number) =>
      `Hold to pour. Let go when the bottom of the curve is on the ${line} mL line.`,
    empty: "Pour it out",
    scoop: { level: "Scoop, leveled off", asItComes: "Scoop, not leveled" },
    add: (reagent: string, measure: string) => `${reagent}, one ${measure}`,
    addMl: (reagent: string, amount: number) => `${reagent}, ${amount} mL`,
    given: (amount: string) => `${amount} in`,
    mixes: { swirl: "Swirl", invert: "Turn over", shake: "Shake" },
    holdTo: (what: string) => `${what} (hold)`,
    wait: (seconds: number) => `Wait ${seconds} s`,
    tilt: "Tilt of the bottle",
    tiltPhone: "Use the tilt of the phone",
    tiltNone: "This device does not report its tilt. Use the slider.",
    lights: {
      white: "White card, shade",
      sun: "In the sun",
      tinted: "Tinted glasses",
    } satisfies Record<Light, string>,
    light: "Light",
    handle: "More actions",
    dilute: "Dilute 1 to 1 with tap water",
    warm: "Warm it in your hand",
    ahead: "Add a drop of titrant before the indicator",
    pourTube: "Fill the tube (hold)",
    pourBack: "Pour a little back",
    aids: "Help with colors",
    nameIt: "Name the color",
    weakEye: "Show light and dark instead of red and green",
    sound: "Sound of the drop",
    colour: (name: ColourName, share: number | null) =>
      share === null ? NAMES[name] : `${NAMES[name]}, ${Math.round(share * 100)}% of the way`,
    step: (sentence: string) => `Now: ${sentence}`,
    stepCount: "Now add drops and swirl until the color changes. Then save.",
    stepPlace: "Now find the matching standard, and save.",
    stepTube: "Now fill the tube until the dot disappears, read the line, and save.",
    slipNow: "Mistake",
    setAside: "I would not act on this reading",
    result: "Your result",
    read: "You read",
    was: "True value",
    inBracket: "Within your range.",
    outsideShort: "Outside your range.",
    outside: (error: string) => `Off by ${error}.`,
    noSlips: "No mistakes.",
    traps: {
      "bleaching-chlorine": [
        "A lot of chlorine",
        "It bleaches DPD and turns phenol red purple. Dilute, add more powder, or set the reading aside.",
      ],
      persulfate: [
        "Persulfate was added yesterday",
        "It reads as combined chlorine for a day or two. Set the reading aside.",
      ],
      copper: [
        "Copper in the water",
        "It blocks the indicator. Add some drops of titrant first, and count them.",
      ],
      "stabiliser-over": ["Stabilizer above the top line", "Dilute one to one, read, then double it."],
      "ph-off-scale": [
        "pH off its scale",
        "The last standard means “at least” or “at most”, never a number.",
      ],
      combined: ["A lot of combined chlorine", ""],
      "soft-spa": ["A soft spa", "Below the lowest line means “less than”, not zero."],
      "cold-sample": ["A cold sample", "The tube reads wrong when the sample is cold. Warm it first."],
      ordinary: ["", ""],
    } satisfies Record<Story, [string, string]>,
    trapSeen: "You noticed it.",
    trapMissed: "You missed it. It comes back soon.",
    cost: (amount: string, product: string, volume: string) =>
      `In ${volume} this error means ${amount} of ${product} too much or too little.`,
    risks: {
      "low-chlorine-unseen": "You would have called water with almost no chlorine safe.",
      "high-chlorine-unseen": "You would have called water safe that nobody should swim in.",
      "ph-unseen": "You would have called a harmful pH right.",
    },
    seconds: (seconds: number) => `${Math.round(seconds)} s from sample to result.`,
    sheet: {
      title: "A whole sheet",
      hint: "One hidden water, from the sample to the dose: six tests, your verdict, and your doses. Afterward you see the true water.",
      begin: "Start a sheet",
      stops: "The sheet",
      basin: (kind: "pool" | "spa", volume: string) =>
        kind === "spa" ? `A spa of ${volume}, acrylic` : `An outdoor pool of ${volume}, plaster`,
      sample: "The sample",
      found: {
        running: "The pump runs.",
        off: "The pump is off.",
        none: "Nothing was added since yesterday.",
        dosed: (hours: string) => `Acid was added ${hours} ago.`,
      },
      where: "Where do you take the sample?",
      places: {
        surface: "At the surface, by the steps",
        "elbow-deep": "Elbow-deep, away from the returns",
        "at-return": "In front of a return",
      } satisfies Record<SamplePlace, string>,
      now: "Take it now",
      waited: "Run the pump first, then come back",
      choosePlace: "Choose first where you take it.",
      takenSo: "Taken",
      again: "Test it again",
      setAside: "set aside",
      notYet: "not tested",
      goOn: "Continue your sheet",
      another: "Start another",
      backToSheet: "Back to the sheet",
      judge: "Go to judge",
      backToJudge: "Back to judge",
      judgeHint: "Use your own readings. Your answers are compared with the true water.",
      range: (text: string) => `range ${text}`,
      saturation: "Water balance",
      saturationHint: "From all readings and the temperature",
      solids: (value: string) => `${value} ppm dissolved solids`,
      saidPlace: {
        low: "low",
        within: "in range",
        high: "high",
      } satisfies Record<Place, string>,
      saidIndex: {
        low: "corrosive",
        within: "balanced",
        high: "scale-forming",
      } satisfies Record<Place, string>,
      dose: "Go to dose",
      doseHint: "Enter what you would add today. Leave the rest empty. Adding nothing can be right.",
      strength: (percent: string) => `${percent}%`,
      replaced: "Water to replace first, %",
      bad: (name: string, value: string, most: string) =>
        `${name}: “${value}” must be a number from 0 to ${most}.`,
      finish: "Finish the sheet",
      result: "Your sheet and the true water",
      tests: "Readings",
      judged: "Your verdict",
      verdict: (said: string, truly: string) =>
        said === truly ? `${said}: correct` : `${said}; it is ${truly}`,
      misled: "your reading misled you",
      nothingSaid: "no answer",
      dosed: "Your dose in that water",
      plan: "What Pelagon would have added",
      planNothing: "Nothing.",
      planReplaced: (percent: string) => `${percent}% of the water replaced`,
      planWait: "Working it out …",
      planNone: "It could not be worked out here.",
      outOf: (names: string) => `Out of range afterward: ${names}.`,
      allIn: "All readings end in range.",
      noWater: "That dose is outside what the model can work out.",
      risks: {
        "chlorine-over": "More chlorine than anyone may swim in.",
        "chlorine-under": "Almost no chlorine is left: nobody may swim.",
        "ph-out": "A pH that hurts eyes and skin.",
        "acid-and-chlorine": `Acid and chlorine make poison gas. Never use one bucket for both. Wait ${ACID_CHLORINE_MINUTES} minutes between them with the pump running. Follow their labels first.`,
        "in-portions": "Too much to add at once. Use portions, with a retest between them.",
      } satisfies Record<DoseRisk, string>,
      sampleSlips: {
        "pump-off": "The pump was off. The sample shows only the spot it came from.",
        "recent-dose": "The dose had not mixed yet. Wait one turnover, or twenty minutes in a spa.",
        surface: "The surface does not show the pool: it has sun, leaves and dirt.",
        "at-return": "In front of a return you sample water that was just treated.",
        "waited-for-nothing": "Waiting was not needed.",
      } satisfies Record<SampleSlip, string>,
      story: "What was hidden",
      ordinary: "Nothing: it was ordinary water.",
      time: (minutes: string) => `${minutes} min at the bench.`,
    },
    drills: "Drills",
    drillsHint: "One look, one answer. What you miss comes back sooner.",
    drillNames: {
      endpoint: "Color change",
      standard: "Color standards",
      dot: "Viewing tube",
      meniscus: "Fill line",
      "sample-size": "Sample size",
    } satisfies Record<DrillKind, string>,
    drillAsk: {
      endpoint: (test: string) => `${test}: has the color changed, or does it need one more drop?`,
      standard: () => "Which standard does it match, or between which two?",
      dot: () => "Look straight down: is the dot gone?",
      meniscus: () => "At eye level: where is the bottom of the curve?",
      "sample-size": (test: string, last: string) => `${test} was ${last} last time. How large a sample?`,
    } satisfies Record<DrillKind, (...args: never[]) => string>,
    choices: {
      "not-yet": "One more drop",
      there: "It has changed",
      "dot-seen": "I still see it",
      "dot-gone": "It is gone",
      under: "Under the line",
      "on-line": "On the line",
      over: "Over the line",
    },
    drillWhy: {
      endpoint:
        "The end is the color that no further drop changes. When in doubt, add one more drop. If nothing changes, it does not count.",
      standard: "If it is between two standards, say so. Do not choose one of them.",
      dot: "Stop as soon as you cannot see the dot. Pour back and read again.",
      meniscus: "Put the bottom of the curve on the line, not its edge at the glass.",
      "sample-size":
        "Few drops are coarse, and with many you lose count. Use the sample that takes up to about 25 drops.",
    } satisfies Record<DrillKind, string>,
    drillRight: "Right.",
    drillWrong: (right: string) => `No: ${right.toLowerCase()}.`,
    drillNext: "Next",
    drillSoFar: (right: number, of: number) => `${right} of ${of} right`,
    again: "Try again",
    slip: slipText,
    elsewhere: "This test is open in another tab.",
    here: "Continue here",
    rehearse: "What comes next?",
    rehearseWrong: (right: string) => `Not yet. First: ${right}`,
    rehearseDone: (wrong: number) =>
      wrong === 0
        ? "All in the right order. Now try it with liquid."
        : `Done, with ${wrong} wrong. Repeat it until all are right.`,
    keysHint: "W: swirl (hold). [ and ]: tilt. D: a drop without counting it.",
    signIn: "Practice bench: learn the drops, without signing in",
    five: (reagent: string) => `${reagent}, five drops`,
  },
};
