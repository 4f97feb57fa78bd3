import type { PreparedSample } from '../../dsp/sample';
import { POSITION, SPAN_QUARTERS, SPAN_SECONDS, TIME_SIZE } from '../../movers/mover';
import { Controllers } from '../hands/controllers';
import { Counted } from '../hands/counted';
import { Evaluator } from '../moving/evaluate';
import { DRAWS, NOTE_STATE } from '../hands/noteValues';
import { LayerState } from '../notes/layerState';
import { Mix } from '../mix/mix';
import { Notes } from './notes';
import type { Stage } from './stage';
import type { PathClock } from '../notes/layerPath';
import type { PlayedProgram } from '../program/program';
import { MOST_SPANS } from '../program/tick';
import type { Voice } from '../voice/voice';

const remapped = new Float64Array(NOTE_STATE);

/**
 * Everything that a patch owns while it sounds: its layers, its keys and pedals, what moves by itself, its time. When
 * another patch takes over it rings out: it goes on moving by itself and gets no
 * new notes; its own keys and pedals still reach it, wheels and macros no longer do.
 */
export class SoundingPatch {
  program: PlayedProgram;
  evaluator: Evaluator;
  controllers: Controllers;
  readonly counted = new Counted(DRAWS);
  readonly notes: Notes;
  /** The layers of the program, in its order, then deleted ones that still sound. */
  layers: LayerState[] = [];
  /** Position in quarters, and a tempo that takes the place of the patch's own; NaN: none does. */
  position = 0;
  /** The same as paths see it. */
  readonly pathClock: PathClock;
  private readonly jump = new Float64Array(1);
  tempo = NaN;
  mainGain = NaN;
  /** By span of the run, as movers have it. */
  readonly times = new Float64Array(MOST_SPANS * TIME_SIZE);
  /** Another patch plays; frame at which what is left of this one is faded. */
  ringsOut = false;
  endsAt = Infinity;
  /** It was ended: nothing answers any more. */
  private isOver = false;
  /** Counts changes of anything that routes or windows look at. */
  epoch = 0;

  /** How its sound flows, and the state in which what may move strips and effects was looked at last. */
  readonly mix: Mix;
  mixEpoch = -1;

  constructor(
    program: PlayedProgram,
    controllers: Controllers,
    private readonly stage: Stage,
    bank: ReadonlyMap<string, PreparedSample> = new Map(),
  ) {
    this.program = program;
    this.mix = new Mix(program.mix, stage.rate, stage.seed, stage.rooms, bank);
    this.controllers = controllers;
    this.evaluator = new Evaluator(program, controllers, this.counted, stage.seed);
    this.layers = program.layers.map((layer) => new LayerState(layer, this));
    const { clock, rate } = stage;
    this.pathClock = {
      get frame() {
        return clock.frame;
      },
      rate,
      position: new Float64Array(1),
      framesOfQuarter: new Float64Array(1),
    };
    this.tellTime();
    this.notes = new Notes(this, stage);
    this.notes.setProgram();
  }

  /**
   * An edit: held notes go on and follow the change, those of deleted layers fade, and what moves by itself goes on
   * where it is.
   */
  follow(program: PlayedProgram): void {
    const { voices } = this;
    this.mix.setProgram(program.mix);
    const before = this.layers;
    const old = this.evaluator;
    this.program = program;
    this.evaluator = new Evaluator(program, this.controllers, this.counted, this.stage.seed);
    this.evaluator.takeOver(old);
    const staying = program.layers.map((layer) => {
      const state = before.find((candidate) => !candidate.deleted && candidate.program.id === layer.id);
      if (!state) return new LayerState(layer, this);
      state.program = layer;
      return state;
    });
    for (const voice of voices)
      if (voice.active && voice.layer.patch === this) this.evaluator.moveStates(old, voice, remapped);
    const sounding = new Set(voices.filter((voice) => voice.active).map((voice) => voice.layer));
    const leaving = before.filter((state) => !staying.includes(state) && sounding.has(state));
    for (const state of leaving) {
      if (!state.deleted) for (const voice of voices) if (voice.active && voice.layer === state) voice.dismiss();
      state.deleted = true;
    }
    this.layers = [...staying, ...leaving];
    this.notes.setProgram();
    for (const voice of voices) if (voice.active && voice.layer.patch === this) this.refit(voice);
    this.handOver();
    this.tellTime();
    this.notes.paths.retime(this.jump);
    this.epoch++;
  }

  /** What strips took over from notes, or gave back to them, these have at once as well. */
  private handOver(): void {
    const { handOver } = this.mix;
    for (const voice of this.voices) {
      if (!voice.active || voice.layer.patch !== this || voice.layer.deleted) continue;
      const factor = handOver[this.layers.indexOf(voice.layer)];
      if (factor !== 1) voice.scale(factor);
    }
  }

