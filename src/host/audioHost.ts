import type { Prepared } from '../core/dsp/prepared';
import type { ClickSound } from '../core/engine/click';
import type { EngineEvent } from '../core/engine/hands/event';
import type { PlayedProgram, Program } from '../core/engine/program/program';
import { EarlyNotes } from './earlyNotes';
import workletUrl from './engineProcessor?worker&url';
import {
  METER_LENGTH,
  PROCESSOR_NAME,
  SCOPE_LENGTH,
  engineNode,
  type FromEngine,
  type ToEngine,
  type ToOneEngine,
} from './protocol';
import { STEP_LOG_BYTES } from './stepLog';

/** Something between the page and the engine: it hears of engines that begin, and what is said to them goes by it. */
export interface Way {
  /** `log`: where the engine writes what it does. */
  begins: (log: SharedArrayBuffer | null) => void;
  /** What is said in place of a message; null: nothing. */
  pass: (message: ToEngine) => ToEngine | null;
}

/** What must be the same in engines that play in step. */
export const SAME = { seed: 1, maxVoices: 256 } as const;

/** An engine that another replaces is silent at once, and gives its memory back. */
function retire(node: AudioWorkletNode): void {
  node.onprocessorerror = node.port.onmessage = null;
  node.port.postMessage({ type: 'end' } satisfies ToEngine);
  // It is asked once more, says that it has ended, and is forgotten.
  setTimeout(() => {
    node.disconnect();
    node.port.close();
  }, RETIRE_MS);
}
const RETIRE_MS = 200;

/** Without what only the page needs: every object less is time less in the audio thread. */
const playedOf = ({ samples: _, ...played }: Program): PlayedProgram => played;

export type AudioState = 'off' | 'starting' | 'running' | 'failed';

/** Channels at the most, and the latency that is wanted where it is to be safe. */
const MOST_CHANNELS = 8,
  SAFE_SECONDS = 0.02;

/** So many stops in so many seconds are one too many: something is wrong that a fresh engine does not mend. */
const MOST_STOPS = 3;
const STOPS_SECONDS = 10;
/**
 * Sound that stopped is asked back so often, so many ms apart; a clock that stands for so long has no device, unless
 * the page was held up meanwhile.
 */
const TRIES = 4,
  RETURN_MS = 400,
  STOOD_MS = 5000,
  HELD_UP_MS = 1500;

/**
 * The engine in the browser: an AudioContext with one worklet. What an engine must know (program, samples, solo) is
 * kept here, so that one that begins, or takes the
 * place of one that stopped, can be told; what the hands do is told by whoever knows, when asked by `onFreshEngine`.
 * Browsers let sound begin only after a gesture, so
 * `start` is called at every one.
 */
export class AudioHost {
  state: AudioState = 'off';
  problem = '';
  /** See METER in the protocol. */
  meters: Float32Array = new Float32Array(METER_LENGTH);
  context: AudioContext | null = null;
  /** Called with what went wrong while the sound goes on. */
  onProblem: (text: string) => void = () => undefined;
  /** Called with the id of what made no numbers and was begun anew. */
  onFault: (id: string) => void = () => undefined;
  /** Called when an engine has begun that knows nothing of the hands yet. */
  onFreshEngine: () => void = () => undefined;
  private node: AudioWorkletNode | null = null;
  private program: Extract<ToEngine, { type: 'program' }> | null = null;
  private readonly samples = new Map<string, Prepared>();
  private solo: EngineEvent | null = null;
  private readonly early = new EarlyNotes();
  private waitsForSound = true;
  private serial = 0;
  private readonly stops: number[] = [];
  private readonly listeners = new Set<() => void>();

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Begins, or goes on where the browser or the device had put a stop to it. */
  async start(): Promise<void> {
    if (this.state === 'starting') return;
    if (this.node && this.context) {
      if (this.context.state !== 'running') await this.context.resume().catch(() => undefined);
      return;
    }
    this.change('starting');
    let context: AudioContext | undefined;
    try {
      context = new AudioContext(this.options());
      await context.audioWorklet.addModule(workletUrl);
      this.context = context;
      this.beginEngine(context);
      await context.resume();
      const begun = context;
      context.onstatechange = () => this.follow(begun);
      this.change('running');
    } catch (error) {
      // The next gesture tries again, with a context of its own: browsers allow only a few.
      this.node = this.context = null;
      await context?.close().catch(() => undefined);
      this.change('failed', `sound could not be started: ${error instanceof Error ? error.message : String(error)}`);
    }
  }

  /**
   * The browser or the device stops and continues sound as it likes, for a call or a cable pulled out; the page says
   * so, and it is tried again and again.
   */
  private follow(context: AudioContext): void {
    if (this.state === 'failed' || context !== this.context) return;
    this.change(context.state === 'running' ? 'running' : 'off');
    if (context.state !== 'running') this.comeBack(context, 0);
  }

