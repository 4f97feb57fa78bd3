import { Envelope } from '../dsp/envelope';
import { highPass, lowPass, setFilter, settleFilter, type FilterCoefficients, type FilterState } from '../dsp/filter';
import { setPan, type PanGains } from '../dsp/pan';
import { levelFor, type PreparedSample } from '../dsp/sample';
import { addSample, foldIntoLoop, type ReadState } from '../dsp/sampleReader';
import { RANDOMS, type NoteValues } from './evaluate';
import type { LayerState } from './layerState';
import type { CompiledWindow, Voicing } from './program';
import { TICK } from './tick';

/** A voice that must go, goes in this time: short enough to free it, long enough not to click. */
const FADE_SECONDS = 0.005;
/** Frames over which a sample that simply stops is faded. */
const END_FRAMES = 64;

/** Where a voice is made that does not go to the bus at once: one with a high-pass, or with a loop made while it sounds. */
const left = new Float64Array(TICK);
const right = new Float64Array(TICK);
/** The part of such a loop that fades out, while the next round fades in. */
const tailLeft = new Float64Array(TICK);
const tailRight = new Float64Array(TICK);
/** A loop that has been moved is crossfaded over at least this time, or a quarter of its length. */
const LEAST_CROSSFADE_SECONDS = 0.005;
const SHORTEST_LOOP = 8;

const noGains = (): PanGains => ({ ll: 0, rl: 0, lr: 0, rr: 0 });
const noFilterState = (): FilterState => ({ band: 0, low: 0 });
const setGains = (gains: PanGains, ll: number, rl: number, lr: number, rr: number): void => {
  gains.ll = ll;
  gains.rl = rl;
  gains.lr = lr;
  gains.rr = rr;
};

/** Where a voice's parameters are heading, in units; worked out from routes and windows when something moved. */
export interface VoiceTargets { gain: number; pan: number; semitones: number; cutoffKey: number; q: number; lowCutKey: number; loopPosition: number; loopLength: number }

/** One sounding zone. All its parts are made once and used again for the next note. */
export class Voice implements NoteValues {
  active = false;
  channel = 0;
  key = 0;
  velocity = 0;
  releaseVelocity = 64;
  readonly randoms = new Float64Array(RANDOMS);
  layer!: LayerState;
  voicing!: Voicing;
  /** The zone's windows on further sources, while they can be read: they belong to the program the voice began with. */
  zoneWindows: CompiledWindow[] | null = null;
  zoneWindowsGain = 1;
  /** Choke group whose strikes end this voice (−1: none), whether at once, and the strike that began it, which does not. */
  chokedBy = -1;
  chokedFast = true;
  strike = 0;
  /** The key is down; the pedal holds it; the sostenuto pedal caught it. */
  keyDown = false;
  sustained = false;
  caught = false;
  released = false;
  fullLength = false;
  /** Order of birth, so that equal voices are told apart. */
  born = 0;
  zone = 0;
  /** Of the zone alone: windows × gain, pan, distance from the root in semitones. */
  zoneGain = 0;
  zonePan = 0;
  zoneSemitones = 0;
  readonly targets: VoiceTargets = { gain: 0, pan: 0, semitones: 0, cutoffKey: 0, q: 1, lowCutKey: 0, loopPosition: 0, loopLength: 1 };
  /** The engine's control epoch in which the targets were worked out. */
  epoch = -1;
  /** Present amplitude, for the choice of whom to steal. */
  amplitude = 0;

