import { newControllers, newRig, newSound, newZone, plainLoop } from '../src/core/rig/defaults';
import type { Patch, Rig, Sample, Sound, Zone } from '../src/core/rig/schema';
import { writeWav } from '../src/core/formats/wav';
import { kindPatches, kindSounds, withDraws } from './kinds';
import { withMix } from './mixes';
import { demoSetlists } from './show';
import { channelsOf } from '../src/core/measure/level';
import { loudnessNow } from '../src/core/measure/loudness';
import { INSTRUMENTS, type Instrument } from './instruments';
import { fogAcross } from './instruments/fogSignal';
import { tinKit, type PadRecording } from './instruments/tinKit';
import { type Recording } from './instruments/tools';
import { BELL_TOWER, lowWater, ternColony, perigee, lanternRow, kelpChoir, marshBells } from './patches';
import { slackTide, firstLight, undertow } from './patchesThatMove';

export type Size = 'whole' | 'small';

export interface DemoRig {
  rig: Rig;
  wavs: Map<string, Uint8Array>;
}

const SHOW = ['felt', 'wire', 'bells', 'hull', 'reeds', 'choir'] as const;

/** The patch by which somebody meets it: velocity and the wheel both do something that is heard at once. */
export const OPENS_ON = 'perigee';

/**
 * The rig Perigee Tide with all its samples, the same bits every time. `hash` gives the hexadecimal SHA-256 of a file.
 */
export function demoRig(hash: (bytes: Uint8Array) => string, size: Size = 'whole'): DemoRig {
  const kept = keeper(hash);
  const sounds = SHOW.map((each) => soundOf(INSTRUMENTS[each], kept, size));
  sounds.push({
    ...newSound(
      'tin-kit',
      'Tin Kit',
      tinKit().map((recording) => padZone(kept.keep(recording), recording)),
    ),
    alternation: 'shuffled',
    tags: ['struck', 'kit', 'metal'],
  });
  sounds.push(...kindSounds(kept.keep(fogAcross()), sounds));
  const patches = demoPatches().map((patch) => withDraws(patch, sounds));
  return {
    rig: {
      ...newRig('perigee-tide', 'Perigee Tide'),
      patches,
      sounds,
      samples: kept.samples,
      setlists: demoSetlists(),
      setlist: 'perigee-tide',
      instruments: [BELL_TOWER],
      controllers: { ...newControllers(), programs: 'setlist' },
    },
    wavs: kept.wavs,
  };
}

export interface Keeper {
  wavs: Map<string, Uint8Array>;
  samples: Sample[];
  /** Keeps a recording as a file and gives its id. */
  keep: (recording: Recording) => string;
}

/** Where recordings go as they are made, each once. */
export function keeper(hash: (bytes: Uint8Array) => string): Keeper {
  const wavs = new Map<string, Uint8Array>();
  const samples: Sample[] = [];
  const keep = ({ audio, root, loop, name }: Recording): string => {
    const bytes = writeWav(audio, { root, loop });
    const id = hash(bytes);
    wavs.set(id, bytes);
    const { rate, channels } = audio;
    samples.push({ id, name, rate, channels, frames: audio.data.length / channels });
    return id;
  };
  return { wavs, samples, keep };
}

/** An instrument as a sound of zones; `small` is for tests, for which a third of the keys will do. */
export function soundOf({ id, name, tags, notes, record }: Instrument, { keep }: Keeper, size: Size = 'whole'): Sound {
  let nth = 0;
  const recordings = size === 'whole' || id === 'hull-bass' ? record() : record(() => nth++ % 3 === 0);
  const zones = recordings.map((recording) => ({
    ...zoneOf(keep(recording), recording, recordings),
    gain: gainAmongDynamics(recording, recordings),
  }));
  return { ...newSound(id, name, zones), tags: [...tags], notes };
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

/** Each recording reaches half-way to its neighbours, the outermost to the ends of the keyboard. */
function zoneOf(
  sampleId: string,
  { root, velocity, loop, params = {} }: Omit<Recording, 'name' | 'audio'>,
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
    params,
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
