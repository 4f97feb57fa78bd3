import { loudnessOf } from '../../../measure/loudness';
import { levelled, lengthOfWaves, spectraOf, spectraOfRecording, TABLES } from '../../../sounds/synth/tables';
import { TABLE_IDS } from '../../../sounds/synth/tableIds';
import { spectrumOf as spectrumOfCycle, valueOf, waveSetOf, WAVE_GUARD } from '../../../dsp/waves';
import { db, play, RATE } from '../../../../../tests/kit/kinds';
import { WAVES } from '../../../../../tests/kit/synth';

describe('rows of waves', () => {
  it('come in sixteen or more, of thirty-two waves each, none beyond full scale, and their ends differ', () => {
    expect(TABLES.length).toBeGreaterThanOrEqual(16);
    for (const { id } of TABLES) {
      const row = spectraOf(id)!;
      expect(row.length).toBeGreaterThanOrEqual(32);
      for (const w of [0, 8, 16, 24, 31]) {
        let peak = 0;
        for (let i = 0; i < 512; i++) peak = Math.max(peak, Math.abs(valueOf(row[w], i / 512, 128)));
        expect(peak).toBeLessThan(1);
        expect(peak).toBeGreaterThan(0.15);
      }
      // Audibly: some octave of harmonics differs by 6 dB or more between the ends.
      const octave = (w: number, n: number) => {
        let power = 1e-6;
        for (let h = 2 ** n; h < 2 ** (n + 1) && h < row[w].sines.length; h++)
          power += row[w].sines[h] ** 2 + row[w].cosines[h] ** 2;
        return db(power) / 2;
      };
      expect(Math.max(...[0, 1, 2, 3, 4, 5].map((n) => Math.abs(octave(0, n) - octave(31, n))))).toBeGreaterThan(6);
    }
  });

  it('are equally loud within 2 LU', () => {
    const loudness = TABLES.flatMap(({ id }) =>
      [0, 50, 100].map((place) => {
        const { left, right } = play(
          {
            sound: {
              params: { osc1Shape: WAVES, osc1Position: place },
              waves: [0, 1, 2].map(() => ({ table: id, length: 0 })),
            },
          },
          60,
          1,
        );
        return loudnessOf([left, right], RATE)!;
      }),
    );
    expect(Math.max(...loudness) - Math.min(...loudness)).toBeLessThan(2);
  });

  it('are read as their spectra say, at every copy', () => {
    const spectrum = spectrumOfCycle(
      Float64Array.from(
        { length: 1024 },
        (_, i) =>
          Math.sin((2 * Math.PI * i) / 1024) +
          0.4 * Math.cos((2 * Math.PI * 7 * i) / 1024) -
          0.2 * Math.sin((2 * Math.PI * 33 * i) / 1024),
      ),
      64,
    );
    const set = waveSetOf([spectrum, spectrum], 64);
    for (const { harmonics, size, first } of set.levels) {
      const at = first + size + WAVE_GUARD;
      for (const i of [0, 1, size >> 2, size - 1]) {
        const value = set.data[at + i] + 4 * set.data[at + i + 1] + set.data[at + i + 2];
        expect(value).toBeCloseTo(valueOf(spectrum, i / size, harmonics), 4);
      }
    }
  });

  it('come from a recording: frames of a length that is given or found', () => {
    expect([2048 * 16, 1024 * 5, 3000].map(lengthOfWaves)).toEqual([2048, 1024, 3000]);
    const data = Float32Array.from({ length: 2048 * 4 }, (_, i) =>
      Math.sin((2 * Math.PI * (1 + Math.floor(i / 2048)) * i) / 2048),
    );
    const rows = spectraOfRecording(data, 1, 0);
    expect(rows).toHaveLength(4);
    rows.forEach((row, w) => {
      const sizes = Array.from(row.sines, (s, h) => Math.hypot(s, row.cosines[h]));
      expect(sizes.indexOf(Math.max(...sizes))).toBe(w + 1);
    });
    expect(spectraOfRecording(data, 1, 4096)).toHaveLength(2);
    expect(spectraOfRecording(new Float32Array(2048 * 200), 1, 2048)).toHaveLength(64);
    expect(levelled(rows[0]).sines[1]).toBeCloseTo(rows[0].sines[1], 6);
  });
});

test('the rows that come along are those that are named, in their order', () =>
  expect(TABLES.map(({ id }) => id)).toEqual(TABLE_IDS));
