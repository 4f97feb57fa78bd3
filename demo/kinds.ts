import { draw, drawablesIn, setLock } from '../src/core/draws/draw';
import { goTo, keepDraw } from '../src/core/draws/history';
import {
  markAt,
  newEffect,
  newGroup,
  newLayer,
  newMover,
  newPatch,
  newPool,
  newRoute,
  newSound,
  newZone,
} from '../src/core/rig/defaults';
import { noteValue } from '../src/core/music/time';
import { ATTRIBUTES, scatterOver } from '../src/core/rig/edits/chance';
import { spreadOverSurface } from '../src/core/rig/edits/kinds';
import { speakThrough, updateEffect } from '../src/core/rig/edits/mix';
import { chainOf } from '../src/core/rig/mix';
import { FILTER_KINDS } from '../src/core/space/filterKinds';
import type { Connection, EffectSpec, Layer, Patch, Sound } from '../src/core/rig/schema';

/** The patches of the show that are not made of samples as they are: a synth, grains, and chance. */

const kindOf = (name: string) => FILTER_KINDS.indexOf(name as (typeof FILTER_KINDS)[number]);
const macro = (number: number, name: string, value: number): Patch['macros'][number] => ({
  number,
  name,
  value,
  style: 'strip',
});
const send = (id: string, from: string, to: string, level: number): Connection => ({
  id: `send-${id}`,
  kind: 'send',
  from,
  to,
  level,
  on: true,
  tap: 'after',
});
const layer = (n: number, id: string, soundId: string, name: string, params: Layer['params']): Layer => ({
  ...newLayer(id, name, soundId, markAt(n)),
  params,
});

/** What Neap brings with it: a row of waves that leans, a saw bent in its phase by a sine, a sub. */
const NEAP: Sound['params'] = {
  osc1Shape: 0,
  osc1Position: 18,
  osc1Level: -7,
  osc1Octave: -1,
  osc1Unison: 2,
  osc1Detune: 9,
  osc1Spread: 40,
  osc2Shape: 1,
  osc2Level: -13,
  osc2Octave: -1,
  osc2Cents: -4,
  osc2From: 1,
  osc2PhaseMod: 0.5,
  osc3Shape: 4,
  osc3Octave: 0,
  osc3Level: -60,
  subLevel: -8,
  subOctave: 0,
  subPath: 3,
  filterKind: kindOf('low-pass 24 dB'),
  cutoff: 420,
  resonance: 1.3,
  envelopeToCutoff: 22,
  keyTrack: 40,
  drive: 6,
  attack: 0.004,
  decay: 1.4,
  sustain: -9,
  release: 0.16,
  velocityToLevel: 70,
  velocityTrack: 14,
};
/** Its ringing above: noise and a ring of two oscillators through two combs in a row. */
const RINGS: Sound['params'] = {
  osc1Shape: 0,
  osc1Position: 40,
  osc1Level: -20,
  osc1Ring: 70,
  osc1From: 0,
  osc2Shape: 4,
  osc2Semitones: 7,
  osc2Level: -60,
  osc3Level: -60,
  noiseLevel: -16,
  noiseColour: 30,
  filterKind: kindOf('comb feedback'),
  cutoff: 196,
  resonance: 5,
  keyTrack: 100,
  filter2Kind: kindOf('comb feedback'),
  cutoff2: 294,
  resonance2: 3.4,
  keyTrack2: 100,
  combDamping: 38,
  lowCut: 180,
  attack: 0.002,
  decay: 0.5,
  sustain: -30,
  release: 0.5,
  velocityToLevel: 80,
};

