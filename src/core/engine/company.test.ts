/**
 * What no part can be tried for alone: every parameter by every way of moving it, every kind beside every other, edits
 * and changes of patch under held notes.
 */
import { insideOf } from '../../../tests/kit/inside';
import { anyOf, programOf, SOUNDS } from '../../../tests/kit/company';
import { engineWith, whatIsWrong } from '../../../tests/kit/companyPlayed';
import { render } from '../../../tests/kit/engine';
import { tried } from '../../../tests/kit/whole';
import { Chance } from '../dsp/chance';
import { EFFECTS } from '../effects';
import { MOVERS } from '../movers';
import { markAt, newEffect, newGroup, newLayer, newMover, newPatch, newPool, newRoute } from '../rig/defaults';
import { targetsIn } from '../rig/moves';
import type { EffectSpec, Layer, Patch } from '../rig/schema';
import type { Engine } from './engine';
import { OWN_MOVED } from './program/program';
import { wholePlaces } from './program/ownValues';

const layerOf = (soundId: string, more: Partial<Layer> = {}): Layer => ({
  ...newLayer('l', 'l', soundId, markAt(0)),
  params: { level: -12 },
  ...more,
});
const effectOf = (kind: (typeof EFFECTS)[number]): EffectSpec => ({
  ...newEffect('e', kind.id),
  steps: kind.steps ? Array.from({ length: kind.steps }, (_, n) => (n % 3) / 2) : [],
  sampleId: kind.impulse ? 'impulse' : null,
});
const base = newPatch('p', 'p');
const lfo = { ...newMover('lfo', 1, 'lfo'), clock: 'hz' as const, params: { rate: 9 } };

/** A patch for each thing that has parameters. */
const HOSTS: readonly (readonly [string, Patch])[] = [
  ...SOUNDS.map(({ id }) => [id, { ...base, layers: [layerOf(id)] }] as const),
  ['a list', { ...base, layers: [layerOf('multisample', { list: ['multisample', 'synth', 'grains'], morph: true })] }],
  [
    'an arpeggio',
    {
      ...base,
      layers: [
        layerOf('synth', {
          path: {
            ...layerOf('synth').path,
            arpeggio: { ...layerOf('synth').path.arpeggio, on: true },
            chord: { ...layerOf('synth').path.chord, on: true, notes: [4, 7] },
          },
        }),
      ],
    },
  ],
  ...EFFECTS.map(
    (kind) => [kind.id, { ...base, layers: [layerOf('multisample', { effects: [effectOf(kind)] })] }] as const,
  ),
  ...MOVERS.map(
    ({ id }) =>
      [
        id,
        {
          ...base,
          layers: [layerOf('synth')],
          movers: [{ ...newMover(id, 2, 'm'), follows: id === 'follower' ? 'l' : id === 'hold' ? 'random' : '' }],
          routes: [newRoute('own', `${id}.2`, 'layer.l.cutoff', 0.5)],
        },
      ] as const,
  ),
  [
    'the mix',
    {
      ...base,
      layers: [layerOf('multisample', { groupId: 'g' })],
      groups: [newGroup('g', 'g', markAt(1))],
      pools: [newPool('r', 'r', [])],
      connections: [
        { id: 'c', kind: 'send' as const, from: 'layer.l', to: 'pool.r', level: -6, on: true, tap: 'after' as const },
      ],
      xyPads: [
        {
          number: 1,
          name: 'pad',
          x: 0.5,
          y: 0.5,
          motion: 'wander' as const,
          anchors: [
            { name: 'a', x: 0, y: 0, layerId: 'l' },
            { name: 'b', x: 1, y: 1, layerId: null },
          ],
          path: [],
          params: {},
        },
      ],
      blends: [{ number: 1, name: 'b', value: 0.5 }],
    },
  ],
];

