import { prepareSample } from '../dsp/sample';
import { pitchOf } from '../measure/pitch';
import { effectKind } from './index';
import { RATE, valuesOf, make, process, sine, noise, db, rms, gainAt, spectrum } from '../../../tests/kit/references';
import { figure } from '../../../tests/kit/figure';

describe('delays', () => {
  test.each([
    [0.25, 12000],
    [0.0375, 1800],
  ])('an echo of %f s comes %i frames later, to the frame, and again', (time, frames) => {
    const x = new Float32Array(RATE);
    x[0] = 1;
    const { left } = process(make('echo', { clock: 0, time, feedback: 50, lowCut: 20, highCut: 20000 }), x);
    const off = Math.abs(left[frames] - 1);
    expect(figure('echo: what comes at its frame', off, 'of what went in', 'arithmetic')).toBeLessThan(5e-7);
    expect(left[2 * frames]).toBeCloseTo(0.5, 5);
    expect(left.filter((y) => Math.abs(y) > 0.3).length).toBe(2);
  });
  test('in note values: a dotted eighth at 120 is 18 000 frames; ping-pong goes from side to side', () => {
    const x = new Float32Array(RATE);
    x[0] = 1;
    const { left, right } = process(make('echo', { way: 1, feedback: 50, lowCut: 20, highCut: 20000 }), x, x.slice());
    expect(left[18000]).toBeCloseTo(1, 5);
    expect(right[18000]).toBe(0);
    expect(right[36000]).toBeCloseTo(0.5, 5);
    expect(left[36000]).toBe(0);
  });
  test('a new time glides or crossfades without a click', () => {
    for (const change of [0, 1]) {
      const effect = make('echo', { clock: 0, time: 0.1, feedback: 0, change, lowCut: 20, highCut: 20000 });
      const x = sine(300, 1.5, 0.5);
      const right = x.slice();
      for (let at = 0; at < x.length; at += 32) {
        if (at === 24000)
          effect.aim(valuesOf('echo', { clock: 0, time: 0.14, feedback: 0, change, lowCut: 20, highCut: 20000 }));
        effect.process(x, right, at, at + 32);
      }
      const steepest = x
        .subarray(12000)
        .reduce((most, y, i, all) => (i === 0 ? 0 : Math.max(most, Math.abs(y - all[i - 1]))), 0);
      expect(steepest).toBeLessThan(0.5 * 2 * Math.PI * (300 / RATE) * 1.8);
    }
  });
  // M. R. Schroeder, JASA 37 (1965): the decay by backward integration of the squared impulse response.
  test.each([
    [0, 1],
    [1, 2.2],
    [2, 1.5],
    [3, 1.2],
    [4, 6],
  ])('reverb of kind %i dies away by 60 dB in %f s', (kind, decay) => {
    const frames = Math.round(decay * 1.4 * RATE);
    const x = new Float32Array(frames);
    // Room acoustics counts in octaves up to 4 kHz (ISO 3382-1).
    x.set(process(make('equaliser', { kind1: 2, frequency1: 4500, slope1: 5 }), noise(1440, 1)).left);
    const { left } = process(
      make('reverb', { mix: 100, kind, decay, damping: 0, lowCut: 20, balance: 100, predelay: 0 }),
      x,
    );
    const energy = new Float64Array(frames + 1);
    for (let i = frames - 1; i >= 0; i--) energy[i] = energy[i + 1] + left[i] ** 2;
    const at = (level: number) => energy.findIndex((y) => 10 * Math.log10(y / energy[0]) < level);
    const t60 = ((at(-35) - at(-5)) * 2) / RATE;
    const off = 100 * Math.abs(t60 / decay - 1);
    expect(figure('reverb: time to −60 dB', off, '% of what is set', 'Schroeder 1965, ISO 3382-1')).toBeLessThan(5);
  });
  test('no line of the late spectrum of a reverb stands 12 dB above those around it', () => {
    for (const kind of [0, 1, 2, 4]) {
      const x = new Float32Array(5 * RATE);
      x[0] = 1;
      const { left } = process(make('reverb', { mix: 100, kind, decay: 4, damping: 20, lowCut: 20, balance: 100 }), x);
      const size = 65536;
      const levels = spectrum(left, size, RATE);
      let worst = 0;
      for (let bin = 600; bin < 8000; bin++) {
        let sum = 0;
        for (let n = bin - 150; n <= bin + 150; n++) sum += levels[n] ** 2;
        worst = Math.max(worst, 10 * Math.log10(levels[bin] ** 2 / (sum / 301)));
      }
      expect(worst).toBeLessThan(12);
    }
  });
  test('ducking: softer while something comes in, back after its time', () => {
    const x = new Float32Array(3 * RATE);
    x.set(noise(RATE, 0.5));
    const wet = (duck: number) =>
      process(make('reverb', { mix: 100, decay: 4, duck, return: 0.3, lowCut: 20 }), x.slice()).left;
    const [plain, ducked] = [wet(0), wet(20)];
    expect(db(rms(ducked, RATE / 2, RATE) / rms(plain, RATE / 2, RATE))).toBeLessThan(-17);
    expect(db(rms(ducked, 2.8 * RATE) / rms(plain, 2.8 * RATE))).toBeGreaterThan(-1.5);
  });
  // Equals direct convolution (W. G. Gardner, JAES 43, 1995), from the first frame on.
  test('convolution equals direct convolution', () => {
    const length = 9000;
    const response = Float32Array.from(noise(length, 0.1, 5), (y, i) => y * Math.exp(-i / 3000));
    const audio = { rate: RATE, channels: 1 as const, data: response };
    const x = new Float32Array(14000);
    x.set(noise(3000, 0.5, 9));
    const { left } = process(
      make('convolution', { mix: 100, lowCut: 20, highCut: 20000 }, { impulse: prepareSample(audio, null) }),
      x.slice(),
    );
    let worst = 0;
    for (let i = 0; i < 13000; i += 37) {
      let sum = 0;
      for (let k = Math.max(0, i - 2999); k <= Math.min(length - 1, i); k++) sum += response[k] * x[i - k];
      worst = Math.max(worst, Math.abs(sum - left[i]));
    }
    expect(figure('convolution', worst, 'of full scale', 'direct convolution')).toBeLessThan(1e-6);
  });
});

