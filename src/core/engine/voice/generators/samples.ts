import type { Kernel } from '../../../dsp/kernel/kernel';
import { MADE, READING, TAIL, TAIL_READING } from '../../../dsp/kernel/layout';
import { levelFor, type PreparedSample, type SampleLevel } from '../../../dsp/sample';
import { fillWindow, foldIntoLoop, framesInWindow, readSample } from '../../../dsp/sampleReader';
import { LOOP_LENGTH, LOOP_POSITION } from '../../program/voiceValues';
import type { Generator } from './generator';

/** Elements of a voice's block in the kernel's memory. */
const POSITION = READING >> 3,
  STEP = POSITION + 1,
  TAIL_POSITION = TAIL_READING >> 3,
  TAIL_STEP = TAIL_POSITION + 1;

/** Frames over which a sample that simply stops is faded. */
const END_FRAMES = 64;
/** A loop that has been moved is crossfaded over at least this time, or a quarter of its length. */
const LEAST_CROSSFADE_SECONDS = 0.005;
const SHORTEST_LOOP = 8;

/** Reads a recording, its loop included; a loop may be made while it sounds. */
export class SampleGenerator implements Generator {
  channels: 1 | 2 = 1;
  readonly left = new Float64Array(1);
  readonly values = null;
  readonly hasSide = false;
  readonly hasPast = false;
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
  private sample!: PreparedSample;
  private level = 0;
  private last = 0;
  private endFrames = END_FRAMES;
  /** The end in frames of the level that is read. */
  private levelEnd = 0;
  /** Frames of the level that a speed of 1 takes, for one of output. */
  private readonly perFrame = new Float64Array(1);
  private readonly numbers: Float64Array;
  private readonly first: number;

  /** `targets` are those of its voice, for the places of the loop. */
  constructor(
    private readonly kernel: Kernel,
    private readonly block: number,
    private readonly targets: Float64Array,
    private readonly engineRate: number,
  ) {
    this.numbers = kernel.numbers;
    this.first = block >> 3;
  }

  /**
   * Begins at `start`, to play until `end` at the most, both in frames of the recording; fades over so many seconds
   * before the end.
   */
  begin(sample: PreparedSample, start: number, end: number, fadeOut: number): void {
    this.endFrames = Math.max(END_FRAMES, fadeOut * this.engineRate);
    this.sample = sample;
    this.channels = sample.channels;
    this.level = 0;
    this.last = Math.min(end, sample.levels[0].frames);
    this.numbers[this.first + POSITION] = Math.min(start, sample.levels[0].frames);
    this.living = false;
    this.tailFrames = 0;
  }

  /** Gives it, just begun, a loop of frames of its recording that is made while it sounds. */
  loopWhileSounding(start: number, end: number, crossfade: number, untilRelease: boolean): void {
    this.living = true;
    this.untilRelease = untilRelease;
    this.zoneLoopStart = this.loopStart = start;
    this.zoneLoopEnd = this.loopEnd = end;
    this.zoneLoopCrossfade = crossfade;
    this.placeLoop();
    // What begins within its loop begins within it wherever it stands now, and not on a long way to it.
    const { numbers, first } = this;
    const into = numbers[first + POSITION] - start;
    if (into >= 0 && into < end - start && this.loopStart !== start)
      numbers[first + POSITION] = this.loopStart + (into % (this.loopEnd - this.loopStart));
  }

  /** Goes over to the copy of the recording that is right for the speed. */
  prepare(values: Float64Array, at: number): void {
    const { sample, numbers, first, engineRate } = this;
    const next = levelFor(sample, (values[at] * sample.rate) / engineRate);
    if (next !== this.level) {
      const from = sample.levels[this.level];
      const { loop } = sample.levels[0];
      let position = numbers[first + POSITION] * from.factor;
      if (loop && position >= loop.end) position = loop.start + ((position - loop.start) % (loop.end - loop.start));
      numbers[first + POSITION] = position / sample.levels[next].factor;
      numbers[first + TAIL_POSITION] *= from.factor / sample.levels[next].factor;
      this.level = next;
    }
    this.levelEnd = this.last / sample.levels[this.level].factor;
    this.perFrame[0] = sample.rate / (engineRate * sample.levels[this.level].factor);
  }

  speed(values: Float64Array, at: number): void {
    this.numbers[this.first + STEP] = values[at] * this.perFrame[0];
  }

  get stands(): boolean {
    return this.numbers[this.first + STEP] * this.engineRate < 1;
  }

  get ownFrames(): number {
    return this.sample.levels[0].frames;
  }

  release(): void {
    if (this.untilRelease) this.living = false;
  }

  end(): void {
    // Nothing of it is lent.
  }

  endsWithin(frames: number): boolean {
    if (this.living || this.sample.levels[this.level].loop) return false;
    const left = this.levelEnd - this.numbers[this.first + POSITION];
    const step = this.numbers[this.first + STEP];
    if (left > (this.endFrames + frames) * step) return false;
    this.left[0] = left / step;
    return true;
  }

