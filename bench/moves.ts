/**
 * What it costs that things move by themselves: time in the engine, memory, and the time to compile. In Node: ratios of
 * runs taken in turn.
 */
import { performance } from 'node:perf_hooks';
import { prepareSample } from '../src/core/dsp/sample';
import { compile } from '../src/core/engine/program/compile';
import { Engine } from '../src/core/engine/engine';
import type { Program } from '../src/core/engine/program/program';
import {
  markAt,
  newGroup,
  newLayer,
  newMover,
  newPath,
  newPatch,
  newRoute,
  newSound,
  newZone,
} from '../src/core/rig/defaults';
import { MOVER_KINDS } from '../src/core/space/source';
import type { Mover, Patch, Route, XyPad } from '../src/core/rig/schema';
import { programFor, testTone } from './lab';

const AUDIO = Array.from({ length: 8 }, (_, i) => testTone(48000, 2, 1, 200 + 17 * i));
const LAYER = { params: { cutoff: 3000, pan: 0.3, level: -40, attack: 0.01, decay: 2, sustain: -6 } };
const ZONE = { loop: { start: 0, end: 96000, crossfade: 0, until: 'end' as const } };

/** Four movers of each note, one for each of what is heard most. */
const fourMovers = (): { movers: Mover[]; routes: Route[] } => ({
  movers: [
    { ...newMover('lfo', 1, 'a'), reach: 'note', begins: 'strike', clock: 'hz' },
    { ...newMover('envelope', 1, 'b') },
    { ...newMover('wander', 1, 'c'), reach: 'note' },
    { ...newMover('contour', 1, 'd'), loop: true },
  ],
  routes: [
    newRoute('a', 'lfo.1', 'layer.layer.tune', 0.02),
    newRoute('b', 'envelope.1', 'layer.layer.cutoff', 0.2),
    newRoute('c', 'wander.1', 'layer.layer.pan', 0.2),
    newRoute('d', 'contour.1', 'layer.layer.level', 0.05),
  ],
});

/** One of every kind and more, for notes and for the patch, on everything that follows while a note sounds. */
export const sixteenMovers = (): { movers: Mover[]; routes: Route[] } => {
  const targets = [
    'level',
    'pan',
    'tune',
    'cutoff',
    'resonance',
    'lowCut',
    'loopPosition',
    'loopLength',
    'vibratoDepth',
  ];
  const movers = Array.from({ length: 16 }, (_, i): Mover => {
    const kind = MOVER_KINDS[i % 7];
    return {
      ...newMover(kind, 1 + Math.floor(i / 7), String(i)),
      reach: kind === 'follower' || i % 2 === 0 ? 'patch' : 'note',
    };
  });
  return {
    movers,
    routes: movers.map(({ kind, number }, i) =>
      newRoute(`r${i}`, `${kind}.${number}`, `layer.layer.${targets[i % targets.length]}`, 0.03),
    ),
  };
};

export function engineWith(patch: Partial<Patch>, voices: number): Engine {
  const program = programFor({ audio: AUDIO, layer: LAYER, zone: ZONE, routes: [...(patch.routes ?? [])], patch });
  const engine = new Engine({ rate: 48000 });
  program.samples.forEach((request, i) =>
    engine.addSample(request.key, prepareSample(AUDIO[i], request.loop, request.levels, request.reverse)),
  );
  engine.setProgram(program);
  for (let i = 0; i < voices; i++) engine.handle({ type: 'noteOn', channel: 1 + (i >> 4), key: i % 8, velocity: 100 });
  return engine;
}

const left = new Float32Array(128);
const right = new Float32Array(128);
const secondOf = (engine: Engine): number => {
  const began = performance.now();
  for (let i = 0; i < 375; i++) engine.process(left, right, 128);
  return performance.now() - began;
};

/** Times of a second of sound each, in turn, as the ratio of their medians to the first. */
export function costs(): { movers: number; hands: number } {
  const { movers, routes } = fourMovers();
  const engines = [
    engineWith({}, 64),
    engineWith({ movers, routes }, 64),
    engineWith(
      {
        routes: ['tune', 'cutoff', 'pan', 'level'].map((target, i) =>
          newRoute(String(i), 'cc.1', `layer.layer.${target}`, 0.1),
        ),
      },
      64,
    ),
  ];
  const times: number[][] = engines.map(() => []);
  for (let round = 0; round < 24; round++)
    engines.forEach((engine, i) => {
      const took = secondOf(engine);
      if (round > 3) times[i].push(took);
    });
  const median = (values: number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];
  const [rest, moving, routed] = times.map(median);
  return { movers: moving / rest, hands: routed / rest };
}

