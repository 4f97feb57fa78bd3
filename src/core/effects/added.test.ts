/** What an effect does to a patch the moment it is added: nothing may jump. */
import { addEffect, addPool } from '../rig/edits/mix';
import { markAt, newLayer, newPatch } from '../rig/defaults';
import { loudnessOf } from '../measure/loudness';
import { EFFECTS, effectKind } from './index';
import { effectForPicture } from './picture';

const RATE = 48000;
const patch = { ...newPatch('p', 'p'), layers: [newLayer('l', 'l', 's', markAt(0))] };

/** Struck tones over a soft chord, about as loud as a patch is. */
function playing(seconds: number): Float32Array {
  return Float32Array.from({ length: Math.round(seconds * RATE) }, (_, i) => {
    const t = i / RATE;
    const since = t % 0.5;
    const chord = [220, 277.2, 329.6, 440].reduce((sum, hz, n) => sum + Math.sin(2 * Math.PI * hz * t + n), 0) / 4;
    const strike =
      Math.exp(-6 * since) *
      [1, 2, 3, 4, 5, 6, 7].reduce((sum, n) => sum + Math.sin(2 * Math.PI * n * 196 * since) / n, 0);
    return 0.08 * chord + 0.12 * strike * Math.min(1, since / 0.002);
  });
}

/** The signal through an effect as it stands in a chain. */
function through(kindId: string, values: Readonly<Record<string, number>>): Float32Array {
  const { effect } = effectForPicture(kindId, values, [], 120);
  const kind = effectKind(kindId);
  const mix = (values.mix ?? kind.parameters.mix.default) / 100;
  const left = playing(3),
    dry = left.slice(),
    right = left.slice();
  for (let at = 0; at < left.length; at += 32) effect.process(left, right, at, at + 32);
  const late = kind.latency?.(RATE) ?? 0;
  return left.map((x, i) => x * mix + (i >= late ? dry[i - late] : 0) * (1 - mix));
}
const lufs = (x: Float32Array): number => loudnessOf([x, x], RATE);

test.each(EFFECTS.map(({ id }) => id))(
  '%s: added to a layer, it changes neither the whole nor the first moments by more than 3 LU',
  (id) => {
    // A reverb of a recording that is not there yet is silent, and says so.
    if (effectKind(id).impulse) return;
    const added = addEffect(patch, 'layer.l', id)!;
    const { params } = added.patch.layers[0].effects[0];
    const before = playing(3),
      after = through(id, params);
    expect(Math.abs(lufs(after) - lufs(before))).toBeLessThan(3);
    const first = (x: Float32Array) =>
      10 * Math.log10(x.subarray(0, RATE / 20).reduce((sum, y) => sum + y * y, 0) + 1e-12);
    // What is left of the sound itself beside 30 % of an effect that answers later: 20·log10(0.7) = −3.1 dB.
    expect(Math.abs(first(after) - first(before))).toBeLessThan(3.2);
  },
);

test('an effect of space begins at 30 % in a chain, and as a shared effect at 100 %', () => {
  for (const { id, family } of EFFECTS) {
    if (!['reverb', 'convolution', 'echo'].includes(id)) continue;
    expect(family).toBe('space');
    const inChain = addEffect(patch, 'main', id)!.patch.main.effects[0];
    const shared = addPool(patch, 'pool', id)!.patch.pools[0].effects[0];
    expect(inChain.params.mix ?? effectKind(id).parameters.mix.default).toBe(30);
    expect(shared.params.mix ?? effectKind(id).parameters.mix.default).toBe(100);
  }
});
