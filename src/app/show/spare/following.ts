import { applyChanges } from '../../../core/remote/changes';
import type { Take } from '../../../core/music/take';
import type { SpareMessage, Step } from '../../../core/remote/spare';
import { faultOf, readRig } from '../../../core/rig/read';
import type { Patch, Rig } from '../../../core/rig/schema';
import type { InStep } from '../../../host/inStep';
import type { Sum } from '../../../host/stepLog';
import { hasSample } from '../../document/storage/database';
import { keepOrHold, sampleBytes } from '../../document/storage/demoSamples';
import type { Session } from '../../sound/session';
import { spareState } from '../spareState';
import type { Handover } from './handover';
import { SamplesOverTheLine } from './samples';

const EVERY_MS = 100;
const STANDS_MS = 1000;
/** Sums of seconds that the other has not told yet, or this engine not made yet. */
const MOST_SUMS = 64;
const BLOCK = 128;
/** Sound that begins at another rate takes its moment. */
const START_MS = 5000;

type Told = Exclude<SpareMessage, { type: 'piece' }>;

interface Around {
  session: Session;
  inStep: InStep;
  say: (message: SpareMessage) => void;
  handover: Handover;
  /** The rig that the other edits. */
  opened: (rig: Rig) => Promise<void>;
  /** Where the show is there. */
  went: (stepId: string | null, patchId: string | null) => void;
  /** It cannot be followed: what was told is no rig. */
  failed: (why: string) => void;
}

/** Another machine leads: this one does what it is told, block by block, mute, and compares what comes out. */
export class Following {
  /** The take that is before the player there, and where in it that is; null: it does not play. */
  score: Take | null = null;
  plays: Extract<SpareMessage, { type: 'take' }>['plays'] = null;
  private rig: Rig | null = null;
  private patch: Patch | null = null;
  private patchId: string | null = null;
  private epoch = 0;
  private rate = 0;
  private told = 0;
  private readonly samples: SamplesOverTheLine;
  private readonly theirs = new Map<number, Sum>();
  private readonly ours = new Map<number, Sum>();
  private inStepFrom: number | null = null;
  private lacked = '';
  private stoodAt = 0;
  private queue: Promise<void> = Promise.resolve();
  private waiting = 0;
  private ended = false;
  private readonly timer: ReturnType<typeof setInterval>;

  constructor(private readonly around: Around) {
    this.samples = new SamplesOverTheLine({
      say: around.say,
      has: async (id) => (await hasSample(id)) || (await sampleBytes(id).catch(() => undefined)) !== undefined,
      keep: keepOrHold,
    });
    around.session.beginToFollow();
    this.timer = setInterval(() => this.tick(), EVERY_MS);
  }

  end(): void {
    this.ended = true;
    clearInterval(this.timer);
    this.around.inStep.onBegun = () => undefined;
  }

  /** What was said, in its order: some of it takes a while. */
  hear(message: Told): void {
    // What need not wait does not: a line that is quick stays so.
    if (this.waiting === 0 && message.type === 'steps') return this.hearSteps(message);
    this.waiting++;
    this.queue = this.queue
      .then(() => (this.ended ? undefined : this.act(message)))
      .catch((error: Error) => this.around.failed(error.message))
      .finally(() => {
        this.waiting--;
      });
  }

  private async act(message: Told): Promise<void> {
    switch (message.type) {
      case 'rig':
        return this.hearRig(message);
      case 'sample':
        if (await this.samples.hear(message)) this.fetchAgain();
        return;
      case 'begin':
        return this.begin(message);
      case 'steps':
        return this.hearSteps(message);
      case 'take':
        this.plays = message.plays;
        return;
      case 'score':
        this.score = message.take;
        return;
      case 'place':
        this.patchId = message.patchId;
        this.showEarly();
        return this.around.went(message.stepId, message.patchId);
    }
  }

  private async hearRig({ changes, document }: Extract<Told, { type: 'rig' }>): Promise<void> {
    const next = applyChanges(this.rig, changes);
    // The first is read as any file; edits of it by what an edit here is held to.
    const rig = this.rig ? (next as Rig) : readRig(next);
    const fault = this.rig ? faultOf(rig) : undefined;
    if (fault) throw fault;
    this.rig = rig;
    if (document) await this.around.opened(rig);
    void this.samples.want(rig.samples.map(({ id }) => id)).then(() => this.tellLacks());
    this.showEarly();
  }

  /** Before anything is in step: what plays there is made ready here. */
  private showEarly(): void {
    const patch = this.rig?.patches.find(({ id }) => id === this.patchId);
    if (this.epoch === 0 && this.rig && patch) this.around.session.programs.showAtOnce(this.rig, patch);
  }

  /** Samples that were not there when they were asked for are now. */
  private fetchAgain(): void {
    const { programs, samples } = this.around.session;
    const { rig, patch } = programs;
    this.tellLacks();
    if (!rig || !patch || this.samples.count > 0) return;
    samples.forget();
    void samples.fetch(rig, programs.requests, rig.patches, 0);
  }

