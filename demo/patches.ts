import { noteValue } from '../src/core/music/time';
import { STAND_IN_OUTPUT } from '../src/core/music/outside';
import { EQUAL } from '../src/core/music/tunings';
import {
  fullWindow,
  markAt,
  newLayer,
  newInstrument,
  newMessage,
  newMover,
  newPatch,
  newPath,
  newRoute,
  newSound,
  newZone,
} from '../src/core/rig/defaults';
import { kitOf } from '../src/core/rig/edits/kit';
import { connect, keyFormula } from '../src/core/rig/edits/moves';
import { blendLayers } from '../src/core/rig/edits/pads';
import { bringIn, crossfadeByVelocity, splitLayersAt } from '../src/core/rig/edits/windows';
import type { Layer, LayerWindow, Instrument, Patch } from '../src/core/rig/schema';
import { SOFTEST } from './instruments/tools';
import { kelpMix } from './mixes';
import { kelpTake } from './takes';

export const layer = (
  n: number,
  id: string,
  soundId: string,
  name: string,
  params: Layer['params'],
  windows: Partial<LayerWindow>[] = [],
): Layer => {
  const made = newLayer(id, name, soundId, markAt(n));
  return {
    ...made,
    params,
    windows: [...made.windows, ...(windows as LayerWindow[])],
    touch: { ...made.touch, outLow: SOFTEST },
  };
};

export const FELT = { velocityToLevel: 80, velocityTrack: 36, cutoff: 7000 } as const;
export const WIRE = { attack: 0.18, release: 1.4, velocityToLevel: 80, cutoff: 6500 } as const;
export const PADS = new Map([
  [36, 'Drum'],
  [38, 'Lid'],
  [42, 'Shut Tin'],
  [46, 'Open Tin'],
]);

export function lowWater(): Patch {
  const patch: Patch = {
    ...newPatch('low-water', 'Low Water'),
    tempo: 84,
    notes:
      'bass to the F, one note at a time, sliding where keys overlap · keys from the F sharp · bend moves the bass only, the pedal holds the keys only',
    layers: [
      {
        ...layer(0, 'bass', 'hull-bass', 'Hull Bass', {
          level: 0.6,
          attack: 0.004,
          decay: 6,
          sustain: -14,
          release: 0.16,
          cutoff: 2600,
          velocityTrack: 30,
          velocityToLevel: 80,
          glide: 0.07,
        }),
        receive: { ...newLayer('', '', '', markAt(0)).receive, sustain: false },
        path: { ...newPath(), playing: 'legato' },
      },
      {
        ...layer(1, 'keys', 'felt-keys', 'Felt Keys', { ...FELT, level: -4.1, pan: 0.12 }),
        receive: { ...newLayer('', '', '', markAt(0)).receive, bend: false },
      },
    ],
  };
  return splitLayersAt(patch, 'bass', 'keys', 54, 0);
}

export function ternColony(): Patch {
  const patch: Patch = {
    ...newPatch('tern-colony', 'Tern Colony'),
    a4: 415,
    tuning: { ...EQUAL, scale: 'werckmeister-3' },
    tempo: 72,
    notes: 'keys below, wire above, both in the middle · wheel opens the wire',
    layers: [
      layer(0, 'keys', 'felt-keys', 'Felt Keys', { ...FELT, level: -1.7 }),
      layer(1, 'wire', 'bowed-wire', 'Bowed Wire', { ...WIRE, level: -1.3, cutoff: 2600 }),
    ],
    movers: [
      { ...newMover('lfo', 1, 'Breath'), shape: 'triangle', params: { length: noteValue('1/1') } },
      { ...newMover('wander', 1, 'Eddy'), reach: 'note', params: { rate: 0.5 } },
    ],
    routes: [
      newRoute('open', 'cc.1', 'layer.wire.cutoff', 0.24),
      newRoute('breathe', 'lfo.1', 'layer.wire.cutoff', 0.05),
      newRoute('stray', 'wander.1', 'layer.wire.pan', 0.22),
    ],
  };
  return splitLayersAt(patch, 'keys', 'wire', 64, 23);
}

