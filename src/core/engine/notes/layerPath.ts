import { NOTE_QUARTERS } from '../../music/time';
import { HeldKeys, MOST_HELD } from './arpeggio';
import { ChordMaker } from './chord';
import { LEGATO, NOTE_STEP, ORDER, POLY, TIE_STEP, type CompiledPath } from '../program/compiledPath';
import { Draws } from './draws';
import { ARP_GATE, ARP_OCTAVES, ARP_RATE, ARP_SWING, PATH_VALUES, STRUM } from '../program/pathValues';

/** Notes that a path can keep in hand at once. */
export const MOST_MADE = 128;

/**
 * What a path asks of its patch. Notes are places among those it made. Fractions stay in fields: handed to a function
 * they may be put on the heap.
 */
export interface PathHost {
  /** A note that was made begins to sound. */
  beginMade(path: LayerPath, note: number): void;
  /** It ends: its key is up, if no pedal holds it. */
  endMade(path: LayerPath, note: number): void;
  /** A note is over without an end of its own: whoever shows it or sends it on must know. */
  forgetMade(path: LayerPath, note: number): void;
  /** Everything that the path started goes silent, for another note takes over. */
  cutMade(path: LayerPath): void;
  /** The note that sounds goes on as what `note` says now; false where nothing sounds any more. */
  bendMade(path: LayerPath, note: number, before: number): boolean;
  /** Puts the values of the path's parameters into {@link LayerPath.values}. */
  readPath(path: LayerPath): void;
}

const FREE = 0,
  WAITING = 1,
  SOUNDING = 2;
/** Less than this part of a frame is no distance. */
const SAME = 1e-4;

/**
 * The way of a layer's notes from key to sound: scale, chord, arpeggio, one at a time. It remembers what it made for
 * which key and lets go of exactly that, whatever is edited in between. Everything
 * happens at frames that follow from events and tempo alone.
 */
export class LayerPath {
  /**
   * Of each note made: the key it sounds at (as the sound has it), the key and address that were played, velocity,
   * transposition, gain of the windows, and frames at which it begins and ends.
   */
  readonly keys = new Int16Array(MOST_MADE);
  readonly played = new Int16Array(MOST_MADE);
  readonly channels = new Int16Array(MOST_MADE);
  readonly velocities = new Uint8Array(MOST_MADE);
  readonly transposes = new Float64Array(MOST_MADE);
  readonly gains = new Float64Array(MOST_MADE);
  readonly serials = new Int32Array(MOST_MADE);
  private readonly begins = new Float64Array(MOST_MADE);
  private readonly ends = new Float64Array(MOST_MADE);
  private readonly states = new Uint8Array(MOST_MADE);
  /** Of an arpeggio: its notes end by themselves, not with a key. */
  private readonly timed = new Uint8Array(MOST_MADE);
  readonly values = new Float64Array(PATH_VALUES);
  /** When it must be asked again. */
  nextFrame = Infinity;
  /** Gain and transposition of the key that goes down. */
  readonly gain = new Float64Array(1);
  readonly transpose = new Float64Array(1);
  private readonly chord = new ChordMaker();
  private readonly draws = new Draws(1);
  private readonly held = new HeldKeys();
  private serial = 0;
  /** An arpeggio may hold on to keys that are up. */
  private holds = true;
  /** Keys that are down, for one note at a time: in the order in which they were pressed. */
  private readonly stack = new HeldKeys();
  /**
   * The arpeggio: whether it runs, its step, the note it is at, where the next step is in quarters and frames, and
   * frames of a quarter.
   */
  private runs = false;
  private step = 0;
  private note = 0;
  private readonly nextQuarter = new Float64Array(1);
  private nextStep = Infinity;
  private compiled: CompiledPath;

  constructor(
    public layer: number,
    compiled: CompiledPath,
    private readonly host: PathHost,
    private readonly clock: PathClock,
  ) {
    this.compiled = compiled;
    this.chord.begin(compiled.seed);
    this.draws.seed(compiled.seed);
  }

