import FFT from 'fft.js';
import { THIRDS } from '../../core/measure/bands';
import { correlationOf, truePeakNear } from '../../core/measure/loudness';
import { METER, SCOPE_LENGTH } from '../../host/protocol';
import { session } from './session';

const SIZE = 4096;

/**
 * What comes out of the place of the mix that is looked at: its last moments, from the ring that the audio thread
 * writes.
 */
class Scope {
  private readonly fft = new FFT(SIZE);
  private readonly window = Float64Array.from(
    { length: SIZE },
    (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / SIZE),
  );
  private readonly part = new Float64Array(SIZE);
  private readonly out = this.fft.createComplexArray() as number[];
  private last: { at: number; levels: { hz: number; db: number }[] } = {
    at: -1,
    levels: THIRDS.map((hz) => ({ hz, db: -120 })),
  };

  get rate(): number {
    return session.audio.context?.sampleRate ?? 48000;
  }

  /** The last frames of both sides up to a place of the ring; silence where there is nothing to be seen. */
  latest(frames: number, end = session.audio.meters[METER.scopeAt]): [Float32Array, Float32Array] {
    const left = new Float32Array(frames);
    const right = new Float32Array(frames);
    const { scope: ring } = session.audio;
    if (!ring || session.audio.state !== 'running') return [left, right];
    let at = end - 2 * frames;
    while (at < 0) at += SCOPE_LENGTH;
    for (let i = 0; i < frames; i++) {
      left[i] = ring[at];
      right[i] = ring[at + 1];
      at = at + 2 >= SCOPE_LENGTH ? 0 : at + 2;
    }
    return [left, right];
  }

  /** Level in each third of an octave now, in dB. Worked out at most once a frame of the page. */
  thirds(): readonly { hz: number; db: number }[] {
    const now = performance.now();
    if (now - this.last.at < 12) return this.last.levels;
    const [left, right] = this.latest(SIZE);
    for (let i = 0; i < SIZE; i++) this.part[i] = 0.5 * (left[i] + right[i]) * this.window[i];
    this.fft.realTransform(this.out, this.part);
    const levels = THIRDS.map((hz, n) => {
      const low = Math.max(1, Math.round((hz * 2 ** (-1 / 6) * SIZE) / this.rate));
      const high = Math.max(low + 1, Math.round((hz * 2 ** (1 / 6) * SIZE) / this.rate));
      let power = 0;
      for (let bin = low; bin < high && bin < SIZE / 2; bin++)
        power += this.out[2 * bin] ** 2 + this.out[2 * bin + 1] ** 2;
      const db = 10 * Math.log10((2 * power) / (SIZE * SIZE * 0.375) + 1e-12);
      // It falls no faster than the eye follows.
      return { hz, db: Math.max(db, this.last.levels[n].db - 1.5) };
    });
    this.last = { at: now, levels };
    return levels;
  }

  /** Level of each bin now, in dB, from 0 to half of the rate. */
  bins(): Float64Array {
    const [left, right] = this.latest(SIZE);
    for (let i = 0; i < SIZE; i++) this.part[i] = 0.5 * (left[i] + right[i]) * this.window[i];
    this.fft.realTransform(this.out, this.part);
    for (let bin = 0; bin < SIZE / 2; bin++)
      this.levels[bin] = 20 * Math.log10((4 * Math.hypot(this.out[2 * bin], this.out[2 * bin + 1])) / SIZE + 1e-9);
    return this.levels;
  }
  private readonly levels = new Float64Array(SIZE / 2);

  /**
   * What has come since the ring was at `from`, and where it is now; undefined: nothing is known of before. A page that
   * looks away for longer than the ring holds misses what was in between.
   */
  since(from: number | undefined): { at: number; left: Float32Array; right: Float32Array } {
    const at = session.audio.meters[METER.scopeAt] ?? 0;
    const frames = from === undefined ? 0 : ((at - from + SCOPE_LENGTH) % SCOPE_LENGTH) / 2;
    const [left, right] = this.latest(frames, at);
    return { at, left, right };
  }

  /** Of the last 0.4 s: true peak in dB, likeness of both sides. */
  numbers(): { peakDb: number; correlation: number } {
    const [left, right] = this.latest(Math.round(this.rate * 0.4));
    return {
      peakDb: 20 * Math.log10(truePeakNear([left, right]) + 1e-9),
      correlation: correlationOf(left, right),
    };
  }
}

export const scope = new Scope();
