import { checkPatch, reasonOf } from '../../core/check';
import { isSameContext } from '../../core/engine/program/compile';
import type { Finding } from '../../core/check/finding';
import { loopName, type Heard, type LoopHeard, type TakeHeard } from '../../core/check/heard';
import { toMeasure } from '../../core/check/listen';
import { patchesOfShow } from '../../core/check/loudness';
import type { Recording } from '../../core/measure/recording';
import { plainTake } from '../../core/music/plainTake';
import type { Take } from '../../core/music/take';
import { handsTake } from '../../core/rig/takes';
import type { Patch, Rig } from '../../core/rig/schema';
import type { ListenApi, ListenJob } from '../../workers/listenWorker';
import { checkState } from './checkState';
import { programIfAny } from '../sound/compiled';
import { fetchTakes } from './takesThere';
import { Hired } from '../document/hired';
import { session } from '../sound/session';
import { Rest } from './rest';
import { soundLab } from '../document/soundLab';
import { sampleBytes } from '../document/storage/demoSamples';

/**
 * Edits are checked when they have come to rest for so long: by their numbers, and by ear where somebody looks at what
 * is found. Where nobody looks, they are listened to once nothing at all was touched for a while: until then the
 * machine belongs to the hands.
 */
const NUMBERS_MS = 350,
  EAR_MS = 15_000,
  EAR_SOON_MS = 700;

class GivenUp extends Error {}

/**
 * What the rules have to say of the patch in view: live while it is edited, and listened to in a worker as soon as
 * hands rest.
 */
class Checking {
  /** Of the patch in view, the surest first; those set aside included. */
  findings: readonly Finding[] = [];
  /** The patch that they are about. */
  patchId: string | null = null;
  heard: Heard | undefined;
  /** How far listening is, 0…1; null: nobody listens. */
  share: number | null = null;
  /** What of the patch changed since it was listened to. */
  stale = true;
  /** Takes of patches that were listened to, by patch. */
  show: ReadonlyMap<string, TakeHeard> = new Map();
  /** How many patches of the show are still to be listened to; null: nobody asked. */
  showLeft: number | null = null;
  problem: string | null = null;
  version = 0;
  private rig: Rig | null = null;
  private patch: Patch | null = null;
  private looking = false;
  private missing: ReadonlySet<string> = new Set();
  private numbers = 0;
  private ear = 0;
  private busy = false;
  /** How often listening was given up. */
  private givenUp = 0;
  /** Ends what nobody looks at as soon as something is touched. */
  private readonly hands = new Rest({ page: window, hands: session.hands, takes: session.takes }, () => {
    if (this.busy && !this.looking) this.giveUp();
  });
  private worker: Hired<ListenApi> | null = null;
  private readonly recordings = new Map<string, { recording: Recording; loops: Record<string, LoopHeard> }>();
  private readonly takes = new WeakMap<Patch, TakeHeard>();
  private readonly listeners = new Set<() => void>();

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  private tell(): void {
    this.version++;
    for (const listener of this.listeners) listener();
  }

  /** The patch that is edited, as it is now. `looking`: its findings are in view. */
  watch(rig: Rig, patch: Patch, looking: boolean): void {
    if (rig === this.rig && patch === this.patch && looking === this.looking) return;
    const other = patch.id !== this.patchId;
    const changed = patch !== this.patch || !this.rig || !isSameContext(rig, this.rig);
    Object.assign(this, { rig, patch, looking, patchId: patch.id });
    if (other) {
      Object.assign(this, { heard: undefined, findings: [], problem: null });
      checkState.set({ count: null, keys: null, trial: null });
    }
    if (changed) {
      this.stale = true;
      checkState.set({ trial: null });
    }
    clearTimeout(this.numbers);
    this.numbers = window.setTimeout(() => this.look(), other ? 0 : NUMBERS_MS);
    if (this.stale || (looking && this.showLeft === null)) {
      clearTimeout(this.ear);
      this.ear = window.setTimeout(() => void this.listen(), looking ? EAR_SOON_MS : EAR_MS);
    }
  }

  /** On Stage nobody listens: the machine has better to do. */
  rest(): void {
    clearTimeout(this.numbers);
    clearTimeout(this.ear);
    this.patch = null;
    if (this.busy) this.giveUp();
  }

  /** Whoever listens stops at once, in the middle of it; what was not heard is as good as changed. */
  private giveUp(): void {
    this.stale = true;
    this.givenUp++;
    this.worker?.end(new GivenUp());
  }

  private look(): void {
    const { rig, patch } = this;
    if (!rig || !patch) return;
    try {
      this.findings = checkPatch(rig, patch, this.evidence);
      checkState.set({ count: counted(rig, this.findings) });
    } catch (error) {
      this.problem = `The rules stumbled over this patch: ${(error as Error).message}`;
    }
    this.tell();
  }

  /** What was measured is of the patch as it was before the last edit. */
  get isOld(): boolean {
    return this.stale || this.share !== null;
  }

  /** What rules may go by, for edits of several at once. */
  get evidence() {
    const outputs = new Set(session.outputs.names);
    return { heard: this.heard, show: this.show, missing: this.missing, outputs, fedBackAt: session.live.fedBackAt };
  }

