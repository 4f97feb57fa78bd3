import { strToU8, zipSync } from 'fflate';
import { aiff, flac } from '../../tests/kit/audioFiles';
import { anyPatch, rigWith } from '../../tests/kit/company';
import { Chance } from '../../src/core/dsp/chance';
import type { Audio } from '../../src/core/dsp/sample';
import { readAudioFile } from '../../src/core/formats/audioFile';
import { readPage } from '../../src/core/formats/chordPro';
import { FileError } from '../../src/core/formats/fileError';
import { readTake, writeTake } from '../../src/core/formats/midiFile';
import { readArchive, writeArchive } from '../../src/core/formats/rigArchive';
import { readKbm, readScl } from '../../src/core/formats/scala';
import { readSfz } from '../../src/core/formats/sfzRead';
import { readSoundFont } from '../../src/core/formats/soundFont';
import { writeSoundFont } from '../../src/core/formats/soundFontWrite';
import { readWav, writeWav } from '../../src/core/formats/wav';
import { filesOfZip } from '../../src/core/formats/zip';
import { newRig, newSound, newZone, plainLoop } from '../../src/core/rig/defaults';
import { faultOf, readRig, RigError } from '../../src/core/rig/read';
import type { Rig, Zone } from '../../src/core/rig/schema';
import { mutatedBytes, mutatedJson, mutatedText } from './mutate';
import { Tally, type Outcome, type Part } from './part';

const FRAMES = 300;
const TONE: Audio = {
  rate: 48000,
  channels: 1,
  data: Float32Array.from({ length: FRAMES }, (_, n) => 0.5 * Math.sin(n / 7)),
};
const LONGEST_ANSWER_MS = 2000;
/** With what a process takes that has read nothing yet it stays below 1 GB. */
const MOST_MEMORY_MB = 768;

/** A reader: what it is given, and what is wrong with what it took; undefined: nothing. */
interface Reader {
  name: string;
  /** One of these is changed. */
  bases: readonly unknown[];
  mutate: (base: never, chance: Chance) => unknown;
  read: (given: never) => string | undefined | Promise<string | undefined>;
}

const finite = (data: ArrayLike<number>): string | undefined => {
  for (let i = 0; i < data.length; i++) if (!Number.isFinite(data[i])) return `frame ${i} is ${data[i]}`;
  return undefined;
};

/** A rig whose one sound has these zones: its schema says whether they are sound. */
function faultOfZones(zones: readonly Zone[], frames: number): string | undefined {
  const rig: Rig = {
    ...newRig('rig', 'rig'),
    sounds: [
      newSound(
        'sound',
        'sound',
        zones.map((zone) => ({ ...zone, sampleId: 'w' })),
      ),
    ],
    samples: [{ id: 'w', name: 'w', rate: 48000, channels: 1, frames }],
  };
  return faultOf(rig)?.message;
}

const WAVS = (['pcm16', 'pcm24', 'float32'] as const).map((encoding) =>
  writeWav(TONE, { encoding, root: 60, loop: { start: 10, end: 200 } } as never),
);
const zone = newZone('w', 60);
const FONT = writeSoundFont(
  'font',
  [
    newSound('s', 'Felt', [
      { ...zone, loop: plainLoop({ start: 20, end: 200 }) },
      { ...zone, pan: 0.5 },
    ]),
  ],
  () => TONE,
  () => 'w.wav',
).bytes;
const TAKE = writeTake(
  {
    name: 'take',
    seconds: 2,
    events: [
      { at: 0, event: { type: 'noteOn', channel: 1, key: 60, velocity: 90 } },
      { at: 0.5, event: { type: 'controller', channel: 1, controller: 64, value: 127 } },
      { at: 0.8, event: { type: 'bend', channel: 2, bend: 0.3 } },
      { at: 1, event: { type: 'noteOff', channel: 1, key: 60, velocity: 64 } },
    ],
  },
  120,
);
const SFZ = [
  '#define $KEY 60',
  '<control> default_path=audio/ note_offset=0',
  '<global> ampeg_release=0.4 cutoff=2000 // soft',
  '<group> lovel=1 hivel=90 xfin_lovel=1 xfin_hivel=30',
  '<region> sample=a.wav key=$KEY loop_mode=loop_continuous loop_start=10 loop_end=200',
  '<region> sample=b.wav lokey=c3 hikey=g#4 pitch_keycenter=62 tune=-12 volume=-3 pan=20 seq_length=2 seq_position=1',
].join('\n');
const SCL = '! scale.scl\n!\nA scale\n 5\n!\n 9/8\n 386.3\n 3/2\n 5/3\n 2/1\n';
const KBM = '! map.kbm\n12\n0\n127\n60\n69\n440.0\n12\n0\n1\n2\nx\n4\n5\n6\n7\n8\n9\n10\n11\n';
const PAGE =
  '{title: The tide}\n{key: D}\n{start_of_chorus}\n[D]Out and [A/C#]in\n{end_of_chorus}\n{comment: quietly}\n';

const RIG: Rig = rigWith([anyPatch(0), anyPatch(3, 'q')]);

const audio = async (bytes: Uint8Array): Promise<string | undefined> =>
  finite(readWav((await readAudioFile(bytes)).wav).audio.data);