  /** A voice that goes on under an edited program: its values follow its layer, its own windows stay as they were. */
  private refit(voice: Voice): void {
    voice.zoneWindows = null;
    if (voice.layer.deleted) return;
    const { voicings } = voice.layer.program;
    voice.voicing =
      voicings.find((voicing) => voicing.key === voice.voicing.key) ??
      voicings.find((voicing) => voicing.kind === voice.voicing.kind) ??
      voicings[0];
    const { strikeRests } = voice.voicing;
    for (let place = 0; place < strikeRests.length; place++)
      if (voice.strikeMoved[place] === 0) voice.strikeValues[place] = strikeRests[place];
    voice.shapeEnvelope();
    if (!voice.touchMoved) voice.touchGain = voice.voicing.velocityGain[voice.velocity];
    if (voice.morphs > 1 && voice.layer.program.own) voice.morphs = Math.max(2, voice.layer.program.own.length);
  }

  /** Another patch takes over: the hands as they are now are the last that it knows, its keys and pedals apart. */
  ringOut(): void {
    const own = new Controllers();
    own.copyFrom(this.controllers);
    const old = this.evaluator;
    this.controllers = own;
    this.evaluator = new Evaluator(this.program, own, this.counted, this.stage.seed);
    this.evaluator.takeOver(old);
    this.notes.paths.dropHeld();
    this.ringsOut = true;
  }

  /** Ends everything with its release, and what is left of it at a frame. */
  letGo(endsAt: number): void {
    this.endsAt = endsAt;
    this.notes.paths.end();
    for (const voice of this.voices)
      if (voice.active && voice.layer.patch === this) this.notes.starting.endVoice(voice);
  }

  /** Its levels stand at once where they should be: what they were on their way from is no number. */
  stand(): void {
    this.mainGain = NaN;
    for (const layer of this.layers) layer.gain = NaN;
    this.mix.stand();
  }

  /** Fades what is left, once. */
  dismiss(): void {
    this.endsAt = Infinity;
    this.isOver = true;
    this.mix.silence(true);
    this.notes.paths.end();
    for (const voice of this.voices) if (voice.active && voice.layer.patch === this) voice.dismiss();
  }

  get isSounding(): boolean {
    if (this.notes.paths.nextFrame !== Infinity || this.mix.isAwake || (this.notes.awaitsEnds && !this.isOver))
      return true;
    for (const voice of this.voices) if (voice.active && voice.layer.patch === this) return true;
    return false;
  }

  private get voices(): readonly Voice[] {
    return this.stage.pool.all;
  }

  /**
   * Takes time, and everything that all share and that moves by itself, on through a run; afterwards the evaluator has
   * a row of readings for the end of each span.
   */
  advance(spans: number, frames: Uint8Array): void {
    const { evaluator, program, times } = this;
    const tempo = this.tempoNow;
    this.mix.tempo[0] = tempo;
    for (let s = 0; s < spans; s++) {
      const at = s * TIME_SIZE;
      times[at + SPAN_SECONDS] = frames[s] / this.stage.rate;
      times[at + SPAN_QUARTERS] = (times[at + SPAN_SECONDS] * tempo) / 60;
      this.position += times[at + SPAN_QUARTERS];
      times[at + POSITION] = this.position;
      if (program.shared.length === 0) continue;
      this.setTime(s);
      evaluator.lookPatch(s + 1, true);
    }
    this.tellTime();
  }

  private get tempoNow(): number {
    return Number.isNaN(this.tempo) ? this.program.tempo : this.tempo;
  }

  /** Paths see the time as it is at the frame that comes next. */
  tellTime(): void {
    this.pathClock.position[0] = this.position;
    this.pathClock.framesOfQuarter[0] = (60 * this.stage.rate) / this.tempoNow;
  }

  /** A tempo of its own, or with NaN that of the program. */
  setTempo(tempo: number): void {
    this.tempo = tempo;
    this.tellTime();
    this.jump[0] = 0;
    this.notes.paths.retime(this.jump);
  }

  /** Tells the evaluator the time of a span of the run. */
  setTime(span: number): void {
    const { time } = this.evaluator;
    for (let i = 0; i < TIME_SIZE; i++) time[i] = this.times[span * TIME_SIZE + i];
  }

  /** The transport goes to the beginning, and all that it leads with it. */
  restart(position: number): void {
    this.jump[0] = position - this.position;
    this.position = position;
    this.tellTime();
    this.notes.paths.retime(this.jump);
    this.jump[0] = 0;
    this.evaluator.time[POSITION] = position;
    this.evaluator.restart();
  }

  findSamples(bank: ReadonlyMap<string, PreparedSample>): void {
    this.notes.starting.samples = this.program.sampleKeys.map((key) => bank.get(key));
  }

  addSample(key: string, sample: PreparedSample): void {
    const place = this.program.sampleKeys.indexOf(key);
    if (place >= 0) this.notes.starting.samples[place] = sample;
  }
}
