import type { Deed } from "../../base/storage/storage";

const together = 1500; // milliseconds within which deeds of one kind are undone in one go

/** What a person did, in order, to be undone and done again. What was undone goes when something else is done. */
export class Past<D extends Deed> {
  constructor(
    readonly deeds: D[] = [],
    private at = deeds.length,
  ) {
    this.at = Math.max(0, Math.min(at, deeds.length));
  }

  get position() {
    return this.at;
  }

  /** The label of what would be undone, or done again. */
  get undoes() {
    return this.deeds[this.at - 1]?.label;
  }
  get redoes() {
    return this.deeds[this.at]?.label;
  }

  /**
   * Adds a deed. Where join is given and the last one was of the same kind a moment ago, the two become what join makes
   * of them. The answer is the deed as it stands now, which is the last.
   */
  add(deed: D, join?: (last: D) => D | undefined): D {
    const last = this.deeds[this.at - 1];
    const joined = last?.label === deed.label && deed.at - last.at < together ? join?.(last) : undefined;
    if (joined) this.at--;
    this.deeds.length = this.at;
    this.deeds.push(joined ?? deed);
    this.at++;
    return joined ?? deed;
  }

  back(): D | undefined {
    return this.at > 0 ? this.deeds[--this.at] : undefined;
  }
  on(): D | undefined {
    return this.at < this.deeds.length ? this.deeds[this.at++] : undefined;
  }
}