/** Eight layers with everything of a layer in use, 64 notes held; and the same layers at rest. */
export function eightLayers(moving: boolean): Engine {
  const sound = {
    ...newSound('sound', 'sound'),
    zones: [
      {
        ...newZone('sample-0', 60),
        key: { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' as const },
        ...ZONE,
      },
    ],
  };
  const layers = Array.from({ length: 8 }, (_, i) => ({
    ...newLayer(`l${i}`, `${i}`, 'sound', markAt(i)),
    groupId: i < 4 ? 'g' : null,
    params: {
      ...LAYER.params,
      ...(moving
        ? {
            filterKind: [1, 2, 3, 5][i % 4],
            filter2Kind: [5, 7, 9, 3][i % 4],
            cutoff2: 900,
            resonance2: 1.5,
            tilt: i % 2 === 0 ? 1 : 0,
            drift: 6,
            envelopeToCutoff: 12,
            panChance: 30,
            glide: 0.05,
            drive: i === 0 ? 6 : 0,
          }
        : {}),
    },
    path:
      moving && i % 2 === 0
        ? {
            ...newPath(),
            scale: { on: true, name: 'dorian', root: 2, outside: 'nearest' as const },
            arpeggio: {
              on: true,
              order: 'up-down' as const,
              pattern: [{ kind: 'note' as const, velocity: 1, octave: 0, chance: 1 }],
              hold: false,
              start: 'beat' as const,
            },
          }
        : newPath(),
  }));
  const { movers } = fourMovers();
  const routes = moving
    ? layers.flatMap(({ id }, i) => [
        newRoute(`t${i}`, 'lfo.1', `layer.${id}.tune`, 0.01),
        newRoute(`c${i}`, 'wander.1', `layer.${id}.cutoff2`, 0.1),
        newRoute(`l${i}`, 'contour.1', `layer.${id}.level`, 0.05),
      ])
    : [];
  const program = compile(
    { ...newPatch('p', 'p'), layers, groups: [newGroup('g', 'g', markAt(0))], movers: moving ? movers : [], routes },
    {
      sounds: [sound],
      samples: [{ id: 'sample-0', name: 's', rate: 48000, channels: 1, frames: 96000 }],
      keyLow: 21,
      keyHigh: 108,
    },
  );
  const engine = new Engine({ rate: 48000 });
  program.samples.forEach((request) =>
    engine.addSample(request.key, prepareSample(AUDIO[0], request.loop, request.levels, request.reverse)),
  );
  engine.setProgram(program);
  for (let i = 0; i < 8; i++) engine.handle({ type: 'noteOn', channel: 1, key: 48 + 3 * i, velocity: 100 });
  return engine;
}

/** Share of one core that eight layers take whose every part is in use, with eight keys held on each. */
export function costOfLayers(): { share: number; voices: number } {
  const engine = eightLayers(true);
  for (let i = 0; i < 3; i++) secondOf(engine);
  const times = Array.from({ length: 7 }, () => secondOf(engine)).sort((a, b) => a - b);
  return { share: times[3] / 1000, voices: engine.mostVoices };
}

/** A patch as full as it can be: 16 macros, 4 pads, 16 movers and 200 routes over 16 layers. */
export function fullPatch(): { patch: Patch; compileIt: () => Program } {
  const layers = Array.from({ length: 16 }, (_, i) => newLayer(`l${i}`, `Layer ${i}`, 'sound', markAt(i)));
  const movers = Array.from({ length: 16 }, (_, i) =>
    newMover(MOVER_KINDS[i % 7], 1 + Math.floor(i / 7), `mover ${i}`),
  );
  const pads = [1, 2, 3, 4].map((number): XyPad => ({
    number,
    name: `pad ${number}`,
    x: 0.5,
    y: 0.5,
    motion: 'wander',
    path: [],
    params: {},
    anchors: [
      [0, 0],
      [1, 0],
      [0, 1],
      [1, 1],
    ].map(([x, y], i) => ({ name: `a${i}`, x, y, layerId: `l${4 * (number - 1) + i}` })),
  }));
  const targets = [
    'level',
    'pan',
    'tune',
    'cutoff',
    'resonance',
    'lowCut',
    'start',
    'attack',
    'release',
    'vibratoDepth',
    'loopPosition',
    'delay',
  ];
  const sources = [
    ...movers.map(({ kind, number }) => `${kind}.${number}`),
    ...Array.from({ length: 16 }, (_, i) => `macro.${i + 1}`),
    'velocity',
    'key',
    'cc.1',
    'xy.1.x',
    'random.1',
    'scatter.1',
  ];
  const patch: Patch = {
    ...newPatch('full', 'Full'),
    layers: layers.map((layer, i) => ({
      ...layer,
      windows: [
        ...layer.windows,
        {
          source: `xy.${1 + Math.floor(i / 4)}.anchor.${1 + (i % 4)}`,
          low: 0,
          high: 1,
          fadeIn: 1,
          fadeOut: 0,
          shape: 'root',
          read: 'always',
        },
      ],
    })),
    movers,
    xyPads: pads,
    macros: Array.from({ length: 16 }, (_, i) => ({
      number: i + 1,
      name: `macro ${i + 1}`,
      value: 0.3,
      style: 'strip',
    })),
    routes: Array.from({ length: 200 }, (_, i) =>
      newRoute(`r${i}`, sources[i % sources.length], `layer.l${i % 16}.${targets[i % targets.length]}`, 0.05),
    ),
  };
  const sound = {
    ...newSound('sound', 'sound'),
    zones: [
      { ...newZone('s', 60), key: { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' as const }, ...ZONE },
    ],
  };
  const samples = [{ id: 's', name: 's', rate: 48000, channels: 1 as const, frames: 96000 }];
  return { patch, compileIt: () => compile(patch, { sounds: [sound], samples, keyLow: 21, keyHigh: 108 }) };
}
