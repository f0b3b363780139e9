import { type CallWorth, LONGEST_GAP, rightOn } from "./worth";

/** What the days of a basin's calls are worth: days that it is right over the weeks ahead, weighted by its use. */
export interface Values {
  /** Right days from the start until the first call, by its day. */
  until: Float64Array;
  /** Right days from a call to the next: `between[call * (days + 1) + next]`. */
  between: Float64Array;
  /** Right days from the last call to the end, and what it leaves to the days after; the last for no call at all. */
  after: Float64Array;
  /** The part of them that lies before the end. */
  within: Float64Array;
}

/**
 * @param days how many are looked at
 * @param use how much each day counts, from the first on
 * @param price days that a call has to bring
 * @param most days between calls beyond which none is left, where there is such a limit
 * @example valuesOf(worth, 7, [], 0.5, null).until[0] // 0
 */
export function valuesOf(
  worth: CallWorth,
  days: number,
  use: readonly number[],
  price: number,
  most: number | null,
): Values {
  const rate = rateOf(worth, price, most);
  const until = new Float64Array(days + 1);
  for (let day = 0; day < days; day++)
    until[day + 1] = (until[day] as number) + aloneOn(worth, day) * (use[day] ?? 1);
  const between = new Float64Array((days + 1) * (days + 1));
  const after = new Float64Array(days + 1);
  const within = new Float64Array(days + 1);
  const end = (call: number, rightOn: (day: number, next: number) => number, first: number) => {
    const best = bestEnd(first, days, use, rightOn, { price, rate, most });
    after[call] = best.worth;
    within[call] = best.within;
  };
  for (let call = 0; call < days; call++) {
    for (let next = call + 1; next < days; next++)
      between[call * (days + 1) + next] = rightBetween(worth, call, next, use);
    end(call, (day, next) => rightOn(worth.after, day - call, next - call), call);
  }
  end(days, (day) => aloneOn(worth, day), 0);
  return { until, between, after, within };
}

/** Right days before the end, with calls on these days. */
export function rightDays({ until, between, within }: Values, calls: readonly number[]): number {
  const days = until.length - 1;
  const [first, ...later] = calls;
  if (first === undefined) return within[days] as number;
  let right = until[first] as number;
  let call = first;
  for (const next of later) {
    right += between[call * (days + 1) + next] as number;
    call = next;
  }
  return right + (within[call] as number);
}

/** Right days that a basin brings a day in the long run, calls paid for, at its best distance between them. */
export function rateOf({ after }: CallWorth, price: number, most: number | null): number {
  let best = Number.NEGATIVE_INFINITY;
  for (let gap = 1; gap <= Math.min(LONGEST_GAP, most ?? LONGEST_GAP); gap++) {
    const right = (after[gap - 1] as number[]).reduce((sum, one) => sum + one, 0);
    best = Math.max(best, (right - price) / gap);
  }
  return best;
}

const aloneOn = ({ alone }: CallWorth, day: number): number =>
  alone[Math.min(day, alone.length - 1)] as number;

function rightBetween(worth: CallWorth, call: number, next: number, use: readonly number[]): number {
  let right = 0;
  for (let day = call; day < next; day++)
    right += rightOn(worth.after, day - call, next - call) * (use[day] ?? 1);
  return right;
}

interface End {
  price: number;
  rate: number;
  most: number | null;
}

/**
 * To the end of the days and beyond, up to the next call where that is best put: what comes after it goes on at the
 * long run's rate, so that no call is left out because the days end.
 */
function bestEnd(
  from: number,
  days: number,
  use: readonly number[],
  rightOn: (day: number, next: number) => number,
  { price, rate, most }: End,
): { worth: number; within: number } {
  const latest = Math.max(days, from + Math.min(LONGEST_GAP, most ?? LONGEST_GAP));
  let best = { worth: Number.NEGATIVE_INFINITY, within: 0 };
  for (let next = days; next <= latest; next++) {
    let right = 0;
    let within = 0;
    for (let day = from; day < next; day++) {
      right += rightOn(day, next) * (use[day] ?? 1);
      if (day === days - 1) within = right;
    }
    const worth = right - (next > days ? rate * (next - days) : 0) - price;
    if (worth > best.worth) best = { worth, within };
  }
  return best;
}
