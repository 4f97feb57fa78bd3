import { prepareSample } from '../../dsp/sample';
import { EFFECTS } from '../../effects';
import { markAt, newLayer, newPatch, newSound, newZone } from '../../rig/defaults';
import { groupLayers, updateGroup } from '../../rig/edits/groups';
import { addEffect, addPool, addSend, deleteEffect, updateEffect } from '../../rig/edits/mix';
import { effectsIn } from '../../rig/mix';
import type { Patch } from '../../rig/schema';
import { compile } from '../program/compile';
import { Engine } from '../engine';

const RATE = 48000;
const audio = {
  rate: RATE,
  channels: 1 as const,
  data: Float32Array.from({ length: 3 * RATE }, (_, i) => 0.2 * Math.sin((2 * Math.PI * 220 * i) / RATE)),
};
const sound = newSound('s', 's', [
  { ...newZone('w', 60), key: { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' } },
]);
const samples = [{ id: 'w', name: 'w', rate: RATE, channels: 1 as const, frames: audio.data.length }];
const layered = (level: number): Patch => ({
  ...newPatch('p', 'p'),
  layers: [
    { ...newLayer('a', 'a', 's', markAt(0)), params: { level } },
    { ...newLayer('b', 'b', 's', markAt(1)), params: { level: level / 2, pan: 0.4 } },
  ],
});

/** A held note, with edits at some frames; left and right one after the other. */
function render(patches: readonly [number, Patch][], cut = 480): Float32Array {
  const engine = new Engine({ rate: RATE, maxVoices: 16 });
  const out = new Float32Array(2 * RATE);
  const left = new Float32Array(cut),
    right = new Float32Array(cut);
  for (let at = 0; at < RATE; at += cut) {
    for (const [, patch] of patches.filter(([frame]) => frame >= at && frame < at + cut)) {
      const program = compile(patch, { sounds: [sound], samples, keyLow: 21, keyHigh: 108, rate: RATE });
      for (const { key, loop, levels, reverse } of program.samples)
        engine.addSample(key, prepareSample(audio, loop, levels, reverse));
      engine.setProgram(program);
      if (at === 0) engine.handle({ type: 'noteOn', channel: 1, key: 60, velocity: 100 });
    }
    engine.process(left, right, cut);
    out.set(left, at);
    out.set(right, RATE + at);
  }
  return out;
}
/** Greatest difference of two renderings, against the greatest sample, in per cent. */
const apart = (a: Float32Array, b: Float32Array): number =>
  (100 * a.reduce((most, x, i) => Math.max(most, Math.abs(x - b[i])), 0)) /
  b.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
/** One that changes nothing: switched off from the beginning. */
const still = (patch: Patch, place: string): Patch => {
  const added = addEffect(patch, place, 'equaliser')!;
  return updateEffect(added.patch, added.id, { on: false });
};
const without = (patch: Patch): Patch =>
  effectsIn(patch).reduce((left, { effect }) => deleteEffect(left, effect.id), patch);

test.each([-24, -12, -3, 0, 6])(
  'the first effect of a layer at %i dB is not heard by itself, nor is its going',
  (level) => {
    const plain = layered(level);
    const withOne = still(plain, 'layer.a');
    const whole = render([[0, plain]]);
    expect(
      apart(
        render([
          [0, plain],
          [9600, withOne],
        ]),
        whole,
      ),
    ).toBeLessThan(0.01);
    expect(
      apart(
        render([
          [0, withOne],
          [9600, plain],
        ]),
        whole,
      ),
    ).toBeLessThan(0.01);
    expect(
      apart(
        render([
          [0, plain],
          [4800, withOne],
          [9600, plain],
          [10080, withOne],
        ]),
        whole,
      ),
    ).toBeLessThan(0.01);
  },
);

test.each([-18, -6, 4])('the same for a group at %i dB', (level) => {
  const plain = updateGroup(groupLayers(layered(-4), ['a', 'b'], 'g', 'G'), 'g', (group) => ({
    ...group,
    params: { level },
  }));
  const withOne = still(plain, 'group.g');
  const whole = render([[0, plain]]);
  expect(
    apart(
      render([
        [0, plain],
        [9600, withOne],
      ]),
      whole,
    ),
  ).toBeLessThan(0.01);
  expect(
    apart(
      render([
        [0, withOne],
        [9600, plain],
      ]),
      whole,
    ),
  ).toBeLessThan(0.01);
});

test('an effect that leaves goes on as it was fed: nothing of its tail jumps', () => {
  for (const level of [-18, 6]) {
    const plain = layered(level);
    const added = addEffect(plain, 'layer.a', 'reverb')!;
    const gone = without(added.patch);
    const leaving = render([
      [0, added.patch],
      [24000, gone],
    ]);
    const steady = render([[0, added.patch]]);
    // While it fades, what comes out lies between what it was and the layer alone.
    const peak = (of: Float32Array) => of.subarray(24000, 26400).reduce((most, x) => Math.max(most, Math.abs(x)), 0);
    expect(peak(leaving)).toBeLessThan(1.05 * Math.max(peak(steady), peak(render([[0, plain]]))));
  }
});

test.each([-24, -6, 6])('what is tapped before the strip of a layer at %i dB does not jump either', (level) => {
  const pooled = addPool(layered(level), 'pool', 'equaliser')!.patch;
  const sent = addSend(pooled, 'layer.a', 'pool.pool');
  const plain = {
    ...sent,
    connections: sent.connections.map((each) => ({ ...each, level: 0, tap: 'before' as const })),
  };
  expect(plain.connections).toHaveLength(1);
  const withOne = still(plain, 'layer.a');
  const ringing = addEffect(plain, 'layer.a', 'reverb')!.patch;
  const steepest = (of: Float32Array) =>
    of.subarray(0, RATE).reduce((most, x, i) => (i > 0 ? Math.max(most, Math.abs(x - of[i - 1])) : most), 0);
  // A reverb that comes in begins with its own first echo.
  const ways: [Patch, Patch][] = [
    [plain, withOne],
    [withOne, plain],
    [ringing, plain],
  ];
  for (const [before, after] of ways) {
    const edits: [number, Patch][] = [
      [0, before],
      [9600, after],
    ];
    const edited = render(edits);
    const steady = Math.max(steepest(render([[0, before]])), steepest(render([[0, after]])));
    expect(steepest(edited)).toBeLessThan(1.1 * steady);
    expect(apart(render(edits, 32), edited)).toBe(0);
  }
});

test('the same bits however the output is cut, every kind in turn', () => {
  for (const { id } of EFFECTS.slice(0, 8)) {
    const plain = layered(-9);
    const edits: [number, Patch][] = [
      [0, plain],
      [9600, addEffect(plain, 'layer.a', id)!.patch],
      [19200, plain],
    ];
    expect(apart(render(edits, 96), render(edits, 480))).toBe(0);
  }
});