  /** An edit. What was made stays, and ends with its keys; an arpeggio that was taken off ends now. */
  follow(compiled: CompiledPath | null, layer: number): void {
    this.layer = layer;
    const before = this.compiled;
    // What waits to begin needs a path, and a layer, to begin in.
    if (!compiled) for (let n = 0; n < MOST_MADE; n++) if (this.states[n] === WAITING) this.states[n] = FREE;
    if (!compiled || (before.arpeggio && !compiled.arpeggio)) {
      this.stopArpeggio();
      this.held.clear();
    }
    if (!compiled) {
      this.stack.clear();
      return;
    }
    if (before.seed !== compiled.seed) {
      this.chord.begin(compiled.seed);
      this.draws.seed(compiled.seed);
    }
    if (before.playing !== compiled.playing) this.stack.clear();
    if (before.arpeggio?.hold && compiled.arpeggio && !compiled.arpeggio.hold) this.held.dropLifted();
    this.compiled = compiled;
    if (this.held.count === 0) this.stopArpeggio();
  }

  /** A key goes down that the layer hears; {@link gain} and {@link transpose} are set. */
  keyDown(channel: number, key: number, velocity: number): void {
    const { compiled, chord } = this;
    const moved = Math.round(key + this.transpose[0]);
    if (moved < 0 || moved > 127) return;
    const snapped = compiled.snap ? compiled.snap[moved] : moved;
    if (snapped < 0) return;
    // The same key again: what it made before ends first.
    if (!compiled.arpeggio && compiled.playing === POLY) this.keyUp(channel, key);
    chord.make(compiled, snapped);
    if (compiled.arpeggio) {
      this.drive(channel, key, velocity);
      return;
    }
    if (compiled.playing !== POLY) {
      this.stack.add(snapped, key, channel, velocity, this.transpose, this.gain);
      if (this.takeOver(chord.count === 1 && this.stack.count > 1)) return;
    }
    this.strike(key, channel, velocity);
  }

  /** The chord's notes, one after another by the strum. */
  private strike(played: number, channel: number, velocity: number): void {
    const { chord, clock } = this;
    this.host.readPath(this);
    for (let i = 0; i < chord.count; i++)
      this.make(
        chord.keys[i],
        played,
        channel,
        velocity,
        clock.frame + Math.round(i * this.values[STRUM] * clock.rate),
        Infinity,
        0,
      );
    this.startDue();
  }

  /**
   * The newest key takes over from what sounds; `mayGoOn`: legato, where one note sounds. True where that has gone on
   * to it.
   */
  private takeOver(mayGoOn: boolean): boolean {
    const { stack } = this;
    const newest = stack.count - 1;
    let sounding = -1;
    let count = 0;
    for (let n = 0; n < MOST_MADE; n++) {
      if (this.states[n] !== SOUNDING) continue;
      sounding = n;
      count++;
    }
    if (this.compiled.playing === LEGATO && mayGoOn && count === 1) {
      const before = this.keys[sounding];
      this.keys[sounding] = stack.keys[newest];
      this.played[sounding] = stack.played[newest];
      this.channels[sounding] = stack.channels[newest];
      this.transposes[sounding] = stack.transposes[newest];
      if (this.host.bendMade(this, sounding, before)) return true;
      this.keys[sounding] = before;
    }
    for (let n = 0; n < MOST_MADE; n++) {
      if (this.states[n] === SOUNDING) this.host.forgetMade(this, n);
      this.states[n] = FREE;
    }
    this.host.cutMade(this);
    this.schedule();
    return false;
  }

  keyUp(channel: number, key: number): void {
    const { compiled, held, stack } = this;
    if (held.count > 0) {
      held.lift(key, channel, this.holds && compiled.arpeggio !== null && compiled.arpeggio.hold);
      if (held.count === 0) this.stopArpeggio();
    }
    if (compiled.playing !== POLY && stack.count > 0) {
      const wasNewest = stack.played[stack.count - 1] === key && stack.channels[stack.count - 1] === channel;
      stack.lift(key, channel, false);
      if (wasNewest && stack.count > 0) {
        this.goBack();
        return;
      }
    }
    for (let n = 0; n < MOST_MADE; n++) {
      if (this.states[n] === FREE || this.timed[n] === 1 || this.played[n] !== key || this.channels[n] !== channel)
        continue;
      this.finish(n);
    }
    this.schedule();
  }

