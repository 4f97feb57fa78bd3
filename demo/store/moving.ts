import { markAt, newGroup, newMover, newRoute } from '../../src/core/rig/defaults';
import { patternOf } from '../../src/core/music/arpeggios';
import { noteValue } from '../../src/core/music/time';
import type { Layer } from '../../src/core/rig/schema';
import { effect, far, layer, lfo, through, within, type Recipe } from './recipe';

/** Pads that move, a kit, and textures. */

/** A piece of the kit: one key, played to its end as the key's own group. */
const piece = (n: number, key: number, name: string, soundId: string, params: Layer['params']): Layer => ({
  ...within(layer(n, `k${key}`, soundId, name, { velocityToLevel: 80, keyTrack: 0, ...params }), 'key', key, key),
  groupId: `g${key}`,
  // Drums stay as they are, whatever the keyboards are tuned to.
  staysEqual: true,
});
const toKey = (key: number, wanted: number) => ({ transpose: wanted - key });
const KIT: readonly Layer[] = [
  { ...piece(0, 36, 'Drum', 'deck-drum', { level: -2 }), ...toKey(36, 36) },
  { ...piece(1, 38, 'Snare', 'deck-snare', { level: -7 }), ...toKey(38, 55) },
  { ...piece(2, 39, 'Slap', 'deck-tin', { level: -10, decay: 0.22, lowCut: 900, cutoff: 5000 }), ...toKey(39, 60) },
  { ...piece(3, 41, 'Low tub', 'deck-drum', { level: -6, decay: 0.7 }), ...toKey(41, 43) },
  { ...piece(4, 42, 'Shut tin', 'deck-tin', { level: -12, decay: 0.09 }), ...toKey(42, 84) },
  { ...piece(5, 45, 'Mid tub', 'deck-drum', { level: -6, decay: 0.6 }), ...toKey(45, 48) },
  { ...piece(6, 46, 'Open tin', 'deck-tin', { level: -13, decay: 0.8, release: 0.6 }), ...toKey(46, 84) },
  { ...piece(7, 48, 'High tub', 'deck-drum', { level: -6, decay: 0.5 }), ...toKey(48, 53) },
];

/** Goes through what is held as chance has it, leaving out as many as it plays. */
const struckByChance = (made: Layer): Layer => ({
  ...made,
  path: {
    ...made.path,
    arpeggio: { on: true, order: 'random', pattern: patternOf('x.o-x..o'), hold: false, start: 'beat' },
  },
});

