import { LOWEST_ENGINE_RATE } from '../../core/engine/program/compile';
import type { EngineEvent } from '../../core/engine/hands/event';
import { samplesOfStrike } from '../../core/engine/offline/resolve';
import type { Program, SampleRequest } from '../../core/engine/program/program';
import { newControllers } from '../../core/rig/defaults';
import type { ControllerSetup, Patch, Rig } from '../../core/rig/schema';
import { tempoOfTaps } from '../../core/music/time';
import { ANSWERS } from '../../core/engine/program/tick';
import { isWaves, type Prepared } from '../../core/dsp/prepared';
import type { WaveSet } from '../../core/dsp/waves';
import { AudioHost } from '../../host/audioHost';
import { Hearing } from '../../host/hearing';
import { MidiInput } from '../../host/midiInput';
import { MidiOutputs } from '../../host/midiOutputs';
import { Latch } from '../../host/latch';
import { MOST_READINGS } from '../../core/effects';
import {
  GRAIN_NUMBERS,
  METER,
  METERED_CONNECTIONS,
  METERED_EFFECTS,
  METERED_GRAINS,
  METERED_LAYERS,
  METERED_PLACES,
} from '../../host/protocol';
import { unpackMade } from '../../core/engine/offline/made';
import { Performance } from '../../host/performance';
import { TakeRecorder } from '../../host/takeRecorder';
import { TakePlayer } from '../../host/takePlayer';
import type { PrepareJob, PrepareResult } from '../../workers/prepareWorker';
import { programIfAny, programOf } from './compiled';
import { SampleFetcher, type Readiness } from './sampleFetcher';
import { sampleBytes } from '../document/storage/demoSamples';

/**
 * What sounds: the one place where the document meets the engine. It compiles the patch in view, sees to it that the
 * samples are there, and passes on what is played.
 */
export class Session {
  readonly audio = new AudioHost();
  readonly hands = new Performance();
  readonly midi = new MidiInput(
    (message, port, bytes) => this.hearing.receive(message, port, bytes),
    (ports) => this.outputs.follow(ports),
  );
  /** What comes in from controllers, hardware or stand-in: learned, bound or played. */
  readonly hearing = new Hearing({
    setup: () => this.shownRig?.controllers ?? NO_CONTROLLERS,
    patch: () => this.shownPatch,
    play: (event) => this.play(event),
    liveOf: (target) => this.liveOf(target),
    moveLive: (target, value) => this.moveLive(target, value),
    act: (target) => this.onAction(target),
    choose: (which, place) => this.onChoice(which, place),
  });
  /**
   * Called when a control that was learned for it asks for another step, another patch or silence; and when a program
   * change chooses one. See `show.ts`.
   */
  onAction: (target: string) => void = () => undefined;
  /** Called when a program change of a take is due. */
  onTakeProgram: (program: number) => void = () => undefined;
  onChoice: (which: 'setlist' | 'patches', place: number) => void = () => undefined;
  /** Where the notes of layers go that play something outside. */
  readonly outputs = new MidiOutputs(this.hearing.monitor);
  readonly takes = new TakePlayer(
    () => this.audio.context?.currentTime ?? performance.now() / 1000,
    (event, time, to = 0) => (to > 0 ? this.audio.sendBeside(to, event, time) : this.audio.send(event, time)),
    (event) => {
      if (event.type === 'program') this.onTakeProgram(event.program);
      else {
        this.hands.note(event);
        if (this.takeOutput) this.outputs.event(this.takeOutput, event);
      }
    },
    (event) => this.hands.standing(event),
  );
  /** The MIDI output that takes are played to as well; empty: none. */
  takeOutput = '';
  setTakeOutput(name: string): void {
    this.outputs.letGo();
    this.takeOutput = name;
    this.tell();
  }
  /** What the program that plays was compiled from. */
  get playing(): { rig: Rig | null; patch: Patch | null } {
    return { rig: this.shownRig, patch: this.shownPatch };
  }
  /** The program that plays, for pictures of the same gains. */
  program: Program | null = null;
  /** Called with what could not be played, and why. */
  onProblem: (id: string, text: string) => void = () => undefined;
  private readonly listeners = new Set<() => void>();
  /** Samples of the patches of a rig, on their way to the engine. */
  private readonly fetcher = new SampleFetcher(
    this.audio,
    () => this.tell(),
    (sampleId, text) => this.onProblem(`sample ${sampleId}`, text),
  );
  /** Patches that may come next, as they would be played, the likeliest first: they are prepared before all others. */
  private neighbours: readonly Patch[] = [];
  private later: ReturnType<typeof setTimeout> | undefined;
  private shownAt = 0;
  private showMs = 0;
  private serial = 0;
  /** The program whose answers were read last, and how many of them. */
  private answersOf = -1;
  private answersSeen = 0;
  /** Of the sound that runs. */
  private rate: number | undefined;
  /** What an engine that begins must know of expressive controllers. */
  private readonly zonesByPort = new Map<number, EngineEvent>();
  private zonesTold = '0 0 48';
  private shownRig: Rig | null = null;
  private shownPatch: Patch | null = null;

