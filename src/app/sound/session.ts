import type { EngineEvent } from '../../core/engine/hands/event';
import type { Program } from '../../core/engine/program/program';
import { newControllers } from '../../core/rig/defaults';
import type { ControllerSetup, Layer, Patch, Rig } from '../../core/rig/schema';
import { isWaves } from '../../core/dsp/prepared';
import type { WaveSet } from '../../core/dsp/waves';
import { AudioHost } from '../../host/audioHost';
import { LiveInput } from '../../host/liveInput';
import { Hearing } from '../../host/hearing';
import { MidiInput } from '../../host/midiInput';
import { MidiOutputs } from '../../host/midiOutputs';
import { Performance } from '../../host/performance';
import { TakePlayer } from '../../host/takePlayer';
import { sampleBytes } from '../document/storage/demoSamples';
import { Ears } from './ears';
import { MadeNotes } from './madeNotes';
import { Outside } from './outside';
import { Meters } from './meters';
import { Pairs } from './pairs';
import { PlayingIn } from './playingIn';
import { Programs, type ProgramChange } from './programs';
import { SampleFetcher } from './sampleFetcher';
import { Waiting } from './waiting';

const NO_CONTROLLERS = newControllers();
const zonesKey = ({ lower, upper, bendRange }: ControllerSetup['mpe']): string => `${lower} ${upper} ${bendRange}`;

/** Whether two layers play the same thing outside, if any. */
const playsToTheSame = ({ path }: Layer, other: Layer | undefined): boolean =>
  path.instrument === other?.path.instrument;

/**
 * What sounds: the one place where the document meets the engine. It conducts its parts, each of which does one thing,
 * and passes on what they tell; what it knows itself is which belongs to which.
 */
export class Session {
  /** Called when a control that was learned for it asks for another step, another patch or silence. See `show.ts`. */
  onAction: (target: string) => void = () => undefined;
  /** Called when a program change chooses a step or a patch. */
  onChoice: (which: 'setlist' | 'patches', place: number) => void = () => undefined;
  /** Called when a program change chooses nothing. */
  onUnchosen: (program: number, channel: number) => void = () => undefined;
  /** Called when a program change of a take is due. */
  onTakeProgram: (program: number) => void = () => undefined;
  /** Called with what could not be played, and why. */
  onProblem: (id: string, text: string) => void = () => undefined;
  /** The MIDI output that takes are played to as well; empty: none. */
  takeOutput = '';

  readonly hands = new Performance();
  /** Samples of the patches of a rig, on their way to the engine. */
  readonly samples: SampleFetcher;
  readonly programs: Programs;
  readonly meters: Meters;
  readonly ears: Ears;
  readonly input: PlayingIn;
  readonly waiting: Waiting;
  /** What comes in from controllers, hardware or stand-in: learned, bound or played. */
  readonly hearing: Hearing;
  readonly midi: MidiInput;
  /** Where the notes of layers go that play something outside. */
  readonly outputs: MidiOutputs;
  readonly made: MadeNotes;
  /** Instruments outside: what they are told. */
  readonly outside: Outside;
  readonly takes: TakePlayer;
  /** Pairs of outputs, and the click. */
  readonly pairs: Pairs;
  /** A voice or a line that comes in. */
  readonly live: LiveInput;
  private readonly listeners = new Set<() => void>();
  private zonesTold = '0 0 48';

