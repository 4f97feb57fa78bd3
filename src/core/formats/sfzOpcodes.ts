/** One opcode of a file: what the part being read says of it itself, and what it inherits. */
interface Entry {
  readonly name: string;
  /** Names that end in the number of a controller, such as `xfin_locc11`, in two parts. */
  readonly stem: string;
  readonly controller: number;
  own: string;
  ownIn: number;
  inherited: string | undefined;
  /** The header it is inherited from, counted from the widest. */
  level: number;
  readIn: number;
}

/**
 * Other spellings of opcodes that are around, by the spelling they are known by here (sfzformat documentation,
 * aliases).
 */
const ALIASES = new Map([
  ['loopmode', 'loop_mode'],
  ['loopstart', 'loop_start'],
  ['loopend', 'loop_end'],
  ['offby', 'off_by'],
  ['offmode', 'off_mode'],
  ['bendup', 'bend_up'],
  ['benddown', 'bend_down'],
  ['filtype', 'fil_type'],
  ['polyphony_group', 'group'],
]);
export const plainOpcode = (name: string): string => ALIASES.get(name) ?? name;

/** A value that is inherited, and the header it comes from, counted from the widest. */
export type Inherited = readonly [name: string, value: string, level: number];
const REGION_LEVEL = Infinity;

/**
 * The opcodes of the region that is being read, its own before those it inherits. There is one for all regions of a
 * file, which come one after another: thousands of
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

  /** How near the header is that says it: the greater, the nearer; −1 where none does. */
  nearness(name: string): number {
    const entry = this.entries.get(name);
    if (!entry) return -1;
    return entry.ownIn === this.serial ? REGION_LEVEL : entry.inherited === undefined ? -1 : entry.level;
  }

  /** The numbers of the controllers that opcodes with these stems name, ascending. */
  controllers(stems: ReadonlySet<string>): number[] {
    const found = new Set<number>();
    this.forEach((entry) => {
      if (entry.controller >= 0 && stems.has(entry.stem)) found.add(entry.controller);
    });
    return [...found].sort((a, b) => a - b);
  }

  forEachUnread(work: (name: string) => void): void {
    this.forEach((entry) => {
      if (entry.readIn !== this.serial) work(entry.name);
    });
  }

  private forEach(work: (entry: Entry) => void): void {
    for (const entry of this.own) work(entry);
    for (const entry of this.inherited) if (entry.ownIn !== this.serial) work(entry);
  }

  /** The next region begins; it inherits as before, or what is given. */
  begin(inherited?: Iterable<Inherited>): void {
    this.serial++;
    this.own = [];
    if (!inherited) return;
    for (const entry of this.inherited) entry.inherited = undefined;
    this.inherited = [];
    for (const [name, value, level] of inherited) {
      const entry = this.entryOf(name);
      entry.inherited = value;
      entry.level = level;
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
      entry = {
        name,
        stem: stem ?? name,
        controller: controller === undefined ? -1 : Number(controller),
        own: '',
        ownIn: 0,
        inherited: undefined,
        level: -1,
        readIn: 0,
      };
      this.entries.set(name, entry);
    }
    return entry;
  }
}
