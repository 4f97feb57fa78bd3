import { checkRig } from '../src/core/check';
import type { Engine } from '../src/core/engine/engine';
import { playTake } from '../src/core/engine/offline/playTake';
import { readTake } from '../src/core/formats/midiFile';
import { thirdsOf } from '../src/core/measure/bands';
import { loudnessOf } from '../src/core/measure/loudness';
import { dbOfGain } from '../src/core/music/pitch';
import { readRig } from '../src/core/rig/read';
import type { Patch } from '../src/core/rig/schema';
import { WHOLE } from '../tests/kit/whole';
import { built, hash, playerOf } from './played';
import { FAMILIES } from './store/recipe';
import { RECIPES, storeRig, storeTakes } from './store/rig';

const whole = built('build/store/harbour-store.wavicle', () => storeRig(hash));
const { rig, wavs } = whole;
const takes = storeTakes();
const RATE = 48000;
const engineFor = playerOf(whole, RATE);
/** Every third patch is listened to; all of them by `npm run whole`. */
const listened = rig.patches.filter((_, i) => WHOLE || i % 3 === 0);

test('thirty patches of thirteen families, each with macros, notes for the player and a take; at most 60 MB', () => {
  expect(readRig(JSON.parse(JSON.stringify(rig)))).toEqual(rig);
  expect(rig.patches).toHaveLength(30);
  expect(new Set(rig.patches.map(({ name }) => name)).size).toBe(30);
  expect([...new Set(RECIPES.map(({ family }) => family))]).toEqual([...FAMILIES]);
  const count = (family: string) => RECIPES.filter((recipe) => recipe.family === family).length;
  expect([count('basses'), count('leads'), count('pads'), count('kits')]).toEqual([3, 3, 4, 1]);
  for (const patch of rig.patches) {
    expect(patch.macros.length).toBeGreaterThanOrEqual(2);
    expect(patch.macros.length).toBeLessThanOrEqual(patch.id === 'quay-wheels' ? 8 : 4);
    expect(patch.notes).not.toBe('');
    expect(takes.has(`${patch.id}.mid`)).toBe(true);
  }
  expect([...wavs.values()].reduce((sum, wav) => sum + wav.length, 0)).toBeLessThan(60e6);
});

test('the rules find nothing in it that is sure', () =>
  expect(checkRig(rig).filter(({ grade }) => grade === 'sure')).toEqual([]));

test('takes play at −21 LUFS within 1 LU, and never reach the limiter', () => {
  const wrong = listened.flatMap((patch) => {
    const engine = engineFor(patch);
    const { left, right } = playTake(engine, readTake(takes.get(`${patch.id}.mid`)!, patch.id), 1);
    const loudness = loudnessOf([left, right], RATE);
    return Math.abs(loudness + 21) <= 1 && engine.limiter.lowestGain === 1 ? [] : [`${patch.name}: ${loudness}`];
  });
  expect(wrong).toEqual([]);
}, 240_000);

test('ten fingers at 127 are held by the limiter with 6 dB at the most', () => {
  const wrong = rig.patches.filter((patch) => {
    const engine = engineFor(patch);
    engine.handle({ type: 'controller', channel: 1, controller: 1, value: 127 });
    for (const key of [36, 40, 43, 48, 52, 55, 60, 64, 67, 72])
      engine.handle({ type: 'noteOn', channel: 1, key, velocity: 127 });
    const left = new Float32Array(RATE / 2);
    engine.process(left, new Float32Array(left.length), left.length);
    return dbOfGain(engine.limiter.lowestGain) < -6;
  });
  expect(wrong.map(({ name }) => name)).toEqual([]);
}, 120_000);

/** Half a bar of keys and what is left of them, with something moved before; everything that moves by itself moves. */
function heard(patch: Patch, move: (engine: Engine) => void, velocity = 96): Float32Array[][] {
  const engine = engineFor(patch);
  move(engine);
  const keys = patch.id === 'deck-kit' ? [36, 38, 41, 42, 46] : [45, 57, 64];
  for (const key of keys) engine.handle({ type: 'noteOn', channel: 1, key, velocity });
  return [true, false].map((held) => {
    if (!held) for (const key of keys) engine.handle({ type: 'noteOff', channel: 1, key, velocity: 64 });
    const sides = [0, 1].map(() => new Float32Array(Math.round(0.8 * RATE)));
    engine.process(sides[0], sides[1], sides[0].length);
    return sides;
  });
}

/** The greatest difference in dB between two sounds in a third of an octave in which something is heard. */
const differenceInThirds = (a: readonly Float32Array[][], b: readonly Float32Array[][]): number =>
  Math.max(
    ...a.map((part, n) => {
      const [one, other] = [thirdsOf(part, RATE), thirdsOf(b[n], RATE)];
      const loudest = Math.max(-70, ...one, ...other);
      return Math.max(...one.map((x, i) => (Math.max(x, other[i]) < loudest - 45 ? 0 : Math.abs(x - other[i]))));
    }),
  );

/**
 * How loud what was moved is, in dB against the whole: the same seed and strikes give the same bits, so that what differs
 * is what the move does, be it a vibrato that leaves every third as loud as it was.
 */
const moved = (a: readonly Float32Array[][], b: readonly Float32Array[][]): number => {
  let differs = 0,
    all = 1e-12;
  a.forEach((part, n) =>
    part.forEach((side, s) =>
      side.forEach((x, i) => {
        differs += (x - b[n][s][i]) ** 2;
        all += x * x;
      }),
    ),
  );
  return 10 * Math.log10(differs / all + 1e-12);
};
const AUDIBLE_DB = -26;

test('every macro, the wheel and pressure change what is heard, and so does the strike', () => {
  const silent = listened.flatMap((patch) => {
    const tell = (what: string, db: number) =>
      db < AUDIBLE_DB ? [`${patch.name}: ${what} at ${db.toFixed(0)} dB`] : [];
    const rest = heard(patch, () => undefined);
    const macros = patch.macros.flatMap(({ number, name }) => {
      const [low, high] = [0, 1].map((value) =>
        heard(patch, (engine) => engine.handle({ type: 'macro', number, value })),
      );
      return tell(name, moved(high, low));
    });
    const wheel = heard(patch, (engine) =>
      engine.handle({ type: 'controller', channel: 1, controller: 1, value: 127 }),
    );
    const pressure = heard(patch, (engine) => engine.handle({ type: 'channelPressure', channel: 1, pressure: 127 }));
    const soft = heard(patch, () => undefined, 30);
    // Organs know no velocity but that of the key's contact.
    const least = /Pipes|Wheels/.test(patch.name) ? 0 : 3;
    const strike = differenceInThirds(rest, soft) >= least ? [] : [`${patch.name}: strike`];
    return [...macros, ...tell('wheel', moved(wheel, rest)), ...tell('pressure', moved(pressure, rest)), ...strike];
  });
  expect(silent).toEqual([]);
}, 240_000);
