import type { Loop } from '../src/core/dsp/sample';
import { markAt, newLayer, newPatch, newRig, newSound, newZone, plainLoop } from '../src/core/rig/defaults';
import type { Layer, LayerWindow, Patch, Rig, Sample, Sound, Zone } from '../src/core/rig/schema';
import { bringIn, crossfadeByVelocity, splitLayersAt } from '../src/core/rig/edits/windows';
import { writeWav } from '../src/core/formats/wav';
import { bowedWire } from './instruments/bowedWire';
import { feltKeys } from './instruments/feltKeys';
import { harbourBells } from './instruments/harbourBells';
import { hullBass } from './instruments/hullBass';
import { reedBank } from './instruments/reedBank';
import { tinKit, type PadRecording } from './instruments/tinKit';
import { SOFTEST, type Recording } from './instruments/tools';

export interface DemoRig { rig: Rig; wavs: Map<string, Uint8Array> }

const INSTRUMENTS: readonly (readonly [id: string, name: string, record: () => Recording[]])[] = [
  ['felt-keys', 'Felt Keys', feltKeys],
  ['bowed-wire', 'Bowed Wire', bowedWire],
  ['harbour-bells', 'Harbour Bells', harbourBells],
  ['hull-bass', 'Hull Bass', hullBass],
  ['reed-bank', 'Reed Bank', reedBank],
];

/** The rig Perigee Tide with all its samples, the same bits every time. `hash` gives the hexadecimal SHA-256 of a file. */
export function demoRig(hash: (bytes: Uint8Array) => string, size: 'whole' | 'small' = 'whole'): DemoRig {
  const wavs = new Map<string, Uint8Array>();
  const samples: Sample[] = [];
  const keep = ({ audio, root, loop, name }: Recording): string => {
    const bytes = writeWav(audio, { root, loop });
    const sampleId = hash(bytes);
    wavs.set(sampleId, bytes);
    samples.push({ id: sampleId, name, rate: audio.rate, channels: audio.channels, frames: audio.data.length / audio.channels });
    return sampleId;
  };
  const sounds = INSTRUMENTS.map(([id, name, record]): Sound => {
    // For tests a third of the keys will do.
    const recordings = size === 'whole' || id === 'hull-bass' ? record() : everyThirdKey(record());
    return newSound(id, name, recordings.map((recording) => zoneOf(keep(recording), recording, recordings)));
  });
  sounds.push({ ...newSound('tin-kit', 'Tin Kit', tinKit().map((recording) => padZone(keep(recording), recording))), alternation: 'shuffled' });
  const patches = [lowWater(), ternColony(), perigee(), lanternRow()];
  return { rig: { ...newRig('perigee-tide', 'Perigee Tide'), patches, sounds, samples, setlist: patches.map((patch) => patch.id) }, wavs };
}

const everyThirdKey = (recordings: Recording[]): Recording[] => {
  const roots = [...new Set(recordings.map(({ root }) => root))].sort((a, b) => a - b);
  return recordings.filter(({ root }) => roots.indexOf(root) % 3 === 0);
};

/** Each recording reaches half-way to its neighbours, the outermost to the ends of the keyboard. */
function zoneOf(sampleId: string, { root, velocity, loop }: { root: number; velocity: [number, number]; loop: Loop | null }, all: readonly Recording[]) {
  const roots = [...new Set(all.map((other) => other.root))].sort((a, b) => a - b);
  const at = roots.indexOf(root);
  const low = at === 0 ? 0 : Math.floor((roots[at - 1] + root) / 2) + 1;
  const high = at === roots.length - 1 ? 127 : Math.floor((root + roots[at + 1]) / 2);
  const zone = newZone(sampleId, root);
  return { ...zone, key: { ...zone.key, low, high }, velocity: { ...zone.velocity, low: velocity[0], high: velocity[1] }, loop: plainLoop(loop) };
}

/** A pad plays to its end whatever the key does; the shut tin silences the open one. */
function padZone(sampleId: string, { root, velocity: [low, high], alternate }: PadRecording): Zone {
  const zone = newZone(sampleId, root);
  const tins = root === 42 || root === 46;
  return { ...zone, velocity: { ...zone.velocity, low, high }, playback: 'full-length', alternate, choke: tins ? { group: 1, by: root === 46 ? 1 : null, fade: 'fast' } : null };
}

