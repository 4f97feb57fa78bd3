import type { Loop } from '../src/core/dsp/sample';
import {
  markAt,
  newControllers,
  newLayer,
  newMover,
  newPatch,
  newPath,
  newRig,
  newRoute,
  newSound,
  newZone,
  plainLoop,
} from '../src/core/rig/defaults';
import { blendLayers, connect, keyFormula, spreadOverPad, updatePad } from '../src/core/rig/edits/moves';
import { FILTER_KINDS } from '../src/core/space/filterKinds';
import { patternOf, type ArpeggioOrder } from '../src/core/music/arpeggios';
import { NOTE_VALUES, noteValue } from '../src/core/music/time';
import type { Layer, LayerWindow, Patch, Rig, Sample, Sound, Zone } from '../src/core/rig/schema';
import { kitOf } from '../src/core/rig/edits/kit';
import { bringIn, crossfadeByVelocity, splitLayersAt } from '../src/core/rig/edits/windows';
import { writeWav } from '../src/core/formats/wav';
import { breathChoir } from './instruments/breathChoir';
import { kindPatches, kindSounds, withDraws } from './kinds';
import { kelpMix, withMix } from './mixes';
import { demoSetlists } from './show';
import { kelpTake } from './takes';
import { bowedWire } from './instruments/bowedWire';
import { channelsOf } from '../src/core/measure/level';
import { loudnessNow } from '../src/core/measure/loudness';
import { feltKeys } from './instruments/feltKeys';
import { harbourBells } from './instruments/harbourBells';
import { fogAcross } from './instruments/fogSignal';
import { hullBass } from './instruments/hullBass';
import { reedBank } from './instruments/reedBank';
import { tinKit, type PadRecording } from './instruments/tinKit';
import { SOFTEST, type Recording } from './instruments/tools';

export interface DemoRig {
  rig: Rig;
  wavs: Map<string, Uint8Array>;
}

const INSTRUMENTS: readonly (readonly [id: string, name: string, record: () => Recording[]])[] = [
  ['felt-keys', 'Felt Keys', feltKeys],
  ['bowed-wire', 'Bowed Wire', bowedWire],
  ['harbour-bells', 'Harbour Bells', harbourBells],
  ['hull-bass', 'Hull Bass', hullBass],
  ['reed-bank', 'Reed Bank', reedBank],
  ['breath-choir', 'Breath Choir', breathChoir],
];

const TAGS: Readonly<Record<string, readonly string[]>> = {
  'felt-keys': ['struck', 'keys', 'warm'],
  'bowed-wire': ['bowed', 'long', 'bright'],
  'harbour-bells': ['struck', 'metal', 'bright'],
  'hull-bass': ['plucked', 'bass'],
  'reed-bank': ['blown', 'long'],
  'breath-choir': ['sung', 'long', 'warm'],
};

/**
 * The rig Perigee Tide with all its samples, the same bits every time. `hash` gives the hexadecimal SHA-256 of a file.
 */
export function demoRig(hash: (bytes: Uint8Array) => string, size: 'whole' | 'small' = 'whole'): DemoRig {
  const wavs = new Map<string, Uint8Array>();
  const samples: Sample[] = [];
  const keep = ({ audio, root, loop, name }: Recording): string => {
    const bytes = writeWav(audio, { root, loop });
    const sampleId = hash(bytes);
    wavs.set(sampleId, bytes);
    samples.push({
      id: sampleId,
      name,
      rate: audio.rate,
      channels: audio.channels,
      frames: audio.data.length / audio.channels,
    });
    return sampleId;
  };
  const sounds = INSTRUMENTS.map(([id, name, record]): Sound => {
    // For tests a third of the keys will do.
    const recordings = size === 'whole' || id === 'hull-bass' ? record() : everyThirdKey(record());
    return {
      ...newSound(
        id,
        name,
        recordings.map((recording) => ({
          ...zoneOf(keep(recording), recording, recordings),
          gain: gainAmongDynamics(recording, recordings),
        })),
      ),
      tags: [...TAGS[id]],
    };
  });
  sounds.push({
    ...newSound(
      'tin-kit',
      'Tin Kit',
      tinKit().map((recording) => padZone(keep(recording), recording)),
    ),
    alternation: 'shuffled',
    tags: ['struck', 'kit', 'metal'],
  });
  sounds.push(...kindSounds(keep(fogAcross()), sounds));
  const patches = demoPatches().map((patch) => withDraws(patch, sounds));
  return {
    rig: {
      ...newRig('perigee-tide', 'Perigee Tide'),
      patches,
      sounds,
      samples,
      setlists: demoSetlists(),
      setlist: 'perigee-tide',
      controllers: { ...newControllers(), programs: 'setlist' },
    },
    wavs,
  };
}