  /** The newest key of several went up: the one before it sounds again. */
  private goBack(): void {
    const { stack, chord, compiled } = this;
    const at = stack.count - 1;
    chord.make(compiled, stack.keys[at]);
    if (this.takeOver(chord.count === 1)) return;
    this.transpose[0] = stack.transposes[at];
    this.gain[0] = stack.gains[at];
    this.strike(stack.played[at], stack.channels[at], stack.velocities[at]);
  }

  /** Ends everything now, keys and arpeggio too. */
  clear(): void {
    this.held.clear();
    this.stack.clear();
    this.runs = false;
    for (let n = 0; n < MOST_MADE; n++) if (this.states[n] !== FREE) this.finish(n);
    this.nextFrame = this.nextStep = Infinity;
  }

  /** The same for what came by one address. */
  clearChannel(channel: number): void {
    for (let key = 0; key < 128; key++) this.keyUp(channel, key);
    if (!this.held.anyDown) {
      this.held.clear();
      this.stopArpeggio();
    }
  }

  /** Lets go of what it only holds on to: another patch plays. */
  dropHeld(): void {
    this.holds = false;
    this.held.dropLifted();
    if (this.held.count === 0) this.stopArpeggio();
  }

  /** Whether it will make notes by itself. */
  get isBusy(): boolean {
    return this.nextFrame !== Infinity;
  }

  /** The step that was made last, as a place in the pattern; −1: no arpeggio runs. */
  get stepNow(): number {
    const { arpeggio } = this.compiled;
    return this.runs && arpeggio && this.step > 0 ? (this.step - 1) % arpeggio.kinds.length : -1;
  }

  /** Everything that is due at this frame happens; afterwards {@link nextFrame} says when to ask again. */
  run(): void {
    const { frame } = this.clock;
    for (let n = 0; n < MOST_MADE; n++) if (this.states[n] === SOUNDING && this.ends[n] <= frame) this.finish(n);
    // A tempo that no clock can have might make steps of no length: so many in a frame are enough.
    for (let n = 0; n < 8 && this.runs && this.nextStep <= frame; n++) this.stepOn();
    this.startDue();
  }

  /** The tempo is another one, or the transport is elsewhere by so many quarters. */
  retime(jump: Float64Array): void {
    if (!this.runs || !this.compiled.arpeggio) return;
    if (this.compiled.arpeggio.onBeat && jump[0] !== 0) this.alignToBeat();
    else this.nextQuarter[0] += jump[0];
    this.placeStep();
    this.schedule();
  }

  private make(
    key: number,
    played: number,
    channel: number,
    velocity: number,
    begins: number,
    ends: number,
    timed: number,
  ): void {
    let n = 0;
    while (n < MOST_MADE && this.states[n] !== FREE) n++;
    if (n === MOST_MADE) return;
    this.keys[n] = key;
    this.played[n] = played;
    this.channels[n] = channel;
    this.velocities[n] = velocity;
    this.transposes[n] = this.transpose[0];
    this.gains[n] = this.gain[0];
    this.serials[n] = ++this.serial;
    this.begins[n] = begins;
    this.ends[n] = ends;
    this.timed[n] = timed;
    this.states[n] = WAITING;
  }

  private startDue(): void {
    const { frame } = this.clock;
    for (let n = 0; n < MOST_MADE; n++) {
      if (this.states[n] !== WAITING || this.begins[n] > frame) continue;
      this.states[n] = SOUNDING;
      this.host.beginMade(this, n);
    }
    this.schedule();
  }

  /** A note ends; one that has not begun is forgotten. */
  private finish(n: number): void {
    const sounds = this.states[n] === SOUNDING;
    this.states[n] = FREE;
    if (sounds) this.host.endMade(this, n);
  }

  private schedule(): void {
    let next = this.runs ? this.nextStep : Infinity;
    for (let n = 0; n < MOST_MADE; n++) {
      if (this.states[n] === WAITING && this.begins[n] < next) next = this.begins[n];
      else if (this.states[n] === SOUNDING && this.ends[n] < next) next = this.ends[n];
    }
    this.nextFrame = next;
  }

