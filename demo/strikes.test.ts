/**
 * The same strike again and again, each after a long silence: what slept wakes as it is meant to be, and without
 * effects is truly without.
 */
import { withoutEffects } from '../src/core/rig/mix';
import type { Patch } from '../src/core/rig/schema';
import { built, hash, playerOf } from './played';
import { demoRig } from './rig';

const small = built('build/demo-small/perigee-tide.wavicle', () => demoRig(hash, 'small'));
const { rig } = small;
const RATE = 48000;
const playing = playerOf(small, RATE);
const STRIKES = 5,
  APART = 10;

/** Chance at 0: every strike draws the same, nothing moves by itself, nothing takes turns. */
const still = (patch: Patch): Patch => ({
  ...patch,
  movers: patch.movers.map((mover) => ({ ...mover, on: false })),
  xyPads: patch.xyPads.map((pad) => ({ ...pad, motion: 'hand' as const })),
  layers: patch.layers.map((layer) => ({
    ...layer,
    kept: 4711,
    path: { ...layer.path, arpeggio: { ...layer.path.arpeggio, on: false } },
  })),
});

/** The first fifth of a second of each strike, its events told at their frames. */
function strikesOf(patch: Patch, without: boolean, keys: readonly number[], count = STRIKES): Float32Array[] {
  const sounds = rig.sounds.map((sound) => ({ ...sound, alternation: 'random' as const }));
  const engine = playing(patch, sounds);
  if (without) engine.handle({ type: 'without', ids: ['*'], gainDb: 0 });
  const left = new Float32Array(APART * RATE),
    right = new Float32Array(APART * RATE);
  return Array.from({ length: count }, (_, n) => {
    for (const key of keys) engine.handle({ type: 'noteOn', channel: 1, key, velocity: 110 }, n * APART * RATE);
    const { latency } = engine;
    engine.process(left, right, RATE / 5);
    const strike = left.slice(latency, RATE / 5);
    for (const key of keys)
      engine.handle({ type: 'noteOff', channel: 1, key, velocity: 64 }, n * APART * RATE + RATE / 5);
    // After the last nobody listens any more.
    if (n + 1 < count) engine.process(left, right, APART * RATE - RATE / 5);
    return strike;
  });
}

const energy = (signal: Float32Array): number =>
  10 * Math.log10(signal.reduce((sum, x) => sum + x * x, 0) / signal.length + 1e-14);
const peak = (signal: Float32Array): number => signal.reduce((most, x) => Math.max(most, Math.abs(x)), 0);

test.each(rig.patches.map((patch) => [patch.name, patch] as const))(
  '%s: every strike is like the first',
  (_, patch) => {
    const keys = patch.name === 'Lantern Row' || patch.name === 'Breakers' ? [36, 38, 42] : [40, 64, 76];
    const calm = still(patch);
    const wet = strikesOf(calm, false, keys);
    const dry = strikesOf(calm, true, keys);
    const deleted = strikesOf({ ...calm, ...withoutEffects(calm) }, false, keys, 1);
    expect(peak(deleted[0])).toBeGreaterThan(0.001);
    for (let n = 1; n < STRIKES; n++) {
      // What moves in an effect by itself (a chorus, a rotary cabinet) may stand elsewhere.
      expect(Math.abs(energy(wet[n]) - energy(wet[0]))).toBeLessThan(1.5);
      expect(dry[n].findIndex((x, i) => Math.abs(x - dry[0][i]) > 1e-5)).toBe(-1);
    }
    const frames = Math.min(dry[0].length, deleted[0].length);
    let worst = 0;
    for (let i = 0; i < frames; i++) worst = Math.max(worst, Math.abs(dry[0][i] - deleted[0][i]));
    expect(worst).toBeLessThan(1e-4);
  },
);
