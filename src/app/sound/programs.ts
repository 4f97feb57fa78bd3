import { isSameContext, LOWEST_ENGINE_RATE } from '../../core/engine/program/compile';
import type { Program, SampleRequest } from '../../core/engine/program/program';
import type { Patch, Rig } from '../../core/rig/schema';
import type { AudioHost } from '../../host/audioHost';
import { programIfAny, programOf } from './compiled';
import type { Readiness, SampleFetcher } from './sampleFetcher';

/** From this long a compilation is not done with every movement of a drag. */
const LONG_MS = 8;

/** What a part of the page's sound tells: that another program plays now. */
export interface ProgramChange {
  rig: Rig;
  patch: Patch;
  /** The patch that played before; null: none did. */
  before: Patch | null;
  otherRig: boolean;
}

interface Around {
  /** Called once the engine has the program, before its samples are fetched. */
  changed: (change: ProgramChange) => void;
  problem: (id: string, text: string) => void;
  /** Called when another patch is wanted, whether it can be compiled or not. */
  wanted: (patch: Patch) => void;
}

type Engine = Pick<AudioHost, 'setProgram' | 'context'>;
type Samples = Pick<SampleFetcher, 'fetch' | 'forget' | 'isSettled' | 'needed' | 'readiness'>;

/** Programs in and out of the engine: what plays, and what may come next. */
export class Programs {
  /** The program that plays, for pictures of the same gains. */
  program: Program | null = null;
  /** What it was compiled from. */
  rig: Rig | null = null;
  patch: Patch | null = null;
  /** By which number the engine knows it. */
  serial = 0;
  /** Patches that may come next, as they would be played, the likeliest first: they are prepared before all others. */
  private neighbours: readonly Patch[] = [];
  private later: ReturnType<typeof setTimeout> | undefined;
  private shownAt = 0;
  private showMs = 0;
  /** Of the sound that runs. */
  private rate: number | undefined;

  constructor(
    private readonly engine: Engine,
    private readonly samples: Samples,
    private readonly around: Around,
  ) {}

  /**
   * Makes a patch of the rig the one that plays. Cheap when nothing that sounds has changed; where it takes long
   * (thousands of zones) and the same patch is edited on and on, it is done every now and then only.
   */
  show(rig: Rig, patch: Patch): void {
    clearTimeout(this.later);
    const now = performance.now();
    const edited = this.patch?.id === patch.id && this.rig?.id === rig.id;
    if (edited && this.showMs > LONG_MS && now - this.shownAt < 8 * this.showMs) {
      this.later = setTimeout(() => this.show(rig, patch), 8 * this.showMs);
      return;
    }
    this.showAtOnce(rig, patch);
    this.shownAt = performance.now();
    this.showMs = this.shownAt - now;
  }

  /** The same, whatever it takes. */
  showAtOnce(rig: Rig, patch: Patch): void {
    const { patch: before, rig: last } = this;
    if (before === patch && last && isSameContext(last, rig) && last.instruments === rig.instruments) return;
    const otherRig = last?.id !== rig.id;
    this.rig = rig;
    this.patch = patch;
    this.around.wanted(patch);
    try {
      this.program = programOf(patch, rig, this.engine.context?.sampleRate);
    } catch (error) {
      this.around.problem('compile', `${patch.name}: ${(error as Error).message}; it plays as it was before`);
      return;
    }
    if (otherRig) this.samples.forget();
    this.serial = this.engine.setProgram(this.program);
    const { samples } = this.program;
    const { needed } = this.samples;
    this.samples.needed = new Set(samples.map((request) => request.key));
    this.around.changed({ rig, patch, before, otherRig });
    // Most edits want no other samples: what was being prepared goes on being so.
    const wantsOthers = samples.length !== needed.size || samples.some(({ key }) => !needed.has(key));
    if (before?.id === patch.id && last && !otherRig && !wantsOthers && this.isAllElseSame(last, rig, patch)) return;
    const fetch = () => void this.samples.fetch(rig, samples, this.othersOf(rig, patch), this.neighbours.length);
    // The page is drawn first; samples take the cores that it needs for that.
    if (before) fetch();
    else
      afterDrawing(() => {
        if (this.patch === patch) fetch();
      });
  }

  /** Whether a rig holds but for one patch what another state of it did, and all samples of that patch have come. */
  private isAllElseSame(before: Rig, now: Rig, { id }: Patch): boolean {
    return (
      before.sounds === now.sounds &&
      before.samples === now.samples &&
      before.patches.length === now.patches.length &&
      now.patches.every(
        (patch, i) => patch === before.patches[i] || (patch.id === id && before.patches[i].id === id),
      ) &&
      [...this.samples.needed].every((key) => this.samples.isSettled(key))
    );
  }

  /** The sound has begun, or begun anew: a device of a low rate needs other copies of the samples. */
  followRate(): void {
    const rate = this.engine.context?.sampleRate;
    if (rate === this.rate) return;
    this.rate = rate;
    const { rig, patch } = this;
    if (!rig || !patch || rate === undefined || rate >= LOWEST_ENGINE_RATE) return;
    this.patch = null;
    this.showAtOnce(rig, patch);
  }

  /**
   * Others of the rig in the order in which they may be wanted: neighbours in the show, then those after the one that
   * plays, then those before.
   */
  private othersOf(rig: Rig, patch: Patch): Patch[] {
    const at = rig.patches.findIndex((other) => other.id === patch.id);
    return [...this.neighbours, ...rig.patches.slice(at + 1), ...rig.patches.slice(0, Math.max(0, at))];
  }

  /** Says which patches may come next, as they would be played. Their programs and samples are made ready. */
  expect(patches: readonly Patch[]): void {
    if (patches.length === this.neighbours.length && patches.every((patch, i) => patch === this.neighbours[i])) return;
    this.neighbours = patches;
    const { rig, patch, program } = this;
    if (rig && patch && program)
      afterDrawing(() => {
        if (this.neighbours === patches && this.patch === patch)
          void this.samples.fetch(rig, program.samples, this.othersOf(rig, patch), patches.length);
      });
  }

  /** How far a patch is from being playable at once; undefined where it cannot be compiled. */
  readinessOf(rig: Rig, patch: Patch): Readiness | undefined {
    const program = programIfAny(patch, rig, this.engine.context?.sampleRate);
    return program && this.samples.readiness(program.samples);
  }

  /** The requests of what plays; none while nothing does. */
  get requests(): readonly SampleRequest[] {
    return this.program?.samples ?? [];
  }
}

/** Runs something once the page has been drawn; or soon, where nothing is drawn, as in a tab in the background. */
function afterDrawing(work: () => void): void {
  let done = false;
  const once = () => {
    if (!done) {
      done = true;
      work();
    }
  };
  requestAnimationFrame(() => setTimeout(once));
  setTimeout(once, 400);
}
