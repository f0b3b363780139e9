import type { NoRecipe, RecipeId } from "#core";

/** Recipes in English. */
export const recipeWords = {
  recipes: {
    title: "Other jobs",
    hint: "Jobs with their own steps. Each is worked out for this water and this shelf.",
    names: {
      "fresh-fill": "Fresh fill",
      opening: "Open the season",
      breakpoint: "Shock to breakpoint",
      persulfate: "Shock with persulfate",
      "lower-stabiliser": "Lower stabilizer",
      "lower-calcium": "Lower calcium",
      "chlorine-too-high": "Chlorine too high",
      closing: "Close the season",
    } satisfies Record<RecipeId, string>,
    about: {
      "fresh-fill":
        "Calcium, then alkalinity, then pH, then the first sanitizer. Mix and test between steps.",
      opening: "Uncover, fill, run, balance, shock in the evening, test.",
      breakpoint:
        "Raises free chlorine to ten times the combined. Clears it, and leaves a lot of chlorine for a day.",
      persulfate:
        "Oxidizes without chlorine. You can swim sooner, but it lowers the pH and reads as combined chlorine.",
      "lower-stabiliser": "Replace enough water to bring it below its limit.",
      "lower-calcium": "Replace enough water to bring it below its limit, if the fill water is softer.",
      "chlorine-too-high": "Wait, or add half the reducer and test again.",
      closing: "Balance, shock, lower the water where it freezes, cover.",
    } satisfies Record<RecipeId, string>,
    none: {
      "nothing-to-do": "Not needed: this water is within that limit.",
      "no-product": "No product on the shelf does this.",
      "fill-unknown": "The fill water is not known. Enter its alkalinity and hardness in the site's facts.",
      "fill-no-better": "The fill water has as much of it, so replacing water would not help.",
      "needs-combined": "Test combined chlorine first.",
      "needs-free": "Test free chlorine first. Without that reading a shock could be twice too strong.",
      "needs-bromine": "Test bromine first.",
      "combined-unsure":
        "The combined chlorine is not certain: it is off its scale, or persulfate reads as it. Test again tomorrow.",
      "ph-first": "Bring the pH into range first. Above its range chlorine is weak and the air stings.",
      "combined-too-much":
        "This takes more chlorine than this basin may have, and less chlorine makes the air worse. Replace part of the water, then test.",
      "needs-readings": "These readings do not fit together; test again.",
    } satisfies Record<NoRecipe, string>,
    goal: (value: string) => `Free chlorine to ${value}`,
    replaced: (volume: string, share: string) => `${volume} in all, ${share} of the basin at a time`,
    hours: (hours: string) => `about ${hours} at the tap`,
    days: (days: string) => `takes about ${days} by itself`,
    upsets: "What else it changes",
    begin: "Start",
    back: "All recipes",
    open: "View",
    beside: "Two ways to clear combined chlorine",
    combinedFirst: (value: string) =>
      `Combined chlorine is ${value}. Bring the pH into range first, then clear it in the evening.`,
  },
};
