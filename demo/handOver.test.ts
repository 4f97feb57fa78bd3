import { createHash } from 'node:crypto';
import { bounce, differenceDb, played, settings } from '../src/core/bounce/bouncing';
import { mergePatches, samplesUsed } from '../src/core/rig/edits/merge';
import { faultOf, readRig } from '../src/core/rig/read';
import { demoRig } from './rig';

const ids = () => {
  let n = 0;
  return () => `new-${++n}`;
};
const demo = demoRig((bytes) => createHash('sha256').update(bytes).digest('hex'), 'small');

test('Low Water bounced differs from the live patch by less than −60 dB at the keys that were struck', async () => {
  const rig = {
    ...demo.rig,
    patches: demo.rig.patches.filter(({ name }) => name === 'Low Water'),
    setlists: [],
    setlist: null,
  };
  expect(rig.patches).toHaveLength(1);
  const chosen = settings({ keys: [48, 60], low: 36, high: 72, velocities: [90], seconds: 0.8, longestTail: 1 });
  const made = await bounce(rig, chosen, demo.wavs);
  for (const key of chosen.keys) {
    const live = played(made.rig, rig.patches[0].id, made.wavs, key, 90, 0.8, 0);
    const again = played(made.rig, 'bounced', made.wavs, key, 90, 0.8, 0);
    expect(differenceDb(live, again, 0.75)).toBeLessThan(-60);
  }
});

test('the demo merged into itself doubles its patches and none of its sounds; every part still fits', () => {
  const { rig } = demo;
  const merged = mergePatches(
    rig,
    rig,
    rig.patches.map(({ id }) => id),
    ids(),
  );
  expect(faultOf(merged.rig)).toBeUndefined();
  expect(() => readRig(JSON.parse(JSON.stringify(merged.rig)))).not.toThrow();
  expect([merged.rig.patches.length, merged.rig.sounds.length, merged.rig.samples.length]).toEqual([
    2 * rig.patches.length,
    rig.sounds.length,
    rig.samples.length,
  ]);
  expect(new Set(merged.rig.patches.map(({ id }) => id)).size).toBe(merged.rig.patches.length);
  expect(samplesUsed(merged.rig)).toEqual(samplesUsed(rig));
});
