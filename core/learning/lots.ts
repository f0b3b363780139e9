import { millisecondsInDay } from "date-fns/constants";
import type { OnShared, Shared } from "./belief";

/**
 * Bottles and deliveries as what is shared by a firm's basins. Of a bottle both how much its drop is worth
 * and how fast that changes are unknown: a titrant that weakens does so day by day. All are logarithms.
 */

/** Of a bottle's drop against its label, of its change in a day, and how far it wanders in a day. */
const BOTTLE = { deviation: 0.03, rate: 0.003, daily: 0.002 } as const;
/** Of a delivery's strength against its label. */
const DELIVERY_DEVIATION = 0.1;
/** A change is told from an age on at which it can be seen. Days */
const OLDEST = 120;
/** Not used for so long, what is said of it is settled: later readings tell of other things. Days */
const SETTLED_DAYS = 21;
/** Not used for so long, a bottle is empty and a delivery gone. */
const RETIRED_DAYS = 75;

export interface Lot {
  code: "bottle" | "product";
  name: string;
  /** Ratio to the label, as logarithm. */
  mean: number;
  variance: number;
  /** Before anything was learned of it. */
  prior: number;
  uses: number;
  /** When it was last used. */
  last: number;
}

interface Used {
  level: number;
  rate: number | null;
  from: number;
  last: number;
  uses: number;
  /** What was believed of it when it was no longer used. */
  settled?: Lot;
}

/** What basins under one sky have in common, as the deviation of a logarithm. */
const CLIMATE_DEVIATION = 0.4;

export class Lots {
  private readonly used = new Map<string, Used>();
  private readonly retired: Lot[] = [];
  private readonly climates = new Map<string, number>();

  /** What the evaporation of basins under one sky has in common. */
  climate(name: string): number {
    let place = this.climates.get(name);
    if (place === undefined) {
      place = this.shared.add(CLIMATE_DEVIATION);
      this.climates.set(name, place);
    }
    return place;
  }

  constructor(private readonly shared: Shared) {}

  /** The bottle of a reading at a moment: the logarithm of what its drop is worth, and what that hangs on. */
  bottle(lot: string, at: number): { mean: number; on: OnShared[] } {
    const key = `bottle ${lot}`;
    let used = this.used.get(key);
    if (!used) {
      const level = this.shared.add(BOTTLE.deviation);
      const rate = this.shared.add(BOTTLE.rate);
      used = { level, rate, from: at, last: at, uses: 0 };
      this.used.set(key, used);
    }
    if (at > used.last) {
      this.shared.wander(used.level, (BOTTLE.daily ** 2 * (at - used.last)) / millisecondsInDay);
      used.last = at;
    }
    used.uses++;
    delete used.settled;
    const age = ageOf(used);
    const rate = used.rate as number;
    return {
      mean: (this.shared.mean[used.level] as number) + age * (this.shared.mean[rate] as number),
      on: [
        { place: used.level, weight: 1 },
        { place: rate, weight: age },
      ],
    };
  }

  /** Where a delivery stands that is known: a dose of it was taken in. */
  placeOf(lot: string): number | null {
    return this.used.get(`product ${lot}`)?.level ?? null;
  }

  /** The delivery of a dose. */
  delivery(lot: string, at: number): number {
    const key = `product ${lot}`;
    let used = this.used.get(key);
    if (!used) {
      used = { level: this.shared.add(DELIVERY_DEVIATION), rate: null, from: at, last: at, uses: 0 };
      this.used.set(key, used);
    }
    used.last = at;
    used.uses++;
    delete used.settled;
    return used.level;
  }

  /**
   * Lets go of what was not used for long: what is believed of it stays as it was.
   * @param cut takes each place out of every basin's belief first
   */
  retire(at: number, cut: (place: number) => void): void {
    for (const [key, used] of this.used) {
      if (at - used.last < SETTLED_DAYS * millisecondsInDay) continue;
      used.settled ??= this.lotOf(key, used);
      if (at - used.last < RETIRED_DAYS * millisecondsInDay) continue;
      this.retired.push(this.lotOf(key, used));
      this.used.delete(key);
      for (const place of [used.level, used.rate]) {
        if (place === null) continue;
        cut(place);
        this.shared.drop(place);
      }
    }
  }

  /** What is believed of each, when it was last used. */
  all(): Lot[] {
    return [...this.retired, ...[...this.used].map(([key, used]) => this.lotOf(key, used))];
  }

  private lotOf(key: string, { level, rate, uses, settled, ...times }: Used): Lot {
    if (settled) return settled;
    const { mean, covariance, stride, prior } = this.shared;
    const code = key.startsWith("bottle ") ? ("bottle" as const) : ("product" as const);
    const name = key.slice(key.indexOf(" ") + 1);
    const own = covariance[level * stride + level] as number;
    if (rate === null)
      return {
        code,
        name,
        uses,
        last: times.last,
        mean: mean[level] as number,
        variance: own,
        prior: prior[level] as number,
      };
    const age = ageOf(times);
    return {
      code,
      name,
      uses,
      last: times.last,
      mean: (mean[level] as number) + age * (mean[rate] as number),
      variance:
        own +
        2 * age * (covariance[level * stride + rate] as number) +
        age * age * (covariance[rate * stride + rate] as number),
      prior: (prior[level] as number) + age * age * (prior[rate] as number),
    };
  }
}

const ageOf = ({ from, last }: { from: number; last: number }): number =>
  Math.min(OLDEST, (last - from) / millisecondsInDay);
