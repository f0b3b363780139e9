import type { NoRecipe, RecipeId } from "#core";

/** Recipes in English. */
export const recipeWords = {
  recipes: {
    title: "Other work",
    hint: "Work with an order of its own. Each is worked out for this water and this shelf.",
    names: {
      "fresh-fill": "Fresh fill",
      opening: "Open the season",
      breakpoint: "Shock to breakpoint",
      persulfate: "Shock with persulfate",
      "lower-stabiliser": "Lower stabiliser",
      "lower-calcium": "Lower calcium",
      "chlorine-too-high": "Chlorine too high",
      closing: "Close the season",
    } satisfies Record<RecipeId, string>,
    about: {
      "fresh-fill": "Calcium, then alkalinity, then pH, then a first sanitiser, mixed and tested between.",
      opening: "Uncover, fill, run, balance, shock in the evening, test.",
      breakpoint:
        "Free chlorine to ten times the combined: clears it, and leaves a lot of chlorine for a day.",
      persulfate:
        "Oxidises without chlorine: swim sooner, but it lowers the pH and reads as combined chlorine.",
      "lower-stabiliser": "Replace the share of water that brings it under its limit.",
      "lower-calcium": "Replace the share of water that brings it under its limit, if the fill is softer.",
      "chlorine-too-high": "Wait, or give half the reducer and test again.",
      closing: "Balance, shock, lower the water where it freezes, cover.",
    } satisfies Record<RecipeId, string>,
    none: {
      "nothing-to-do": "Not needed: this water is not past that limit.",
      "no-product": "No product for it is on the shelf.",
      "fill-unknown": "The fill water is not known: write its alkalinity and hardness into the site's facts.",
      "fill-no-better": "The fill water has as much of it: replacing would not help.",
      "needs-combined": "Test combined chlorine first.",
      "needs-free": "Test free chlorine first: a shock on an unread chlorine can be a double one.",
      "needs-bromine": "Test bromine first.",
      "combined-unsure":
        "The combined chlorine is not sure: it ran off its scale, or persulfate reads as it. Test again tomorrow.",
      "ph-first": "Bring the pH into range first. Over it, chlorine is weak and the air gets sharp.",
      "combined-too-much":
        "This takes more chlorine than this basin stands, and less of it makes the air worse. Replace part of the water, then test.",
      "needs-readings": "These readings do not fit together; test again.",
    } satisfies Record<NoRecipe, string>,
    goal: (value: string) => `Free chlorine to ${value}`,
    replaced: (volume: string, share: string) => `${volume} in all, ${share} of the basin at a time`,
    hours: (hours: string) => `about ${hours} at the tap`,
    days: (days: string) => `by itself it takes about ${days}`,
    upsets: "What it does to the rest",
    begin: "Begin",
    back: "All recipes",
    open: "Look at it",
    beside: "Two ways to clear combined chlorine",
    combinedFirst: (value: string) =>
      `Combined chlorine is ${value}. Bring the pH into range first, then clear it in the evening.`,
  },
};