describe('colour', () => {
  // A full-scale sine rounded to N bits: 6.02 N + 1.76 dB above its error (W. R. Bennett, Spectra of Quantized Signals,
  // Bell System Technical Journal, 1948).
  test.each([5, 8, 11])('%i bits: the error of rounding stands where the formula has it', (bits) => {
    const x = sine(997, 1),
      { left } = process(make('reducer', { bits }), x.slice());
    expect(db(rms(x) / rms(left.map((y, i) => y - x[i])))).toBeCloseTo(6.02 * bits + 1.76, 0);
  });
  // A hold of T shapes what it holds by sin(πfT) / (πfT), and its images stand around 1 / T (A. V. Oppenheim, R. W.
  // Schafer, Discrete-Time Signal Processing, zero-order hold; from memory).
  test('held samples: images around their rate, at the heights of a hold', () => {
    const size = 16384,
      f = (512 * RATE) / size,
      kept = 6000;
    const levels = spectrum(process(make('reducer', { bits: 16, rate: kept }), sine(f, 1, 0.5)).left, size, 4000);
    for (const hz of [f, kept - f, kept + f])
      expect(
        db(Math.max(...levels.subarray(Math.round((hz * size) / RATE) - 2, Math.round((hz * size) / RATE) + 3)) / 0.5),
      ).toBeCloseTo(db(Math.abs(Math.sin((Math.PI * hz) / kept) / (8 * Math.sin((Math.PI * hz) / RATE)))), 0);
  });
  /**
   * Largest departure from a sine's frequency, as a share of it: by the phase against the sine, smoothed over five
   * periods.
   */
  const departure = (x: Float32Array, hz: number, from: number): number => {
    const smooth = Math.round((5 * RATE) / hz);
    const phases: number[] = [];
    for (let at = from; at + smooth < x.length; at += smooth) {
      let real = 0,
        imaginary = 0;
      for (let i = at; i < at + smooth; i++) {
        real += x[i] * Math.cos((2 * Math.PI * hz * i) / RATE);
        imaginary -= x[i] * Math.sin((2 * Math.PI * hz * i) / RATE);
      }
      phases.push(Math.atan2(imaginary, real));
    }
    const steps = phases.slice(1).map((phase, n) => {
      const by = phase - phases[n];
      return by - 2 * Math.PI * Math.round(by / (2 * Math.PI));
    });
    return Math.max(...steps.map(Math.abs)) / ((2 * Math.PI * hz * smooth) / RATE);
  };
  // Wow and flutter are told as the peak departure of a tone of 3150 Hz (IEC 60386, from memory); the speed departs by
  // the slope of the delay.
  test.each([
    [{ wow: 100, flutter: 0, wowRate: 1 }, 0.01],
    [{ wow: 40, flutter: 0, wowRate: 2 }, 0.004],
    [{ wow: 0, flutter: 100, flutterRate: 8 }, 0.005],
  ])('tape %o: its speed departs by %f', (values, share) => {
    expect(
      departure(process(make('tape', { drive: 0, soft: 20000, ...values }), sine(3150, 3, 0.05)).left, 3150, RATE) /
        share,
    ).toBeCloseTo(1, 1);
  });
  test('tape: the treble falls 3 dB at its corner, and by the first order above', () => {
    const still = { wow: 0, flutter: 0, drive: 0, soft: 3000 };
    expect(gainAt('tape', still, 3000)).toBeCloseTo(-3, 0);
    expect(gainAt('tape', still, 9000) - gainAt('tape', still, 3000)).toBeCloseTo(-7 + 0.3, 0);
  });
  test('chorus: each copy departs in pitch by the slope of its delay', () => {
    const { left } = process(
      make('chorus', { mix: 100, voices: 2, spread: 100, rate: 1, depth: 0.002, delay: 0.01 }),
      sine(1000, 3, 0.3),
    );
    expect(departure(left, 1000, RATE) / (2 * Math.PI * 0.002)).toBeCloseTo(1, 1);
  });
  test('sub strike: the tone it is tuned to, 60 dB softer after its decay; nothing under what is below its threshold', () => {
    const strike = (height: number) => {
      const x = new Float32Array(2 * RATE);
      for (let i = 0; i < 480; i++) x[4800 + i] = height * Math.sin(i * 0.6) * (1 - i / 480);
      return x;
    };
    const struck = strike(0.5);
    const { left } = process(make('subStrike', { frequency: 55, decay: 1, bend: 0 }), struck.slice());
    const under = left.map((y, i) => y - struck[i]);
    let crossings = 0;
    for (let i = 7200; i < 7200 + RATE / 2; i++) if (under[i - 1] < 0 && under[i] >= 0) crossings++;
    expect(crossings).toBeGreaterThanOrEqual(27);
    expect(crossings).toBeLessThanOrEqual(28);
    // Whole periods, half a second apart: 30 dB.
    const period = Math.round((11 * RATE) / 55);
    expect(db(rms(under, 7200, 7200 + period) / rms(under, 7200 + RATE / 2, 7200 + RATE / 2 + period))).toBeCloseTo(
      30,
      0,
    );
    const soft = strike(0.005);
    expect(process(make('subStrike'), soft.slice()).left).toEqual(soft);
  });
});