const layer = (n: number, id: string, soundId: string, name: string, params: Layer['params'], windows: Partial<LayerWindow>[] = []): Layer => {
  const made = newLayer(id, name, soundId, markAt(n));
  return { ...made, params, windows: [...made.windows, ...(windows as LayerWindow[])], touch: { ...made.touch, outLow: SOFTEST } };
};

const FELT = { release: 0.28, velocityToLevel: 80, velocityTrack: 36, cutoff: 7000 } as const;
const WIRE = { attack: 0.18, release: 1.4, velocityToLevel: 80, cutoff: 6500 } as const;

function lowWater(): Patch {
  const patch: Patch = {
    ...newPatch('low-water', 'Low Water'), tempo: 84, notes: 'bass to the F, keys from the F sharp · bend moves the bass only, the pedal holds the keys only',
    layers: [
      { ...layer(0, 'bass', 'hull-bass', 'Hull Bass', { level: -1.2, attack: 0.004, decay: 6, sustain: -14, release: 0.16, cutoff: 2600, velocityTrack: 30, velocityToLevel: 80 }), receive: { ...newLayer('', '', '', markAt(0)).receive, sustain: false } },
      { ...layer(1, 'keys', 'felt-keys', 'Felt Keys', { ...FELT, level: -4.2, pan: 0.12 }), receive: { ...newLayer('', '', '', markAt(0)).receive, bend: false } },
    ],
  };
  return splitLayersAt(patch, 'bass', 'keys', 54, 0);
}

function ternColony(): Patch {
  const patch: Patch = {
    ...newPatch('tern-colony', 'Tern Colony'), tempo: 72, notes: 'keys below, wire above, both in the middle · wheel opens the wire',
    layers: [
      layer(0, 'keys', 'felt-keys', 'Felt Keys', { ...FELT, level: -1.7 }),
      layer(1, 'wire', 'bowed-wire', 'Bowed Wire', { ...WIRE, level: -1.3, cutoff: 2600 }),
    ],
    routes: [{ id: 'open', source: 'cc.1', target: 'layer.wire.cutoff', depth: 0.24, curve: 'linear', polarity: 'as-is', bound: false, counts: 'last' as const, on: true }],
  };
  return splitLayersAt(patch, 'keys', 'wire', 64, 23);
}

function perigee(): Patch {
  const patch: Patch = {
    ...newPatch('perigee', 'Perigee'), tempo: 66, notes: 'soft: keys · hard: bells · wheel: wire',
    layers: [
      layer(0, 'keys', 'felt-keys', 'Felt Keys', { ...FELT, level: 3.2 }),
      layer(2, 'bells', 'harbour-bells', 'Harbour Bells', { level: -2.9, velocityToLevel: 90, release: 2.5, pan: -0.1, cutoff: 3500, velocityTrack: 36 }),
      layer(1, 'wire', 'bowed-wire', 'Bowed Wire', { ...WIRE, level: -2 }),
    ],
    macros: [{ number: 1, name: 'Swell', value: 0, style: 'strip' as const }],
    routes: [{ id: 'swell', source: 'macro.1', target: 'layer.wire.level', depth: 0.1, curve: 'linear', polarity: 'as-is', bound: false, counts: 'last' as const, on: true }],
  };
  const faded = crossfadeByVelocity(patch, 'keys', 'bells', 84, 50);
  return bringIn(faded, 'wire', 'cc.1', 0, 100);
}

function lanternRow(): Patch {
  const patch: Patch = {
    ...newPatch('lantern-row', 'Lantern Row'), tempo: 104, notes: 'tins at the bottom, reeds from the C below middle C · wheel closes the reeds',
    layers: [
      layer(3, 'tins', 'tin-kit', 'Tin Kit', { level: -0.4, velocityToLevel: 80 }),
      layer(5, 'reeds', 'reed-bank', 'Reed Bank', { level: -1.4, attack: 0.012, release: 0.12, velocityToLevel: 80, cutoff: 4800, velocityTrack: 30 }),
    ],
    routes: [{ id: 'close', source: 'cc.1', target: 'layer.reeds.cutoff', depth: -0.4, curve: 'linear', polarity: 'as-is', bound: false, counts: 'last' as const, on: true }],
  };
  return splitLayersAt(patch, 'tins', 'reeds', 48, 0);
}
