import { compile } from '../../program/compile';
import { Engine } from '../../engine';
import { prepare } from '../../../formats/prepare';
import { markAt, newLayer, newPatch, newRoute, newSound } from '../../../rig/defaults';
import { spectraOf, TABLES } from '../../../sounds/synth/tables';
import {
  amplitudeAt,
  besideHarmonics,
  db,
  hzNear,
  hzOf,
  play,
  RATE,
  rms,
  spectrumOf,
  type KindSetup,
} from '../../../../../tests/kit/kinds';
import { SINE, TRIANGLE, PULSE, WAVES } from '../../../../../tests/kit/synth';
import { figure } from '../../../../../tests/kit/figure';

const synth = (params: Record<string, number>, more: KindSetup = {}): KindSetup => ({
  ...more,
  sound: { params, ...more.sound },
});

describe('oscillators', () => {
  // Signal theory: what would lie above half of the rate is absent, or below −80 dB of the strongest partial.
  it.each([
    ['saw', { osc1Shape: 1 }],
    ['pulse', { osc1Shape: PULSE, osc1Width: 23 }],
    ['triangle', { osc1Shape: TRIANGLE }],
    ['waves', { osc1Shape: WAVES, osc1Position: 100 }],
  ])('alias below −80 dB at key 108: %s', (_, params) => {
    const { left } = play(synth(params), 108, 2.5);
    const { alias, most } = besideHarmonics(left, hzOf(108));
    expect(
      figure('oscillators: loudest alias', db(alias / most), 'dB of the loudest partial', 'sums that are band-limited'),
    ).toBeLessThan(-80);
    expect(db(most)).toBeGreaterThan(-30);
  });

  // 12-tone equal temperament, A4 = 440 Hz.
  it.each([33, 60, 69, 96, 108])('are in tune to 0.1 cent at key %i', (key) => {
    const { left } = play(synth({ osc1Shape: SINE }), key, 1.6);
    expect(Math.abs(1200 * Math.log2(hzNear(left, hzOf(key)) / hzOf(key)))).toBeLessThan(0.1);
  });

  it('keep the waves that a held note reads while others are chosen: the old row fades, and nothing is read from what has taken its place', () => {
    const program = (table: string) =>
      compile(
        {
          ...newPatch('p', 'p'),
          layers: [{ ...newLayer('l', 'l', 's', markAt(0)), params: { osc1Shape: WAVES, osc1Position: 100 } }],
        },
        {
          sounds: [
            {
              ...newSound('s', 's'),
              kind: 'synth',
              waves: [
                { table, length: 0 },
                { table, length: 0 },
                { table, length: 0 },
              ],
            },
          ],
          samples: [],
          keyLow: 21,
          keyHigh: 108,
          rate: RATE,
        },
      );
    const engine = new Engine({ rate: RATE });
    const setProgram = (table: string) => {
      const made = program(table);
      for (const request of made.samples) engine.addSample(request.key, prepare(request));
      engine.setProgram(made);
    };
    const left = new Float32Array(128),
      right = new Float32Array(128);
    // Slopes of the output: a jump to other waves is as steep as nothing that they are made of.
    let last = 0;
    const steepest = (blocks: number) => {
      let most = 0;
      for (let b = 0; b < blocks; b++) {
        engine.process(left, right, 128);
        for (const x of left) {
          most = Math.max(most, Math.abs(x - last));
          last = x;
        }
      }
      return most;
    };
    setProgram(TABLES[0].id);
    engine.handle({ type: 'noteOn', channel: 1, key: 40, velocity: 100 });
    steepest(100);
    let usual = steepest(200);
    for (const { id } of TABLES.slice(1, 9)) {
      setProgram(id);
      const atChange = steepest(12);
      const then = steepest(200);
      expect(then).toBeGreaterThan(0.0005);
      expect(atChange).toBeLessThan(1.6 * Math.max(usual, then));
      usual = then;
    }
  });

  it('are moved by octaves, semitones and cents', () => {
    const { left } = play(synth({ osc1Shape: SINE, osc1Octave: -1, osc1Semitones: 7, osc1Cents: -50 }), 69, 1.6);
    const hz = 440 * 2 ** ((-12 + 7 - 0.5) / 12);
    expect(Math.abs(1200 * Math.log2(hzNear(left, hz) / hz))).toBeLessThan(0.1);
  });

  // Fourier series of a saw, a pulse of width w and a triangle: 2/(πn), 4·sin(πnw)/(πn)·½·2, 8/(πn)² for odd n.
  it('have the harmonics of their shapes', () => {
    const hz = hzOf(57);
    const level = 10 ** (-6 / 20) * Math.SQRT1_2;
    const of = (params: Record<string, number>) => {
      const { left } = play(synth(params), 57, 2.2);
      return [1, 2, 3, 5, 8].map((n) => amplitudeAt(left, n * hz));
    };
    of({ osc1Shape: 1 }).forEach((a, i) =>
      expect(db(a / (level * (2 / (Math.PI * [1, 2, 3, 5, 8][i]))))).toBeCloseTo(0, 1),
    );
    of({ osc1Shape: PULSE, osc1Width: 30 }).forEach((a, i) => {
      const n = [1, 2, 3, 5, 8][i];
      expect(db(a / (level * Math.abs((4 * Math.sin(Math.PI * n * 0.3)) / (Math.PI * n))))).toBeCloseTo(0, 1);
    });
    of({ osc1Shape: TRIANGLE }).forEach((a, i) => {
      const n = [1, 2, 3, 5, 8][i];
      if (n % 2) expect(db(a / (level * (8 / (Math.PI * n) ** 2)))).toBeCloseTo(0, 1);
      else expect(db(a / level)).toBeLessThan(-80);
    });
  });

  it('play the waves of a row as they are defined, and what lies between two of them', () => {
    const hz = hzOf(45);
    const row = spectraOf('vowels')!;
    for (const place of [0, 40, 100]) {
      const at = (place / 100) * (row.length - 1),
        w = Math.min(row.length - 2, Math.floor(at)),
        t = at - w;
      const { left } = play(
        synth(
          { osc1Shape: WAVES, osc1Position: place },
          {
            sound: {
              params: { osc1Shape: WAVES, osc1Position: place },
              waves: [0, 1, 2].map(() => ({ table: 'vowels', length: 0 })),
            },
          },
        ),
        45,
        2.2,
      );
      for (const n of [1, 2, 4, 9, 20]) {
        const s = row[w].sines[n] * (1 - t) + row[w + 1].sines[n] * t,
          c = row[w].cosines[n] * (1 - t) + row[w + 1].cosines[n] * t;
        const wanted = 2 * 10 ** (-6 / 20) * Math.SQRT1_2 * Math.hypot(s, c);
        if (db(wanted) > -60) expect(Math.abs(db(amplitudeAt(left, n * hz) / wanted))).toBeLessThan(0.1);
      }
    }
  });

  // M. Abramowitz, I. Stegun, Handbook of Mathematical Functions, table 9.1: J0(1) 0.7652, J1(1) 0.4401, J2(1) 0.1149.
  it('modulate each other’s phase: side bands as Bessel functions have them', () => {
    const { left } = play(
      synth({ osc1Shape: SINE, osc1From: 1, osc1PhaseMod: 1, osc3Shape: SINE, osc3Octave: -2 }),
      93,
      2.2,
    );
    const [fc, fm] = [hzOf(93), hzOf(69)];
    const level = 10 ** (-6 / 20) * Math.SQRT1_2;
    const carrier = Math.abs(amplitudeAt(left, fc) / level - 0.7652);
    expect(
      figure('frequency modulation: carrier at index 1', carrier, 'of J0', 'Abramowitz and Stegun, 9.1'),
    ).toBeLessThan(0.005);
    for (const side of [-1, 1]) {
      expect(amplitudeAt(left, fc + side * fm) / level).toBeCloseTo(0.4401, 2);
      expect(amplitudeAt(left, fc + 2 * side * fm) / level).toBeCloseTo(0.1149, 2);
    }
  });

  // Frequency modulation by a sine of depth d has the index d · carrier / modulator.
  it('modulate each other’s frequency: the index is the depth times the ratio', () => {
    const { left } = play(
      synth({ osc1Shape: SINE, osc1From: 0, osc1FrequencyMod: 0.25, osc2Shape: SINE, osc2Octave: -2 }),
      93,
      2.2,
    );
    const [fc, fm] = [hzOf(93), hzOf(69)];
    const level = 10 ** (-6 / 20) * Math.SQRT1_2;
    expect(amplitudeAt(left, fc) / level).toBeCloseTo(0.7652, 2);
    expect(amplitudeAt(left, fc + fm) / level).toBeCloseTo(0.4401, 2);
    expect(amplitudeAt(left, fc - 2 * fm) / level).toBeCloseTo(0.1149, 2);
  });

  it('ring: sum and difference, and nothing of the two themselves', () => {
    const { left } = play(
      synth({ osc1Shape: SINE, osc1Ring: 100, osc1From: 0, osc2Shape: SINE, osc2Semitones: -17 }),
      81,
      2.2,
    );
    const [a, b] = [hzOf(81), hzOf(64)];
    const level = 10 ** (-6 / 20) * Math.SQRT1_2;
    expect(amplitudeAt(left, a + b) / level).toBeCloseTo(0.5, 2);
    expect(amplitudeAt(left, a - b) / level).toBeCloseTo(0.5, 2);
    expect(db(amplitudeAt(left, a))).toBeLessThan(-80);
    expect(db(amplitudeAt(left, b))).toBeLessThan(-80);
  });

  it('begin anew with another one: the pitch is the other’s, and what would fold back stays 60 dB away', () => {
    const { left } = play(
      synth({ osc1Shape: 1, osc1Level: -60, osc2Shape: 1, osc2Level: -6, osc2Sync: 1, osc2Cents: 730 }),
      81,
      2.5,
    );
    const { alias, most } = besideHarmonics(left, hzOf(81));
    expect(db(alias / most)).toBeLessThan(-60);
    expect(db(amplitudeAt(left, hzOf(81)) / most)).toBeGreaterThan(-20);
    // Strongest near the pitch that it would have by itself.
    expect(amplitudeAt(left, 2 * hzOf(81))).toBeGreaterThan(0.02);
  });

  it('play in unison: as many lines as voices, as far apart as they say, together as loud as one', () => {
    const one = play(synth({ osc1Shape: SINE }), 81, 3);
    const { left, right } = play(synth({ osc1Shape: SINE, osc1Unison: 3, osc1Detune: 40, osc1Spread: 0 }), 81, 4);
    const level = 10 ** (-6 / 20) * Math.SQRT1_2;
    for (const cents of [-20, 0, 20])
      expect(amplitudeAt(left, hzOf(81) * 2 ** (cents / 1200), 24000, 131072) / level).toBeCloseTo(1 / Math.sqrt(3), 2);
    expect(Math.abs(db(rms(left, 24000) / rms(one.left, 24000)))).toBeLessThan(0.7);
    // Spread apart, the outer ones stand on either side.
    const spread = play(synth({ osc1Shape: SINE, osc1Unison: 2, osc1Detune: 40, osc1Spread: 100 }), 81, 4);
    expect(db(amplitudeAt(spread.right, hzOf(81) * 2 ** (-20 / 1200), 24000, 131072))).toBeLessThan(-60);
    expect(amplitudeAt(spread.left, hzOf(81) * 2 ** (-20 / 1200), 24000, 131072)).toBeGreaterThan(0.2);
    expect(right.some((x, i) => x !== left[i])).toBe(false);
  });

  it('have a sub an octave or two below, and noise that is darker or thinner', () => {
    const sub = (octave: number) => play(synth({ osc1Level: -60, subLevel: 0, subOctave: octave }), 69, 2.2).left;
    expect(amplitudeAt(sub(0), 220)).toBeCloseTo(Math.SQRT1_2, 2);
    expect(amplitudeAt(sub(1), 110)).toBeCloseTo(Math.SQRT1_2, 2);
    const share = (colour: number) => {
      const s = spectrumOf(play(synth({ osc1Level: -60, noiseLevel: -6, noiseColour: colour }), 69, 2.2).left);
      let low = 0,
        high = 0;
      s.forEach((a, k) => {
        if ((k * RATE) / 65536 < 2000) low += a * a;
        else high += a * a;
      });
      return db(low / high) / 2;
    };
    expect(share(-100)).toBeGreaterThan(share(0) + 10);
    expect(share(100)).toBeLessThan(share(0) - 10);
    // White: as much as its share of the band.
    expect(share(0)).toBeCloseTo(db(2000 / 22000) / 2, 0);
  });

  it('go to the first filter, to the second, or past them', () => {
    const layer = (path: number, filterPaths: number): KindSetup => ({
      layer: { params: { filterKind: 1, cutoff: 100, filter2Kind: 1, cutoff2: 440, filterPaths } },
      sound: { params: { osc1Shape: SINE, osc1Path: path } },
    });
    const level = (path: number, paths = 0) => db(rms(play(layer(path, paths), 81, 1).left, 24000));
    const plain = db(rms(play(synth({ osc1Shape: SINE }), 81, 1).left, 24000));
    expect(level(3)).toBeCloseTo(plain, 1);
    // In a row: through both it loses what each takes; the second alone takes less.
    expect(level(0)).toBeLessThan(plain - 30);
    expect(level(2)).toBeLessThan(plain - 5);
    expect(level(2)).toBeGreaterThan(level(0) + 10);
    expect(level(1)).toBeCloseTo(level(0), 1);
    // Side by side each way is heard by itself.
    expect(level(1, 1)).toBeLessThan(level(0, 1) - 15);
    expect(level(2, 1)).toBeCloseTo(level(2), 1);
  });

  // Feedback combs in a row: J. O. Smith, Physical Audio Signal Processing: peaks at n · rate / delay, here at the
  // comb's frequency and its multiples.
  it('sound through combs in a row, whose peaks are where they are set', () => {
    const { left } = play(
      synth(
        { osc1Level: -60, noiseLevel: 0 },
        {
          layer: {
            params: {
              filterKind: 11,
              cutoff: 500,
              resonance: 12,
              filter2Kind: 11,
              cutoff2: 700,
              resonance2: 12,
              combDamping: 0,
            },
          },
        },
      ),
      60,
      12,
    );
    // Mean spectrum, so that noise is even.
    const mean = new Float64Array(2048);
    for (let from = 24000; from + 4096 < left.length; from += 2048)
      spectrumOf(left, from, 4096).forEach((a, k) => {
        mean[k] += a * a;
      });
    const at = (hz: number) => mean[Math.round((hz * 4096) / RATE)];
    for (const hz of [500, 1000, 1500, 2000, 700, 1400, 2100]) {
      const around = [-4, -3, -2, 0, 2, 3, 4].map((bins) => at(hz + (bins * RATE) / 4096));
      expect(Math.max(...around)).toBe(Math.max(...around.slice(2, 5)));
      const near = Array.from({ length: 31 }, (_, i) => at(hz + (i - 15) * 10));
      expect(db(Math.max(...near) / Math.min(...near)) / 2).toBeGreaterThan(6);
    }
  });

  it('are heard the same however the output is cut, go on under a held note, and are the same for the same seed', () => {
    const setup = synth({
      osc1Unison: 4,
      osc2Level: -8,
      osc2Shape: PULSE,
      osc2Sync: 1,
      osc2Cents: 300,
      osc3Level: -12,
      osc1From: 1,
      osc1PhaseMod: 1.4,
      osc3From: 0,
      osc3PhaseMod: 2,
      noiseLevel: -20,
    });
    const events = [
      { at: 0.2, event: { type: 'bend' as const, channel: 1, bend: 0.7 } },
      { at: 0.31, event: { type: 'noteOn' as const, channel: 1, key: 52, velocity: 90 } },
    ];
    const whole = play(setup, 48, 0.6, events, 4800);
    const cut = play(setup, 48, 0.6, events, 77);
    expect(cut.left.every((x, i) => x === whole.left[i])).toBe(true);
    expect(whole.left.some((x) => Number.isNaN(x))).toBe(false);
  });

  it('follow routes: a macro opens the row of waves without a click', () => {
    const route = newRoute('r', 'macro.1', 'layer.l.osc1Position', 1);
    const { left } = play(
      synth(
        { osc1Shape: WAVES },
        {
          patch: {
            macros: [{ number: 1, name: 'open', value: 0, style: 'strip' }],
            routes: [route],
          } as KindSetup['patch'],
        },
      ),
      45,
      1.2,
      [{ at: 0.5, event: { type: 'macro', number: 1, value: 1 } }],
    );
    const bright = (from: number) => {
      const s = spectrumOf(left, from, 8192);
      let high = 0;
      for (let k = Math.round((2000 * 8192) / RATE); k < 4096; k++) high += s[k] ** 2;
      return high;
    };
    expect(db(bright(36000) / bright(8000)) / 2).toBeGreaterThan(20);
    // No step larger than the end of the way has by itself.
    const step = (from: number, to: number) => {
      let most = 0;
      for (let i = from + 1; i < to; i++) most = Math.max(most, Math.abs(left[i] - left[i - 1]));
      return most;
    };
    expect(step(23000, 32000)).toBeLessThan(1.15 * step(44000, 56000));
  });
});