describe('place', () => {
  // Pressure falls as the distance grows: 6.02 dB for each doubling (inverse distance law, ISO 9613-2's 20 lg d).
  test.each([
    [25, -6.02],
    [50, -12.04],
    [100, -24.08],
  ])('distance %i %%: %f dB', (far, level) => {
    expect(gainAt('distance', { far, treble: 0, reflections: 0 }, 500)).toBeCloseTo(level, 1);
  });
  test('width: the sides as far apart as they are told, the middle as it was; low tones in the middle', () => {
    const side = (hz: number, values: Record<string, number>) => {
      const x = sine(hz, 0.6, 0.2);
      const was = rms(x, 19200);
      const { left, right } = process(
        make('width', values),
        x,
        x.map((y) => -y),
      );
      return db(
        rms(
          left.map((y, i) => (y - right[i]) / 2),
          19200,
        ) / was,
      );
    };
    expect(side(1000, { width: 200 })).toBeCloseTo(6.02, 2);
    expect(side(1000, { width: 50 })).toBeCloseTo(-6.02, 2);
    expect(gainAt('width', { width: 0, mono: 300 }, 100)).toBeCloseTo(0, 3);
    // Two Butterworth sections of second order: −6.02 dB at the frequency (S. P. Linkwitz, R. Riley, 1976), 24 dB an
    // octave below.
    expect(side(200, { mono: 200 })).toBeCloseTo(-6.02, 1);
    expect(side(50, { mono: 200 })).toBeLessThan(-46);
  });
});

