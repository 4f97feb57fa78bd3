import { fullWindow, newEffect, markAt, newGroup, newLayer, newPatch, newRoute } from '../rig/defaults';
import { handJobs, whatItMoves } from '../rig/hands';
import { prepareSample } from '../dsp/sample';
import { plainTake } from '../music/plainTake';
import { Engine } from '../engine/engine';
import { playTake } from '../engine/offline/playTake';
import { largest, make, RATE, TONE } from '../../../tests/kit/engine';
import { costsOf } from './cost';
import { loudnessOf } from './loudness';
import { rehearse } from './rehearse';

/** A clock that goes on by a millisecond each time that it is asked. */
const ticking = () => {
  let now = 0;
  return () => ++now;
};
const { program } = make({
  audio: TONE,
  layers: [
    { params: { level: -12, velocityToLevel: 0, release: 0.05 }, effects: [newEffect('e', 'reverb')] },
    { windows: [{ ...fullWindow('key'), high: 1 }, fullWindow('velocity')] },
  ],
});
const samples = program.samples.map(({ key, loop, levels, reverse }) => ({
  key,
  sample: prepareSample(TONE, loop, levels, reverse),
}));
const note = {
  name: 'one note',
  seconds: 6,
  events: [
    { at: 0.1, event: { type: 'noteOn' as const, channel: 1, key: 60, velocity: 100 } },
    { at: 5.9, event: { type: 'noteOff' as const, channel: 1, key: 60, velocity: 64 } },
  ],
};

test('a rehearsal tells what the take does, as it is measured apart', () => {
  const found = rehearse(program, samples, note, ticking(), { program, samples });
  expect(found).toMatchObject({ missing: 0, voices: 1 });
  expect(found.limiterDb).toBeCloseTo(0, 3);
  const engine = new Engine({ rate: RATE });
  for (const { key, sample } of samples) engine.addSample(key, sample);
  engine.setProgram(program);
  const { left, right } = playTake(engine, note, 1.5);
  expect(found.lufs!).toBeCloseTo(loudnessOf([left, right], RATE), 6);
  expect(found.peakDb!).toBeCloseTo(20 * Math.log10(Math.max(largest(left), largest(right))), 3);
  expect(found.truePeakDb!).toBeGreaterThanOrEqual(found.peakDb! - 0.01);
  expect(found.switchMs).toBe(1);
});
test('what is missing is counted, and silence is told as none', () => {
  const found = rehearse(program, [], note, ticking());
  expect(found).toMatchObject({ lufs: null, peakDb: null, missing: program.samples.length, voices: 0 });
});
test('costs are told for each effect and for a voice of each layer; what cannot sound costs nothing', () => {
  let now = 0;
  const costs = costsOf(program, samples, () => (now += 10));
  expect(costs.effects.map(({ id, label }) => [id, label])).toEqual([['e', 'reverb']]);
  expect(costs.effects[0].share).toBeGreaterThan(0);
  expect(costs.voices).toHaveLength(program.layers.length);
  expect(costs.voices[1] ?? 0).toBe(0);
});
test('the take for patches without one stays on the keys that there are', () => {
  const keys = plainTake(48, 72).events.flatMap(({ event }) => (event.type === 'noteOn' ? [event.key] : []));
  expect(Math.min(...keys)).toBe(48);
  expect(Math.max(...keys)).toBe(72);
  expect(plainTake(48, 72).events.every(({ at }, i, all) => i === 0 || at >= all[i - 1].at)).toBe(true);
});

describe('what wheels and pedals do, in words', () => {
  const layer = newLayer('a', 'Keys', 's', markAt(0));
  const bass = { ...newLayer('b', 'Bass', 's', markAt(1)), receive: { ...layer.receive, sustain: false } };
  test('the pedal holds those who hear it', () => {
    expect(handJobs({ ...newPatch('p', 'P'), layers: [layer, bass] })).toEqual([
      { source: 'cc.64', label: expect.stringContaining('sustain') as unknown, does: 'holds Keys' },
    ]);
    expect(handJobs({ ...newPatch('p', 'P'), layers: [layer] })[0].does).toBe('holds all');
    expect(handJobs({ ...newPatch('p', 'P'), layers: [bass] })).toEqual([]);
  });
  test('routes and windows are named, also those of groups', () => {
    const window = {
      source: 'cc.4',
      low: 0,
      high: 127,
      fadeIn: 0,
      fadeOut: 0,
      shape: 'sine' as const,
      read: 'always' as const,
    };
    const patch = {
      ...newPatch('p', 'P'),
      layers: [{ ...bass, windows: [...bass.windows, window] }],
      groups: [newGroup('g', 'G', markAt(2))],
      routes: [
        newRoute('r', 'cc.1', 'layer.b.cutoff', 0.2),
        { ...newRoute('q', 'cc.2', 'layer.b.pan', 0.2), on: false },
      ],
    };
    expect(handJobs(patch).map(({ source, does }) => [source, does])).toEqual([
      ['cc.1', 'high cut of Bass'],
      ['cc.4', 'brings in Bass'],
    ]);
    expect(whatItMoves(patch, 'cc.2')).toBe('');
  });
});
