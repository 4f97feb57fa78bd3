import type { EngineEvent } from '../../../core/engine/hands/event';
import type { Take } from '../../../core/music/take';
import { changesOf } from '../../../core/remote/changes';
import { MOST_STEPS, SAMPLE_PIECE, type SpareMessage, type Step } from '../../../core/remote/spare';
import type { Patch, Rig } from '../../../core/rig/schema';
import { SAME } from '../../../host/audioHost';
import type { InStep } from '../../../host/inStep';
import { METER, type ToEngine } from '../../../host/protocol';
import { sampleBytes } from '../../document/storage/demoSamples';
import { store } from '../../document/store';
import type { Session } from '../../sound/session';
import { spareState } from '../spareState';

const EVERY_MS = 40;
/** Nothing sounds and nothing is held for so long: an engine may begin in the place of the one that plays. */
const REST_MS = 480;
const SILENT = 1e-4;
/** Out of step for so long, both begin anew; so often in a row. */
const APART_MS = 6000,
  MOST_TRIES = 3;
/** An edit of the document that nobody hears is told once hands rest. */
const EDIT_MS = 300;

type Pending = { event: EngineEvent } | { show: { rig: Rig; patch: Patch } } | { outputs: readonly number[] };

/** This machine leads: whatever its engine is told, it tells to the one that follows, with the block that it came before. */
export class Leading {
  private readonly pending = new Map<number, Pending>();
  private readonly timer: ReturnType<typeof setInterval>;
  private readonly stops: (() => void)[];
  private epoch = 0;
  /** An engine has begun that the other follows. */
  private begun = false;
  private ready = false;
  private restedAt = Infinity;
  private rig: Rig | null = null;
  private isDocument = false;
  private patch: Patch | null = null;
  private place = '';
  private docAt = 0;
  private doc: Rig | null = null;
  private readonly bytes = new Map<string, Uint8Array>();

  constructor(
    private readonly session: Session,
    private readonly inStep: InStep,
    private readonly say: (message: SpareMessage) => void,
  ) {
    const { takes } = session;
    inStep.onBegun = () => this.engineBegins();
    inStep.onSaid = (n, message) => this.said(n, message);
    this.timer = setInterval(() => this.tick(), EVERY_MS);
    this.stops = [takes.subscribe(() => this.tellTake())];
    this.tellDocument();
    this.tellPlace();
  }

  end(): void {
    const { inStep } = this;
    clearInterval(this.timer);
    for (const stop of this.stops) stop();
    inStep.onBegun = () => undefined;
    inStep.onSaid = () => undefined;
  }

  hear(message: SpareMessage): void {
    switch (message.type) {
      case 'want':
        return void this.giveSample(message.id, message.from);
      case 'lacks':
        this.ready = message.count === 0 && !message.sound;
        if (message.count > 0) spareState.set({ why: `it fetches ${message.count} samples` });
        else if (message.sound) spareState.set({ why: 'sound waits for a touch there' });
        return;
      case 'stands':
        this.lookAt(message.since >= 0);
        spareState.set({
          since: message.since < 0 ? null : (spareState.now.since ?? Math.round(Date.now() - 1000 * message.since)),
          why: message.why,
          lagMs: message.lagMs,
        });
    }
  }

  /** What is out of step for a while comes in step again at the next rest; what never comes is left as it is. */
  private lookAt(inStep: boolean): void {
    const now = performance.now();
    if (inStep) {
      this.inStepAt = now;
      this.tries = 0;
    } else if (this.begun && now - this.inStepAt > APART_MS && this.tries < MOST_TRIES) {
      this.tries++;
      this.begun = false;
    }
  }
  private inStepAt = 0;
  private tries = 0;

  /** An engine begins in the place of the one that plays, whatever sounds. */
  async beginNow(): Promise<void> {
    this.restedAt = Infinity;
    await this.session.audio.beginAnew();
  }

  private engineBegins(): void {
    this.pending.clear();
    this.patch = null;
    this.begun = this.ready;
    const { context } = this.session.audio;
    if (!this.begun || !context) return;
    this.epoch++;
    this.inStepAt = performance.now();
    this.say({ type: 'begin', epoch: this.epoch, rate: context.sampleRate, ...SAME });
    this.tellTake();
  }

  private said(n: number, message: ToEngine): void {
    if (!this.begun) return;
    const { rig, patch } = this.session.programs;
    if (message.type === 'event') this.pending.set(n, { event: message.event });
    else if (message.type === 'program' && rig && patch) this.pending.set(n, { show: { rig, patch } });
    else if (message.type === 'outputs') this.pending.set(n, { outputs: message.map });
  }

