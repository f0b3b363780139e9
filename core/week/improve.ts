import { type Random, seeded } from "../random";
import { Arrangement } from "./arrangement";
import type { Prepared } from "./prepared";

/** An arrangement that is made better bit by bit: some basins' calls are taken out and put back where they are best. */

/** As it stands, as far as the rules allow. */
export const asItStands = (week: Prepared): Arrangement => asAllowed(standing(week));

/** What the rules do not allow is taken out, as little as may be of a day that is too long, and put in elsewhere. */
export function asAllowed(made: Arrangement): Arrangement {
  const { week } = made;
  const { people } = week;
  const wrong = new Set<number>();
  for (const [at, stops] of made.routes.entries()) {
    const day = Math.floor(at / people);
    for (const stop of stops) if (!made.mayBe(stop, day, at % people)) wrong.add(stop);
  }
  for (const basin of wrong) made.takeOut(basin);
  for (const [at] of made.routes.entries()) {
    const isOver = () =>
      (made.used[at] as number) > (week.hours[at] as number) ||
      (made.loaded[at] as number) > (week.carries[at % people] as number);
    while (isOver()) {
      const stops = made.routes[at] as number[];
      // What it saves by going, not what it would lose: it is put where it is best next.
      const last = stops.at(-1) as number;
      made.takeOut(last);
      wrong.add(last);
    }
  }
  for (const basin of wrong) made.putIn(basin);
  return made;
}

/** As it stands, whatever the rules say. */
export function standing(week: Prepared): Arrangement {
  const made = new Arrangement(week);
  const { problem } = week;
  const basins = new Map(problem.basins.map(({ id }, index) => [id, index]));
  const people = new Map(problem.people.map(({ id }, index) => [id, index]));
  const days = new Map(week.days.map((day, index) => [day, index]));
  for (const call of problem.stands) {
    const [basin, person, day] = [basins.get(call.basin), people.get(call.person), days.get(call.day)];
    if (basin !== undefined && person !== undefined && day !== undefined) made.append(basin, day, person);
  }
  return made;
}

/** From nothing: those that have the most to lose first. */
export function fromNothing(week: Prepared): Arrangement {
  const made = new Arrangement(week);
  const loss = week.values.map(({ until }) => until[week.days.length] as number);
  const order = loss.map((_, basin) => basin).sort((a, b) => (loss[a] as number) - (loss[b] as number));
  for (const basin of order) made.putIn(basin);
  return made;
}

const SEED = 11;
/** Basins that are taken out at once. */
const TAKEN = { least: 1, most: 6 } as const;
/** What may be lost on the way, at first: right days. It falls to nothing over so many turns. */
const HEAT = 0.1;
const COOLS_OVER = 10_000;
/** Turns between two tellings. */
const TOLD_EVERY = 100;

/**
 * Improves an arrangement for as long as it is asked to; after each hundred turns it tells the best so far.
 * @yields the best arrangement, the same object as before while nothing better was found
 */
export function* improve(week: Prepared, start: Arrangement, seed = SEED): Generator<Arrangement, never> {
  const random = seeded(seed);
  const now = start.copy();
  now.order(now.routes.keys());
  let worth = now.worth();
  let best = now.copy();
  let bestWorth = worth;
  const before = now.copy();
  for (let turn = 1; ; turn++) {
    before.takeFrom(now);
    const taken = chosen(week, now, random);
    const touched = new Set<number>();
    const note = () => {
      for (const basin of taken)
        for (const day of now.daysOf(basin))
          touched.add(day * week.people + (now.calls[basin * week.days.length + day] as number));
    };
    note();
    for (const basin of taken) now.takeOut(basin);
    shuffle(taken, random);
    for (const basin of taken) now.putIn(basin);
    note();
    now.order(touched);
    const found = now.worth();
    const heat = HEAT * Math.max(0, 1 - (turn % COOLS_OVER) / COOLS_OVER);
    if (found >= worth + heat * Math.log(Math.max(1e-9, random()))) worth = found;
    else now.takeFrom(before);
    if (worth > bestWorth + LEAST_GAIN) {
      best = now.copy();
      bestWorth = worth;
    }
    // Each time it has cooled it goes on from the best.
    if (turn % COOLS_OVER === 0) {
      now.takeFrom(best);
      worth = bestWorth;
    }
    if (turn % TOLD_EVERY === 0) {
      if (settle(best)) bestWorth = best.worth();
      yield best;
    }
  }
}

/**
 * Puts each basin's calls anew while that is better, in place: what is left broken then cannot be mended at that basin
 * alone.
 * @returns whether anything was better
 */
export function settle(made: Arrangement): boolean {
  let worth = made.worth();
  const first = worth;
  const before = made.copy();
  for (let isBetter = true; isBetter; ) {
    isBetter = false;
    for (let basin = 0; basin < made.week.values.length; basin++) {
      before.takeFrom(made);
      made.takeOut(basin);
      made.putIn(basin);
      const found = made.worth();
      if (found > worth + LEAST_GAIN) {
        worth = found;
        isBetter = true;
      } else made.takeFrom(before);
    }
  }
  return worth > first + LEAST_GAIN;
}

const LEAST_GAIN = 1e-9;

/** Some basins that have to do with one another: the same day's, near ones, or any. */
function chosen(week: Prepared, now: Arrangement, random: Random): number[] {
  const count = week.values.length;
  const wanted = Math.min(count, TAKEN.least + Math.floor(random() * (TAKEN.most - TAKEN.least + 1)));
  const first = Math.floor(random() * count);
  const kind = random();
  const taken = new Set([first]);
  if (kind < 0.4) {
    const near = Array.from({ length: count }, (_, other) => other).sort(
      (a, b) =>
        (week.ways[first * week.places + a] as number) - (week.ways[first * week.places + b] as number),
    );
    // Not always the very nearest.
    for (const other of near) {
      if (taken.size >= wanted) break;
      if (random() < 0.7) taken.add(other);
    }
  } else if (kind < 0.75) {
    const days = now.daysOf(first);
    const day = days[Math.floor(random() * days.length)] ?? Math.floor(random() * week.days.length);
    const those = Array.from({ length: week.people }, (_, person) => now.routes[day * week.people + person])
      .flat()
      .filter((stop): stop is number => stop !== undefined);
    while (taken.size < wanted && those.length > 0)
      taken.add(those.splice(Math.floor(random() * those.length), 1)[0] as number);
  }
  while (taken.size < wanted) taken.add(Math.floor(random() * count));
  return [...taken];
}

function shuffle(values: number[], random: Random): void {
  for (let at = values.length - 1; at > 0; at--) {
    const other = Math.floor(random() * (at + 1));
    [values[at], values[other]] = [values[other] as number, values[at] as number];
  }
}