/** Everything of an engine that stands for one of several and is not whole. */
function notWhole(engine: Engine): string[] {
  const faults: string[] = [];
  for (const voice of insideOf(engine).voices) {
    if (!voice.active || !voice.generator.values) continue;
    wholePlaces(voice.voicing.kind).forEach((whole, place) => {
      if (whole && !Number.isInteger(voice.generator.values!.now[place]))
        faults.push(OWN_MOVED[voice.voicing.kind][place]);
    });
  }
  const { places } = insideOf(engine);
  for (const { slots } of places) {
    for (const { compiled, values } of slots) {
      Object.values(EFFECTS[compiled.kind].parameters).forEach(({ id, law }, n) => {
        if (law === 'steps' && !Number.isInteger(values[n])) faults.push(`${EFFECTS[compiled.kind].id} ${id}`);
      });
    }
  }
  return faults;
}

/**
 * What is a host's own: the parameters of its layer where that is what it is there for, else of what stands beside the
 * layer.
 */
const ownTargets = (host: Patch): string[] => {
  const beside = targetsIn(host, SOUNDS).filter(
    (target) => !target.startsWith('layer.') && !target.startsWith('main.'),
  );
  return beside.length > 1 ? beside : targetsIn(host, SOUNDS);
};

/** Over the whole range, in so many steps. */
const STEPS = tried(6, 3);

test.each(HOSTS)(
  '%s: every parameter, moved through its range by a macro, a controller and an LFO: no throw, no NaN, nothing outside its list',
  (_, host) => {
    const programs = ownTargets(host)
      .map((target) => {
        const ways = ['macro.1', 'cc.1', 'lfo.1'];
        const routes = ways.map((source, n) => newRoute(`w${n}`, source, target, n === 1 ? -1 : 1));
        const patch = {
          ...host,
          movers: [...host.movers, lfo],
          macros: [{ number: 1, name: 'm', value: 0, style: 'strip' as const }],
          routes: [...host.routes, ...routes],
        };
        return {
          target,
          patch,
          program: programOf(patch) ?? programOf({ ...patch, routes: [...host.routes, routes[0]] }),
        };
      })
      .filter(({ program }) => program !== undefined);
    const engine = engineWith(
      programs.map(({ program }) => program!),
      8,
    );
    for (const { target, program } of programs) {
      engine.setProgram(program!);
      engine.handle({ type: 'panic' });
      let peak = 0;
      const play = (frames: number) => {
        const { left, right } = render(engine, frames);
        for (let i = 0; i < frames; i++)
          peak = Math.max(
            peak,
            Number.isFinite(left[i] + right[i]) ? Math.max(Math.abs(left[i]), Math.abs(right[i])) : Infinity,
          );
      };
      engine.handle({ type: 'noteOn', channel: 1, key: 60, velocity: 100 });
      for (let step = 0; step <= STEPS; step++) {
        engine.handle({ type: 'macro', number: 1, value: step / STEPS });
        play(150);
        if (step === STEPS - 1) engine.handle({ type: 'noteOn', channel: 1, key: 67, velocity: 30 });
        engine.handle({ type: 'controller', channel: 1, controller: 1, value: (step * 127) / STEPS });
        play(150);
        const faults = notWhole(engine);
        if (faults.length > 0) throw new Error(`${target}: ${faults.join(', ')}`);
      }
      if (!(peak <= 1) || engine.faultCount > 0)
        throw new Error(`${target}: peak ${peak}, “${engine.lastFault}” was no number ${engine.faultCount} times`);
    }
    expect(programs.length).toBeGreaterThan(0);
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

test.each(Array.from({ length: 24 }, (_, n) => n))(
  'patch %i of everything at once: the same bits however the output is cut, no throw, no fault',
  (seed) => {
    expect(
      whatIsWrong(
        seed,
        8000,
        anyOf(
          [
            [1, 33],
            [7, 128],
            [32, 441],
          ],
          new Chance(seed + 1),
        ),
      ),
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
