/** Numbers that grow at their end, in one typed array. */
export class NumberStore {
  private numbers: Float64Array;

  constructor(
    before: Float64Array | null,
    private used: number,
  ) {
    this.numbers = new Float64Array(Math.max(1024, used));
    if (before) this.numbers.set(before.subarray(0, used));
  }

  get length(): number {
    return this.used;
  }

  get(slot: number): number {
    return this.numbers[slot]!;
  }

  set(slot: number, value: number): void {
    this.numbers[slot] = value;
  }

  /** Adds room for some numbers, all 0; gives the slot of the first. */
  reserve(count: number): number {
    const slot = this.used;
    this.used += count;
    if (this.used > this.numbers.length) {
      const longer = new Float64Array(Math.max(this.used, this.numbers.length * 2));
      longer.set(this.numbers);
      this.numbers = longer;
    }
    return slot;
  }

  push(value: number): number {
    const slot = this.reserve(1);
    this.numbers[slot] = value;
    return slot;
  }

  finish(): Float64Array {
    return this.numbers.slice(0, this.used);
  }
}