  private async begin({ epoch, rate }: Extract<Told, { type: 'begin' }>): Promise<void> {
    const {
      inStep,
      session: { audio },
    } = this.around;
    // One that stopped here has to be begun there as well.
    inStep.onBegun = () => undefined;
    await inStep.follow(rate);
    for (let waits = 0; audio.state === 'starting' && waits < START_MS / 50; waits++)
      await new Promise((resolve) => setTimeout(resolve, 50));
    if (this.ended) return;
    if (audio.state !== 'running' || audio.context?.sampleRate !== rate) {
      this.apart('sound does not run here at the rate of the other');
      return;
    }
    inStep.onBegun = () => {
      this.epoch = 0;
      this.lacked = '';
      this.apart('the sound of this machine began anew');
    };
    this.epoch = epoch;
    this.rate = rate;
    this.patch = null;
    this.theirs.clear();
    this.ours.clear();
    this.apart('it has just begun');
  }

  private hearSteps({ epoch, upTo, steps, sums }: Extract<Told, { type: 'steps' }>): void {
    if (epoch !== this.epoch) return;
    try {
      for (const step of steps) this.step(step);
    } catch (error) {
      this.apart(`a step could not be done: ${(error as Error).message}`);
    }
    this.told = upTo;
    this.around.inStep.knowsUpTo(upTo);
    for (const sum of sums) remember(this.theirs, sum);
  }

  private step(step: Step): void {
    const { session, inStep, handover } = this.around;
    if ('event' in step) {
      handover.told(step.event);
      inStep.asTold(step.at, step.ahead, () => session.playTold(step.event));
    } else if ('outputs' in step) inStep.asTold(step.at, 0, () => inStep.outputsAre(step.outputs));
    else {
      const rig = this.rig!;
      const patch = applyChanges(this.patch, step.show) as Patch;
      // What is tried there may be of no patch of the rig.
      const others = rig.patches.filter(({ id }) => id !== patch.id);
      const fault = faultOf({ ...rig, patches: [...others, patch] });
      if (fault) throw fault;
      this.patch = patch;
      inStep.asTold(step.at, 0, () => session.programs.showAtOnce(rig, patch));
    }
  }

  private tick(): void {
    this.samples.ask();
    this.compare();
    this.tellLacks();
    const now = performance.now();
    if (now - this.stoodAt < STANDS_MS) return;
    this.stoodAt = now;
    const blocks = this.around.inStep.steps?.blocks ?? 0;
    const lagMs = this.epoch > 0 ? Math.max(0, ((this.told - blocks) * BLOCK * 1000) / this.rate) : 0;
    spareState.set({ lagMs: Math.round(lagMs) });
    const { since, why } = spareState.now;
    this.around.say({
      type: 'stands',
      since: since === null ? -1 : Math.max(0, (Date.now() - since) / 1000),
      why,
      lagMs,
    });
  }

  /** Each second both have made, by its sum. */
  private compare(): void {
    const { steps } = this.around.inStep;
    if (this.epoch === 0 || !steps) return;
    for (const sum of steps.sums()) remember(this.ours, sum);
    for (const [second, own] of this.ours) {
      const other = this.theirs.get(second);
      if (!other) continue;
      this.ours.delete(second);
      this.theirs.delete(second);
      if (own.hash === other.hash) {
        this.inStepFrom ??= Date.now();
        spareState.set({ since: this.inStepFrom, why: '' });
      } else this.apart(howFar(own, other, this.patch, this.rig));
    }
  }

  private apart(why: string): void {
    this.inStepFrom = null;
    spareState.set({ since: null, why });
  }

  private tellLacks(): void {
    const { session, say } = this.around;
    if (!this.rig) return;
    const missing = this.samples.count + session.samples.loading;
    // Browsers let a page that was loaded anew make sound once it was touched.
    const waits = session.audio.state !== 'running';
    if (this.epoch === 0)
      spareState.set({
        why:
          missing > 0
            ? `${missing} samples are still to come`
            : waits
              ? 'sound waits for a touch here'
              : 'it begins at the next rest, when nothing sounds',
      });
    const lacks = `${missing} ${waits}`;
    if (lacks === this.lacked) return;
    this.lacked = lacks;
    say({ type: 'lacks', count: missing, sound: waits });
  }
}

function remember(sums: Map<number, Sum>, sum: Sum): void {
  sums.set(sum.second, sum);
  if (sums.size > MOST_SUMS) sums.delete(sums.keys().next().value!);
}

/** In words: how much two seconds differ that should be the same. */
function howFar(own: Sum, other: Sum, patch: Patch | null, rig: Rig | null): string {
  const hears = patch?.layers.some(({ soundId }) => rig?.sounds.find(({ id }) => id === soundId)?.kind === 'input');
  if (hears) return 'each machine hears its own input';
  const db = 10 * Math.log10((own.power + 1e-12) / (other.power + 1e-12));
  return Math.abs(db) < 0.5 ? 'they sound alike, but not to the last bit' : `${Math.abs(db).toFixed(1)} dB apart`;
}