  /** A loop made while it sounds, in frames of the recording: where the zone has it, and where it is now. */
  private living = false;
  private untilRelease = false;
  private zoneLoopStart = 0;
  private zoneLoopEnd = 0;
  private zoneLoopCrossfade = 0;
  private loopStart = 0;
  private loopEnd = 0;
  private loopCrossfade = 0;
  /** Output frames left of the present crossfade, and its whole length. */
  private tailFrames = 0;
  private tailLength = 0;
  private readonly tail: ReadState = { position: 0, step: 1, gains: noGains(), slopes: noGains(), filter: null, filterStates: [noFilterState(), noFilterState()] };
  private sample!: PreparedSample;
  private level = 0;
  private end = 0;
  /** The end in frames of the level that is read. */
  private levelEnd = 0;
  private readonly read: ReadState = { position: 0, step: 1, gains: noGains(), slopes: noGains(), filter: null, filterStates: [noFilterState(), noFilterState()] };
  private readonly envelope = new Envelope();
  private readonly now: VoiceTargets = { gain: 0, pan: 0, semitones: 0, cutoffKey: 0, q: 1, lowCutKey: 0, loopPosition: 0, loopLength: 1 };
  private settled = false;
  private fade = 1;
  private fadeStep = 0;
  private highPassOn = false;
  private readonly lowPassCoefficients: FilterCoefficients = { damping: 1, a1: 0, a2: 0, a3: 0 };
  private readonly highPassCoefficients: FilterCoefficients = { damping: Math.SQRT2, a1: 0, a2: 0, a3: 0 };
  private readonly highPassStates: readonly FilterState[] = [noFilterState(), noFilterState()];
  private readonly panGains: PanGains = noGains();
  /** Where the amplitude stands at the end of this span. A field, because a number handed to a function may be put on the heap. */
  private nextAmplitude = 0;

  /** Starts from silence. The targets must have been worked out. `start` and `end` in frames of the recording. */
  start(sample: PreparedSample, start: number, end: number, engineRate: number): void {
    this.active = true;
    this.released = this.sustained = this.caught = false;
    this.keyDown = true;
    this.sample = sample;
    Object.assign(this.now, this.targets);
    this.settled = false;
    this.fade = 1;
    this.fadeStep = 0;
    this.amplitude = 0;
    this.level = 0;
    this.read.position = Math.min(start, sample.levels[0].frames);
    this.end = Math.min(end, sample.levels[0].frames);
    this.highPassOn = false;
    this.read.filter = null;
    for (let c = 0; c < 2; c++) {
      this.read.filterStates[c].band = this.read.filterStates[c].low = 0;
      this.highPassStates[c].band = this.highPassStates[c].low = 0;
    }
    setGains(this.read.gains, 0, 0, 0, 0);
    setGains(this.read.slopes, 0, 0, 0, 0);
    this.living = false;
    this.tailFrames = 0;
    this.envelope.start(this.voicing.envelope);
    this.setPitch(engineRate);
    setPan(this.panGains, this.now.pan, sample.channels);
    this.setFilters(engineRate, true);
  }

  /** Gives the voice, just started, a loop of frames of its recording that is made while it sounds. */
  loopWhileSounding(start: number, end: number, crossfade: number, untilRelease: boolean): void {
    this.living = true;
    this.untilRelease = untilRelease;
    this.zoneLoopStart = this.loopStart = start;
    this.zoneLoopEnd = this.loopEnd = end;
    this.zoneLoopCrossfade = crossfade;
    this.placeLoop();
  }

  /** Puts the loop where parameters have it now. */
  private placeLoop(): void {
    const { frames } = this.sample.levels[0];
    const { loopPosition, loopLength } = this.targets;
    const own = this.zoneLoopEnd - this.zoneLoopStart;
    const length = Math.min(frames, Math.max(SHORTEST_LOOP, Math.round(own * loopLength)));
    const start = Math.min(frames - length, Math.max(0, Math.round(this.zoneLoopStart + loopPosition * frames)));
    const moved = start !== this.loopStart || length !== this.loopEnd - this.loopStart || start !== this.zoneLoopStart;
    this.loopStart = start;
    this.loopEnd = start + length;
    const least = moved || loopLength !== 1 ? Math.min(length / 4, LEAST_CROSSFADE_SECONDS * this.sample.rate) : 0;
    this.loopCrossfade = Math.floor(Math.min(start, length / 2, Math.max(this.zoneLoopCrossfade, least)));
  }

  /** The key's release, once no pedal holds it. Full-length zones do not care. */
  release(): void {
    this.released = true;
    if (this.untilRelease) this.living = false;
    if (!this.fullLength) this.envelope.release();
  }