  private tick(): void {
    this.tellDocument();
    this.tellPlace();
    if (this.begun) this.tellSteps();
    else if (this.ready && this.isAtRest()) void this.beginNow();
  }

  /** Whether an engine can begin in the place of this one without anybody hearing it. */
  private isAtRest(): boolean {
    const { audio, hands, takes } = this.session;
    const { meters } = audio;
    if (audio.state !== 'running') {
      spareState.set({ why: 'sound waits for a touch on the machine that leads' });
      return false;
    }
    const sounds = meters[METER.voices] > 0 || Math.max(meters[METER.left], meters[METER.right]) > SILENT;
    const rests = !sounds && hands.held.size === 0 && !takes.playing;
    const now = performance.now();
    if (!rests) this.restedAt = Infinity;
    else this.restedAt = Math.min(this.restedAt, now);
    if (!rests) spareState.set({ why: 'it begins at the next rest, when nothing sounds' });
    return now - this.restedAt >= REST_MS;
  }

  private tellSteps(): void {
    const { steps } = this.inStep;
    if (!steps) return;
    let told: Step[] = [];
    const send = (upTo: number, sums: ReturnType<typeof steps.sums> = []) => {
      this.say({ type: 'steps', epoch: this.epoch, upTo, steps: told, sums });
      told = [];
    };
    const upTo = steps.read((n, at, ahead) => {
      const pending = this.pending.get(n);
      this.pending.delete(n);
      if (!pending) return;
      if ('event' in pending) told.push({ at, ahead, event: pending.event });
      else if ('outputs' in pending) told.push({ at, outputs: pending.outputs });
      else {
        const { rig, patch } = pending.show;
        if (rig !== this.rig) {
          // In their order: what came before was for the rig as it was.
          send(at);
          this.tellRig(rig);
        }
        told.push({ at, show: changesOf(this.patch, patch) });
        this.patch = patch;
      }
      if (told.length >= MOST_STEPS) send(at);
    });
    if (upTo === undefined) {
      // This page was away for so long that something was lost: once more from the beginning.
      this.begun = false;
      spareState.set({ since: null, why: 'this page was held up' });
      return;
    }
    send(upTo, steps.sums());
  }

  private tellRig(rig: Rig): void {
    const isDocument = rig === store.getState().rig.rig;
    this.say({ type: 'rig', changes: changesOf(this.rig, rig), document: isDocument });
    this.rig = rig;
    this.isDocument = isDocument;
  }

  /** What is edited without being heard is told as well, a moment later. */
  private tellDocument(): void {
    const { rig } = store.getState().rig;
    const now = performance.now();
    if (rig !== this.doc) {
      this.doc = rig;
      this.docAt = now;
    }
    if (!rig || (rig === this.rig && this.isDocument)) return;
    if (this.rig === null || now - this.docAt > EDIT_MS) this.tellRig(rig);
  }

  private tellPlace(): void {
    const { onStage, stepId } = store.getState().show;
    const patchId = this.session.shownPatchId ?? null;
    const place = `${onStage ? stepId : null} ${patchId}`;
    if (place === this.place) return;
    this.place = place;
    this.say({ type: 'place', stepId: onStage ? stepId : null, patchId });
  }

  private tellTake(): void {
    const { takes } = this.session;
    const block = this.inStep.steps?.blocks ?? 0;
    if (takes.playing && takes.take && takes.take !== this.take) {
      this.take = takes.take;
      this.say({ type: 'score', take: takes.take });
    }
    this.say({
      type: 'take',
      plays: takes.playing ? { block, seconds: takes.position, looped: takes.looped } : null,
    });
  }

  private take: Take | null = null;

  private async giveSample(id: string, from: number): Promise<void> {
    // Only what the rig has: nothing else of this machine is anybody's.
    const known = this.rig?.samples.some((sample) => sample.id === id) ?? false;
    const bytes = known ? (this.bytes.get(id) ?? (await sampleBytes(id).catch(() => undefined))) : undefined;
    const part = bytes?.subarray(from, from + SAMPLE_PIECE) ?? new Uint8Array();
    if (bytes && from + part.length < bytes.length) this.bytes.set(id, bytes);
    else this.bytes.delete(id);
    this.say({ type: 'sample', id, from, total: bytes?.length ?? 0, data: toBase64(part) });
  }
}

/** RFC 4648, section 4. */
function toBase64(bytes: Uint8Array): string {
  let text = '';
  for (let at = 0; at < bytes.length; at += 8192) text += String.fromCharCode(...bytes.subarray(at, at + 8192));
  return btoa(text);
}