  private async listen(): Promise<void> {
    if (this.busy || !this.rig || !this.patch) return;
    const wait = this.looking ? 0 : this.hands.leftOf(EAR_MS);
    if (wait > 0) {
      this.ear = window.setTimeout(() => void this.listen(), wait);
      return;
    }
    this.busy = true;
    try {
      while (this.patch && this.stale) {
        const { rig, patch } = this;
        this.stale = false;
        this.share = 0;
        this.tell();
        const heard = await this.hear(rig, patch, (share) => {
          this.share = share;
          this.tell();
        }).catch((error: Error) => {
          if (error instanceof GivenUp) throw error;
          this.problem = `Nobody could listen to this patch: ${error.message}`;
          return undefined;
        });
        if (!heard || this.patchId !== patch.id) continue;
        this.problem = null;
        this.heard = heard;
        if (heard.take) this.keepTake(patch, heard.take);
        this.look();
      }
      this.share = null;
      if (this.looking) await this.listenToShow();
    } catch (error) {
      if (!(error instanceof GivenUp)) this.problem = `Nobody could listen to this patch: ${(error as Error).message}`;
    } finally {
      this.busy = false;
      this.share = null;
      this.tell();
      if (this.stale && this.patch) {
        clearTimeout(this.ear);
        this.ear = window.setTimeout(() => void this.listen(), this.looking ? EAR_SOON_MS : EAR_MS);
      }
    }
  }

  private keepTake(patch: Patch, take: TakeHeard): void {
    this.takes.set(patch, take);
    this.show = new Map(this.show).set(patch.id, take);
  }

  /** The other patches of the show, each once as it is: only their takes. */
  private async listenToShow(): Promise<void> {
    const { rig } = this;
    if (!rig) return;
    const others = patchesOfShow(rig).filter((patch) => patch.id !== this.patchId);
    const left = others.filter((patch) => !this.takes.has(patch));
    this.showLeft = left.length;
    const known = new Map(
      others.flatMap((patch) => {
        const take = this.takes.get(patch);
        return take ? [[patch.id, take] as const] : [];
      }),
    );
    const own = this.patchId === null ? undefined : this.show.get(this.patchId);
    this.show = own ? known.set(this.patchId!, own) : known;
    for (const patch of left) {
      if (this.stale || !this.looking || this.rig?.id !== rig.id) return;
      const take = await this.hearTake(rig, patch).catch(() => null);
      if (take) this.keepTake(patch, take);
      this.showLeft--;
      this.look();
    }
  }

  /** Everything that is measured of a patch. Rejects with why it cannot be. */
  private async hear(rig: Rig, patch: Patch, told: (share: number) => void): Promise<Heard> {
    const mine = this.givenUp;
    const goesOn = () => {
      if (this.givenUp !== mine) throw new GivenUp();
    };
    const job = await this.jobOf(rig, patch);
    goesOn();
    const measured = await this.measure(rig, patch, (share) => {
      goesOn();
      told(share * 0.4);
    });
    goesOn();
    return this.hire().askTelling((api, heard) => api.listen({ ...job, ...measured }, heard), told);
  }

  /** What its take does, and nothing else. */
  private async hearTake(rig: Rig, patch: Patch): Promise<TakeHeard | null> {
    const job = await this.jobOf(rig, patch);
    return this.hire().ask((api) => api.listenToTake(job));
  }

  private async jobOf(rig: Rig, patch: Patch): Promise<ListenJob> {
    const program = programIfAny(patch, rig, undefined);
    if (!program) throw new Error('it cannot be played');
    const shipped = await fetchTakes().catch(() => new Map<string, Take>());
    const take =
      handsTake(patch) ?? shipped.get(patch.id) ?? plainTake(rig.controllers.keyLow, rig.controllers.keyHigh);
    const samples = await session.samples.preparedFor(program.samples);
    return {
      rig: { ...rig, patches: [patch], setlists: [], setlist: null },
      patch,
      take,
      samples,
      recordings: {},
      loops: {},
    };
  }

  private hire(): Hired<ListenApi> {
    if (!this.worker || this.worker.isGone)
      this.worker = new Hired(
        new Worker(new URL('../../workers/listenWorker.ts', import.meta.url), { type: 'module' }),
        'the listener stopped',
      );
    return this.worker;
  }

  /** Recordings and loops by themselves; each recording is measured once for good. */
  private async measure(
    rig: Rig,
    patch: Patch,
    told: (share: number) => void,
  ): Promise<Pick<ListenJob, 'recordings' | 'loops'>> {
    const wanted = toMeasure(rig, patch);
    const recordings: Record<string, Recording> = {};
    const loops: Record<string, LoopHeard> = {};
    const missing = new Set<string>();
    let done = 0;
    await Promise.all(
      wanted.recordings.map(async ({ sampleId, pitched }) => {
        const own = wanted.loops.filter((each) => each.sampleId === sampleId);
        let known = this.recordings.get(`${sampleId} ${pitched}`);
        if (!known || own.some(({ loop }) => !(loopName(sampleId, loop) in known!.loops))) {
          const ask = () => soundLab.ask({ type: 'recording', sampleId, pitched, loops: own.map(({ loop }) => loop) });
          try {
            const answer = await ask().catch(async () => {
              // It may still be on its way.
              if (!(await sampleBytes(sampleId))) throw new Error('missing');
              return ask();
            });
            known = {
              recording: answer.recording,
              loops: {
                ...known?.loops,
                ...Object.fromEntries(
                  own.flatMap(({ loop }, n) => (answer.loops[n] ? [[loopName(sampleId, loop), answer.loops[n]]] : [])),
                ),
              },
            };
            this.recordings.set(`${sampleId} ${pitched}`, known);
          } catch {
            missing.add(sampleId);
          }
        }
        if (known) {
          recordings[sampleId] = known.recording;
          Object.assign(loops, known.loops);
        }
        told(++done / wanted.recordings.length);
      }),
    );
    this.missing = missing;
    return { recordings, loops };
  }
}

export const checking = new Checking();

/** Findings that count: not those set aside, and no matters of taste. */
export const counted = (rig: Rig, findings: readonly Finding[]): number =>
  findings.filter((finding) => finding.grade !== 'taste' && reasonOf(rig, finding) === undefined).length;