/** A single hit over all keys: one zone of a sound, at its own pitch wherever it is struck. */
const hitOf = (id: string, name: string, from: Sound, key: number, tags: string[]): Sound => {
  const zones = from.zones.filter((zone) => zone.key.low <= key && zone.key.high >= key);
  const hardest = Math.max(...zones.map(({ velocity }) => velocity.high));
  const zone = zones.find(({ velocity }) => velocity.high === hardest)!;
  return {
    ...newSound(id, name, [
      {
        ...zone,
        key: { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' },
        velocity: { low: 1, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' },
        alternate: null,
        turns: null,
        choke: null,
        loop: null,
        pitchPerKey: 0,
        playback: 'full-length',
        fadeOut: 0.03,
      },
    ]),
    tags,
  };
};

/** The sounds of a synth and of grains, and single hits; `fog` is the recording of the horn across the water. */
export const kindSounds = (fog: string, sounds: readonly Sound[]): Sound[] => [
  ...(
    [
      ['hit-drum', 'Drum Hit', 'tin-kit', 36],
      ['hit-lid', 'Lid Hit', 'tin-kit', 38],
      ['hit-shut', 'Shut Hit', 'tin-kit', 42],
      ['hit-open', 'Open Hit', 'tin-kit', 46],
      ['hit-bell', 'Bell Hit', 'harbour-bells', 72],
      ['hit-felt', 'Felt Hit', 'felt-keys', 36],
    ] as const
  ).map(([id, name, from, key]) =>
    hitOf(
      id,
      name,
      sounds.find((sound) => sound.id === from)!,
      key,
      ['struck', 'hit'],
    ),
  ),
  {
    ...newSound('neap', 'Neap'),
    kind: 'synth',
    params: NEAP,
    waves: [
      { table: 'leaning', length: 0 },
      { table: 'opening', length: 0 },
      { table: 'opening', length: 0 },
    ],
    tags: ['bass', 'warm'],
    notes:
      'The second is bent by the third: Grit says how far. The sub goes past the filters, so that the ground stays.',
  },
  {
    ...newSound('neap-rings', 'Neap Rings'),
    kind: 'synth',
    params: RINGS,
    waves: [
      { table: 'bells', length: 0 },
      { table: 'opening', length: 0 },
      { table: 'opening', length: 0 },
    ],
    tags: ['struck', 'metal'],
    notes: 'Two combs in a row, a fifth apart; both follow the keys.',
  },
  {
    ...newSound('fog-signal', 'Fog Signal', [
      { ...newZone(fog, 48), key: { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' } },
    ]),
    kind: 'grains',
    params: {
      grainLength: 0.12,
      grainOverlap: 4,
      grainPositionScatter: 2,
      grainPanScatter: 40,
      attack: 0.06,
      release: 0.9,
    },
    tags: ['blown', 'long'],
    notes: 'The horn and its answer, with the sea between them.',
  },
  {
    ...newSound('line-in', 'Line In'),
    kind: 'input',
    params: { inputGate: -42 },
    notes:
      'A voice at the microphone: muted until somebody opens it. A recording stands in for it where files are written.',
  },
];

/** A bass of oscillators: waves that move, combs in a row above it, chance in time with the beat. */
function neapBass(): Patch {
  let n = 0;
  const effect = (kind: string, params: Record<string, number>): EffectSpec => ({
    ...newEffect(`effect-${++n}`, kind),
    params,
  });
  const neap: Layer = {
    ...layer(0, 'neap', 'neap', 'Neap', { ...NEAP, level: 2 }),
    effects: [
      effect('saturation', { drive: 7, mix: 55 }),
      effect('compressor', { threshold: -22, ratio: 3, attack: 0.012, release: 0.16 }),
    ],
  };
  const rings: Layer = {
    ...layer(2, 'rings', 'neap-rings', 'Rings', { ...RINGS, level: -4 }),
    transpose: 12,
    effects: [
      effect('echo', { note: noteValue('1/8 dotted'), feedback: 34, mix: 26, lowCut: 300, highCut: 5000, way: 1 }),
    ],
  };
  return {
    ...newPatch('neap-bass', 'Neap Bass'),
    tempo: 92,
    notes: 'Lean moves through the waves · Grit bends them · Open: filter · Spray: rings above · wheel: Grit',
    layers: [{ ...neap, path: { ...neap.path, playing: 'legato' }, params: { ...neap.params, glide: 0.045 } }, rings],
    macros: [macro(1, 'Lean', 0.3), macro(2, 'Grit', 0.2), macro(3, 'Open', 0.35), macro(4, 'Spray', 0.4)],
    movers: [
      {
        ...newMover('contour', 1, 'Fall'),
        points: [
          [0, 1, 0],
          [0.3, -0.2, 0.4],
          [1, -1, 0.2],
        ],
        params: { lasts: 0.7 },
      },
      { ...newMover('lfo', 1, 'Ebb'), shape: 'triangle', params: { length: noteValue('1/1') } },
      { ...newMover('hold', 1, 'Chance'), params: { length: noteValue('1/8'), glide: 20 } },
    ],
    routes: [
      newRoute('lean', 'macro.1', 'layer.neap.osc1Position', 0.6),
      newRoute('fall', 'contour.1', 'layer.neap.osc1Position', 0.14),
      newRoute('ebb', 'lfo.1', 'layer.neap.osc1Position', 0.08),
      newRoute('grit', 'macro.2', 'layer.neap.osc2PhaseMod', 0.22),
      newRoute('grit-drive', 'macro.2', 'layer.neap.drive', 0.3),
      newRoute('grit-index', 'macro.2', 'layer.neap.osc1FrequencyMod', 0.01),
      newRoute('open', 'macro.3', 'layer.neap.cutoff', 0.3),
      newRoute('open-rings', 'macro.3', 'layer.rings.combDamping', -0.25),
      newRoute('wheel-grit', 'cc.1', 'macro.2', 0.8),
      newRoute('spray', 'macro.4', 'layer.rings.level', 0.1),
      { ...newRoute('chance-ring', 'hold.1', 'layer.rings.cutoff2', 0.05), scaledBy: 'macro.4' },
      { ...newRoute('chance-wave', 'hold.1', 'layer.rings.osc1Position', 0.4), scaledBy: 'macro.4' },
      { ...newRoute('chance-pan', 'hold.1', 'layer.rings.pan', 0.25), scaledBy: 'macro.4' },
    ],
    pools: [newPool('cistern', 'Cistern', [effect('reverb', { kind: 0, size: 70, decay: 1.1, lowCut: 220 })])],
    connections: [send('a', 'layer.rings', 'pool.cistern', -10)],
    main: { level: 1.1, width: 100, effects: [effect('limiter', { ceiling: -4.5 })] },
  };
}

/**
 * Grains of the horn under a surface: keys span the recording, pressure and slide spread the grains; a wheel does what
 * pressure does where there is none.
 */
function spindrift(): Patch {
  let n = 0;
  const effect = (kind: string, params: Record<string, number>): EffectSpec => ({
    ...newEffect(`effect-${++n}`, kind),
    params,
  });
  const fog = layer(5, 'fog', 'fog-signal', 'Fog Signal', {
    grainLength: 0.12,
    grainOverlap: 4,
    grainPositionScatter: 2,
    grainPanScatter: 40,
    attack: 0.06,
    release: 0.9,
    velocityToLevel: 60,
    level: -4,
    cutoff: 9000,
  });
  const patch: Patch = {
    ...newPatch('spindrift', 'Spindrift'),
    tempo: 60,
    notes:
      'keys: where in the recording · pressure: how many grains · slide: how long · wheel: as pressure, for a plain keyboard · Gust scatters, Below adds an octave · Speak: the fog says what the open input sings',
    layers: [
      { ...fog, receive: { ...fog.receive, wheel: true } },
      layer(4, 'voice', 'line-in', 'Voice', { inputGate: -42 }),
    ],
    macros: [macro(1, 'Gust', 0.15), macro(2, 'Below', 0), macro(3, 'Speak', 0)],
    movers: [{ ...newMover('wander', 1, 'Haze'), params: { rate: 0.35 } }],
    routes: [],
    pools: [newPool('dome', 'Dome', [effect('reverb', { kind: 4, size: 130, decay: 5.5, damping: 40, balance: 80 })])],
    connections: [send('a', 'layer.fog', 'pool.dome', -9)],
    main: { level: -6.2, width: 100, effects: [effect('limiter', { ceiling: -4.5 })] },
  };
  const surfaced = spreadOverSurface(patch, 'fog', { low: null, high: null, force: 'pressure' });
  const speaking = speakThrough(surfaced, 'voice', 'fog');
  const vocoder = chainOf(speaking, 'layer.fog')!.find(({ kind }) => kind === 'vocoder')!;
  return {
    ...updateEffect(speaking, vocoder.id, { params: { ...vocoder.params, mix: 0 } }),
    routes: [
      ...surfaced.routes,
      newRoute('speak', 'macro.3', `vocoder.${vocoder.id}.mix`, 1),
      newRoute('wheel-many', 'cc.1', 'layer.fog.grainOverlap', 0.4),
      newRoute('wheel-far', 'cc.1', 'layer.fog.grainPositionScatter', 0.06),
      newRoute('gust', 'macro.1', 'layer.fog.grainPositionScatter', 0.2),
      newRoute('gust-pitch', 'macro.1', 'layer.fog.grainPitchScatter', 0.02),
      newRoute('gust-level', 'macro.1', 'layer.fog.grainLevelScatter', 0.3),
      newRoute('gust-turned', 'macro.1', 'layer.fog.grainReversed', 0.6),
      newRoute('below', 'macro.2', 'layer.fog.grainPitch', -1200 / 7200),
      newRoute('haze', 'wander.1', 'layer.fog.grainPosition', 0.03),
    ],
  };
}

/** Eight hits at once, with chance in everything they have; an amount for each of it. */
function breakers(): Patch {
  let n = 0;
  const effect = (kind: string, params: Record<string, number>): EffectSpec => ({
    ...newEffect(`effect-${++n}`, kind),
    params,
  });
  const hit = (
    at: number,
    id: string,
    soundId: string,
    name: string,
    params: Layer['params'],
    more: Partial<Layer> = {},
  ): Layer => ({
    ...layer(at, id, soundId, name, { velocityToLevel: 85, decay: 3, sustain: -60, ...params }),
    groupId: 'breakers',
    ...more,
  });
  const layers = [
    hit(0, 'drum', 'hit-drum', 'Drum', { level: 2 }),
    hit(1, 'lid', 'hit-lid', 'Lid', { level: -4 }),
    hit(2, 'bell', 'hit-bell', 'Bell', { level: -9, cutoff: 6000, decay: 1.6 }),
    hit(3, 'tins', 'hit-shut', 'Tins', { level: -6 }, { list: ['hit-shut', 'hit-open', 'hit-lid'] }),
    hit(4, 'felt', 'hit-felt', 'Felt', { level: -3, decay: 1.2 }),
    hit(5, 'spray', 'neap-rings', 'Spray', { ...RINGS, level: -12, decay: 0.35 }),
    hit(6, 'fog', 'fog-signal', 'Fog', {
      grainLength: 0.05,
      grainOverlap: 6,
      grainPositionScatter: 20,
      grainPanScatter: 80,
      grainFollow: 0,
      level: -14,
      attack: 0.004,
      decay: 0.6,
    }),
    hit(7, 'deep', 'hit-drum', 'Deep', { level: -1, tune: -900, cutoff: 900, decay: 1.4 }),
  ];
  const patch: Patch = {
    ...newPatch('breakers', 'Breakers'),
    tempo: 84,
    notes: 'one key: eight hits · the strips: how much chance in each · Chance …: keep a strike that you like',
    layers,
    groups: [
      {
        ...newGroup('breakers', 'Breakers', markAt(0)),
        effects: [
          effect('saturation', { drive: 5, mix: 40 }),
          effect('compressor', { threshold: -20, ratio: 3, attack: 0.008, release: 0.14, makeup: 4 }),
          effect('width', { width: 130, mono: 130 }),
        ],
      },
    ],
    pools: [
      newPool('dome', 'Dome', [effect('reverb', { kind: 1, size: 130, decay: 3.2, damping: 45, predelay: 0.02 })]),
    ],
    connections: [send('a', 'group.breakers', 'pool.dome', -11)],
    main: { level: 2.7, width: 100, effects: [effect('limiter', { ceiling: -4.5 })] },
  };
  const scattered = scatterOver(
    patch,
    layers.map(({ id }) => id),
    ATTRIBUTES.map(({ id }) => id),
    'each',
    0,
  );
  const amounts = [0.4, 0.5, 0.4, 0.15, 0.2, 0.1, 0.2, 0.6];
  return {
    ...scattered,
    macros: scattered.macros.map((each, i) => ({
      ...each,
      name: ['Pitch', 'Place', 'Force', 'Start', 'Delay', 'Turned', 'Times', 'Which'][i],
      value: amounts[i],
    })),
  };
}

export const kindPatches = (): Patch[] => [neapBass(), spindrift(), breakers()];

/**
 * Draws that wait in Lantern Row's history, to be heard by pointing: of one value, of a pad, of the kit. The patch
 * itself stays as it was before them; the reeds are locked.
 */
export function withDraws(patch: Patch, sounds: readonly Sound[]): Patch {
  if (patch.id !== 'lantern-row') return patch;
  const pad = (name: string) => patch.groups.find((group) => group.name === name)!;
  const lid = patch.layers.find(({ groupId }) => groupId === pad('Lid').id)!;
  let next = setLock(patch, 'layer.reeds', true);
  const roll = (id: string, name: string, scope: readonly string[], inWords: string, amount: number, seed: number) => {
    const { patch: drawn, changes } = draw(next, drawablesIn(next, scope, sounds), { amount, seed });
    next = goTo(keepDraw(drawn, changes, { id, seed, amount, scope: inWords, name }), null);
  };
  roll('lid', 'another lid', [`layer.${lid.id}.tune`], `tune of ${lid.name}`, 0.5, 12);
  roll('open', 'the open tin, elsewhere', [`group.${pad('Open Tin').id}`], 'Open Tin', 0.3, 31);
  roll(
    'kit',
    'tins from next door',
    patch.groups.map(({ id }) => `group.${id}`),
    'all pads',
    0.25,
    57,
  );
  return next;
}