  /** A key goes down that drives the arpeggio. */
  private drive(channel: number, key: number, velocity: number): void {
    const { compiled, chord, held } = this;
    if (compiled.arpeggio!.hold && !held.anyDown) held.clear();
    const fresh = held.count === 0;
    for (let i = 0; i < chord.count; i++) held.add(chord.keys[i], key, channel, velocity, this.transpose, this.gain);
    if (!fresh && this.runs) return;
    this.runs = true;
    this.step = this.note = 0;
    this.draws.seed(compiled.seed);
    this.host.readPath(this);
    if (compiled.arpeggio!.onBeat) this.alignToBeat();
    else this.nextQuarter[0] = this.clock.position[0];
    this.placeStep();
    // What else goes down at this frame is in its first step.
    this.schedule();
  }

  private stopArpeggio(): void {
    this.runs = false;
    this.nextStep = Infinity;
    this.schedule();
  }

  /** The next step is the next one of the grid that begins with the transport. */
  private alignToBeat(): void {
    const quarters = NOTE_QUARTERS[this.values[ARP_RATE]];
    const place = Math.max(0, Math.ceil(this.clock.position[0] / quarters - 1e-6));
    this.nextQuarter[0] = place * quarters;
    this.step = place;
  }

  /** The frame of the next step: every second one comes late by the swing. */
  private placeStep(): void {
    const { clock, values } = this;
    const late = this.step % 2 === 1 ? (2 * values[ARP_SWING] - 1) * NOTE_QUARTERS[values[ARP_RATE]] : 0;
    const distance = (this.nextQuarter[0] + late - clock.position[0]) * clock.framesOfQuarter[0];
    this.nextStep = clock.frame + Math.max(0, Math.ceil(distance - SAME));
  }

  private stepOn(): void {
    const { compiled, held, host, values, draws, clock } = this;
    const arpeggio = compiled.arpeggio!;
    host.readPath(this);
    const quarters = NOTE_QUARTERS[values[ARP_RATE]];
    const frames = quarters * clock.framesOfQuarter[0];
    const at = this.step % arpeggio.kinds.length;
    const kind = arpeggio.kinds[at];
    const { frame } = clock;
    if (kind === NOTE_STEP) {
      draws.next();
      const sounds = draws.share[0] < arpeggio.chances[at];
      const octaves = Math.max(1, Math.round(values[ARP_OCTAVES]));
      const together = arpeggio.order === ORDER.chord;
      const ends = frame + Math.max(1, Math.round(frames * (this.tiesAfter(at) + values[ARP_GATE])));
      for (let i = 0; i < (together ? held.count : 1); i++) {
        const found = together ? i : held.noteAt(this.note, arpeggio, octaves, draws);
        const place = found % MOST_HELD;
        const octave = (together ? this.note % octaves : Math.floor(found / MOST_HELD)) + arpeggio.octaves[at];
        const key = held.keys[place] + 12 * octave;
        if (!sounds || key < 0 || key > 127) continue;
        this.transpose[0] = held.transposes[place];
        this.gain[0] = held.gains[place];
        const velocity = Math.min(127, Math.max(1, Math.round(held.velocities[place] * arpeggio.velocities[at])));
        this.make(key, held.played[place], held.channels[place], velocity, frame, ends, 1);
      }
      this.note++;
    }
    this.step++;
    if (arpeggio.onBeat) this.nextQuarter[0] = (Math.floor(this.nextQuarter[0] / quarters + 1e-6) + 1) * quarters;
    else this.nextQuarter[0] += quarters;
    this.placeStep();
  }

  /** Over how many of the next steps a note goes on. */
  private tiesAfter(at: number): number {
    const { kinds } = this.compiled.arpeggio!;
    let ties = 0;
    while (ties < kinds.length && kinds[(at + 1 + ties) % kinds.length] === TIE_STEP) ties++;
    return ties;
  }
}

/**
 * Time as a path sees it: the frame that comes next, the transport's position there in quarters, and frames of a
 * quarter.
 */
export interface PathClock {
  readonly frame: number;
  readonly rate: number;
  readonly position: Float64Array;
  readonly framesOfQuarter: Float64Array;
}