  /**
   * Once sound has run, it was permitted: what stopped is asked to go on, and what does not is replaced, with whatever
   * device the system now has.
   */
  private comeBack(context: AudioContext, tries: number): void {
    clearTimeout(this.returning);
    this.returning = setTimeout(() => {
      if (context !== this.context || context.state === 'running') return;
      void (context.state === 'closed' ? Promise.reject(new Error('closed')) : context.resume()).catch(() => undefined);
      if (context.state === 'closed' || tries >= TRIES) this.beginAgain();
      else this.comeBack(context, tries + 1);
    }, RETURN_MS);
  }
  private returning: ReturnType<typeof setTimeout> | undefined;

  /**
   * To be asked now and then: a context that says it runs, but whose clock stands, has lost its device, and is
   * replaced.
   */
  watch(): void {
    const { context } = this;
    const now = performance.now();
    // A page that was held up itself, or a machine that has no time for either, says nothing of the device.
    const heldUp = now - this.lookedAt > HELD_UP_MS;
    this.lookedAt = now;
    if (!context || this.state !== 'running' || heldUp || context.currentTime !== this.clockBefore) {
      this.clockBefore = context?.currentTime ?? -1;
      this.goesSince = now;
    } else if (now - this.goesSince > STOOD_MS) this.beginAgain();
  }
  private clockBefore = -1;
  /** When this was asked last, and when the clock was last seen to go. */
  private lookedAt = -Infinity;
  private goesSince = 0;

  /**
   * A context and an engine of their own in place of those that no device plays any more. Held notes end; program,
   * samples and hands are told again.
   */
  private beginAgain(isGone = true): void {
    const { context, node } = this;
    if (!context) return;
    clearTimeout(this.returning);
    this.clockBefore = -1;
    context.onstatechange = null;
    node?.disconnect();
    this.node = this.context = null;
    this.waitsForSound = true;
    this.change('off');
    void context.close().catch(() => undefined);
    void this.start().then(() => {
      if (this.state === 'running' && isGone)
        this.onDevice('The sound device was gone: sound goes on with the one that the system has now.');
    });
  }
  /** Called when another device has taken over. */
  onDevice: (text: string) => void = () => undefined;

  /** Counts engines: one that takes another's place begins to count anew. */
  engineSerial = 0;

  private beginEngine(context: AudioContext): void {
    this.engineSerial++;
    const shared = typeof SharedArrayBuffer === 'undefined' ? null : new SharedArrayBuffer(METER_LENGTH * 4);
    if (shared) this.meters = new Float32Array(shared);
    const scope = shared ? new SharedArrayBuffer(SCOPE_LENGTH * 4) : null;
    this.scope = scope && new Float32Array(scope);
    // What the device has, up to four pairs; most have one.
    const { destination } = context;
    this.channels = Math.min(MOST_CHANNELS, Math.max(2, 2 * Math.floor((destination.maxChannelCount || 2) / 2)));
    if (this.channels > 2) {
      destination.channelCount = this.channels;
      destination.channelInterpretation = 'discrete';
    }
    const { channels } = this;
    const log = typeof SharedArrayBuffer === 'undefined' ? null : new SharedArrayBuffer(STEP_LOG_BYTES);
    const options = { ...SAME, channels, meters: shared, scope, log, follows: this.follows };
    const node = new AudioWorkletNode(context, PROCESSOR_NAME, engineNode(options));
    node.port.onmessage = ({ data }: MessageEvent<FromEngine>) => {
      if (data.type === 'meters') this.meters = data.values;
      else if (data.type === 'fault') this.onFault(data.id);
      else if (data.type === 'failed')
        this.onProblem(`The audio engine could not do what it was told: ${data.message}`);
    };
    node.onprocessorerror = () => this.replaceEngine(context, node);
    node.connect(context.destination);
    this.node = node;
    // What came in belongs to the context that is gone: it is opened anew by hand.
    this.heard = null;
    this.way?.begins(log);
    if (this.program) this.say(this.program);
    if (this.samples.size > 0)
      this.say({ type: 'samples', samples: [...this.samples].map(([key, sample]) => ({ key, sample })) });
    for (const player of this.besides.keys()) this.sayBeside(player);
    if (this.solo) this.say({ type: 'event', event: this.solo });
    if (this.scoped !== null) this.say({ type: 'scope', place: this.scoped });
    if (this.wanted.pairs.length > 1 || this.wanted.click !== null || this.clickSound) this.sayWhereTo();
    this.onFreshEngine();
  }

