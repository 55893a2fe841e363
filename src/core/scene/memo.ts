/**
 * Something that is found out about a picture and remembered with it. Whoever finds it out makes one of these, which says its
 * type, and nobody else needs to know of it.
 */
export class Fact<T> {
  /** What has a `name` is `Remembered` as plain data, which another thread can be told. */
  constructor(
    readonly make: () => T,
    readonly name: string | null = null,
  ) {}
}

/** Facts with a name, as lists of their keys and values. */
export type PlainFacts = Readonly<Record<string, readonly (readonly [string, unknown])[]>>;

/** What was found out about a picture. */
export class Memo {
  private readonly facts = new Map<Fact<unknown>, unknown>();
  private told: PlainFacts = {};

  /** What is remembered of a fact; made when first asked for. */
  of<T>(fact: Fact<T>): T {
    if (!this.facts.has(fact)) this.facts.set(fact, fact.make());
    const found = this.facts.get(fact) as T;
    if (fact.name !== null) (found as Remembered<unknown>).take(this.told[fact.name] ?? []);
    return found;
  }

  /** What is remembered of facts with a name. */
  plain(): PlainFacts {
    const plain: Record<string, readonly (readonly [string, unknown])[]> = {};
    for (const [{ name }, found] of this.facts)
      if (name !== null) plain[name] = (found as Remembered<unknown>).entries();
    return plain;
  }

  /** Remembers what another thread found out about the same picture. */
  take(facts: PlainFacts): void {
    this.told = facts;
  }
}

/** Values by their keys, at most so many: the first that came goes first. */
export class Remembered<T> {
  private readonly values = new Map<string, T>();

  constructor(private readonly most: number) {}

  entries(): (readonly [string, T])[] {
    return [...this.values];
  }

  /** Keeps values that are not there. */
  take(entries: readonly (readonly [string, unknown])[]): void {
    for (const [key, value] of entries) if (!this.values.has(key)) this.keep(key, value as T);
  }

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
