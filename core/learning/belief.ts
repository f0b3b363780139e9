/**
 * What is believed of a firm at a moment: one Gaussian over every basin's unknowns and everything that the
 * basins share (bottles, deliveries). Given what is shared, basins know nothing of one another, so
 *
 *   basin = offset + slope · shared + rest,   rest ~ N(0, ownCovariance), apart from everything else
 *
 * is exact, and a reading at one basin costs the square of what it and the firm share, not of the firm.
 */

/** Bottles and deliveries: a Gaussian that grows as new ones come. */
export class Shared {
  size = 0;
  private capacity = 16;
  /** Places that were let go. */
  private readonly free: number[] = [];
  mean = new Float64Array(this.capacity);
  /** Row by row, `stride` apart. */
  covariance = new Float64Array(this.capacity * this.capacity);
  /** Variance of each before anything was learned of it, its wandering included. */
  prior = new Float64Array(this.capacity);

  get stride(): number {
    return this.capacity;
  }

  add(deviation: number): number {
    const free = this.free.pop();
    if (free === undefined && this.size === this.capacity) this.grow();
    const place = free ?? this.size++;
    this.covariance[place * this.capacity + place] = deviation * deviation;
    this.prior[place] = deviation * deviation;
    return place;
  }

  /** Makes one less sure by this variance: it wandered since it was last used. */
  wander(place: number, variance: number): void {
    (this.covariance[place * this.capacity + place] as number) += variance;
    (this.prior[place] as number) += variance;
  }

  /** Lets one go: nothing hangs on it any more, see `BasinBelief.cut`. */
  drop(place: number): void {
    this.mean[place] = 0;
    this.prior[place] = 0;
    for (let other = 0; other < this.size; other++) {
      this.covariance[place * this.capacity + other] = 0;
      this.covariance[other * this.capacity + place] = 0;
    }
    this.free.push(place);
  }

  private grow(): void {
    const capacity = this.capacity * 2;
    const covariance = new Float64Array(capacity * capacity);
    for (let row = 0; row < this.size; row++)
      covariance.set(
        this.covariance.subarray(row * this.capacity, row * this.capacity + this.size),
        row * capacity,
      );
    const mean = new Float64Array(capacity);
    mean.set(this.mean);
    const prior = new Float64Array(capacity);
    prior.set(this.prior);
    Object.assign(this, { capacity, covariance, mean, prior });
  }
}

/** One basin's unknowns, as they hang on what is shared. */
export class BasinBelief {
  readonly offset: Float64Array;
  /** A row for each unknown; as long as what was shared when it was last touched. */
  readonly slope: Float64Array[];
  /** Of what is its own, given what is shared; row by row. */
  readonly ownCovariance: Float64Array;

  constructor(
    readonly size: number,
    mean: ArrayLike<number>,
    deviation: ArrayLike<number>,
  ) {
    this.offset = Float64Array.from(mean);
    this.slope = Array.from({ length: size }, () => new Float64Array(0));
    this.ownCovariance = new Float64Array(size * size);
    for (let row = 0; row < size; row++)
      this.ownCovariance[row * size + row] = (deviation[row] as number) ** 2;
  }

  private reach(shared: Shared): void {
    if ((this.slope[0]?.length ?? 0) >= shared.size) return;
    for (let row = 0; row < this.size; row++) {
      const longer = new Float64Array(shared.stride);
      longer.set(this.slope[row] as Float64Array);
      this.slope[row] = longer;
    }
  }

  mean(shared: Shared, out = new Float64Array(this.size)): Float64Array {
    this.reach(shared);
    for (let row = 0; row < this.size; row++) {
      const slope = this.slope[row] as Float64Array;
      let sum = this.offset[row] as number;
      for (let place = 0; place < shared.size; place++)
        sum += (slope[place] as number) * (shared.mean[place] as number);
      out[row] = sum;
    }
    return out;
  }

