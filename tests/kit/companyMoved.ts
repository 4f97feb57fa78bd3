/** Every parameter by every way of moving it: a patch for each thing that has parameters, and what is wrong as it moves. */
import { EFFECTS } from '../../src/core/effects';
import type { Engine } from '../../src/core/engine/engine';
import { OWN_MOVED, type Program } from '../../src/core/engine/program/program';
import { wholePlaces } from '../../src/core/engine/program/ownValues';
import { MOVERS } from '../../src/core/movers';
import {
  markAt,
  newEffect,
  newGroup,
  newLayer,
  newMover,
  newPatch,
  newPool,
  newRoute,
} from '../../src/core/rig/defaults';
import { targetsIn } from '../../src/core/rig/moves';
import type { EffectSpec, Layer, Patch, Route } from '../../src/core/rig/schema';
import { programOf, SOUNDS } from './company';
import { engineWith } from './companyPlayed';
import { render } from './engine';
import { insideOf } from './inside';

export const layerOf = (soundId: string, more: Partial<Layer> = {}): Layer => ({
  ...newLayer('l', 'l', soundId, markAt(0)),
  params: { level: -12 },
  ...more,
});
const effectOf = (kind: (typeof EFFECTS)[number]): EffectSpec => ({
  ...newEffect('e', kind.id),
  steps: kind.steps ? Array.from({ length: kind.steps }, (_, n) => (n % 3) / 2) : [],
  sampleId: kind.impulse ? 'impulse' : null,
});
export const base = newPatch('p', 'p');

/** A patch for each thing that has parameters. */
export const HOSTS: readonly (readonly [string, Patch])[] = [
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

/** What may move a parameter, at the same time: sources, each with how far. */
export interface Ways {
  name: string;
  sources: readonly (readonly [source: Route['source'], depth: number])[];
  /** Hertz of the LFO. */
  hz: number;
}
/** By hand in steps, by a controller the other way, and by itself. */
export const BY_HANDS: Ways = {
  name: 'a macro, a controller and an LFO',
  sources: [
    ['macro.1', 1],
    ['cc.1', -1],
    ['lfo.1', 1],
  ],
  hz: 9,
};

/** A program for each parameter of a host, moved in these ways; by the first alone where the others make a circle. */
function programsMoved(host: Patch, ways: Ways, rate?: number): { target: string; program: Program }[] {
  const lfo = { ...newMover('lfo', 1, 'lfo'), clock: 'hz' as const, params: { rate: ways.hz } };
  return ownTargets(host).flatMap((target) => {
    const routes = ways.sources.map(([source, depth], n) => newRoute(`w${n}`, source, target, depth));
    const patch = {
      ...host,
      movers: [...host.movers, lfo],
      macros: [{ number: 1, name: 'm', value: 0, style: 'strip' as const }],
      routes: [...host.routes, ...routes],
    };
    const first = { ...patch, routes: [...host.routes, routes[0]] };
    const program = programOf(patch, rate) ?? programOf(first, rate);
    return program ? [{ target, program }] : [];
  });
}

/**
 * Moves every parameter of a host through its range in so many steps, one after another in one engine, with a note and
 * later a second one. Gives how many were moved, and what is wrong: a throw, a value that is no number or above full
 * scale, a choice that is not whole.
 */
export function movedThrough(
  host: Patch,
  ways: Ways,
  steps: number,
  rate?: number,
): { moved: number; wrong: string[] } {
  const programs = programsMoved(host, ways, rate);
  const made = programs.map(({ program }) => program);
  const engine = engineWith(made, 8, 5, true, rate);
  const wrong: string[] = [];
  for (const { target, program } of programs) {
    const faults = engine.faultCount;
    engine.setProgram(program);
    engine.handle({ type: 'panic' });
    let peak = 0;
    const play = (frames: number) => {
      const { left, right } = render(engine, frames);
      for (let i = 0; i < frames; i++)
        peak = Number.isFinite(left[i] + right[i]) ? Math.max(peak, Math.abs(left[i]), Math.abs(right[i])) : Infinity;
    };
    const tell = (what: string) => wrong.push(`${target} by ${ways.name}: ${what}`);
    try {
      engine.handle({ type: 'noteOn', channel: 1, key: 60, velocity: 100 });
      for (let step = 0; step <= steps; step++) {
        const share = step / steps;
        engine.handle({ type: 'macro', number: 1, value: share });
        play(150);
        if (step === steps - 1) engine.handle({ type: 'noteOn', channel: 1, key: 67, velocity: 30 });
        engine.handle({ type: 'controller', channel: 1, controller: 1, value: share * 127 });
        engine.handle({ type: 'channelPressure', channel: 1, pressure: Math.round(share * 127) });
        engine.handle({ type: 'bend', channel: 1, bend: 2 * share - 1 });
        play(150);
        const halves = notWhole(engine);
        if (halves.length > 0) tell(`not whole: ${halves.join(', ')}`);
      }
    } catch (error) {
      tell((error as Error).stack ?? String(error));
    }
    if (!(peak <= 1)) tell(`a peak of ${peak}`);
    if (engine.faultCount > faults) tell(`“${engine.lastFault}” was no number ${engine.faultCount - faults} times`);
  }
  return { moved: programs.length, wrong };
}
