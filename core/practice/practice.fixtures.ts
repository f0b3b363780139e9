import { normal, type Random } from "../random";
import { type Method, stepsFor } from "../testing/kit";
import { TITRATION_KIT } from "../testing/kits/titration-kit";
import { type HandEvent, SCOOPS } from "./hands";
import type { HiddenWater } from "./hidden";
import type { SlipCode, Worked } from "./slips";
import { afterHand, afterSeconds, endOf, newVessel, type Vessel } from "./vessel";

/** A scripted hand: it works a test by the book, but for the slips that it is told to make. */

export const methodOf = (id: string): Method => {
  const method = TITRATION_KIT.methods.find((one) => one.id === id);
  if (!method) throw new Error(`the kit has no ${id}`);
  return method;
};

/** Slips that a script can make at will, one of a pair at a time. */
export const SCRIPTED: readonly SlipCode[] = [
  "over-filled",
  "under-filled",
  "left-out",
  "heaped",
  "scant",
  "wrong-amount",
  "wrong-order",
  "wrong-reagent",
  "not-mixed",
  "shaken",
  "too-short",
  "slanted",
  "not-swirled",
  "waited",
  "sun",
  "tinted",
  "past-end",
  "short-of-end",
  "miscounted",
];

export interface Hand {
  slips: readonly SlipCode[];
  /** Where the eye sees the end, over the true one; and how that scatters: shares. */
  bias?: number;
  scatter?: number;
}

/** Slips of these that this test can have. */
export function possible(method: Method, slips: readonly SlipCode[], line: number): SlipCode[] {
  const steps = stepsFor(method, line);
  const isDrops = method.kind === "titration";
  return slips.filter((slip) => {
    switch (slip) {
      case "heaped":
      case "scant":
        return steps.some(({ measure }) => measure === "scoops");
      case "wrong-amount":
        return steps.some(({ measure }) => measure !== "scoops");
      case "wrong-order":
        return steps.length > 1;
      case "shaken":
        return steps.some(({ mix }) => mix === "swirl" || mix === "invert");
      case "too-short":
        return steps.some(({ wait }) => wait !== undefined);
      case "slanted":
      case "not-swirled":
      case "past-end":
      case "short-of-end":
      case "miscounted":
        return isDrops;
      default:
        return true;
    }
  });
}

/** Works a test, and counts what fell. */
export function scripted(
  method: Method,
  water: HiddenWater,
  line: number,
  hand: Hand,
  random: Random,
): Worked {
  const makes = (slip: SlipCode) => hand.slips.includes(slip);
  const events: HandEvent[] = [];
  let vessel: Vessel = newVessel(method, water, line);
  const does = (event: HandEvent) => {
    events.push(event);
    vessel = afterHand(vessel, event);
  };
  if (!method.continues)
    does({
      kind: "fill",
      millilitres:
        line * (makes("over-filled") ? 1.09 : makes("under-filled") ? 0.92 : 1 + 0.02 * (random() - 0.5)),
      after: 4,
    });
  const steps = [...stepsFor(method, line)];
  if (makes("wrong-order")) steps.reverse();
  if (makes("left-out")) steps.pop();
  const firstMixed = steps.findIndex(({ mix }) => mix !== "none");
  steps.forEach(({ reagent, amount, measure, mix, wait }, index) => {
    const share =
      measure === "scoops"
        ? makes("heaped")
          ? SCOOPS.heaped
          : makes("scant")
            ? SCOOPS.scant
            : 1
        : makes("wrong-amount") && index === steps.length - 1
          ? 0.5
          : 1;
    does({ kind: "add", reagent, amount: amount * share, after: 3 });
    if (makes("wrong-reagent") && index === 0)
      does({ kind: "add", reagent: "silver titrant", amount: 1, after: 2 });
    const isLeft = makes("not-mixed") && index === firstMixed;
    const isShort = makes("too-short") && wait !== undefined;
    if (mix !== "none" && !isLeft)
      does({
        kind: "mix",
        how:
          makes("shaken") && mix !== "shake"
            ? "shake"
            : mix === "shake"
              ? "shake"
              : mix === "invert"
                ? "invert"
                : "swirl",
        seconds: mix === "shake" ? (isShort ? 8 : (wait ?? 10)) : 4,
        after: 1,
      });
    if (wait !== undefined && mix !== "shake")
      does({ kind: "light", light: "white", after: isShort ? 10 : wait });
  });
  if (makes("sun")) does({ kind: "light", light: "sun", after: 1 });
  if (makes("tinted")) does({ kind: "light", light: "tinted", after: 1 });
  if (makes("waited")) does({ kind: "light", light: vessel.light, after: 400 });
  if (method.kind === "titration") drops(hand, () => vessel, does, random);
  else if (method.kind === "turbidity") does({ kind: "tube", level: 0.5, after: 5 });
  const counted = method.kind === "titration" ? vessel.fell + (makes("miscounted") ? 2 : 0) : null;
  return { method, water, line, events, counted, until: 3 };
}

/** Drop by drop with a swirl after each, to where the eye sees the end. */
function drops(hand: Hand, vessel: () => Vessel, does: (event: HandEvent) => void, random: Random): void {
  const makes = (slip: SlipCode) => hand.slips.includes(slip);
  const eye = 1 + (hand.bias ?? 0) + (hand.scatter ?? 0) * normal(random);
  const angle = makes("slanted") ? 45 : 8 * (random() - 0.5);
  const more = makes("past-end") ? 2 : makes("short-of-end") ? -2 : 0;
  for (let count = 0; count < 400; count++) {
    const here = vessel();
    const gone = here.titrant + here.plume;
    // The first drop that brings it to the end is the last.
    if (gone >= endOf(here) * eye + more - 1e-9 && count > 0) return;
    does({ kind: "drop", angle, after: 1 });
    if (!makes("not-swirled")) does({ kind: "mix", how: "swirl", seconds: 1.5, after: 0.3 });
  }
}

/** The vessel as it stands when the end is called. */
export const atTheEnd = ({ method, water, line, events, until }: Worked): Vessel =>
  afterSeconds(
    events.reduce<Vessel>((vessel, event) => afterHand(vessel, event), newVessel(method, water, line)),
    until,
  );