describe('motion', () => {
  test('ring: sums and differences and nothing else', () => {
    const levels = spectrum(
      process(make('ring', { mix: 100, frequency: (102 * RATE) / 16384 }), sine((512 * RATE) / 16384, 1, 0.5)).left,
      16384,
      4000,
    );
    const at = (hz: number) =>
      Math.max(...levels.subarray(Math.round((hz * 16384) / RATE) - 2, Math.round((hz * 16384) / RATE) + 3));
    expect(db(at((614 * RATE) / 16384) / 0.25)).toBeCloseTo(0, 0);
    expect(db(at((410 * RATE) / 16384) / 0.25)).toBeCloseTo(0, 0);
    expect(db(at(1500))).toBeLessThan(-60);
  });
  test('tremolo: as deep and as often as it says', () => {
    const { left, right } = process(
      make('tremolo', { rate: 4, depth: 60, apart: 100 }),
      new Float32Array(RATE).fill(1),
    );
    const inside = left.subarray(RATE / 2);
    expect(Math.min(...inside)).toBeCloseTo(0.4, 1);
    expect(Math.max(...inside)).toBeCloseTo(1, 1);
    // One is loud while the other is soft.
    for (let i = RATE / 2; i < RATE; i += 500) expect(left[i] + right[i]).toBeCloseTo(1.4, 1);
  });
  test('the rotary speaker takes its time from slow to fast', () => {
    const effect = make('rotary', { speed: 1 });
    process(effect, sine(1000, 1, 0.3));
    effect.aim(valuesOf('rotary', { speed: 2 }));
    process(effect, sine(1000, 0.9, 0.3));
    // 63 % of the way from 0.8 to 6.6 turns a second after 0.9 s.
    expect(effect.readings![0]).toBeCloseTo(0.8 + (6.6 - 0.8) * (1 - Math.exp(-1)), 1);
  });
  test('a flanger through zero silences the sound where the copy passes it', () => {
    const { left } = process(
      make('flanger', { zero: 1, feedback: 0, rate: 0.5, depth: 0.004, spread: 0 }),
      process(make('equaliser', { kind1: 2, frequency1: 400, slope1: 5 }), noise(4 * RATE, 0.5)).left,
    );
    let least = Infinity;
    for (let at = RATE / 2; at + 480 < 4 * RATE; at += 240) least = Math.min(least, rms(left, at, at + 480));
    expect(db(least / rms(left))).toBeLessThan(-12);
  });
  test('phaser: a notch for each two stages', () => {
    const values = { stages: 4, centre: 1000, depth: 0, feedback: 0 };
    const gains = Array.from({ length: 60 }, (_, n) => gainAt('phaser', values, 100 * 2 ** (n / 8.5)));
    const dips = gains.filter(
      (gain, i) => i > 0 && i < gains.length - 1 && gain < gains[i - 1] && gain < gains[i + 1] && gain < -10,
    );
    expect(dips.length).toBe(2);
  });
});

