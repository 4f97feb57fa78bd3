import { prepare } from '../formats/prepare';
import { writeWav } from '../formats/wav';
import { markAt, newEffect, newGroup, newLayer, newPatch, newPool, newRig, newSound, newZone } from '../rig/defaults';
import type { Patch, Rig } from '../rig/schema';
import { renderStems, type Stems } from './stems';
import { figure } from '../../../tests/kit/figure';

const RATE = 48000;
const wav = writeWav(
  {
    rate: RATE,
    channels: 1,
    data: Float32Array.from({ length: RATE }, (_, n) => 0.2 * Math.sin((2 * Math.PI * 440 * n) / RATE)),
  },
  { encoding: 'float32' },
);
const patch = (more: Partial<Patch> = {}): Patch => ({
  ...newPatch('p', 'P'),
  layers: [
    newLayer('a', 'A', 's', markAt(0)),
    { ...newLayer('b', 'B', 's', markAt(1)), transpose: 7, groupId: 'g', effects: [newEffect('t', 'tilt')] },
    { ...newLayer('c', 'C', 's', markAt(2)), transpose: 12, groupId: 'g' },
  ],
  groups: [{ ...newGroup('g', 'Upper', markAt(3)), effects: [newEffect('comp', 'compressor')] }],
  pools: [newPool('hall', 'Hall', [newEffect('room', 'reverb')])],
  connections: [{ id: 'send', kind: 'send', from: 'layer.a', to: 'pool.hall', level: -6, on: true, tap: 'after' }],
  ...more,
});
const rig: Rig = {
  ...newRig('r', 'R'),
  samples: [{ id: 'sine', name: 'sine.wav', rate: RATE, channels: 1, frames: RATE }],
  sounds: [
    newSound('s', 'Sine', [
      { ...newZone('sine', 69), key: { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' } },
    ]),
  ],
};
const take = {
  seconds: 0.8,
  events: [60, 64].flatMap((key, n) => [
    { at: 0.2 * n, event: { type: 'noteOn' as const, channel: 1, key, velocity: 100 } },
    { at: 0.6, event: { type: 'noteOff' as const, channel: 1, key, velocity: 64 } },
  ]),
};
const made = (of: Patch) => renderStems(rig, of, take, (request) => prepare(request, wav), { tail: 0.5 });
const power = (x: Float32Array) => 10 * Math.log10(x.reduce((sum, y) => sum + y * y, 1e-20));
function restDb({ whole, stems }: Stems): number {
  const rest = whole.left.slice();
  for (const { left } of stems) for (let i = 0; i < rest.length; i++) rest[i] -= left[i];
  return power(rest) - power(whole.left);
}

test('files for layers, groups’ effects, returns and main sum to the whole within −90 dB', () => {
  const stems = made(patch({ main: { level: -3, width: 100, effects: [newEffect('sat', 'saturation')] } }));
  expect(stems.stems.map(({ kind, name }) => `${kind} ${name}`)).toEqual([
    'layer A',
    'layer B',
    'layer C',
    'group Upper effects',
    'return Hall return',
    'main main',
  ]);
  expect(figure('stems: what their sum lacks of the whole', restDb(stems), 'dB', 'the whole')).toBeLessThan(-90);
  // Main's chain does something, and so does everything else.
  for (const { left } of stems.stems) expect(power(left)).toBeGreaterThan(-40);
});

test('without a chain main changes nothing, and a group without effects neither', () => {
  const stems = made(patch({ groups: [newGroup('g', 'Upper', markAt(3))] }));
  expect(restDb(stems)).toBeLessThan(-90);
  const of = (kind: string) => stems.stems.find((stem) => stem.kind === kind)!;
  expect(power(of('main').left) - power(stems.whole.left)).toBeLessThan(-90);
  expect(power(of('group').left) - power(stems.whole.left)).toBeLessThan(-90);
});

test('it can be given up', () => {
  expect(() => renderStems(rig, patch(), take, (request) => prepare(request, wav), { told: () => false })).toThrow(
    'given up',
  );
});