  /** Covariance of the basin's unknowns, with what comes through what is shared. */
  covariance(shared: Shared): Float64Array {
    this.reach(shared);
    const { size } = this;
    const out = Float64Array.from(this.ownCovariance);
    const through = this.slope.map((slope) => {
      const row = new Float64Array(shared.size);
      for (let one = 0; one < shared.size; one++) {
        const weight = slope[one] as number;
        if (weight === 0) continue;
        for (let other = 0; other < shared.size; other++)
          (row[other] as number) += weight * (shared.covariance[one * shared.stride + other] as number);
      }
      return row;
    });
    for (let row = 0; row < size; row++)
      for (let column = 0; column <= row; column++) {
        let sum = 0;
        const slope = this.slope[column] as Float64Array;
        const left = through[row] as Float64Array;
        for (let place = 0; place < shared.size; place++)
          sum += (left[place] as number) * (slope[place] as number);
        (out[row * size + column] as number) += sum;
        if (row !== column) (out[column * size + row] as number) += sum;
      }
    return out;
  }

  /**
   * Propagates the unknowns: new = map · old + constant, with process noise.
   * @param map row by row
   * @param processNoise variances, added on the diagonal
   */
  propagate(shared: Shared, map: Float64Array, constant: Float64Array, processNoise: Float64Array): void {
    this.reach(shared);
    const { size } = this;
    const offset = new Float64Array(size);
    const slopes = Array.from({ length: size }, () => new Float64Array(shared.stride));
    const half = new Float64Array(size * size);
    for (let row = 0; row < size; row++) {
      let sum = constant[row] as number;
      const slope = slopes[row] as Float64Array;
      for (let from = 0; from < size; from++) {
        const weight = map[row * size + from] as number;
        if (weight === 0) continue;
        sum += weight * (this.offset[from] as number);
        const old = this.slope[from] as Float64Array;
        for (let place = 0; place < shared.size; place++)
          (slope[place] as number) += weight * (old[place] as number);
        for (let column = 0; column < size; column++)
          (half[row * size + column] as number) +=
            weight * (this.ownCovariance[from * size + column] as number);
      }
      offset[row] = sum;
    }
    for (let row = 0; row < size; row++)
      for (let column = 0; column <= row; column++) {
        let sum = 0;
        for (let from = 0; from < size; from++)
          sum += (half[row * size + from] as number) * (map[column * size + from] as number);
        if (row === column) sum += processNoise[row] as number;
        this.ownCovariance[row * size + column] = sum;
        this.ownCovariance[column * size + row] = sum;
      }
    this.offset.set(offset);
    for (let row = 0; row < size; row++) this.slope[row] = slopes[row] as Float64Array;
  }

  /** Something shared went into the unknowns: so much of each for a unit of it. */
  hang(shared: Shared, place: number, amounts: Float64Array): void {
    this.reach(shared);
    for (let row = 0; row < this.size; row++) {
      const slope = this.slope[row] as Float64Array;
      (slope[place] as number) += amounts[row] as number;
      // The means of what is shared stay where they are: only what is not known of it hangs on.
      (this.offset[row] as number) -= (amounts[row] as number) * (shared.mean[place] as number);
    }
  }

  /** What hung on something shared that is let go becomes the basin's own. */
  cut(shared: Shared, place: number): void {
    if ((this.slope[0]?.length ?? 0) <= place) return;
    const mean = shared.mean[place] as number;
    const variance = shared.covariance[place * shared.stride + place] as number;
    const { size } = this;
    for (let row = 0; row < size; row++) {
      const slope = (this.slope[row] as Float64Array)[place] as number;
      if (slope === 0) continue;
      (this.offset[row] as number) += slope * mean;
      for (let column = 0; column < size; column++)
        (this.ownCovariance[row * size + column] as number) +=
          slope * ((this.slope[column] as Float64Array)[place] as number) * variance;
    }
    for (let row = 0; row < size; row++) (this.slope[row] as Float64Array)[place] = 0;
  }