describe('pitch and time', () => {
  test.each([12, 7, -5, -12, 3.5])('a shift by %f semitones is so within 3 cents', (shift) => {
    const { left } = process(
      make('pitchShifter', { mix: 100, shift }),
      Float32Array.from({ length: 2 * RATE }, (_, i) => {
        let y = 0;
        for (let h = 1; h < 6; h++) y += Math.sin((2 * Math.PI * 220 * h * i) / RATE) / h;
        return 0.2 * y;
      }),
    );
    const size = 65536;
    const levels = spectrum(left, size, 20000);
    const wanted = 220 * 2 ** (shift / 12);
    let best = 0;
    for (let bin = Math.round((wanted * 0.94 * size) / RATE); bin < (wanted * 1.06 * size) / RATE; bin++)
      if (levels[bin] > levels[best]) best = bin;
    const [a, b, c] = [levels[best - 1], levels[best], levels[best + 1]].map((y) => Math.log(y));
    const hz = ((best + (0.5 * (a - c)) / (a - 2 * b + c)) * RATE) / size;
    const off = Math.abs(1200 * Math.log2(hz / wanted));
    expect(figure('pitch shifter', off, 'cents', 'equal temperament')).toBeLessThan(3);
  });
  test('the scale tuner pulls a gliding voice to the notes of its scale', () => {
    // A voice that glides from 200 to 240 Hz: harmonics that fall by the root of their number.
    let phase = 0;
    const x = Float32Array.from({ length: 4 * RATE }, (_, i) => {
      phase += (200 + (40 * i) / (4 * RATE)) / RATE;
      let y = 0;
      for (let h = 1; h < 8; h++) y += Math.sin(2 * Math.PI * phase * h) / h;
      return 0.2 * y;
    });
    const { left } = process(make('scaleTuner', { mix: 100, scale: 0, root: 0, speed: 0.01 }), x);
    let inTune = 0,
      looked = 0;
    for (let at = RATE; at + 9600 < 4 * RATE; at += 4800) {
      const heard = pitchOf({ rate: RATE, channels: 1, data: left.subarray(at, at + 9600) });
      if (!heard) continue;
      looked++;
      // White keys between 200 and 240 Hz: G3 at 196.00, A3 at 220.00, B3 at 246.94 Hz (equal temperament, A4 = 440
      // Hz).
      const distance = Math.min(
        ...[195.998, 220, 246.942].map((hz) =>
          Math.abs(1200 * Math.log2((440 * 2 ** ((heard.key + heard.cents / 100 - 69) / 12)) / hz)),
        ),
      );
      if (distance < 12) inTune++;
    }
    expect(looked).toBeGreaterThan(15);
    const outside = 100 * (1 - inTune / looked);
    expect(
      figure('scale tuner: heard farther than 12 cents from its scale', outside, '%', 'equal temperament'),
    ).toBeLessThan(15);
  });
  // H. Dudley 1939: the levels of the voice's bands are those of what comes out.
  test('vocoder: a voice in one band lets only that band of the other sound through', () => {
    const side = { left: noise(2 * RATE, 0.5, 3), right: noise(2 * RATE, 0.5, 4) };
    const { left } = process(make('vocoder', { mix: 100, bands: 16, breath: 0 }, { side }), sine(1000, 2, 0.5));
    const levels = spectrum(left, 32768, RATE);
    const power = (low: number, high: number) => {
      let sum = 0;
      for (let bin = Math.round((low * 32768) / RATE); bin < (high * 32768) / RATE; bin++) sum += levels[bin] ** 2;
      return sum;
    };
    const others = 10 * Math.log10((power(60, 500) + power(2200, 12000)) / power(750, 1350));
    expect(figure('vocoder: what other bands let through', others, 'dB', 'H. Dudley 1939')).toBeLessThan(-15);
  });
  test('step gate: the levels of its row, in time with the transport', () => {
    const kind = effectKind('stepGate');
    const steps = new Float64Array(33);
    steps.set([1, 0, 0.5, 0.25]);
    steps[32] = 4;
    const time = Float64Array.of(0, 2 / RATE);
    const effect = kind.make({
      rate: RATE,
      seed: 1,
      room: null,
      time,
      key: Float64Array.of(NaN),
      cents: new Float64Array(128),
      steps,
      side: null,
      impulse: null,
    });
    effect.aim(valuesOf('stepGate', { smooth: 0.0005 }));
    const x = new Float32Array(RATE).fill(1);
    for (let at = 0; at < RATE; at += 32) {
      time[0] = (at * 2) / RATE;
      effect.process(x, x.slice(), at, at + 32);
    }
    // A sixteenth at 120 lasts 6000 frames.
    for (const [n, level] of [1, 0, 0.5, 0.25, 1, 0].entries()) expect(x[6000 * n + 4000]).toBeCloseTo(level, 3);
  });
  test('stutter repeats the last slice while it is held', () => {
    const effect = make('stutter', { hold: 0 });
    const x = Float32Array.from({ length: RATE }, (_, i) => Math.sin(i * 0.01 + (i * i) / 4e8));
    const right = x.slice();
    for (let at = 0; at < RATE; at += 32) {
      if (at === 24000) effect.aim(valuesOf('stutter', { hold: 1 }));
      effect.process(x, right, at, at + 32);
    }
    // A sixteenth at 120: 6000 frames.
    for (let i = 26000; i < 29000; i += 100) expect(x[i + 6000]).toBeCloseTo(x[i], 3);
  });
});