  /** An engine that stopped is silent for good. On stage nobody can reload a page: another takes its place at once. */
  private replaceEngine(context: AudioContext, stopped: AudioWorkletNode): void {
    if (stopped !== this.node) return;
    stopped.disconnect();
    this.node = null;
    this.waitsForSound = true;
    const now = performance.now() / 1000;
    this.stops.push(now);
    if (this.stops.filter((at) => now - at < STOPS_SECONDS).length > MOST_STOPS) {
      this.context = null;
      context.onstatechange = null;
      void context.close().catch(() => undefined);
      this.change('failed', 'the audio engine stops again and again; reload the page');
      return;
    }
    this.beginEngine(context);
    this.onProblem(
      'The audio engine stopped, and another took its place: held notes ended, everything else is as it was.',
    );
  }

  /** Channels that the device has, and that are played: 2, 4, 6 or 8. */
  channels = 2;
  private wanted: { pairs: readonly number[]; click: number | null } = { pairs: [0], click: null };
  private clickSound: ClickSound | null = null;

  /**
   * Where each pair of the rig goes, as pairs of channels from 0; and the click, or null: nowhere. What the device has no
   * channels for goes to the first pair; a click is not heard then, for it must not get into the hall.
   */
  setOutputs(pairs: readonly number[], click: number | null): void {
    this.wanted = { pairs, click };
    this.sayOutputs();
  }

  private sayOutputs(): void {
    const { pairs, click } = this.wanted;
    const map = pairs.map((pair) => (this.hasPair(pair) ? pair : 0));
    this.say({ type: 'outputs', map, click: click !== null && this.hasPair(click) ? click : -1 });
  }

  /** Whether the device has a pair of channels, counted from 0. */
  hasPair(pair: number): boolean {
    return 2 * pair + 1 < this.channels;
  }

  /** Where pairs and the click of this machine go, said once more. */
  sayWhereTo(): void {
    this.sayOutputs();
    if (this.clickSound) this.say({ type: 'click', sound: this.clickSound });
  }

  /** The click, by the transport; null: it is off. */
  setClick(sound: ClickSound | null): void {
    this.clickSound = sound;
    this.say({ type: 'click', sound });
  }

  /** The device that is wanted by its id (empty: that of the system), and how quick sound is to be. */
  private device: { id: string; latency: 'lowest' | 'safe' } = { id: '', latency: 'lowest' };

  private options(): AudioContextOptions {
    const { id, latency } = this.device;
    // Common practice, no source: twenty ms leave a busy machine room for what else it does.
    const latencyHint = latency === 'lowest' ? 'interactive' : SAFE_SECONDS;
    const plain: AudioContextOptions =
      this.rate === undefined ? { latencyHint } : { latencyHint, sampleRate: this.rate };
    return id === '' ? plain : ({ ...plain, sinkId: id } as AudioContextOptions);
  }

  /** Another device, or another latency: where sound runs, it goes on there at once, held notes end. */
  useDevice(id: string, latency: 'lowest' | 'safe'): void {
    if (id === this.device.id && latency === this.device.latency) return;
    this.device = { id, latency };
    if (this.context) this.beginAgain(false);
  }

  /** Ms from the engine to the loudspeaker as the browser tells them: of its own, and of the device. Null: no sound yet. */
  get latencyMs(): { base: number; output: number } | null {
    const { context } = this;
    return context && { base: 1000 * context.baseLatency, output: 1000 * (context.outputLatency || 0) };
  }

  /** What comes in from outside is heard by the engine; null: nothing is. */
  hear(source: AudioNode | null): void {
    const { node } = this;
    if (this.heard && node)
      try {
        this.heard.disconnect(node);
      } catch {
        // It was gone already.
      }
    this.heard = source;
    if (!source || !node) return;
    source.connect(node);
    // Silence may have ended what hears it.
    this.send({ type: 'stand' });
  }
  private heard: AudioNode | null = null;

  /** Gives the serial by which the meters name the program once it plays. */
  setProgram(program: Program): number {
    this.program = { type: 'program', program: playedOf(program), serial: ++this.serial };
    this.say(this.program);
    return this.serial;
  }

  /** What comes out of a place of the mix is written to {@link scope} from now on; null: nothing is. */
  setScope(place: string | null): void {
    if (place === this.scoped) return;
    this.scoped = place;
    this.say({ type: 'scope', place });
  }
  private scoped: string | null = null;
  /**
   * Left and right in turn, round and round; `meters[METER.scopeAt]` says where the next frame comes. Null where memory
   * cannot be shared.
   */
  scope: Float32Array | null = null;

  /**
   * Puts one sound before the second engine and strikes a key of it, in place of what was auditioned before; the key is
   * held for some seconds, or for good.
   */
  audition(
    program: Program,
    samples: { key: string; sample: Prepared }[],
    key: number,
    velocity: number,
    seconds?: number,
  ): void {
    if (!this.node || !this.context) return;
    const messages: ToOneEngine[] = [
      { type: 'event', event: { type: 'panic' } },
      { type: 'program', program: playedOf(program), serial: 0 },
      { type: 'keepSamples', keys: [] },
      { type: 'samples', samples },
      { type: 'event', event: { type: 'noteOn', channel: 1, key, velocity } },
    ];
    if (seconds !== undefined)
      messages.push({
        type: 'event',
        event: { type: 'noteOff', channel: 1, key, velocity: 64 },
        time: this.context.currentTime + seconds,
      });
    for (const message of messages) this.say({ type: 'audition', message });
  }