/**
 * dB that bring the dynamics of a key to the level of their middle one: how hard a strike is does the rest. 0 where a
 * key has one recording.
 */
function gainAmongDynamics(recording: Recording, all: readonly Recording[]): number {
  const dynamics = all.filter(({ root }) => root === recording.root);
  if (dynamics.length < 2) return 0;
  const level = ({ audio }: Recording) =>
    loudnessNow(
      channelsOf({ ...audio, data: audio.data.subarray(0, Math.round(0.4 * audio.rate) * audio.channels) }),
      audio.rate,
    );
  return (
    Math.round(
      10 * Math.max(-MOST_GAIN, Math.min(MOST_GAIN, level(dynamics[dynamics.length >> 1]) - level(recording))),
    ) / 10
  );
}
const MOST_GAIN = 6;

/** The patches in the order of the show. */
export const demoPatches = (): Patch[] =>
  [
    lowWater(),
    ternColony(),
    perigee(),
    slackTide(),
    kelpChoir(),
    marshBells(),
    lanternRow(),
    firstLight(),
    undertow(),
    ...kindPatches(),
  ].map(withMix);

const everyThirdKey = (recordings: Recording[]): Recording[] => {
  const roots = [...new Set(recordings.map(({ root }) => root))].sort((a, b) => a - b);
  return recordings.filter(({ root }) => roots.indexOf(root) % 3 === 0);
};

/** Each recording reaches half-way to its neighbours, the outermost to the ends of the keyboard. */
function zoneOf(
  sampleId: string,
  { root, velocity, loop }: { root: number; velocity: [number, number]; loop: Loop | null },
  all: readonly Recording[],
) {
  const roots = [...new Set(all.map((other) => other.root))].sort((a, b) => a - b);
  const at = roots.indexOf(root);
  const low = at === 0 ? 0 : Math.floor((roots[at - 1] + root) / 2) + 1;
  const high = at === roots.length - 1 ? 127 : Math.floor((root + roots[at + 1]) / 2);
  const zone = newZone(sampleId, root);
  return {
    ...zone,
    key: { ...zone.key, low, high },
    velocity: { ...zone.velocity, low: velocity[0], high: velocity[1] },
    loop: plainLoop(loop),
  };
}

/** A pad plays to its end whatever the key does; the shut tin silences the open one. */
function padZone(sampleId: string, { root, velocity: [low, high], alternate }: PadRecording): Zone {
  const zone = newZone(sampleId, root);
  const tins = root === 42 || root === 46;
  return {
    ...zone,
    velocity: { ...zone.velocity, low, high },
    playback: 'full-length',
    alternate,
    choke: tins ? { group: 1, by: root === 46 ? 1 : null, fade: 'fast' } : null,
  };
}

