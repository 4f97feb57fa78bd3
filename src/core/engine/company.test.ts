/**
 * What no part can be tried for alone: every parameter by every way of moving it, every kind beside every other, edits
 * and changes of patch under held notes.
 */
import { anyOf, anyPatch, edited, programOf, rigWith } from '../../../tests/kit/company';
import { base, BY_HANDS, HOSTS, layerOf, movedThrough } from '../../../tests/kit/companyMoved';
import { engineWith, whatIsWrong } from '../../../tests/kit/companyPlayed';
import { render } from '../../../tests/kit/engine';
import { insideOf } from '../../../tests/kit/inside';
import { tried } from '../../../tests/kit/whole';
import { Chance } from '../dsp/chance';
import { newEffect } from '../rig/defaults';
import { faultOf } from '../rig/read';
import type { Layer } from '../rig/schema';

/** Over the whole range, in so many steps. */
const STEPS = tried(6, 3);

test.each(HOSTS)(
  '%s: every parameter, moved through its range by a macro, a controller and an LFO: no throw, no NaN, nothing outside its list',
  (_, host) => {
    const { moved, wrong } = movedThrough(host, BY_HANDS, STEPS);
    expect(wrong).toEqual([]);
    expect(moved).toBeGreaterThan(0);
  },
);

test('every kind beside every other: each is heard in company as alone', () => {
  const rendered = (layers: readonly Layer[]) => {
    const program = programOf({ ...base, layers: [...layers] })!;
    const engine = engineWith([program], 64);
    engine.setProgram(program);
    engine.handle({ type: 'noteOn', channel: 1, key: 60, velocity: 100 });
    return render(engine, 9600).left;
  };
  const kinds: Layer[] = [
    layerOf('multisample'),
    layerOf('full'),
    layerOf('grains'),
    layerOf('synth'),
    layerOf('synth', { params: { level: -12, osc1Level: -60, noiseLevel: -6, noiseColour: -80 } }),
    layerOf('synth', { params: { level: -12, osc1Level: -60, noiseLevel: -6, noiseColour: 80 } }),
    layerOf('synth', { params: { level: -12, osc1Sync: 1, osc2Level: -6, osc2Sync: 1 } }),
    layerOf('synth', { params: { level: -12, osc2Level: -6, osc1PhaseMod: 3, osc2PhaseMod: 2 } }),
  ].map((layer, n) => ({ ...layer, id: `l${n}`, params: { ...layer.params, level: -24 } }));
  // What a layer draws for itself follows from the strike and from where it stands, so it is alone where it stands in
  // company.
  const silent = { ...layerOf('multisample'), id: 'silent', on: false };
  const first = kinds.map((layer) => rendered([{ ...layer, kept: 77 }, silent]));
  const second = kinds.map((layer) => rendered([silent, { ...layer, kept: 77 }]));
  for (let a = 0; a < kinds.length; a++) {
    for (let b = 0; b < kinds.length; b++) {
      if (a === b) continue;
      const both = rendered([
        { ...kinds[a], kept: 77 },
        { ...kinds[b], kept: 77 },
      ]);
      let worst = 0;
      for (let i = 0; i < both.length; i++) worst = Math.max(worst, Math.abs(both[i] - first[a][i] - second[b][i]));
      if (!(worst < 1e-6)) throw new Error(`kind ${a} beside ${b} differs by ${worst}`);
    }
  }
});

test('patches by chance, and what edits by chance make of them, are sound to the format', () => {
  for (let seed = 0; seed < 40; seed++) {
    const chance = new Chance(seed);
    let patch = anyPatch(seed);
    for (let n = 0; n < 4; n++) {
      expect([seed, faultOf(rigWith([patch]))?.message]).toEqual([seed, undefined]);
      patch = edited(patch, chance);
    }
  }
});

test.each(Array.from({ length: 24 }, (_, n) => n))(
  'patch %i of everything at once: the same bits however the output is cut, no throw, no fault',
  (seed) => {
    expect(
      whatIsWrong(seed, {
        frames: 8000,
        cuts: anyOf(
          [
            [1, 33],
            [7, 128],
            [32, 441],
          ],
          new Chance(seed + 1),
        ),
      }),
    ).toBeUndefined();
  },
);

describe('what is no number', () => {
  test('a voice that makes it ends, the rest of the patch sounds on', () => {
    const patch = { ...base, layers: [layerOf('multisample'), { ...layerOf('synth'), id: 'm' }] };
    const program = programOf(patch)!;
    const engine = engineWith([program]);
    engine.setProgram(program);
    engine.handle({ type: 'noteOn', channel: 1, key: 60, velocity: 100 });
    render(engine, 2048);
    const { kernel, voices } = insideOf(engine);
    const [voice] = voices.filter(({ active, layer }) => active && layer.program.id === 'm');
    kernel.numbers[kernel.voiceAt(voice.n) / 8 + 4] = NaN;
    const { left } = render(engine, 4096);
    expect(left.every(Number.isFinite)).toBe(true);
    expect([engine.faultCount, engine.lastFault]).toEqual([1, 'm']);
    expect(left.subarray(3000).some((x) => x !== 0)).toBe(true);
  });
  test('an effect that makes it is made anew and plays on, and nothing stays in the reverb after it', () => {
    const patch = {
      ...base,
      layers: [layerOf('multisample', { effects: [newEffect('comb', 'comb')] })],
      main: { ...base.main, effects: [newEffect('room', 'reverb')] },
    };
    const program = programOf(patch)!;
    const engine = engineWith([program]);
    engine.setProgram(program);
    engine.handle({ type: 'noteOn', channel: 1, key: 60, velocity: 100 });
    render(engine, 2048);
    const { places } = insideOf(engine);
    const slot = places.flatMap(({ slots }) => slots).find(({ id }) => id === 'comb')!;
    const { process } = slot.effect;
    slot.effect.process = (left, right, from, to) => {
      left.fill(NaN, from, to);
      right.fill(NaN, from, to);
    };
    render(engine, 1024);
    slot.effect.process = process;
    const { left } = render(engine, 8192);
    expect(engine.lastFault).toBe('comb');
    expect(left.every(Number.isFinite)).toBe(true);
    expect(left.some((x) => Math.abs(x) > 1e-3)).toBe(true);
  });
});