  /** Puts a program before one of the engines that play along, with its samples; null: it has nothing to play. */
  setBeside(
    player: number,
    what: { program: Program; samples: { key: string; sample: Prepared }[] } | null,
    gain: number,
  ): void {
    this.besides.set(player, { what, gain });
    this.sayBeside(player);
  }
  private readonly besides = new Map<
    number,
    { what: { program: Program; samples: { key: string; sample: Prepared }[] } | null; gain: number }
  >();

  setBesideGain(player: number, gain: number): void {
    const there = this.besides.get(player);
    if (there) this.besides.set(player, { ...there, gain });
    this.say({ type: 'besideGain', player, gain });
  }

  private sayBeside(player: number): void {
    const { what, gain } = this.besides.get(player)!;
    this.say({ type: 'besideGain', player, gain });
    if (!what) return this.say({ type: 'beside', player, message: { type: 'event', event: { type: 'panic' } } });
    this.say({ type: 'beside', player, message: { type: 'samples', samples: what.samples } });
    this.say({ type: 'beside', player, message: { type: 'program', program: playedOf(what.program), serial: 0 } });
    this.say({ type: 'beside', player, message: { type: 'keepSamples', keys: what.samples.map(({ key }) => key) } });
  }

  sendBeside(player: number, event: EngineEvent, time?: number): void {
    this.say({ type: 'beside', player, message: { type: 'event', event, time } });
  }

  stopAudition(): void {
    if (this.node) this.say({ type: 'audition', message: { type: 'event', event: { type: 'panic' } } });
  }

  addSamples(samples: { key: string; sample: Prepared }[]): void {
    for (const { key, sample } of samples) this.samples.set(key, sample);
    this.say({ type: 'samples', samples });
  }

  /** A sample that the engine has. */
  sampleOf(key: string): Prepared | undefined {
    return this.samples.get(key);
  }

  /** Forgets all other samples. */
  keepSamples(keys: readonly string[]): void {
    const kept = new Set(keys);
    for (const key of this.samples.keys()) if (!kept.has(key)) this.samples.delete(key);
    this.say({ type: 'keepSamples', keys: [...keys] });
  }

  /**
   * For now, or for `time` in seconds of the audio context. Notes that are played before sound runs wait for it, so
   * that the very first key is heard; everything else is told then by whoever knows.
   */
  send(event: EngineEvent, time?: number): void {
    if (event.type === 'solo') this.solo = event;
    if (event.type === 'panic') this.early.forget();
    if (this.waitsForSound && !this.follows && (event.type === 'noteOn' || event.type === 'noteOff')) {
      this.early.add(event);
      return;
    }
    this.say({ type: 'event', event, time });
  }

  /** The strikes that wait for sound. */
  get earlyStrikes(): readonly { key: number; velocity: number }[] {
    return this.early.strikes;
  }

  /**
   * Plays what waited, as far apart as it was played; what was struck too long ago is left out, and nothing waits from
   * now on.
   */
  sendEarly(): void {
    this.waitsForSound = false;
    const begin = (this.context?.currentTime ?? 0) + 0.01;
    for (const { event, after } of this.early.take()) this.send(event, begin + after);
  }

  say(message: ToEngine): void {
    const passed = this.node && this.way ? this.way.pass(message) : message;
    if (passed) this.node?.port.postMessage(passed);
  }

  /** What stands between the page and the engine where another machine plays in step: see `inStep.ts`. */
  way: Way | null = null;
  /** Whether the engine follows that of another machine, mute. */
  follows = false;
  /** An engine begins although nothing went wrong. */
  isAnew = false;
  private rate: number | undefined;

  /** A new engine in the place of the one that plays, in the same device, at another rate (Hz) where one is given. */
  async beginAnew(rate?: number): Promise<void> {
    this.rate = rate ?? this.rate;
    await this.start();
    const { context, node, heard } = this;
    if (!context || !node) return;
    // A context of another rate begins an engine of its own, in its moment.
    if (rate !== undefined && context.sampleRate !== rate) return this.beginAgain(false);
    retire(node);
    this.node = null;
    this.isAnew = true;
    this.beginEngine(context);
    this.isAnew = false;
    if (!this.follows) this.hear(heard);
  }

  private change(state: AudioState, problem = ''): void {
    this.state = state;
    this.problem = problem;
    for (const listener of this.listeners) listener();
  }
}
