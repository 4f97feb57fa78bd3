import fc from 'fast-check';
import { newZone, fullWindow } from '../../src/core/rig/defaults';
import type { Zone } from '../../src/core/rig/schema';
import { readSfz } from '../../src/core/formats/sfzRead';
import { type SfzSample } from '../../src/core/formats/sfzZone';

/** SFZ v1 opcode list as documented by sfzformat; semantics opcode by opcode. */
export const sample = (path: string): SfzSample | undefined =>
  path.endsWith('.wav')
    ? {
        sampleId: path,
        frames: 1000,
        root: 62,
        tuneCents: -5,
        loop: path.includes('looped') ? { start: 100, end: 900 } : null,
      }
    : undefined;
export const read = (text: string, files: Record<string, string> = {}) =>
  readSfz(text, 'test.sfz', (path) => files[path], sample);

export const edge = (least: number) =>
  fc
    .record({
      low: fc.integer({ min: least, max: 127 }),
      high: fc.integer({ min: least, max: 127 }),
      fadeIn: fc.integer({ min: 0, max: 20 }),
      fadeOut: fc.integer({ min: 0, max: 20 }),
      shape: fc.constantFrom('linear' as const, 'root' as const),
    })
    .map(({ low, high, fadeIn, fadeOut, shape }) => {
      const [a, b] = [Math.min(low, high), Math.max(low, high)];
      const f = { low: a, high: b, fadeIn: Math.min(fadeIn, b - a), fadeOut: Math.min(fadeOut, b - a) };
      return { ...f, shape: f.fadeIn + f.fadeOut > 0 ? shape : ('sine' as const) };
    });
export const zones: fc.Arbitrary<Zone> = fc
  .record({
    root: fc.integer({ min: 0, max: 127 }),
    tune: fc.integer({ min: -1200, max: 1200 }),
    pitchPerKey: fc.constantFrom(100, 100, 50, 0),
    gain: fc.integer({ min: -960, max: 60 }).map((x) => x / 10),
    pan: fc.integer({ min: -100, max: 100 }).map((x) => x / 100),
    key: edge(0),
    velocity: edge(1),
    start: fc.integer({ min: 0, max: 400 }),
    end: fc.option(fc.integer({ min: 500, max: 999 })),
    reverse: fc.boolean(),
    loop: fc.option(
      fc.record({
        start: fc.integer({ min: 0, max: 400 }),
        end: fc.integer({ min: 500, max: 1000 }),
        crossfade: fc.constant(0),
        until: fc.constantFrom('end' as const, 'release' as const),
      }),
    ),
    choke: fc.option(
      fc.record({
        group: fc.integer({ min: 1, max: 9 }),
        by: fc.option(fc.integer({ min: 1, max: 9 })),
        fade: fc.constantFrom('fast' as const, 'release' as const),
      }),
    ),
    windows: fc.constantFrom<Zone['windows']>(
      [],
      [{ ...fullWindow('cc.11'), low: 20, high: 90, fadeIn: 10, fadeOut: 5, shape: 'root' }],
      [
        { ...fullWindow('cc.1'), high: 63 },
        { ...fullWindow('cc.2'), low: 9, read: 'at-strike' },
        { ...fullWindow('random.8'), low: 0.5 },
      ],
    ),
    params: fc.constantFrom<Zone['params']>(
      {},
      { attack: 0.25, sustain: -60, release: 4 },
      { cutoff: 1234.5, resonance: 3, keyTrack: 50, velocityTrack: -12 },
      { lowCut: 200, velocityToLevel: 30 },
      { delay: 1, hold: 2, startLevel: 10, bendRange: 7 },
    ),
  })
  .map((values) => ({ ...newZone('a.wav', 60), ...values, trigger: 'attack' as const }));