  constructor() {
    // A controller that comes or goes is news; what was heard before it is not.
    this.midi.subscribe(() => {
      this.hearing.lastHeard = '';
    });
    // A device of a low rate needs other copies of the samples.
    this.audio.subscribe(() => {
      const rate = this.audio.context?.sampleRate;
      if (rate === this.rate) return;
      this.rate = rate;
      const { shownRig: rig, shownPatch: patch } = this;
      if (!rig || !patch || rate === undefined || rate >= LOWEST_ENGINE_RATE) return;
      this.shownPatch = null;
      this.hands.playsOn = null;
      this.showNow(rig, patch);
    });
    this.audio.onProblem = (text) => this.onProblem('engine', text);
    this.audio.onFreshEngine = () => {
      for (const zones of this.zonesByPort.values()) this.audio.send(zones);
      for (const event of this.hands.moved()) this.audio.send(event);
      if (this.listening) this.audio.send({ type: 'listen', to: this.listening });
      if (this.voicesAllowed !== null) this.audio.send({ type: 'voices', most: this.voicesAllowed });
      if (this.without.ids.length > 0) this.audio.send({ type: 'without', ...this.without });
      void this.playEarly();
    };
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  readonly latch = new Latch(
    (event, time) => this.playNow(event, time),
    () => this.audio.context?.currentTime ?? performance.now() / 1000,
    () => this.hands.tempo ?? this.shownPatch?.tempo ?? 120,
  );

  /** Something was played or moved, by whichever means. Notes pass through the latch, which may keep them. */
  play(event: EngineEvent): void {
    if (event.type === 'noteOn' || event.type === 'noteOff') this.latch.take(event);
    else this.playNow(event);
  }

  private taps: number[] = [];
  /** A beat is tapped: from the second on the tempo follows, and the patch as it is kept stays. */
  tap(): void {
    this.taps = [...this.taps.slice(-7), performance.now() / 1000];
    const tempo = tempoOfTaps(this.taps);
    if (tempo !== undefined) this.play({ type: 'tempo', tempo });
    this.tell();
  }

  /** The patch's own tempo again. */
  endTapping(): void {
    this.taps = [];
    this.play({ type: 'tempo', tempo: null });
    this.tell();
  }

  /** Where something stands that controls and hands move: 0…1; undefined where the patch has none such. */
  liveOf(target: string): number | undefined {
    const { shownPatch: patch } = this;
    const [kind, number, axis] = target.split('.');
    const { controllers } = this.hands;
    if (kind === 'macro') {
      const macro = patch?.macros.find((candidate) => candidate.number === Number(number));
      const live = controllers.macros[Number(number)];
      return macro && (Number.isNaN(live) ? macro.value : live);
    }
    const pad = patch?.xyPads.find((candidate) => candidate.number === Number(number));
    const live = controllers.dots[2 * Number(number) + (axis === 'y' ? 1 : 0)];
    return pad && (Number.isNaN(live) ? pad[axis as 'x' | 'y'] : live);
  }

  /** Plays a macro or a dot: it moves, and the patch stays as it is. */
  moveLive(target: string, value: number, letGo = false): void {
    const [kind, number, axis] = target.split('.');
    const n = Number(number);
    if (kind === 'macro') this.play({ type: 'macro', number: n, value });
    else
      this.play({
        type: 'xy',
        number: n,
        x: axis === 'x' ? value : (this.liveOf(`xy.${n}.x`) ?? 0.5),
        y: axis === 'y' ? value : (this.liveOf(`xy.${n}.y`) ?? 0.5),
        letGo,
      });
  }

  readonly recorder = new TakeRecorder();

  private playNow(event: EngineEvent, time?: number): void {
    this.recorder.note(event);
    if (event.type === 'zones') this.zonesByPort.set(event.port ?? 0, event);
    this.audio.send(event, time);
    this.hands.note(event);
  }

  /** Plays or stops the take; sound begins with it, if it has not. */
  toggleTake(): void {
    void this.audio.start().then(() => {
      if (this.takes.playing) return this.takes.stop();
      // Time begins with the take.
      this.play({ type: 'position', quarters: 0 });
      this.takes.play();
    });
  }

  /** The patch that plays, as it plays. */
  get shown(): Patch | null {
    return this.shownPatch;
  }

  /** How many voices may sound, where the machine is at its limit; an engine that begins is told. */
  voicesAllowed: number | null = null;

  get shownPatchId(): string | undefined {
    return this.shownPatch?.id;
  }

  /** Ids of the layers that are heard alone; empty: all are. */
  soloed: readonly string[] = [];
  setSoloed(layerIds: readonly string[]): void {
    this.soloed = layerIds;
    this.audio.send({ type: 'solo', layerIds });
    this.tell();
  }

  /** Puts one thing of the mix alone before the ears; null: everything. */
  listenTo(to: Extract<EngineEvent, { type: 'listen' }>['to']): void {
    if (JSON.stringify(to) === JSON.stringify(this.listening)) return;
    this.listening = to;
    this.audio.send({ type: 'listen', to });
    this.tell();
  }
  listening: Extract<EngineEvent, { type: 'listen' }>['to'] = null;

  /** Leaves effects, connections, places or all effects (`*`) out, with a gain in dB that makes up for it. */
  hearWithout(ids: readonly string[], gainDb: number): void {
    this.without = { ids, gainDb };
    this.audio.send({ type: 'without', ids, gainDb });
    this.tell();
  }
  without: { ids: readonly string[]; gainDb: number } = { ids: [], gainDb: 0 };

  /**
   * Both sides of a place of the mix, a connection, and what an effect tells of itself, as the meters have them; 0
   * where nothing is known.
   */
  levelOfPlace(place: string): number {
    const at = this.program?.mix.places.findIndex(({ id }) => id === place) ?? -1;
    return at < 0 || at >= METERED_PLACES || !this.isMeteringPresent
      ? 0
      : Math.max(this.audio.meters[METER.places + 2 * at], this.audio.meters[METER.places + 2 * at + 1]);
  }
  /** Loudness of a place now, in LUFS; −∞ where nothing is known. */
  loudnessOfPlace(place: string): number {
    const at = this.program?.mix.places.findIndex(({ id }) => id === place) ?? -1;
    return at < 0 || at >= METERED_PLACES || !this.isMeteringPresent
      ? -Infinity
      : -0.691 + 10 * Math.log10(this.audio.meters[METER.powers + at] + 1e-12);
  }
  levelOfConnection(id: string): number {
    const at = this.program?.mix.connections.findIndex((connection) => connection.id === id) ?? -1;
    return at < 0 || at >= METERED_CONNECTIONS || !this.isMeteringPresent
      ? 0
      : this.audio.meters[METER.connections + at];
  }
  /** Seed of the chances of the last strike. */
  strikeSeed(): number {
    return this.audio.meters[METER.strikeSeed] ?? 0;
  }

  /** The grains that sound: see `Engine.readGrains`. */
  grains(): { count: number; numbers: Float32Array } {
    const { meters } = this.audio;
    return {
      count: meters[METER.grainCount] ?? 0,
      numbers: meters.subarray(METER.grains, METER.grains + METERED_GRAINS * GRAIN_NUMBERS),
    };
  }
  readingOf(effectId: string, n = 0): number {
    const at = this.program?.mix.places.flatMap(({ effects }) => effects).findIndex(({ id }) => id === effectId) ?? -1;
    return at < 0 || at >= METERED_EFFECTS || !this.isMeteringPresent
      ? 0
      : this.audio.meters[METER.effects + MOST_READINGS * at + n];
  }

  /** Silence, and everything at rest. */
  panic(): void {
    this.takes.stop();
    this.latch.clear();
    this.play({ type: 'panic' });
    this.outputs.letGo();
  }

  /**
   * Makes a patch of the rig the one that plays. Cheap when nothing that sounds has changed; where it takes long
   * (thousands of zones) and the same patch is edited on and on,
   * it is done every now and then only.
   */
  show(rig: Rig, patch: Patch): void {
    clearTimeout(this.later);
    const now = performance.now();
    const edited = this.shownPatch?.id === patch.id && this.shownRig?.id === rig.id;
    if (edited && this.showMs > LONG_MS && now - this.shownAt < 8 * this.showMs) {
      this.later = setTimeout(() => this.show(rig, patch), 8 * this.showMs);
      return;
    }
    this.showNow(rig, patch);
    this.shownAt = performance.now();
    this.showMs = this.shownAt - now;
  }

  private showNow(rig: Rig, patch: Patch): void {
    const same =
      this.shownPatch === patch &&
      this.shownRig?.sounds === rig.sounds &&
      this.shownRig.samples === rig.samples &&
      this.shownRig.controllers === rig.controllers;
    if (same) return;
    const before = this.shownPatch;
    const otherRig = this.shownRig?.id !== rig.id;
    this.shownRig = rig;
    this.shownPatch = patch;
    this.hands.playsOn = patch?.id ?? null;
    try {
      this.program = programOf(patch, rig, this.audio.context?.sampleRate);
    } catch (error) {
      this.onProblem('compile', `${patch.name}: ${(error as Error).message}; it plays as it was before`);
      return;
    }
    if (otherRig) this.fetcher.forget();
    if (
      before?.id !== patch.id ||
      before.layers.some(
        ({ path }, i) =>
          path.output !== patch.layers[i]?.path.output || path.outputChannel !== patch.layers[i]?.path.outputChannel,
      )
    )
      this.outputs.letGo();
    this.sendsOut(patch.layers.some(({ path }) => path.output !== ''));
    this.serial = this.audio.setProgram(this.program);
    if (before?.id !== patch.id) {
      this.hands.restMacros();
      this.hearing.bindings.patchChanged();
    } else this.followStarts(before, patch);
    this.hearing.bindings.setup = rig.controllers;
    const { mpe } = rig.controllers;
    if (otherRig || zonesKey(mpe) !== this.zonesTold) {
      this.zonesTold = zonesKey(mpe);
      for (let port = 0; port <= rig.controllers.ports.length; port++) this.play({ type: 'zones', port, ...mpe });
    }
    this.fetcher.needed = new Set(this.program.samples.map((request) => request.key));
    const { samples } = this.program;
    const fetch = () => void this.fetcher.fetch(rig, samples, this.othersOf(rig, patch), this.neighbours.length);
    // The page is drawn first; samples take the cores that it needs for that.
    if (before) fetch();
    else
      afterDrawing(() => {
        if (this.shownPatch === patch) fetch();
      });
    this.tell();
  }

  /** What stood at its start goes along when its start is edited; what was played elsewhere stays there. */
  private followStarts(before: Patch, patch: Patch): void {
    for (const macro of patch.macros) {
      const old = before.macros.find((candidate) => candidate.number === macro.number);
      if (old && old.value !== macro.value && this.hands.controllers.macros[macro.number] === macro.value)
        this.play({ type: 'rest', kind: 'macro', number: macro.number });
    }
  }

  /** Whether what the engine reports is about the program that the page shows. */
  get isMeteringPresent(): boolean {
    return this.audio.meters[METER.program] === this.serial && this.audio.state === 'running';
  }

  /** Keys at which paths make notes sound, with the layer that does. */
  readonly madeKeys = new Map<number, number>();
  private madeOf = -1;
  private madeSeen = 0;

  private sending: ReturnType<typeof setInterval> | undefined;
  /** Notes for outputs are passed on whether anybody looks at the page or not. */
  private sendsOut(any: boolean): void {
    clearInterval(this.sending);
    this.sending = any
      ? setInterval(() => {
          if (this.readMade()) this.tell();
        }, SEND_MS)
      : undefined;
  }

  /** Takes in what paths have made since the last time; true where anything has changed. */
  readMade(): boolean {
    const { meters } = this.audio;
    if (!this.program || !this.isMeteringPresent) return false;
    const count = meters[METER.madeCount];
    if (count < this.madeSeen || this.madeOf !== this.audio.engineSerial) {
      this.madeOf = this.audio.engineSerial;
      this.madeSeen = count;
      this.outputs.letGo();
      if (this.madeKeys.size === 0) return false;
      this.madeKeys.clear();
      return true;
    }
    const from = Math.max(this.madeSeen, count - ANSWERS);
    // More at once than can be told: ends may be among what was missed, and nothing may hang.
    if (from > this.madeSeen) this.outputs.letGo();
    for (let n = from; n < count; n++) {
      const { layer, key, velocity } = unpackMade(meters[METER.made + (n % ANSWERS)]);
      const path = this.shownPatch?.layers[layer]?.path;
      if (path && path.output !== '') this.outputs.note(path.output, path.outputChannel, key, velocity);
      if (velocity > 0) this.madeKeys.set(key, layer);
      else this.madeKeys.delete(key);
    }
    this.madeSeen = count;
    return from < count;
  }

  /** The step at which the arpeggio of a layer is; −1: it does not run. */
  stepOf(layerId: string): number {
    const place = this.program?.layers.findIndex((layer) => layer.id === layerId) ?? -1;
    return place < 0 || place >= METERED_LAYERS || !this.isMeteringPresent
      ? -1
      : this.audio.meters[METER.steps + place];
  }

  /**
   * The zones that answered since the last time this was asked: sound, and place in it. Nothing while the audio thread
   * has yet to take up the newest program.
   */
  takeAnswers(): { soundId: string; zone: number }[] {
    const { meters } = this.audio;
    if (!this.program || meters[METER.program] !== this.serial) return [];
    const count = meters[METER.answerCount];
    // They are counted anew with each program, and by each engine.
    if (this.answersOf !== this.serial || count < this.answersSeen) this.answersSeen = 0;
    this.answersOf = this.serial;
    const fresh = Math.min(ANSWERS, count - this.answersSeen);
    this.answersSeen = count;
    const { sounds } = this.program;
    return Array.from({ length: sounds.length === 0 ? 0 : fresh }, (_, i) => {
      const place = meters[METER.answers + ((count - fresh + i) % ANSWERS)];
      let s = sounds.length - 1;
      while (s > 0 && sounds[s].first > place) s--;
      return { soundId: sounds[s].soundId, zone: place - sounds[s].first };
    });
  }

  /** Strikes made before sound had begun are heard as soon as what they need is there. */
  private async playEarly(): Promise<void> {
    const until = performance.now() + EARLY_MS;
    const comes = () => [...this.fetcher.awaited].some((key) => !this.fetcher.isSettled(key));
    do {
      this.fetcher.awaited = new Set(
        this.audio.earlyStrikes.flatMap(({ key, velocity }) =>
          this.program ? samplesOfStrike(this.program, key, velocity) : [],
        ),
      );
      await new Promise((resolve) => setTimeout(resolve, 5));
    } while (comes() && performance.now() < until);
    this.fetcher.awaited = new Set();
    this.audio.sendEarly();
  }

  /** Samples of what plays that are still to come. */
  get loading(): number {
    return this.fetcher.loading;
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
    const { shownRig: rig, shownPatch: patch, program } = this;
    if (rig && patch && program)
      afterDrawing(() => {
        if (this.neighbours === patches && this.shownPatch === patch)
          void this.fetcher.fetch(rig, program.samples, this.othersOf(rig, patch), patches.length);
      });
  }

  /** How far a patch is from being playable at once; undefined where it cannot be compiled. */
  readinessOf(rig: Rig, patch: Patch): Readiness | undefined {
    const program = programIfAny(patch, rig, this.audio.context?.sampleRate);
    return program && this.fetcher.readiness(program.samples);
  }

  /**
   * The notes that are held begin again in a layer (`goesOn`: go on with what was changed), as soon as its samples are
   * there.
   */
  restrikeWhenReady(layerId: string, goesOn = false): void {
    this.whenReady(() => {
      if (this.hands.held.size > 0) this.playNow({ type: 'restrike', layerId, goesOn });
    });
  }

  /** A key is struck for a moment, as soon as what it plays is there. */
  tapWhenReady(key: number): void {
    this.whenReady(() => {
      this.play({ type: 'noteOn', channel: 1, key, velocity: 100 });
      setTimeout(() => this.play({ type: 'noteOff', channel: 1, key, velocity: 64 }), TAP_MS);
    });
  }

  /** What is asked for last is done once samples are there; those that never come are not waited for. */
  private whenReady(act: () => void): void {
    clearInterval(this.restriking);
    const until = performance.now() + RESTRIKE_MS;
    this.restriking = setInterval(() => {
      if (this.loading > 0 && performance.now() < until) return;
      clearInterval(this.restriking);
      act();
    }, 20);
  }
  private restriking: ReturnType<typeof setInterval> | undefined;

  preparedFor(requests: readonly SampleRequest[]): Promise<{ key: string; sample: Prepared }[]> {
    return this.fetcher.preparedFor(requests);
  }

  /** Waves of oscillators that the engine has. */
  wavesOf(key: string): WaveSet | undefined {
    const found = this.audio.sampleOf(key);
    return found && isWaves(found) ? found : undefined;
  }

  /** The WAV file of a sample, as it is kept; undefined where it is missing. */
  wavOf(sampleId: string): Promise<Uint8Array | undefined> {
    return sampleBytes(sampleId);
  }

  prepare(job: PrepareJob): Promise<PrepareResult> {
    return this.fetcher.prepare(job);
  }

  tell(): void {
    for (const listener of this.listeners) listener();
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

const NO_CONTROLLERS = newControllers();
const zonesKey = ({ lower, upper, bendRange }: ControllerSetup['mpe']): string => `${lower} ${upper} ${bendRange}`;
const EARLY_MS = 4000;
const LONG_MS = 8;
/** How often notes for outputs are passed on. */
const SEND_MS = 4;
/** How long held notes wait for the samples of another sound. */
const TAP_MS = 350;
const RESTRIKE_MS = 4000;
export const session = new Session();