export function perigee(): Patch {
  const patch: Patch = {
    ...newPatch('perigee', 'Perigee'),
    tempo: 66,
    notes: 'soft: keys · hard: bells · wheel: wire',
    layers: [
      layer(0, 'keys', 'felt-keys', 'Felt Keys', { ...FELT, level: 3.2 }),
      layer(2, 'bells', 'harbour-bells', 'Harbour Bells', {
        level: -2.9,
        velocityToLevel: 90,
        release: 2.5,
        pan: -0.1,
        cutoff: 3500,
        velocityTrack: 36,
      }),
      layer(1, 'wire', 'bowed-wire', 'Bowed Wire', { ...WIRE, level: -2 }),
    ],
    macros: [
      { number: 1, name: 'Swell', value: 0, style: 'strip' },
      { number: 2, name: 'Glint', value: 0, style: 'strip' },
      { number: 3, name: 'Dark', value: 0, style: 'strip' },
    ],
    movers: [
      { ...newMover('envelope', 1, 'Surge'), params: { attack: 1.6, decay: 2.4, sustain: 35 } },
      { ...newMover('hold', 1, 'Spray'), params: { length: noteValue('1/8'), glide: 30 } },
    ],
    routes: [
      newRoute('swell', 'macro.1', 'layer.wire.level', 0.1),
      newRoute('glint', 'macro.2', 'layer.bells.cutoff', 0.25),
      newRoute('dark', 'macro.3', 'layer.keys.cutoff', -0.35),
      newRoute('surge', 'envelope.1', 'layer.wire.cutoff', 0.12),
      newRoute('spray', 'hold.1', 'layer.bells.pan', 0.2),
      { ...newRoute('sparkle', 'scatter.1', 'layer.bells.tune', 0.004), scaledBy: 'velocity' },
    ],
  };
  const faded = crossfadeByVelocity(patch, 'keys', 'bells', 84, 50);
  return bringIn(faded, 'wire', 'cc.1', 0, 100);
}

export function lanternRow(): Patch {
  const patch: Patch = {
    ...newPatch('lantern-row', 'Lantern Row'),
    tempo: 104,
    notes: 'tins at the bottom, reeds from the C below middle C · wheel closes the reeds',
    layers: [
      { ...layer(3, 'tins', 'tin-kit', 'Tin Kit', { level: -0.4, velocityToLevel: 80 }), staysEqual: true },
      layer(5, 'reeds', 'reed-bank', 'Reed Bank', {
        level: -1.4,
        attack: 0.012,
        release: 0.12,
        velocityToLevel: 80,
        cutoff: 4800,
        velocityTrack: 30,
      }),
    ],
    routes: [newRoute('close', 'cc.1', 'layer.reeds.cutoff', -0.4)],
  };
  const split = splitLayersAt(patch, 'tins', 'reeds', 48, 0);
  // The tins are pads of a kit; under the drum lies a short note of the hull, and the shut tin ends the open one.
  let n = 0;
  const pads = kitOf(
    split,
    'tins',
    newSound(
      'tin-kit',
      'Tin Kit',
      [...PADS.keys()].map((key) => newZone('', key)),
    ),
    (key) => PADS.get(key)!,
    () => `pad-${++n}`,
  );
  const drum = pads.groups.find(({ name }) => name === 'Drum')!;
  const under = {
    ...layer(0, 'under', 'hull-bass', 'Hull under it', {
      level: -11,
      attack: 0.001,
      decay: 0.35,
      sustain: -60,
      release: 0.05,
      cutoff: 500,
      velocityToLevel: 90,
    }),
    groupId: drum.id,
    transpose: -3,
  };
  const at = pads.layers.findIndex(({ groupId }) => groupId === drum.id) + 1;
  return {
    ...pads,
    layers: [...pads.layers.slice(0, at), under, ...pads.layers.slice(at)],
    groups: pads.groups.map((group) => (/Tin/.test(group.name) ? { ...group, choke: 1 } : group)),
  };
}