  copy(): BasinBelief {
    const same = new BasinBelief(this.size, this.offset, new Float64Array(this.size));
    same.ownCovariance.set(this.ownCovariance);
    this.slope.forEach((row, index) => {
      same.slope[index] = Float64Array.from(row);
    });
    return same;
  }

  /** How sure a linear measure of the unknowns and of what is shared is, before it is taken. */
  spread(shared: Shared, row: Float64Array, on: readonly OnShared[] = []): Measure {
    this.reach(shared);
    const { size } = this;
    const along = new Float64Array(size);
    let own = 0;
    for (let one = 0; one < size; one++) {
      let sum = 0;
      for (let other = 0; other < size; other++)
        sum += (this.ownCovariance[one * size + other] as number) * (row[other] as number);
      along[one] = sum;
      own += sum * (row[one] as number);
    }
    const through = new Float64Array(shared.size);
    for (let one = 0; one < size; one++) {
      const factor = row[one] as number;
      if (factor === 0) continue;
      const slope = this.slope[one] as Float64Array;
      for (let at = 0; at < shared.size; at++) (through[at] as number) += factor * (slope[at] as number);
    }
    for (const { place, weight } of on) (through[place] as number) += weight;
    const common = new Float64Array(shared.size);
    let outer = 0;
    for (let one = 0; one < shared.size; one++) {
      let sum = 0;
      for (let other = 0; other < shared.size; other++)
        sum += (shared.covariance[one * shared.stride + other] as number) * (through[other] as number);
      common[one] = sum;
      outer += sum * (through[one] as number);
    }
    return { along, own, through, common, variance: own + outer };
  }

  /**
   * Takes a measure in: found less expected, with a noise of its own.
   * @param innovation found less where its mean stood
   * @param noise variance of the measure itself
   */
  update(
    shared: Shared,
    { along, own, through, common, variance }: Measure,
    innovation: number,
    noise: number,
  ): void {
    const { size } = this;
    const total = variance + noise;
    const given = own + noise;
    if (!(given > 0) || !(total > 0)) return;
    // Given what is shared, the rest of the basin moves.
    let stood = 0;
    for (let place = 0; place < shared.size; place++)
      stood += (through[place] as number) * (shared.mean[place] as number);
    for (let row = 0; row < size; row++) {
      const gain = (along[row] as number) / given;
      if (gain === 0) continue;
      (this.offset[row] as number) += gain * (innovation + stood);
      const slope = this.slope[row] as Float64Array;
      for (let place = 0; place < shared.size; place++)
        (slope[place] as number) -= gain * (through[place] as number);
      for (let column = 0; column < size; column++)
        (this.ownCovariance[row * size + column] as number) -= gain * (along[column] as number);
    }
    for (let one = 0; one < shared.size; one++) {
      const gain = (common[one] as number) / total;
      if (gain === 0) continue;
      (shared.mean[one] as number) += gain * innovation;
      for (let other = 0; other < shared.size; other++)
        (shared.covariance[one * shared.stride + other] as number) -= gain * (common[other] as number);
    }
  }

  setOwnCovariance(row: number, column: number, value: number): void {
    this.ownCovariance[row * this.size + column] = value;
  }

  /** Makes an unknown less sure by this variance. */
  loosen(row: number, variance: number): void {
    (this.ownCovariance[row * this.size + row] as number) += variance;
  }

  /** Makes two unknowns less sure by what moves both alike. */
  loosenTogether(first: number, second: number, variance: number): void {
    this.loosen(first, variance);
    this.loosen(second, variance);
    (this.ownCovariance[first * this.size + second] as number) += variance;
    (this.ownCovariance[second * this.size + first] as number) += variance;
  }
}

/** How much a measure hangs on something shared itself. */
export interface OnShared {
  place: number;
  weight: number;
}

export interface Measure {
  along: Float64Array;
  own: number;
  through: Float64Array;
  common: Float64Array;
  variance: number;
}
