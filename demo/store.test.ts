import { createHash } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { checkRig } from '../src/core/check';
import type { Prepared } from '../src/core/dsp/prepared';
import { Engine } from '../src/core/engine/engine';
import { playTake } from '../src/core/engine/offline/playTake';
import { compile } from '../src/core/engine/program/compile';
import { readTake } from '../src/core/formats/midiFile';
import { needsNoFile, prepare } from '../src/core/formats/prepare';
import { readArchive } from '../src/core/formats/rigArchive';
import { thirdsOf } from '../src/core/measure/bands';
import { loudnessOf } from '../src/core/measure/loudness';
import { dbOfGain } from '../src/core/music/pitch';
import { readRig } from '../src/core/rig/read';
import type { Patch } from '../src/core/rig/schema';
import { FAMILIES } from './store/recipe';
import { RECIPES, storeRig, storeTakes } from './store/rig';

const hash = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');
/** The store as it was built, which saves minutes; npm test builds it anew whenever the generator changes. */
const built = 'build/store/harbour-store.wavicle';
const { rig, wavs } = existsSync(built) ? readArchive(readFileSync(built)) : storeRig(hash);
const takes = storeTakes();
const prepared = new Map<string, Prepared>();
const RATE = 48000;
/** Every third patch is listened to; all of them by `npm run store`. */
const listened = rig.patches.filter((_, i) => process.env.WHOLE !== undefined || i % 3 === 0);

function engineFor(patch: Patch): Engine {
  const program = compile(patch, { sounds: rig.sounds, samples: rig.samples, pitch: rig.pitch, ...rig.controllers });
  const engine = new Engine({ rate: RATE });
  for (const request of program.samples) {
    if (!prepared.has(request.key))
      prepared.set(request.key, prepare(request, needsNoFile(request) ? undefined : wavs.get(request.sampleId)!));
    engine.addSample(request.key, prepared.get(request.key)!);
  }
  engine.setProgram(program);
  return engine;
}

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

/** What is heard while keys are held, and after them, in thirds of octaves, with something moved before. */
function heard(patch: Patch, move: (engine: Engine) => void, velocity = 96): number[][] {
  const engine = engineFor({
    ...patch,
    movers: patch.movers.map((mover) => ({ ...mover, on: mover.kind === 'envelope' })),
  });
  move(engine);
  const keys = patch.id === 'deck-kit' ? [36, 38, 41, 42, 46] : [45, 57, 64];
  for (const key of keys) engine.handle({ type: 'noteOn', channel: 1, key, velocity });
  return [true, false].map((held) => {
    if (!held) for (const key of keys) engine.handle({ type: 'noteOff', channel: 1, key, velocity: 64 });
    const sides = [0, 1].map(() => new Float32Array(Math.round(0.7 * RATE)));
    engine.process(sides[0], sides[1], sides[0].length);
    return thirdsOf(sides, RATE);
  });
}
/** The greatest difference in dB where something is heard. */
const difference = (a: readonly number[][], b: readonly number[][]): number =>
  Math.max(
    ...a.map((part, n) => {
      const loudest = Math.max(-70, ...part, ...b[n]);
      return Math.max(...part.map((x, i) => (Math.max(x, b[n][i]) < loudest - 45 ? 0 : Math.abs(x - b[n][i]))));
    }),
  );
/** Those that move what moves by itself, which stands still here: they are told apart by their routes. */
const movesMovers = (patch: Patch, number: number) =>
  patch.routes.some(({ scaledBy }) => scaledBy === `macro.${number}`) ||
  patch.routes.some(({ source, target }) => source === `macro.${number}` && /vibrato|\.rate|\.speed/.test(target));

test('every macro, the wheel, pressure and the strike are heard', () => {
  const silent = listened.flatMap((patch) => {
    const macros = patch.macros
      .filter(({ number }) => !movesMovers(patch, number))
      .filter(({ number }) => {
        const [low, high] = [0, 1].map((value) =>
          heard(patch, (engine) => engine.handle({ type: 'macro', number, value })),
        );
        return difference(low, high) < 1;
      })
      .map(({ name }) => `${patch.name}: ${name}`);
    const rest = heard(patch, () => undefined);
    const soft = heard(patch, () => undefined, 30);
    // Organs know no velocity but that of the key's contact.
    const strike = /Pipes|Wheels/.test(patch.name) || difference(rest, soft) > 3 ? [] : [`${patch.name}: strike`];
    return [...macros, ...strike];
  });
  expect(silent).toEqual([]);
  // What sways is heard as it goes on: there is at least one route from each.
  for (const patch of rig.patches) {
    const from = (id: string) => patch.routes.some(({ source, scaledBy }) => source === id || scaledBy === id);
    expect([patch.name, from('cc.1'), from('channelPressure')]).toEqual([patch.name, true, true]);
  }
}, 240_000);