/**
 * A choir between ground and glint, each in a band of its own, through one chain; its take brings bass and tins from
 * other patches.
 */
export function kelpChoir(): Patch {
  const patch: Patch = {
    ...newPatch('kelp-choir', 'Kelp Choir'),
    tempo: 78,
    notes: 'three layers, three bands, one chain · Depth: how far into the dome · wheel opens the choir',
    layers: [
      layer(4, 'choir', 'breath-choir', 'Choir', {
        level: -3,
        attack: 0.22,
        release: 1.1,
        velocityToLevel: 70,
        cutoff: 7000,
      }),
      layer(1, 'ground', 'bowed-wire', 'Ground', {
        level: -4,
        attack: 0.12,
        release: 0.9,
        velocityToLevel: 70,
        cutoff: 1400,
      }),
      {
        ...layer(2, 'glint', 'harbour-bells', 'Glint', { level: 2, release: 2.2, velocityToLevel: 80, cutoff: 12000 }),
        transpose: 12,
      },
    ],
    routes: [newRoute('open-choir', 'cc.1', 'layer.choir.cutoff', 0.15)],
  };
  return { ...kelpMix(patch), takes: [kelpTake()] };
}

/** The bell outside: an instrument beside the rig, for which the stand-in answers. */
export const BELL_TOWER: Instrument = {
  ...newInstrument('bell-tower', 'Bell Tower'),
  output: STAND_IN_OUTPUT,
  channel: 5,
  clock: true,
};
/** Its lowest octave rings the bell outside, an octave lower. */
function towerLayer(): Layer {
  const made = layer(6, 'tower', 'harbour-bells', 'Bell Tower', {});
  const keys = { ...fullWindow('key'), low: 36, high: 47 };
  return {
    ...made,
    windows: [keys, fullWindow('velocity')],
    path: { ...made.path, instrument: BELL_TOWER.id },
  };
}

/**
 * Keys and bells on one line: low and soft the keys, high and hard the bells; the wheel is freed from vibrato and opens
 * both.
 */
export function marshBells(): Patch {
  const patch: Patch = {
    ...newPatch('marsh-bells', 'Marsh Bells'),
    tempo: 76,
    notes: 'low and soft: keys · high and hard: bells · wheel opens both, no vibrato on it · Lean: all to one side',
    layers: [
      layer(0, 'keys', 'felt-keys', 'Felt Keys', { ...FELT, level: 0.7, cutoff: 3600, velocityToLevel: 70 }),
      layer(2, 'bells', 'harbour-bells', 'Harbour Bells', {
        level: -10.7,
        velocityToLevel: 55,
        release: 3,
        cutoff: 2600,
        velocityTrack: 30,
      }),
      towerLayer(),
    ],
    told: [
      {
        id: BELL_TOWER.id,
        // Program 15 of General MIDI is tubular bells.
        enter: [
          { ...newMessage('program'), number: 14, pause: 20 },
          { ...newMessage('controller'), number: 91, value: 60 },
        ],
        leave: [newMessage('notesOff')],
      },
    ],
    knobs: [{ id: 'tower-tone', instrumentId: BELL_TOWER.id, name: 'Tower brightness', controller: 74, value: 40 }],
    macros: [{ number: 1, name: 'Lean', value: 0, style: 'strip' }],
    routes: [
      newRoute('open-keys', 'cc.1', 'layer.keys.cutoff', 0.2),
      newRoute('open-bells', 'cc.1', 'layer.bells.cutoff', 0.22),
      newRoute('open-tower', 'cc.1', 'knob.tower-tone.value', 0.6),
    ],
  };
  const blended = blendLayers(patch, ['keys', 'bells'], 'Marsh')!.patch;
  const byKey = connect(blended, { formula: keyFormula(null) }, 'blend.1', 0.35);
  const byVelocity = connect(byKey, { formula: '2 * (velocity - 1) / 126 - 1' }, 'blend.1', 0.3);
  return connect(byVelocity, 'macro.1', 'blend.1', 0.5);
}