export const READERS: readonly Reader[] = [
  { name: 'WAV', bases: WAVS, mutate: mutatedBytes, read: (bytes: Uint8Array) => finite(readWav(bytes).audio.data) },
  { name: 'AIFF', bases: [aiff(TONE.data, 1, 16), aiff(TONE.data, 1, 24)], mutate: mutatedBytes, read: audio },
  { name: 'FLAC', bases: [flac(Int16Array.from(TONE.data, (x) => 32767 * x))], mutate: mutatedBytes, read: audio },
  {
    name: 'SoundFont',
    bases: [FONT],
    mutate: mutatedBytes,
    read: (bytes: Uint8Array) => {
      const { presets, samples } = readSoundFont(bytes);
      for (const { zones } of presets)
        for (const each of zones) {
          const wrong = faultOfZones([each.zone], samples[each.sample].audio.data.length);
          if (wrong) return wrong;
        }
      return samples.map(({ audio: { data } }) => finite(data)).find((wrong) => wrong);
    },
  },
  {
    name: 'MIDI file',
    bases: [TAKE],
    mutate: mutatedBytes,
    read: (bytes: Uint8Array) => {
      const { seconds, events } = readTake(bytes, 'x.mid');
      return finite([seconds, ...events.map(({ at }) => at)]);
    },
  },
  {
    name: 'SFZ',
    bases: [SFZ],
    mutate: mutatedText,
    read: (text: string) => {
      const sampleOf = () => ({ sampleId: 'w', frames: FRAMES, root: 60, tuneCents: 0, loop: null });
      return faultOfZones(readSfz(text, 'x.sfz', () => undefined, sampleOf).zones, FRAMES);
    },
  },
  {
    name: 'Scala scale',
    bases: [SCL],
    mutate: mutatedText,
    read: (text: string) => finite(readScl(text).degrees as unknown as number[]),
  },
  {
    name: 'Scala mapping',
    bases: [KBM],
    mutate: mutatedText,
    read: (text: string) => finite([readKbm(text).referenceHz]),
  },
  { name: 'page of a song', bases: [PAGE], mutate: mutatedText, read: (text: string) => void readPage(text) },
  {
    name: 'rig',
    bases: [RIG],
    mutate: mutatedJson,
    // What is taken is a rig to the last field: it is taken again as it was.
    read: (json: unknown) => faultOf(readRig(JSON.parse(JSON.stringify(readRig(json)))))?.message,
  },
  {
    name: 'rig archive',
    bases: [writeArchive(RIG, () => WAVS[0])],
    mutate: mutatedBytes,
    read: (bytes: Uint8Array) => faultOf(readArchive(bytes).rig)?.message,
  },
  {
    name: 'zip',
    bases: [zipSync({ 'a/b.wav': WAVS[0], 'c.sfz': strToU8(SFZ) })],
    mutate: mutatedBytes,
    read: (bytes: Uint8Array) => void filesOfZip(bytes),
  },
];

/** An answer to a file is one line that says what is wrong; anything else is a fault of the reader. */
function faultOfAnswer(error: unknown): string | undefined {
  if (!(error instanceof FileError) && !(error instanceof RigError)) return (error as Error).stack ?? String(error);
  const { message } = error;
  return message.trim() === '' || /\n/.test(message) || message.length > 1000
    ? `answers “${message.slice(0, 200)}”`
    : undefined;
}

const mostMemoryMb = (): number => Math.round(process.resourceUsage().maxRSS / 1024);
/** Before the first file: what other tests of the same process took is not of the files. */
const BEFORE = mostMemoryMb();

/** Files by number: each reader in its turn, each file from a seed of its own. */
async function tryFiles(first: number, count: number): Promise<Outcome> {
  const tally = new Tally();
  for (let seed = first; seed < first + count; seed++) {
    const reader = READERS[seed % READERS.length];
    const chance = new Chance(seed + 1);
    const given = reader.mutate(reader.bases[chance.below(reader.bases.length)] as never, chance);
    const began = performance.now();
    let wrong: string | undefined;
    let taken = true;
    try {
      wrong = await reader.read(given as never);
    } catch (error) {
      taken = false;
      wrong = faultOfAnswer(error);
    }
    const ms = performance.now() - began;
    tally.count(`${reader.name}: ${taken ? 'taken' : 'refused'}`);
    tally.measure('ms until the slowest answer', Math.round(ms));
    if (wrong) tally.fail(`file ${seed}, ${reader.name}: ${wrong}`);
    if (ms > LONGEST_ANSWER_MS) tally.fail(`file ${seed}, ${reader.name}: answered after ${Math.round(ms)} ms`);
  }
  const memory = mostMemoryMb() - BEFORE;
  tally.measure('MB of memory more at the most', memory);
  if (memory > MOST_MEMORY_MB) tally.fail(`files ${first} to ${first + count - 1}: the process took ${memory} MB more`);
  return tally.outcome;
}

export const FILES: Part = {
  name: 'files',
  promise:
    'Whatever a file holds is answered within two seconds: taken as something sound, or refused in one line; no reader takes more than 1 GB',
  against:
    'the schema of the rig for what is taken; mutations of bytes, of words and lines, and of the values of a rig',
  items: 'files changed by chance',
  count: 1_000_000,
  chunk: 5000,
  try: tryFiles,
};