  /** Ends with its release, held or not, full-length or not. */
  letEnd(): void {
    this.keyDown = this.sustained = this.caught = false;
    this.released = true;
    this.envelope.release();
  }

  /** Goes silent within {@link FADE_SECONDS}. */
  dismiss(engineRate: number): void {
    this.fadeOver(FADE_SECONDS * engineRate);
  }

  get isDismissed(): boolean {
    return this.fadeStep > 0;
  }

  private fadeOver(frames: number): void {
    const step = this.fade / Math.max(1, frames);
    if (step > this.fadeStep) this.fadeStep = step;
  }

  /** Adds `frames` (at most TICK) frames to the layer's bus. `smoothing` holds, by frames, the share by which values near their targets. Unheard, it only moves on. */
  render(busLeft: Float64Array, busRight: Float64Array, frames: number, engineRate: number, smoothing: Float64Array, heard: boolean): void {
    if (!this.settled) this.approach(smoothing[frames], engineRate);
    const level = this.sample.levels[this.level];
    if (!level.loop && !this.living) this.fadeAtEnd(frames);
    this.envelope.advance(this.voicing.envelope, frames, engineRate);
    if (this.fadeStep > 0) this.fade = Math.max(0, this.fade - this.fadeStep * frames);
    this.nextAmplitude = heard ? this.envelope.value * this.now.gain * this.fade : 0;
    if (this.nextAmplitude === 0 && this.amplitude === 0) {
      this.read.position += this.read.step * frames;
      foldIntoLoop(level, this.read);
      if (this.living) this.foldLivingLoop(level.factor);
    } else if (this.highPassOn || this.living || this.tailFrames > 0) this.soundAside(busLeft, busRight, frames);
    else this.sound(busLeft, busRight, frames);
    this.amplitude = this.nextAmplitude;
    if (this.envelope.isDone || this.fade === 0) this.active = false;
  }

  /** Adds the span to the bus, its gains moving in straight lines to the next amplitude. */
  private sound(busLeft: Float64Array, busRight: Float64Array, frames: number): void {
    const { read, sample } = this;
    this.setSlopes(frames);
    addSample(sample.levels[this.level], sample.channels, read, busLeft, busRight, frames);
    this.arrive();
  }

  /** The same by way of buffers of its own, for what cannot be added to the bus in one go. */
  private soundAside(busLeft: Float64Array, busRight: Float64Array, frames: number): void {
    const { read, sample } = this;
    this.setSlopes(frames);
    const { ll, rl, lr, rr } = read.gains;
    const { ll: dll, rl: drl, lr: dlr, rr: drr } = read.slopes;
    left.fill(0, 0, frames);
    right.fill(0, 0, frames);
    setGains(read.gains, 1, 0, 0, 1);
    setGains(read.slopes, 0, 0, 0, 0);
    if (this.living || this.tailFrames > 0) this.readLivingLoop(frames);
    else addSample(sample.levels[this.level], sample.channels, read, left, right, frames);
    if (this.highPassOn) {
      for (let c = 0; c < sample.channels; c++) {
        highPass(this.highPassCoefficients, this.highPassStates[c], c === 0 ? left : right, frames);
        settleFilter(this.highPassStates[c]);
      }
    }
    for (let i = 0; i < frames; i++) {
      busLeft[i] += left[i] * (ll + dll * (i + 1)) + right[i] * (rl + drl * (i + 1));
      busRight[i] += left[i] * (lr + dlr * (i + 1)) + right[i] * (rr + drr * (i + 1));
    }
    this.arrive();
  }