  /** `audio` may be a stand-in; nothing begins to sound, and nothing is asked of the machine, before it is shown. */
  constructor(readonly audio: AudioHost = new AudioHost()) {
    const { hands } = this;
    const tell = () => this.tell();
    const problem = (id: string, text: string) => this.onProblem(id, text);
    this.samples = new SampleFetcher(audio, tell, (id, text) => problem(`sample ${id}`, text));
    this.programs = new Programs(audio, this.samples, {
      problem,
      wanted: ({ id }) => {
        hands.playsOn = id;
      },
      changed: (change) => this.programChanged(change),
    });
    this.meters = new Meters(audio, this.programs);
    this.pairs = new Pairs(audio, tell);
    this.live = new LiveInput(audio);
    this.ears = new Ears((event) => audio.send(event), tell);
    this.input = new PlayingIn(audio, hands, this.programs, tell);
    this.waiting = new Waiting(audio, this.samples, this.programs, hands, this.input);
    this.hearing = new Hearing({
      setup: () => this.programs.rig?.controllers ?? NO_CONTROLLERS,
      patch: () => this.programs.patch,
      play: (event) => this.play(event),
      liveOf: (target) => this.liveOf(target),
      moveLive: (target, value) => this.moveLive(target, value),
      act: (target) => this.onAction(target),
      choose: (which, place) => this.onChoice(which, place),
      unchosen: (program, channel) => this.onUnchosen(program, channel),
    });
    this.outputs = new MidiOutputs(this.hearing.monitor);
    this.midi = new MidiInput(
      (message, port, bytes) => this.hearing.receive(message, port, bytes),
      (ports) => {
        this.outputs.exclusive = this.midi.exclusive;
        this.outputs.follow(ports);
      },
    );
    this.made = new MadeNotes(audio, this.programs, this.meters, this.outputs);
    this.outside = new Outside({
      engine: audio,
      programs: this.programs,
      outputs: this.outputs,
      hands,
      made: this.made,
      tell,
    });
    this.takes = new TakePlayer(
      () => this.input.clock(),
      (event, time, to = 0) => (to > 0 ? audio.sendBeside(to, event, time) : audio.send(event, time)),
      (event) => this.takePlayed(event),
      (event) => hands.standing(event),
    );
    // However a take ends, what follows the clock ends with it.
    let played = false;
    this.takes.subscribe(() => {
      if (played && !this.takes.playing) this.outside.stop();
      played = this.takes.playing;
    });
    // A controller that comes or goes is news; what was heard before it is not.
    this.midi.subscribe(() => {
      this.hearing.lastHeard = '';
    });
    audio.subscribe(() => this.programs.followRate());
    audio.onProblem = (text) => problem('engine', text);
    audio.onFreshEngine = () => this.engineBegan();
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  tell(): void {
    for (const listener of this.listeners) listener();
  }

  /** The program that plays, and what it was compiled from. */
  get program(): Program | null {
    return this.programs.program;
  }
  get shown(): Patch | null {
    return this.programs.patch;
  }
  get shownPatchId(): string | undefined {
    return this.programs.patch?.id;
  }

  /** Makes a patch of the rig the one that plays: see `Programs`. Where another machine leads, once this one does. */
  show(rig: Rig, patch: Patch): void {
    if (this.audio.follows) this.laterShown = { rig, patch };
    else this.programs.show(rig, patch);
  }
  private laterShown: { rig: Rig; patch: Patch } | null = null;

  /** Something was played or moved, by whichever means: see `PlayingIn`. Where another machine leads, nobody hears it. */
  play(event: EngineEvent): void {
    this.onPlayed(event);
    if (this.audio.follows) return;
    this.input.play(event);
    this.outside.pass(event);
  }
  /** Called with what hands do here, heard or not. */
  onPlayed: (event: EngineEvent) => void = () => undefined;

  /** What the machine that leads has played; to be called as what was told there: see `InStep`. */
  playTold(event: EngineEvent): void {
    this.audio.send(event);
    this.hands.note(event);
  }

  /** From now on another machine leads: nothing that happens here is heard, or told to anything outside. */
  beginToFollow(): void {
    this.takes.stop();
    this.live.mute();
    this.outputs.letGo();
    this.outputs.silent = true;
    this.laterShown = null;
    // What was held or moved here is told anew, as it stands there.
    this.hands.note({ type: 'panic' });
    this.hands.restMacros();
  }

  /** This machine leads from now on: what it shows, and hears alone, is what plays. */
  lead(): void {
    this.outputs.silent = false;
    this.ears.begin();
    const { laterShown } = this;
    this.laterShown = null;
    if (laterShown) this.show(laterShown.rig, laterShown.patch);
  }
  liveOf(target: string): number | undefined {
    return this.input.liveOf(target);
  }
  moveLive(target: string, value: number, letGo = false): void {
    this.input.moveLive(target, value, letGo);
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

  setTakeOutput(name: string): void {
    this.outputs.letGo();
    this.takeOutput = name;
    this.tell();
  }

  /** Silence, and everything at rest. */
  panic(): void {
    this.takes.stop();
    this.input.latch.clear();
    this.live.mute();
    this.play({ type: 'panic' });
    this.outputs.letGo();
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

  private takePlayed(event: EngineEvent): void {
    if (event.type === 'program') return this.onTakeProgram(event.program);
    this.hands.note(event);
    this.outside.pass(event);
    if (this.takeOutput) this.outputs.event(this.takeOutput, event);
  }

  /** Another program plays: what hands, outputs and controllers have to do with it follows. */
  private programChanged(change: ProgramChange): void {
    const { rig, patch, before, otherRig } = change;
    const samePatch = before?.id === patch.id;
    if (!samePatch || before.layers.some((layer, i) => !playsToTheSame(layer, patch.layers[i]))) this.outputs.letGo();
    if (samePatch) this.input.followStarts(before, patch);
    else {
      this.hands.restMacros();
      this.hearing.bindings.patchChanged();
    }
    this.hearing.bindings.setup = rig.controllers;
    const { mpe, ports } = rig.controllers;
    if (otherRig || zonesKey(mpe) !== this.zonesTold) {
      this.zonesTold = zonesKey(mpe);
      for (let port = 0; port <= ports.length; port++) this.play({ type: 'zones', port, ...mpe });
    }
    this.outside.follow(change);
    this.tell();
  }

  /** An engine that begins knows nothing of what hands have done so far. */
  private engineBegan(): void {
    // The first opening is what begins the sound.
    if (this.live.state === 'open' && !this.audio.isAnew) this.live.mute('the sound device has changed: open it again');
    for (const zones of this.input.zonesByPort.values()) this.audio.send(zones);
    for (const event of this.hands.moved()) this.audio.send(event);
    this.ears.again();
    void this.waiting.playEarly();
  }
}

export const session = new Session();