export const MOVING: readonly Recipe[] = [
  {
    name: 'Vowel Fog',
    family: 'pads',
    tempo: 60,
    notes: 'vowels that change slowly by themselves · Speak: how far they go · Open · wheel: speaks · pressure: opens',
    layers: [layer(4, 'fog', 'vowel-fog', 'Fog', { velocityToLevel: 40 })],
    macros: [
      ['Speak', 0.5],
      ['Open', 0.35, ['layer.fog.cutoff', 0.2]],
      ['Far', 0.5, far('fog', 0.25)],
    ],
    wheel: [['layer.fog.osc1Position', 0.5]],
    pressure: [['layer.fog.cutoff', 0.2]],
    movers: [
      lfo(1, 'Tide', { rate: 0.09 }, { clock: 'hz', shape: 'triangle' }),
      { ...newMover('wander', 1, 'Haze'), params: { rate: 0.4 } },
    ],
    routes: [
      { ...newRoute('tide', 'lfo.1', 'layer.fog.osc1Position', 0.5), scaledBy: 'macro.1' },
      newRoute('haze', 'wander.1', 'layer.fog.pan', 0.2),
    ],
    main: [effect('wide', 'chorus', { mix: 30, rate: 0.3, depth: 0.004 })],
    space: { params: { kind: 4, decay: 6 }, level: -13 },
    level: -9,
    phrase: 'swells',
  },
  {
    name: 'Glass Tide',
    family: 'pads',
    tempo: 66,
    notes: 'glass filled and emptied in time · Fill · Beat: how far it moves · wheel: fills · pressure: rings',
    layers: [
      through(
        layer(2, 'glass', 'glass-tide', 'Glass', { velocityToLevel: 40 }),
        effect('echo', 'echo', {
          note: noteValue('1/4 dotted'),
          feedback: 34,
          mix: 16,
          way: 1,
          lowCut: 400,
          highCut: 5000,
        }),
      ),
    ],
    macros: [
      ['Fill', 0.3, ['layer.glass.osc1Position', 0.5]],
      ['Beat', 0.4],
      ['Far', 0.5, far('glass', 0.25)],
    ],
    wheel: [['layer.glass.osc1Position', 0.4]],
    pressure: [['layer.glass.cutoff', 0.2]],
    movers: [lfo(1, 'Fill', { length: noteValue('1/1') })],
    routes: [{ ...newRoute('fill', 'lfo.1', 'layer.glass.osc1Position', 0.3), scaledBy: 'macro.2' }],
    space: { params: { kind: 4, decay: 5 }, level: -13 },
    level: -9.1,
    phrase: 'swells',
  },
  {
    name: 'Phosphor',
    family: 'pads',
    tempo: 56,
    notes: 'a horn in grains · Scatter · Long: longer grains · wheel: more of them · pressure: farther apart',
    layers: [
      layer(6, 'grains', 'phosphor', 'Phosphor', { velocityToLevel: 40, cutoff: 6500 }),
      layer(1, 'ground', 'bowed-wire', 'Ground', {
        velocityToLevel: 40,
        level: -13,
        attack: 1,
        release: 2,
        cutoff: 900,
      }),
    ],
    macros: [
      ['Scatter', 0.3, ['layer.grains.grainPositionScatter', 0.3], ['layer.grains.grainPitchScatter', 0.01]],
      ['Long', 0.4, ['layer.grains.grainLength', 0.15]],
      ['Ground', 0.4, ['layer.ground.level', 0.12]],
      ['Far', 0.5, far('grains', 0.2), far('ground', 0.2)],
    ],
    wheel: [['layer.grains.grainOverlap', 0.15]],
    pressure: [['layer.grains.grainPositionScatter', 0.2]],
    movers: [{ ...newMover('wander', 1, 'Current'), params: { rate: 0.25 } }],
    routes: [newRoute('current', 'wander.1', 'layer.grains.grainPosition', 0.25)],
    space: { params: { kind: 4, decay: 7, size: 150 }, level: -12 },
    level: -9.7,
    phrase: 'slow',
  },
  {
    name: 'Deck Kit',
    family: 'kits',
    tempo: 96,
    notes:
      'eight pieces on the keys of a kit · Tune: higher or lower · Tight: shorter · Room · wheel: tight · pressure: driven',
    layers: KIT,
    groups: KIT.map(({ groupId, name, mark }, n) => ({
      ...newGroup(groupId!, name, mark ?? markAt(n)),
      // The shut tin ends the open one.
      choke: /tin/.test(name) ? 1 : 0,
    })),
    macros: [
      [
        'Tune',
        0.5,
        ...KIT.filter(({ name }) => /Drum|tub/.test(name)).map(({ id }) => [`layer.${id}.tune`, 0.04] as const),
      ],
      ['Tight', 0.3, ...KIT.map(({ id }) => [`layer.${id}.decay`, -0.15] as const)],
      ['Room', 0.3, ['reverb.room.decay', 0.15], far('k38', 0.2), far('k39', 0.2)],
    ],
    wheel: KIT.map(({ id }) => [`layer.${id}.decay`, -0.12] as const),
    pressure: [['saturation.drive.drive', 0.3]],
    movers: [{ ...newMover('envelope', 1, 'Sink'), params: { attack: 0.001, decay: 0.09, sustain: 0 } }],
    routes: KIT.filter(({ name }) => /Drum|tub/.test(name)).map(({ id }) =>
      newRoute(`sink-${id}`, 'envelope.1', `layer.${id}.tune`, 0.75),
    ),
    main: [
      effect('drive', 'saturation', { drive: 3, mix: 50 }),
      effect('even', 'compressor', { threshold: -20, ratio: 2.5, attack: 0.015, release: 0.12, makeup: 4 }),
    ],
    space: { params: { kind: 0, decay: 0.8, size: 70 }, level: -18, from: ['k38', 'k39', 'k41', 'k45', 'k48'] },
    level: 2.7,
    phrase: 'kit',
  },
  {
    name: 'Sea Floor',
    family: 'textures',
    tempo: 54,
    notes: 'noise that takes the pitch of the key · Ring · Swell: by itself · wheel: rings · pressure: brighter',
    layers: [
      layer(7, 'floor', 'sea-floor', 'Floor', { velocityToLevel: 40 }),
      layer(4, 'voices', 'breath-choir', 'Voices', {
        velocityToLevel: 40,
        level: -18,
        attack: 1.5,
        release: 2.5,
        cutoff: 1800,
      }),
    ],
    macros: [
      ['Ring', 0.4, ['layer.floor.resonance', 0.25], ['layer.floor.combDamping', -0.2]],
      ['Swell', 0.4],
      ['Voices', 0.3, ['layer.voices.level', 0.15]],
      ['Far', 0.5, far('floor', 0.2), far('voices', 0.2)],
    ],
    wheel: [['layer.floor.resonance', 0.2]],
    pressure: [['layer.floor.combDamping', -0.3]],
    movers: [lfo(1, 'Swell', { rate: 0.13 }, { clock: 'hz', shape: 'smooth random' })],
    routes: [{ ...newRoute('swell', 'lfo.1', 'layer.floor.level', 0.1), scaledBy: 'macro.2' }],
    space: { params: { kind: 4, decay: 8, size: 150 }, level: -12 },
    level: -9.1,
    phrase: 'slow',
  },
  {
    name: 'Rigging',
    family: 'textures',
    tempo: 84,
    notes:
      'hold a chord: lines strike the mast, never twice alike · Wind: how often · Stray · wheel: wind · pressure: brighter',
    layers: [
      through(
        struckByChance(
          layer(3, 'mast', 'lamp-bars', 'Mast', {
            velocityToLevel: 60,
            level: -8,
            release: 2.2,
            cutoff: 5200,
            arpRate: noteValue('1/16'),
            arpGate: 60,
            arpOctaves: 2,
          }),
        ),
        effect('echo', 'echo', {
          note: noteValue('1/8 dotted'),
          feedback: 42,
          mix: 24,
          way: 1,
          lowCut: 400,
          highCut: 6000,
        }),
      ),
      layer(7, 'water', 'sea-floor', 'Water', { velocityToLevel: 30, level: -14, attack: 1.5, release: 2.5 }),
    ],
    macros: [
      ['Wind', 0.4, ['layer.mast.arpRate', 0.25]],
      ['Stray', 0.35],
      ['Far', 0.5, far('mast', 0.2), far('water', 0.2)],
    ],
    wheel: [['layer.water.level', 0.12]],
    pressure: [['layer.mast.cutoff', 0.2]],
    routes: [
      { ...newRoute('stray-pan', 'scatter.1', 'layer.mast.pan', 0.6), scaledBy: 'macro.2' },
      { ...newRoute('stray-level', 'scatter.2', 'layer.mast.level', 0.1), scaledBy: 'macro.2' },
      { ...newRoute('stray-open', 'scatter.3', 'layer.mast.cutoff', 0.2), scaledBy: 'macro.2' },
    ],
    space: { params: { kind: 4, decay: 5.5, size: 140 }, level: -13 },
    level: 2.4,
    phrase: 'slow',
  },
];
