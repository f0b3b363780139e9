import type { Prepared } from "./prepared";

/** One person's calls of a day, in their order: what the ways between them take, and where one more fits best. */

/** Minutes from the start through all stops and back; between the stops alone where there is no start. */
export function wayOf({ ways, places, starts }: Prepared, person: number, stops: readonly number[]): number {
  const start = starts[person] as number;
  let sum = 0;
  let at = start;
  for (const stop of stops) {
    if (at >= 0) sum += ways[at * places + stop] as number;
    at = stop;
  }
  return start >= 0 && at >= 0 ? sum + (ways[at * places + start] as number) : sum;
}

/** Where one more stop takes the least way: its place in the order, and the minutes it adds. */
export function cheapestPlace(
  { ways, places, starts }: Prepared,
  person: number,
  stops: readonly number[],
  stop: number,
): { place: number; minutes: number } {
  const start = starts[person] as number;
  let best = { place: 0, minutes: Number.POSITIVE_INFINITY };
  for (let place = 0; place <= stops.length; place++) {
    const before = place > 0 ? (stops[place - 1] as number) : start;
    const next = place < stops.length ? (stops[place] as number) : start;
    const there = before >= 0 ? (ways[before * places + stop] as number) : 0;
    const on = next >= 0 ? (ways[stop * places + next] as number) : 0;
    const straight = before >= 0 && next >= 0 ? (ways[before * places + next] as number) : 0;
    const minutes = there + on - straight;
    if (minutes < best.minutes) best = { place, minutes };
  }
  return best;
}

/** So many stops are put in their best order by looking at all of them. */
const ALL_ORDERS = 9;
const LEAST_GAIN = 1e-9;

/** The order with the least way: the very least of up to nine stops, else what turning and moving parts of it finds. */
export function bestOrder(week: Prepared, person: number, stops: readonly number[]): number[] {
  if (stops.length < 3) return [...stops];
  return stops.length <= ALL_ORDERS ? leastOrder(week, person, stops) : turned(week, person, stops);
}

/** Held and Karp, J. SIAM 10 (1962) 196: the least way through each set of stops to each of its ends. */
function leastOrder({ ways, places, starts }: Prepared, person: number, stops: readonly number[]): number[] {
  const count = stops.length;
  const start = starts[person] as number;
  const all = 1 << count;
  const least = new Float64Array(all * count).fill(Number.POSITIVE_INFINITY);
  const came = new Int8Array(all * count).fill(-1);
  const wayTo = (a: number, b: number) =>
    ways[(stops[a] as number) * places + (stops[b] as number)] as number;
  const home = (a: number) => (start < 0 ? 0 : (ways[start * places + (stops[a] as number)] as number));
  for (let end = 0; end < count; end++) least[(1 << end) * count + end] = home(end);
  for (let set = 1; set < all; set++)
    for (let end = 0; end < count; end++) {
      const here = least[set * count + end] as number;
      if (!(set & (1 << end)) || !Number.isFinite(here)) continue;
      for (let next = 0; next < count; next++) {
        if (set & (1 << next)) continue;
        const at = (set | (1 << next)) * count + next;
        const there = here + wayTo(end, next);
        if (there < (least[at] as number)) {
          least[at] = there;
          came[at] = end;
        }
      }
    }
  let end = 0;
  const whole = (last: number) => (least[(all - 1) * count + last] as number) + home(last);
  for (let last = 1; last < count; last++) if (whole(last) < whole(end)) end = last;
  const order: number[] = [];
  for (let set = all - 1; end >= 0; ) {
    order.unshift(stops[end] as number);
    const before = came[set * count + end] as number;
    set &= ~(1 << end);
    end = before;
  }
  return order;
}

/** Turns parts of the order round, and moves up to three neighbors elsewhere, while that shortens the way. */
function turned(week: Prepared, person: number, stops: readonly number[]): number[] {
  let order = [...stops];
  let way = wayOf(week, person, order);
  for (let isBetter = true; isBetter; ) {
    isBetter = false;
    for (const other of neighbours(order)) {
      const minutes = wayOf(week, person, other);
      if (minutes < way - LEAST_GAIN) {
        order = other;
        way = minutes;
        isBetter = true;
        break;
      }
    }
  }
  return order;
}

function* neighbours(order: readonly number[]): Generator<number[]> {
  for (let from = 0; from < order.length; from++)
    for (let to = from + 1; to < order.length; to++)
      yield [...order.slice(0, from), ...order.slice(from, to + 1).reverse(), ...order.slice(to + 1)];
  for (let size = 1; size <= 3; size++)
    for (let from = 0; from + size <= order.length; from++) {
      const rest = [...order.slice(0, from), ...order.slice(from + size)];
      const part = order.slice(from, from + size);
      for (let to = 0; to <= rest.length; to++)
        if (to !== from) yield [...rest.slice(0, to), ...part, ...rest.slice(to)];
    }
}