  /** Fills the buffers from a loop whose rounds are crossfaded as they come, so that it can move between them; the low-pass comes after. */
  private readLivingLoop(frames: number): void {
    const { read, tail, sample } = this;
    const level = sample.levels[this.level];
    const { channels } = sample;
    const { filter } = read;
    read.filter = null;
    tail.step = read.step;
    for (let done = 0; done < frames; ) {
      if (this.living && this.tailFrames === 0 && read.position * level.factor >= this.loopEnd - this.loopCrossfade) this.nextRound(level.factor);
      let to = frames;
      if (this.tailFrames > 0) to = Math.min(to, done + this.tailFrames);
      else if (this.living) to = Math.min(to, done + Math.max(1, Math.ceil(((this.loopEnd - this.loopCrossfade) / level.factor - read.position) / read.step)));
      addSample(level, channels, read, left, right, to, done);
      if (this.tailFrames > 0) this.fadeRounds(level, done, to);
      done = to;
    }
    read.filter = filter;
    if (!filter) return;
    for (let c = 0; c < channels; c++) lowPass(filter, read.filterStates[c], c === 0 ? left : right, frames);
  }

  /** The round that ends goes on as the tail; the next one begins, where the loop is wanted by now. */
  private nextRound(factor: number): void {
    const { read, tail } = this;
    const over = read.position - (this.loopEnd - this.loopCrossfade) / factor;
    this.placeLoop();
    const fade = this.loopCrossfade / factor;
    tail.position = read.position;
    read.position = this.loopStart / factor - fade + over % Math.max(1, (this.loopEnd - this.loopStart) / factor);
    this.tailLength = this.tailFrames = fade > 0 ? Math.max(1, Math.round(fade / read.step)) : 0;
  }

  private fadeRounds(level: PreparedSample['levels'][number], from: number, to: number): void {
    const { tail } = this;
    const { channels } = this.sample;
    tailLeft.fill(0, from, to);
    tailRight.fill(0, from, to);
    setGains(tail.gains, 1, 0, 0, 1);
    setGains(tail.slopes, 0, 0, 0, 0);
    addSample(level, channels, tail, tailLeft, tailRight, to, from);
    for (let i = from; i < to; i++) {
      const out = this.tailFrames / (this.tailLength + 1);
      // A smooth path of constant amplitude: both sides are mostly alike.
      const share = out * out * (3 - 2 * out);
      left[i] += share * (tailLeft[i] - left[i]);
      right[i] += share * (tailRight[i] - right[i]);
      this.tailFrames--;
    }
  }

  private foldLivingLoop(factor: number): void {
    const end = this.loopEnd / factor;
    if (this.read.position >= end) this.read.position = this.loopStart / factor + ((this.read.position - end) % ((this.loopEnd - this.loopStart) / factor));
  }

  private setSlopes(frames: number): void {
    const { nextAmplitude, panGains } = this;
    const { gains, slopes } = this.read;
    const share = 1 / frames;
    slopes.ll = (nextAmplitude * panGains.ll - gains.ll) * share;
    slopes.lr = (nextAmplitude * panGains.lr - gains.lr) * share;
    if (this.sample.channels === 1) return;
    slopes.rl = (nextAmplitude * panGains.rl - gains.rl) * share;
    slopes.rr = (nextAmplitude * panGains.rr - gains.rr) * share;
  }

  /** The gains stand exactly where they were heading, whatever rounding made of the way. */
  private arrive(): void {
    const { nextAmplitude, panGains, read } = this;
    const { gains } = read;
    const stereo = this.sample.channels === 2;
    gains.ll = nextAmplitude * panGains.ll;
    gains.lr = nextAmplitude * panGains.lr;
    if (read.filter) settleFilter(read.filterStates[0]);
    if (!stereo) return;
    gains.rl = nextAmplitude * panGains.rl;
    gains.rr = nextAmplitude * panGains.rr;
    if (read.filter) settleFilter(read.filterStates[1]);
  }

  /** A sample that ends while it still sounds is faded over its last frames instead of being cut. */
  private fadeAtEnd(frames: number): void {
    const { position, step } = this.read;
    if (this.levelEnd - position > (END_FRAMES + frames) * step) return;
    this.fadeOver(Math.max(frames, (this.levelEnd - position) / step));
  }

