/** A visit from its run sheet to its close, and how a water stands as a whole, in English. */
export const visitWords = {
  visit: {
    sheet: "Run sheet",
    judge: "Judge",
    dose: "Dose",
    retest: "Retest",
    close: "Close",
    open: "to do",
    notDue: "not due",
    noted: (count: number) => `${count} noted`,
    skipped: "No kit of the firm has a test for this.",
    skip: "Skip this test",
    otherWays: "Another way to test this",
    agree: "The readings agree: their ranges overlap.",
    disagree: "The readings do not agree: their ranges do not overlap. One of the tests is off.",
    used: "used",
    beside: "also tested",
    beforeDosing: "before dosing",
    ownScatter: (percent: string) => `own scatter ${percent}%`,
    setAside: (name: string) => `${name} was tested, but no dose is based on it.`,
    already: "Saved in this visit",
    saveReplaces: "Saving again replaces it. The history keeps the first one.",
    judgeTitle: "Water balance",
    /** Drops that were counted and never saved. */
    unsaved: {
      counted: (quantity: string, drops: number, value: string): string =>
        `${quantity}: ${drops === 1 ? "1 drop was" : `${drops} drops were`} counted and not saved. That would be ${value}.`,
      before: "They were counted before the doses, so they cannot be saved now.",
      save: "Save this reading",
      drop: "Discard this count",
    },
    judgeNone: "No reading yet. Do at least one test, chlorine first.",
    allRight: "Every reading is in range.",
    closed: "Keep the basin closed until this is in range.",
    bySet: (name: string) => `Range set: ${name}`,
    notTested: "Not tested today",
    carried: (value: string, age: string) => `${value}, from ${age}`,
    toDose: "See what to add",
    doseTitle: "What to add",
    doseNone: "Nothing to add.",
    doseEach:
      "Each amount is worked out for its own reading. Add one, let it mix, and test again before the next. Goggles and gloves, nobody in the water, pump running. Follow the label first.",
    given: "Added",
    amountGiven: (unit: string) => `Amount added, ${unit}`,
    saveDose: "Added",
    correctDose: "Correct",
    notGiven: "Undo",
    exact: (amount: string) => `exactly ${amount}`,
    cups: (cups: number) => `roughly ${cups} ${cups === 1 ? "cup" : "cups"}; weigh it if you can`,
    portions: (count: number, amount: string) =>
      `In ${count} portions of ${amount}, with the pump running and 30 minutes between.`,
    aim: (what: string, value: string) => `brings ${what} to about ${value}`,
    limitedByPh:
      "More would push the pH below its range. Add this, aerate until the pH is back, test again, then add the rest.",
    toClose: "Go to close",
    closeTitle: "Close the visit",
    note: "Note for the book",
    notePlaceholder: "What the next person should know",
    finish: "Save the visit",
    /** A test that another device made before it could know of the close. */
    late: "arrived after the close",
    readAsChlorine:
      "This test counts bromine as chlorine. It is saved as bromine: 2.25 times the number shown here.",
    bromineLeave: (leave: string, low: string, high: string) =>
      `To last until the next visit, leave ${leave} of bromine (90% sure). Expected then: ${low} to ${high}.`,
    bromineShort:
      "Even the most that may be left will probably not last until the next visit. A feeder with bromine tablets or an earlier visit would.",
    rinse:
      "Rinse and pack the kit. Used samples go into the waste bottle, never back into the water and never down a drain: some hold chromate, silver, acid, or peroxide.",
    lockUp: "A child can drown without a sound. Put the safety cover on, or lock the gate, before you leave.",
    closedBefore:
      "Someone else already closed this visit. It stays as they closed it. Your note was added to theirs.",
    offline: "The server does not answer. What you entered is still here. Try again in a moment.",
    readings: "Readings",
    findings: "Findings",
    doses: "Added",
    by: "by",
    planned: "planned",
    value: "Reading",
    test: "Test",
    bracket: "Range",
    how: "How",
    weather: (low: string, high: string, sun: string, rain: string, evaporation: string) =>
      `Weather: ${low} to ${high}, ${sun} h of sun${rain === "0" ? "" : `, ${rain} mm of rain`}, ${evaporation} mm evaporated.`,
    cost: (money: string) => `Cost of the doses: ${money}`,
    sheetOfFirm: "The firm's own sheet",
  },
  balance: {
    title: "Saturation index",
    balanced: "balanced",
    etches: "▼ low: the water dissolves plaster and attacks metal",
    scales: "▲ high: the water forms scale and turns cloudy",
    interval: (low: string, high: string) =>
      `${low} to ${high} (95% likely), given how sure the readings are`,
    window: (low: string, high: string) => `Balanced from ${low} to ${high}.`,
    titrated: (index: string) =>
      `With total alkalinity it would be ${index}. Much of that is stabilizer, so the carbonate part counts.`,
    assumed: (names: string) => `Not measured, typical values used: ${names}.`,
  },
};
