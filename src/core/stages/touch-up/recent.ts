/** Characters of keys that are remembered at most: a brush that is led leaves a longer path with every move. */
const MOST_CHARACTERS = 1_000_000;

/** Values by texts, as many as their texts are not too long together: what was asked for longest ago goes first. */
export class Recent<T> {
  private readonly values = new Map<string, T>();
  private characters = 0;

  constructor(private readonly most = MOST_CHARACTERS) {}

  /** The value of a text, made where it is not there. */
  at(text: string, make: () => T): T {
    const there = this.values.get(text);
    if (there !== undefined) {
      this.values.delete(text);
      this.values.set(text, there);
      return there;
    }
    const made = make();
    this.values.set(text, made);
    this.characters += text.length;
    for (const oldest of this.values.keys()) {
      if (this.characters <= this.most || oldest === text) break;
      this.values.delete(oldest);
      this.characters -= oldest.length;
    }
    return made;
  }
}
