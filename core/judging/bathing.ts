import type { JobKind } from "../jobs/job";
import type { Quantity } from "../measure/quantity";
import { type Sanitiser, sanitiserReading } from "../measure/sanitiser";
import type { ClosingTrouble, UrgentTrouble } from "../testing/order/look";
import type { Finding, FindingCode } from "./findings";
import type { Incident, IncidentKind } from "./incidents";

/**
 * Whether people may bathe, and why not: the one answer that the judgement, the plan, the sheet for the customer
 * and the Round go by. Open is only a water whose sanitiser and pH were tested after the last thing that closes,
 * and whose floor was looked at; no forecast and no clock opens what a test must.
 */
export interface Bathing {
  state: BathingState;
  because: BathingReason[];
  /** What was given mixes until then, ms since 1970; null where nothing does. */
  until: number | null;
  /** What does not close the water and may not be left as it is. */
  urgent: UrgentTrouble[];
}

/**
 * - `closed`: something closes it; a test opens it
 * - `untested`: nothing says that it may be used
 * - `care`: not so far out that it closes, and not inside its range
 * - `mixing`: open once what was given has mixed
 * - `open`: the water may be used
 */
export type BathingState = "closed" | "untested" | "care" | "mixing" | "open";

export type BathingReason =
  /** A reading beyond the limit that closes. */
  | { code: "reading"; finding: FindingCode; quantity: Quantity; value: number; limit: number }
  /** A reading out of its range, and inside what closes. */
  | { code: "off"; finding: FindingCode; quantity: Quantity; value: number; limit: number }
  | { code: "seen"; trouble: ClosingTrouble }
  | { code: "incident"; incident: IncidentKind }
  /** A job of several days that is not done. */
  | { code: "job"; job: JobKind }
  /** Since then nobody tested sanitiser and pH. */
  | { code: "since"; what: Closer["what"] }
  | { code: "not-read"; quantity: "freeChlorine" | "bromine" | "ph" }
  /** At an end of its scale that reaches beyond the limit that closes. */
  | { code: "off-scale"; quantity: Quantity; value: number }
  | { code: "not-looked" };

export const CLOSERS = [
  "seen",
  "incident",
  "closed-dose",
  "shock",
  "chlorine-out",
  "ph-moved",
  "oxidiser",
  "clouding",
  "water-replaced",
  "recipe",
] as const;

/** Something after which only a test opens. */
export interface Closer {
  what: (typeof CLOSERS)[number];
  /** ms since 1970 */
  at: number;
}

export interface BathingInput {
  sanitiser: Sanitiser;
  /** Troubles of the last look; null where nobody looked. */
  seen: { closing: ClosingTrouble[]; urgent: UrgentTrouble[] } | null;
  /** Of this visit's readings that may be acted on. */
  findings: readonly Finding[];
  possible: readonly Finding[];
  /** When sanitiser and pH were last tested in this visit, ms; left out where they were not. */
  tested: Partial<Record<Quantity, number>>;
  closers: readonly Closer[];
  incidents: readonly Incident[];
  /** Jobs under way that close it. */
  jobs?: readonly JobKind[];
  until: number | null;
}

/**
 * Whether the water may be used.
 * @example bathingOf({ sanitiser: "chlorine", seen: null, findings: [], possible: [], tested: {}, closers: [], incidents: [], until: null }).state // "untested"
 */
export function bathingOf(input: BathingInput): Bathing {
  const { sanitiser, seen, findings, possible, tested, closers, incidents, until } = input;
  const needed = [sanitiserReading(sanitiser), "ph"] as const;
  const at = (quantity: Quantity) => tested[quantity] ?? Number.NEGATIVE_INFINITY;
  const told = ({ code, quantity, value, limit }: Finding) => ({ finding: code, quantity, value, limit });
  const closed: BathingReason[] = [
    ...incidents
      .filter(({ over }) => over === null)
      .map(({ kind }): BathingReason => ({ code: "incident", incident: kind })),
    ...(input.jobs ?? []).map((job): BathingReason => ({ code: "job", job })),
    ...(seen?.closing ?? []).map((trouble): BathingReason => ({ code: "seen", trouble })),
    ...findings
      .filter(({ closes }) => closes)
      .map((one): BathingReason => ({ code: "reading", ...told(one), limit: one.closesAt ?? one.limit })),
    ...closers
      .filter((one) => needed.some((quantity) => at(quantity) < one.at))
      .map(({ what }): BathingReason => ({ code: "since", what })),
  ];
  const untested: BathingReason[] = [
    ...(seen === null ? [{ code: "not-looked" as const }] : []),
    // That nobody tested since says it already.
    ...needed
      .filter((quantity) => tested[quantity] === undefined && closers.length === 0)
      .map((quantity): BathingReason => ({ code: "not-read", quantity })),
    ...[...findings, ...possible]
      .filter(({ bound, mayClose, quantity }) => bound !== "within" && mayClose && isNeeded(quantity, needed))
      .map(({ quantity, value }): BathingReason => ({ code: "off-scale", quantity, value })),
  ];
  const off = findings
    .filter(({ closes, quantity }) => !closes && isNeeded(quantity, needed))
    .map((one): BathingReason => ({ code: "off", ...told(one) }));
  const state: BathingState =
    closed.length > 0
      ? "closed"
      : untested.length > 0
        ? "untested"
        : off.length > 0
          ? "care"
          : until !== null
            ? "mixing"
            : "open";
  return {
    state,
    because: once([...closed, ...untested, ...off]),
    until: state === "closed" || state === "untested" ? null : until,
    urgent: seen?.urgent ?? [],
  };
}

const isNeeded = (quantity: Quantity, needed: readonly Quantity[]): boolean => needed.includes(quantity);

const once = (reasons: BathingReason[]): BathingReason[] => {
  const texts = reasons.map((reason) => JSON.stringify(reason));
  return reasons.filter((_, index) => texts.indexOf(texts[index] as string) === index);
};

/**
 * The tests that open a closed basin: sanitiser and pH always, and whatever else closed it.
 * @example testsThatOpen(bathing, "chlorine") // ["freeChlorine", "ph"]
 */
export const testsThatOpen = ({ because }: Pick<Bathing, "because">, sanitiser: Sanitiser): Quantity[] => [
  ...new Set<Quantity>([
    ...because.flatMap((reason) => (reason.code === "reading" ? [reason.quantity] : [])),
    sanitiserReading(sanitiser),
    "ph",
  ]),
];
