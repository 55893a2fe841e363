/**
 * Something that is found out about a picture and remembered with it. Whoever finds it out makes one of these, which says its
 * type, and nobody else needs to know of it.
 */
export class Fact<T> {
  constructor(readonly make: () => T) {}
}

/** What was found out about a picture. */
export class Memo {
  private readonly facts = new Map<unknown, unknown>();

  /** What is remembered of a fact; made when first asked for. */
  of<T>(fact: Fact<T>): T {
    if (!this.facts.has(fact)) this.facts.set(fact, fact.make());
    return this.facts.get(fact) as T;
  }
}

/** Values by their keys, at most so many: the first that came goes first. */
export class Remembered<T> {
  private readonly values = new Map<string, T>();

  constructor(private readonly most: number) {}

  get(key: string): T | undefined {
    return this.values.get(key);
  }

  keep(key: string, value: T): T {
    this.values.set(key, value);
    if (this.values.size > this.most) this.values.delete(this.values.keys().next().value!);
    return value;
  }

  /** The value of a key, made where it is not there. It may be null, not undefined. */
  at(key: string, make: () => T): T {
    const there = this.values.get(key);
    return there === undefined ? this.keep(key, make()) : there;
  }
}
