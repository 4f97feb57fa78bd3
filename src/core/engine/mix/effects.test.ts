import { EFFECTS } from '../../effects';
import { newEffect } from '../../rig/defaults';
import type { EffectSpec } from '../../rig/schema';
import { largest, make, off, on, RATE, render, start, TONE } from '../../../../tests/kit/engine';
import { prepareSample, type Audio } from '../../dsp/sample';
import { Engine } from '../engine';

const effect = (
  id: string,
  kind: string,
  params: Record<string, number> = {},
  more: Partial<EffectSpec> = {},
): EffectSpec => ({ ...newEffect(id, kind), params, ...more });
const played = (effects: EffectSpec[], block: number, frames = RATE / 4) => {
  const engine = start({ audio: TONE, layers: [{ effects }] });
  engine.handle(on());
  engine.handle(off(), 7000);
  return render(engine, frames, block).left;
};

describe.each(EFFECTS.map(({ id, latency }) => [id, latency?.(RATE) ?? 0] as const))(
  '%s in a layer',
  (kind, latency) => {
    test('the same bits however the output is cut', () => {
      const whole = played([effect('e', kind)], RATE / 4);
      expect(played([effect('e', kind)], 128)).toEqual(whole);
      expect(played([effect('e', kind)], 77)).toEqual(whole);
    });
    test('off, everything passes bit by bit, as late as it is on', () => {
      const plain = played([], 512);
      const passed = played([effect('e', kind, {}, { on: false })], 512);
      for (let i = 0; i < plain.length - latency; i += 1)
        if (passed[i + latency] !== plain[i]) expect([i, passed[i + latency]]).toEqual([i, plain[i]]);
    });
  },
);

test('paths of different lateness meet to the sample', () => {
  // One half through a limiter that never works, the other as it is: together twice as loud, and nothing else.
  const patch = (to: string) => ({
    groups: [],
    connections: [
      { id: 'o', kind: 'output' as const, from: 'layer.l0', to: 'main', level: 0, on: true, tap: 'after' as const },
      { id: 's', kind: 'send' as const, from: 'layer.l0', to, level: 0, on: true, tap: 'after' as const },
    ],
  });
  const late = start({
    audio: TONE,
    layers: [{ params: { level: -20 } }],
    patch: {
      ...patch('pool.p'),
      pools: [{ id: 'p', name: 'p', on: true, effects: [effect('e', 'limiter', { ceiling: -0.1 })], params: {} }],
    },
  });
  const plain = start({ audio: TONE, layers: [{ params: { level: -20 } }] });
  late.handle(on());
  plain.handle(on());
  const extra = late.latency - plain.latency;
  expect(extra).toBe(48);
  const both = render(late, RATE / 4).left;
  const one = render(plain, RATE / 4).left;
  for (let i = 2000; i < RATE / 4 - extra; i++) expect(Math.abs(both[i + extra] - 2 * one[i])).toBeLessThan(1e-6);
});

test('a side chain: one layer turns another down', () => {
  const layers = (listens: string | null) => [
    {
      effects: [effect('c', 'compressor', { threshold: -8, ratio: 20, knee: 0, attack: 0.001 }, { listens })],
      params: { level: -20 },
    },
    { params: { level: 6 } },
  ];
  const alone = (listens: string | null) => {
    const engine = start({ audio: TONE, layers: layers(listens) });
    engine.handle(on());
    engine.handle({ type: 'listen', to: { kind: 'place', id: 'layer.l0' } });
    return largest(render(engine, RATE / 2).left.subarray(RATE / 4));
  };
  expect(20 * Math.log10(alone('l1') / alone(null))).toBeLessThan(-4);
});

test('a recording is worked with as soon as it has come', () => {
  const impulse: Audio = {
    rate: RATE,
    channels: 1,
    data: Float32Array.from({ length: 4800 }, (_, i) => (i === 2400 ? 1 : 0)),
  };
  const { program } = make({
    audio: TONE,
    layers: [{ effects: [effect('v', 'convolution', { mix: 100, lowCut: 20 }, { sampleId: 'w' })] }],
  });
  const engine = new Engine({ rate: RATE });
  engine.setProgram(program);
  for (const { key, loop, levels, reverse } of program.samples)
    engine.addSample(key, prepareSample(key.startsWith('impulse') ? impulse : TONE, loop, levels, reverse));
  engine.handle(on());
  const { left } = render(engine, RATE / 4);
  expect(largest(left.subarray(0, 2200))).toBeLessThan(1e-4);
  expect(largest(left.subarray(4000))).toBeGreaterThan(0.2);
});