  skip(frames: number): void {
    const { numbers, first } = this;
    const level = this.sample.levels[this.level];
    numbers[first + POSITION] += numbers[first + STEP] * frames;
    foldIntoLoop(level, this.kernel, this.block + READING);
    if (this.living) this.foldLivingLoop(level.factor);
  }

  playWhole(at: number, frames: number, sections: number): boolean {
    const { kernel, block, sample } = this;
    if (this.living || this.tailFrames > 0 || framesInWindow(kernel, block + READING, frames) < frames) return false;
    fillWindow(sample.levels[this.level], sample.channels, kernel, block + READING, frames);
    kernel.loops.play(block, sample.channels - 1, at, frames, sections);
    return true;
  }

  make(frames: number): void {
    const { kernel, block, sample } = this;
    const level = sample.levels[this.level];
    if (this.living || this.tailFrames > 0) this.readLivingLoop(level, frames);
    else readSample(level, sample.channels, kernel, block + READING, MADE, 0, frames);
  }

  /** Reads the `frames` frames that went before, and stays where it is: for a filter that comes in. */
  readBefore(frames: number): void {
    const { numbers, first, sample } = this;
    const position = numbers[first + POSITION];
    numbers[first + POSITION] = Math.max(0, position - frames * numbers[first + STEP]);
    readSample(sample.levels[this.level], sample.channels, this.kernel, this.block + READING, MADE, 0, frames);
    numbers[first + POSITION] = position;
  }

  /** Puts the loop where parameters have it now. */
  private placeLoop(): void {
    const { frames } = this.sample.levels[0];
    const loopPosition = this.targets[LOOP_POSITION];
    const loopLength = this.targets[LOOP_LENGTH];
    const own = this.zoneLoopEnd - this.zoneLoopStart;
    const length = Math.min(this.last, Math.max(SHORTEST_LOOP, Math.round(own * loopLength)));
    const start = Math.min(this.last - length, Math.max(0, Math.round(this.zoneLoopStart + loopPosition * frames)));
    const moved = start !== this.loopStart || length !== this.loopEnd - this.loopStart || start !== this.zoneLoopStart;
    this.loopStart = start;
    this.loopEnd = start + length;
    const least = moved || loopLength !== 1 ? Math.min(length / 4, LEAST_CROSSFADE_SECONDS * this.sample.rate) : 0;
    this.loopCrossfade = Math.floor(Math.min(start, length / 2, Math.max(this.zoneLoopCrossfade, least)));
  }

  /** Makes the span from a loop whose rounds are crossfaded as they come, so that it can move between them. */
  private readLivingLoop(level: SampleLevel, frames: number): void {
    const { numbers, first, kernel, block } = this;
    const { channels } = this.sample;
    numbers[first + TAIL_STEP] = numbers[first + STEP];
    for (let done = 0; done < frames;) {
      const position = numbers[first + POSITION];
      if (this.living && this.tailFrames === 0 && position * level.factor >= this.loopEnd - this.loopCrossfade)
        this.nextRound(level.factor);
      let to = frames;
      if (this.tailFrames > 0) to = Math.min(to, done + this.tailFrames);
      else if (this.living)
        to = Math.min(
          to,
          done +
            Math.max(
              1,
              Math.ceil(
                ((this.loopEnd - this.loopCrossfade) / level.factor - numbers[first + POSITION]) /
                  numbers[first + STEP],
              ),
            ),
        );
      readSample(level, channels, kernel, block + READING, MADE, done, to);
      if (this.tailFrames > 0) this.fadeRounds(level, done, to);
      done = to;
    }
  }

  /** The round that ends goes on as the tail; the next one begins, where the loop is wanted by now. */
  private nextRound(factor: number): void {
    const { numbers, first } = this;
    const over = numbers[first + POSITION] - (this.loopEnd - this.loopCrossfade) / factor;
    this.placeLoop();
    const fade = this.loopCrossfade / factor;
    numbers[first + TAIL_POSITION] = numbers[first + POSITION];
    numbers[first + POSITION] =
      this.loopStart / factor - fade + (over % Math.max(1, (this.loopEnd - this.loopStart) / factor));
    this.tailLength = this.tailFrames = fade > 0 ? Math.max(1, Math.round(fade / numbers[first + STEP])) : 0;
  }

  private fadeRounds(level: SampleLevel, from: number, to: number): void {
    const { kernel, block, sample } = this;
    const { made, madeRight, tail, tailRight } = kernel;
    readSample(level, sample.channels, kernel, block + TAIL_READING, TAIL, from, to);
    for (let i = from; i < to; i++) {
      const out = this.tailFrames / (this.tailLength + 1);
      // A smooth path of constant amplitude: both sides are mostly alike.
      const share = out * out * (3 - 2 * out);
      made[i] += share * (tail[i] - made[i]);
      madeRight[i] += share * (tailRight[i] - madeRight[i]);
      this.tailFrames--;
    }
  }

  private foldLivingLoop(factor: number): void {
    const { numbers, first } = this;
    const end = this.loopEnd / factor;
    const position = numbers[first + POSITION];
    if (position >= end)
      numbers[first + POSITION] =
        this.loopStart / factor + ((position - end) % ((this.loopEnd - this.loopStart) / factor));
  }
}