const layer = (
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

const FELT = { release: 0.28, velocityToLevel: 80, velocityTrack: 36, cutoff: 7000 } as const;
const WIRE = { attack: 0.18, release: 1.4, velocityToLevel: 80, cutoff: 6500 } as const;

function lowWater(): Patch {
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

function ternColony(): Patch {
  const patch: Patch = {
    ...newPatch('tern-colony', 'Tern Colony'),
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

function perigee(): Patch {
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
    macros: [{ number: 1, name: 'Swell', value: 0, style: 'strip' }],
    movers: [
      { ...newMover('envelope', 1, 'Surge'), params: { attack: 1.6, decay: 2.4, sustain: 35 } },
      { ...newMover('hold', 1, 'Spray'), params: { length: noteValue('1/8'), glide: 30 } },
    ],
    routes: [
      newRoute('swell', 'macro.1', 'layer.wire.level', 0.1),
      newRoute('surge', 'envelope.1', 'layer.wire.cutoff', 0.12),
      newRoute('spray', 'hold.1', 'layer.bells.pan', 0.2),
      { ...newRoute('sparkle', 'scatter.1', 'layer.bells.tune', 0.004), scaledBy: 'velocity' },
    ],
  };
  const faded = crossfadeByVelocity(patch, 'keys', 'bells', 84, 50);
  return bringIn(faded, 'wire', 'cc.1', 0, 100);
}

function lanternRow(): Patch {
  const patch: Patch = {
    ...newPatch('lantern-row', 'Lantern Row'),
    tempo: 104,
    notes: 'tins at the bottom, reeds from the C below middle C · wheel closes the reeds',
    layers: [
      layer(3, 'tins', 'tin-kit', 'Tin Kit', { level: -0.4, velocityToLevel: 80 }),
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
const PADS = new Map([
  [36, 'Drum'],
  [38, 'Lid'],
  [42, 'Shut Tin'],
  [46, 'Open Tin'],
]);

/**
 * Four layers around a pad whose dot wanders, each with a list of sounds; one macro morphs along two of the lists,
 * another draws from the others at each strike.
 */
function slackTide(): Patch {
  const listed = (made: Layer, list: readonly string[], morph: boolean): Layer => ({
    ...made,
    list: [...list],
    morph,
    showsName: !morph,
  });
  const patch: Patch = {
    ...newPatch('slack-tide', 'Slack Tide'),
    tempo: 60,
    notes: 'the dot wanders · wheel: how far · Current: along the lists · Scatter: which of them, each strike',
    layers: [
      listed(
        layer(5, 'reeds', 'reed-bank', 'Reeds', {
          level: -2.9,
          attack: 0.25,
          release: 1.2,
          cutoff: 5200,
          velocityToLevel: 60,
        }),
        ['reed-bank', 'bowed-wire'],
        true,
      ),
      listed(layer(1, 'wire', 'bowed-wire', 'Wire', { ...WIRE, level: -1.9 }), ['bowed-wire', 'reed-bank'], true),
      listed(
        layer(2, 'bells', 'harbour-bells', 'Bells', { level: -5.2, release: 2.5, cutoff: 4800, velocityToLevel: 70 }),
        ['harbour-bells', 'felt-keys'],
        false,
      ),
      listed(
        layer(3, 'felt', 'felt-keys', 'Felt', { ...FELT, level: 0.4 }),
        ['felt-keys', 'harbour-bells', 'felt-keys'],
        false,
      ),
    ],
    macros: [
      { number: 1, name: 'Drift', value: 0.35, style: 'strip' },
      { number: 2, name: 'Current', value: 0, style: 'strip' },
      { number: 3, name: 'Scatter', value: 0, style: 'strip' },
      { number: 4, name: 'Open', value: 0.6, style: 'strip' },
    ],
    movers: [{ ...newMover('wander', 1, 'Haze'), params: { rate: 0.2 } }],
    routes: [
      newRoute('speed', 'macro.1', 'xy.1.speed', 0.5),
      newRoute('far', 'cc.1', 'xy.1.radius', 0.4),
      newRoute('reeds-along', 'macro.2', 'layer.reeds.choice', 1),
      newRoute('wire-along', 'macro.2', 'layer.wire.choice', 1),
      { ...newRoute('bells-draw', 'scatter.1', 'layer.bells.choice', 1), scaledBy: 'macro.3' },
      { ...newRoute('felt-draw', 'scatter.2', 'layer.felt.choice', 1), scaledBy: 'macro.3' },
      newRoute('open-reeds', 'macro.4', 'layer.reeds.cutoff', 0.12),
      newRoute('open-wire', 'macro.4', 'layer.wire.cutoff', 0.12),
      newRoute('haze', 'wander.1', 'layer.wire.pan', 0.25),
    ],
  };
  const made = spreadOverPad(patch, ['reeds', 'wire', 'felt', 'bells'], 'Four Waters')!;
  return updatePad(made.patch, 1, { motion: 'wander', params: { speed: 0.08, radius: 0.35 } });
}

/**
 * A choir between ground and glint, each in a band of its own, through one chain; its take brings bass and tins from
 * other patches.
 */
function kelpChoir(): Patch {
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

/**
 * Keys and bells on one line: low and soft the keys, high and hard the bells; the wheel is freed from vibrato and opens
 * both.
 */
function marshBells(): Patch {
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
    ],
    macros: [{ number: 1, name: 'Lean', value: 0, style: 'strip' }],
    routes: [
      newRoute('open-keys', 'cc.1', 'layer.keys.cutoff', 0.2),
      newRoute('open-bells', 'cc.1', 'layer.bells.cutoff', 0.22),
    ],
  };
  const blended = blendLayers(patch, ['keys', 'bells'], 'Marsh')!.patch;
  const byKey = connect(blended, { formula: keyFormula(null) }, 'blend.1', 0.35);
  const byVelocity = connect(byKey, { formula: '2 * (velocity - 1) / 126 - 1' }, 'blend.1', 0.3);
  return connect(byVelocity, 'macro.1', 'blend.1', 0.5);
}

/** Four bands, each an arpeggio of its own in one scale, that breathe in time: a chord held anywhere is enough. */
function firstLight(): Patch {
  const arpeggio = (pattern: string, order: ArpeggioOrder): Layer['path'] => ({
    ...newPath(),
    scale: { on: true, name: 'dorian', root: 2, outside: 'nearest' },
    arpeggio: { on: true, order, pattern: patternOf(pattern), hold: false, start: 'beat' },
  });
  const band = (hz: number, q: number) => ({
    filterKind: FILTER_KINDS.indexOf('off'),
    filter2Kind: FILTER_KINDS.indexOf('band-pass 12 dB'),
    cutoff2: hz,
    resonance2: q,
  });
  const patch: Patch = {
    ...newPatch('first-light', 'First Light'),
    tempo: 96,
    notes: 'hold a chord: four bands go through it in D Dorian · wheel: denser · Dawn opens the bands',
    layers: [
      {
        ...layer(0, 'ground', 'hull-bass', 'Ground', {
          level: -0.5,
          attack: 0.01,
          decay: 3,
          sustain: -12,
          release: 0.3,
          cutoff: 900,
          velocityToLevel: 60,
          arpRate: noteValue('1/4'),
          arpGate: 95,
        }),
        transpose: -12,
        path: arpeggio('X-ox', 'up'),
      },
      {
        ...layer(5, 'reeds', 'reed-bank', 'Reeds', {
          ...band(700, 0.6),
          level: 4.5,
          attack: 0.03,
          release: 0.4,
          velocityToLevel: 60,
          pan: -0.35,
          arpRate: noteValue('1/8'),
          arpGate: 80,
          arpSwing: 56,
        }),
        path: arpeggio('Xo.x o-x.', 'up-down'),
      },
      {
        ...layer(3, 'felt', 'felt-keys', 'Felt', {
          ...band(1800, 0.7),
          level: -4.6,
          release: 0.3,
          velocityToLevel: 60,
          pan: 0.35,
          arpRate: noteValue('1/16'),
          arpGate: 60,
          arpSwing: 56,
        }),
        path: arpeggio('x.oX .x^. xo.x .?o.', 'as-played'),
      },
      {
        ...layer(2, 'bells', 'harbour-bells', 'Bells', {
          ...band(4200, 0.7),
          level: 0.4,
          release: 1.8,
          velocityToLevel: 60,
          arpRate: noteValue('1/8 triplet'),
          arpGate: 150,
          arpOctaves: 2,
          panChance: 60,
        }),
        transpose: 12,
        path: { ...arpeggio('x..?..o..', 'random'), seed: 7 },
      },
    ],
    macros: [{ number: 1, name: 'Dawn', value: 0.35, style: 'strip' }],
    movers: [
      { ...newMover('lfo', 1, 'Breath'), shape: 'sine', params: { length: noteValue('2/1') } },
      { ...newMover('lfo', 2, 'Counter'), shape: 'sine', params: { length: noteValue('2/1'), phase: 50 } },
    ],
    routes: [
      newRoute('breathe-reeds', 'lfo.1', 'layer.reeds.level', 0.06),
      newRoute('breathe-felt', 'lfo.2', 'layer.felt.level', 0.06),
      newRoute('breathe-band', 'lfo.1', 'layer.reeds.cutoff2', 0.05),
      newRoute('counter-band', 'lfo.2', 'layer.felt.cutoff2', 0.05),
      newRoute('dawn-reeds', 'macro.1', 'layer.reeds.cutoff2', 0.1),
      newRoute('dawn-felt', 'macro.1', 'layer.felt.cutoff2', 0.1),
      newRoute('dawn-bells', 'macro.1', 'layer.bells.level', 0.08),
      newRoute(
        'denser',
        'cc.1',
        'layer.reeds.arpRate',
        (noteValue('1/16') - noteValue('1/8')) / (NOTE_VALUES.length - 1),
      ),
    ],
  };
  return patch;
}

/**
 * Wires frozen in short loops that sweep through their recordings, two an octave apart with ranges a little different;
 * a bass below.
 */
function undertow(): Patch {
  const patch: Patch = {
    ...newPatch('undertow', 'Undertow'),
    tempo: 92,
    notes: 'wheel: Sweep moves the loops · foot: Freeze makes them short · Pull: from quarters to eighths',
    layers: [
      layer(1, 'low', 'bowed-wire', 'Wire below', {
        level: -3.2,
        attack: 0.08,
        release: 0.9,
        cutoff: 3000,
        velocityToLevel: 70,
        loopPosition: -18,
      }),
      {
        ...layer(4, 'high', 'bowed-wire', 'Wire above', {
          level: -8.7,
          attack: 0.12,
          release: 0.9,
          cutoff: 4200,
          velocityToLevel: 70,
          loopPosition: -15,
          pan: 0.2,
        }),
        transpose: 12,
      },
      {
        ...layer(0, 'bass', 'hull-bass', 'Hull Bass', {
          level: -9,
          attack: 0.01,
          decay: 5,
          sustain: -12,
          release: 0.2,
          cutoff: 1800,
          velocityToLevel: 70,
        }),
        windows: layer(0, '', '', '', {}).windows.map((window) =>
          window.source === 'key' ? { ...window, high: 52, fadeOut: 5 } : window,
        ),
      },
    ],
    macros: [
      { number: 1, name: 'Sweep', value: 0.3, style: 'strip' },
      { number: 2, name: 'Freeze', value: 0.4, style: 'strip' },
      { number: 3, name: 'Pull', value: 0, style: 'latched' },
    ],
    movers: [
      {
        ...newMover('steps', 1, 'Stones'),
        values: [0, 0.4, -0.3, 0.7, 0.1, -0.6, 0.5, -0.1],
        params: { length: noteValue('1/4'), glide: 25 },
      },
      { ...newMover('lfo', 1, 'Swell'), shape: 'triangle', params: { length: noteValue('2/1') } },
    ],
    routes: [
      newRoute('sweep-low', 'macro.1', 'layer.low.loopPosition', 0.16),
      newRoute('sweep-high', 'macro.1', 'layer.high.loopPosition', 0.13),
      newRoute('freeze-low', 'macro.2', 'layer.low.loopLength', -0.55),
      newRoute('freeze-high', 'macro.2', 'layer.high.loopLength', -0.5),
      newRoute('stones', 'steps.1', 'layer.low.loopPosition', 0.03),
      newRoute('swell', 'lfo.1', 'layer.high.loopPosition', 0.04),
      newRoute('swell-cut', 'lfo.1', 'layer.low.cutoff', 0.07),
      newRoute('pull', 'macro.3', 'steps.1.length', (noteValue('1/8') - noteValue('1/4')) / 17),
      newRoute('wheel-sweep', 'cc.1', 'macro.1', 0.7),
      newRoute('foot-freeze', 'cc.4', 'macro.2', 0.5),
    ],
  };
  return patch;
}