  private approach(share: number, engineRate: number): void {
    const { now, targets } = this;
    const pitch = now.semitones, pan = now.pan, cutoff = now.cutoffKey, q = now.q, lowCut = now.lowCutKey;
    now.gain = near(now.gain, targets.gain, share, 1e-6);
    now.pan = near(now.pan, targets.pan, share, 1e-4);
    now.semitones = near(now.semitones, targets.semitones, share, 1e-4);
    now.cutoffKey = near(now.cutoffKey, targets.cutoffKey, share, 1e-2);
    now.q = near(now.q, targets.q, share, 1e-3);
    now.lowCutKey = near(now.lowCutKey, targets.lowCutKey, share, 1e-2);
    if (now.semitones !== pitch) this.setPitch(engineRate);
    if (now.pan !== pan) setPan(this.panGains, now.pan, this.sample.channels);
    if (now.cutoffKey !== cutoff || now.q !== q || now.lowCutKey !== lowCut) this.setFilters(engineRate, false);
    this.settled = now.gain === targets.gain && now.pan === targets.pan && now.semitones === targets.semitones
      && now.cutoffKey === targets.cutoffKey && now.q === targets.q && now.lowCutKey === targets.lowCutKey;
  }

  /** To be called when the targets were written anew. */
  unsettle(): void {
    this.settled = false;
  }

  private setPitch(engineRate: number): void {
    const ratio = 2 ** (this.now.semitones / 12);
    const { sample, read } = this;
    const next = levelFor(sample, (ratio * sample.rate) / engineRate);
    if (next !== this.level) {
      const from = sample.levels[this.level];
      const { loop } = sample.levels[0];
      let position = read.position * from.factor;
      if (loop && position >= loop.end) position = loop.start + ((position - loop.start) % (loop.end - loop.start));
      read.position = position / sample.levels[next].factor;
      this.tail.position *= from.factor / sample.levels[next].factor;
      this.level = next;
    }
    this.levelEnd = this.end / sample.levels[this.level].factor;
    read.step = (ratio * sample.rate) / (engineRate * sample.levels[this.level].factor);
  }

  /** A low-pass that comes in during a note first hears the frames that went before, so that it takes up the signal where it is. */
  private primeLowPass(engineRate: number): void {
    const { read, sample } = this;
    const level = sample.levels[this.level];
    const { position } = read;
    setFilter(this.lowPassCoefficients, hzOfKey(this.now.cutoffKey), this.now.q, engineRate);
    read.filter = this.lowPassCoefficients;
    read.position = Math.max(0, position - PRIMING * read.step);
    const { ll, rl, lr, rr } = read.gains;
    setGains(read.gains, 0, 0, 0, 0);
    setGains(read.slopes, 0, 0, 0, 0);
    addSample(level, sample.channels, read, left, right, PRIMING);
    setGains(read.gains, ll, rl, lr, rr);
    read.position = position;
  }

  /** A filter that is fully open stays out of the way until it is first needed, then stays in for the rest of the note. */
  private setFilters(engineRate: number, atStart: boolean): void {
    const { now } = this;
    if (this.read.filter || now.cutoffKey < OPEN_KEY || now.q > OPEN_Q) {
      if (!this.read.filter && !atStart) this.primeLowPass(engineRate);
      this.read.filter = this.lowPassCoefficients;
      setFilter(this.lowPassCoefficients, hzOfKey(now.cutoffKey), now.q, engineRate);
    }
    if (this.highPassOn || now.lowCutKey > CLOSED_KEY) {
      this.highPassOn = true;
      setFilter(this.highPassCoefficients, hzOfKey(now.lowCutKey), Math.SQRT1_2, engineRate);
    }
  }
}

/** Cutoffs are handled as distances in semitones from 20 Hz, where their ear-sized steps are equal. */
export const cutoffKeyOf = (hz: number): number => 12 * Math.log2(hz / 20);
const hzOfKey = (key: number): number => 20 * 2 ** (key / 12);
/** From 20 kHz up the low-pass is open, at 20 Hz the high-pass. */
const OPEN_KEY = cutoffKeyOf(20000);
const OPEN_Q = 0.75;
const CLOSED_KEY = 0.05;
/** Frames in which a filter as open as one that comes in has forgotten how it began. */
const PRIMING = 24;

const near = (now: number, target: number, share: number, enough: number): number => {
  const distance = target - now;
  return distance < enough && distance > -enough ? target : now + distance * share;
};
