/** One opcode of a file: what the part being read says of it itself, and what it inherits. */
interface Entry {
  readonly name: string;
  /** Names that end in the number of a controller, such as `xfin_locc11`, in two parts. */
  readonly stem: string;
  readonly controller: number;
  own: string;
  ownIn: number;
  inherited: string | undefined;
  readIn: number;
}

/**
 * The opcodes of the region that is being read, its own before those it inherits. There is one for all regions of a file, which come one after another: thousands of
 * maps would cost more than all the rest. What was looked at is remembered, so that the rest can be told.
 */
export class SfzOpcodes {
  private readonly entries = new Map<string, Entry>();
  private own: Entry[] = [];
  private inherited: Entry[] = [];
  private serial = 1;

  has(name: string): boolean {
    const entry = this.entries.get(name);
    return entry !== undefined && (entry.ownIn === this.serial || entry.inherited !== undefined);
  }

  /** The value as written; from then on it counts as read. */
  take(name: string): string | undefined {
    const entry = this.entries.get(name);
    if (!entry) return undefined;
    const value = entry.ownIn === this.serial ? entry.own : entry.inherited;
    if (value !== undefined) entry.readIn = this.serial;
    return value;
  }

  /** The numbers of the controllers that opcodes with these stems name, ascending. */
  controllers(stems: ReadonlySet<string>): number[] {
    const found = new Set<number>();
    this.forEach((entry) => { if (entry.controller >= 0 && stems.has(entry.stem)) found.add(entry.controller); });
    return [...found].sort((a, b) => a - b);
  }

  forEachUnread(work: (name: string) => void): void {
    this.forEach((entry) => { if (entry.readIn !== this.serial) work(entry.name); });
  }

  private forEach(work: (entry: Entry) => void): void {
    for (const entry of this.own) work(entry);
    for (const entry of this.inherited) if (entry.ownIn !== this.serial) work(entry);
  }

  /** The next region begins; it inherits as before, or what is given. */
  begin(inherited?: Iterable<readonly [string, string]>): void {
    this.serial++;
    this.own = [];
    if (!inherited) return;
    for (const entry of this.inherited) entry.inherited = undefined;
    this.inherited = [];
    for (const [name, value] of inherited) {
      const entry = this.entryOf(name);
      entry.inherited = value;
      this.inherited.push(entry);
    }
  }

  set(name: string, value: string): void {
    const entry = this.entryOf(name);
    if (entry.ownIn !== this.serial) this.own.push(entry);
    entry.ownIn = this.serial;
    entry.own = value;
  }

  private entryOf(name: string): Entry {
    let entry = this.entries.get(name);
    if (!entry) {
      const [, stem, controller] = /^(.*cc)(\d{1,3})$/.exec(name) ?? [];
      entry = { name, stem: stem ?? name, controller: controller === undefined ? -1 : Number(controller), own: '', ownIn: 0, inherited: undefined, readIn: 0 };
      this.entries.set(name, entry);
    }
    return entry;
  }
}
