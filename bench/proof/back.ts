import { BlobReader, TextWriter, Uint8ArrayWriter, ZipReader, configure, type FileEntry } from '@zip.js/zip.js';
import fc from 'fast-check';
import * as soundFonts from 'soundfont2';
import * as waveFiles from 'wavefile';
import { anyOf, anyPatch, edited, rigWith } from '../../tests/kit/company';
import { zones as anyZones } from '../../tests/kit/sfz';
import { Chance } from '../../src/core/dsp/chance';
import type { Audio } from '../../src/core/dsp/sample';
import { readAudioFile } from '../../src/core/formats/audioFile';
import { writeFlac } from '../../src/core/formats/flac';
import { pathOfSample, readArchive, writeArchive } from '../../src/core/formats/rigArchive';
import { writeSoundFont } from '../../src/core/formats/soundFontWrite';
import { readWav, writeWav } from '../../src/core/formats/wav';
import { newSound } from '../../src/core/rig/defaults';
import { Tally, type Outcome, type Part } from './part';

configure({ useWebWorkers: false });
/** A package of the older kind: some loaders find its names in it, others in what it gives by default. */
const ofOld = <T extends object>(found: T, name: keyof T): T =>
  name in found ? found : (found as { default: T }).default;
const { SoundFont2 } = ofOld(soundFonts, 'SoundFont2');
const { WaveFile } = ofOld(waveFiles, 'WaveFile');

/** A recording by chance whose values a word of so many bits holds. */
function anyAudio(chance: Chance, bits: number): Audio {
  const channels = anyOf([1, 2] as const, chance);
  const full = 2 ** (bits - 1);
  const data = Float32Array.from({ length: channels * (1 + chance.below(3000)) }, () =>
    Math.max(-1, Math.min(1 - 1 / full, Math.round(full * (2 * chance.share() - 1)) / full)),
  );
  return { rate: anyOf([22050, 44100, 48000, 88200, 96000], chance), channels, data };
}

/** What differs first, or undefined. */
function firstDifference(what: string, ours: ArrayLike<unknown>, theirs: ArrayLike<unknown>): string | undefined {
  if (ours.length !== theirs.length) return `${what}: ${ours.length} were written, ${theirs.length} read`;
  for (let i = 0; i < ours.length; i++)
    if (ours[i] !== theirs[i]) return `${what} ${i}: ${String(ours[i])} was written, ${String(theirs[i])} read`;
  return undefined;
}

type Trial = (chance: Chance, seed: number) => Promise<string | undefined> | string | undefined;

/** WAV, read by the package wavefile. */
const wav: Trial = (chance) => {
  const bits = anyOf([16, 24] as const, chance);
  const audio = anyAudio(chance, bits);
  const frames = audio.data.length / audio.channels;
  const root = chance.below(128);
  const start = chance.below(frames);
  const loop = frames - start > 1 ? { start, end: start + 1 + chance.below(frames - start) } : null;
  const read = new WaveFile(writeWav(audio, { encoding: bits === 16 ? 'pcm16' : 'pcm24', root, loop }));
  const { fmt, smpl } = read as unknown as {
    fmt: { sampleRate: number; numChannels: number; bitsPerSample: number };
    smpl: { dwMIDIUnityNote: number; loops: { dwStart: number; dwEnd: number }[] };
  };
  const samples = read.getSamples(true) as unknown as Float64Array;
  const full = 2 ** (bits - 1);
  return (
    firstDifference(
      'header',
      // The end of a loop in the file is its last frame (Multimedia Programming Interface 1.0).
      [audio.rate, audio.channels, bits, root, loop?.start, loop && loop.end - 1],
      [
        fmt.sampleRate,
        fmt.numChannels,
        fmt.bitsPerSample,
        smpl.dwMIDIUnityNote,
        smpl.loops[0]?.dwStart,
        loop && smpl.loops[0]?.dwEnd,
      ],
    ) ??
    firstDifference(
      'value',
      Array.from(audio.data, (x) => x * full),
      samples,
    )
  );
};

/** FLAC: written by libFLAC, read by another decoder. */
const flac: Trial = async (chance) => {
  const bits = anyOf([16, 24] as const, chance);
  const audio = anyAudio(chance, bits);
  const { audio: back } = readWav((await readAudioFile(await writeFlac(audio, bits))).wav);
  return (
    firstDifference('header', [audio.rate, audio.channels], [back.rate, back.channels]) ??
    firstDifference('value', audio.data, back.data)
  );
};

/** SoundFont, read by the package soundfont2. */
const soundFont: Trial = (chance, seed) => {
  const zones = fc
    .sample(fc.array(anyZones, { minLength: 1, maxLength: 6 }), { seed: seed + 1, numRuns: 1 })[0]
    // Windows on controllers and what only SFZ says have no words there.
    .map((zone) => ({
      ...zone,
      windows: [],
      loop: null,
      reverse: false,
      end: null,
      start: 0,
      trigger: 'attack' as const,
    }));
  const audio: Audio = { ...anyAudio(chance, 16), channels: 1 };
  const { bytes } = writeSoundFont(
    'font',
    [newSound('s', 'S', zones)],
    () => audio,
    () => 'w.wav',
  );
  const read = SoundFont2.from(bytes).instruments[0].zones.filter(({ sample }) => sample !== undefined);
  const row = (low?: number, high?: number, root?: number) => `${low}-${high} of ${root}`;
  return firstDifference(
    'zone',
    zones.map(({ key, root }) => row(key.low, key.high, root)),
    read.map(({ keyRange, generators }) => row(keyRange?.lo ?? 0, keyRange?.hi ?? 127, generators[58]?.value)),
  );
};

/** An archive of a rig, opened by the package zip.js; what is read of it is the rig to its last field. */
const archive: Trial = async (chance, seed) => {
  const patches = [anyPatch(seed), edited(anyPatch(seed + 1, 'q'), chance)];
  const rig = rigWith(patches);
  const wavOf = () => writeWav(anyAudio(new Chance(seed), 16));
  const bytes = writeArchive(rig, wavOf);
  const entries = await new ZipReader(new BlobReader(new Blob([new Uint8Array(bytes)]))).getEntries();
  const entry = (name: string) => entries.find(({ filename }) => filename === name) as FileEntry | undefined;
  const text = await entry('rig.json')?.getData(new TextWriter());
  const sound = await entry(pathOfSample(rig.samples[0]))?.getData(new Uint8ArrayWriter());
  const plain = JSON.stringify(rig);
  return (
    firstDifference('archive', [plain], [JSON.stringify(JSON.parse(text ?? 'null'))]) ??
    firstDifference('rig', [plain], [JSON.stringify(readArchive(bytes).rig)]) ??
    firstDifference('byte of a sample', wavOf(), sound ?? [])
  );
};

const TRIALS: readonly (readonly [string, Trial])[] = [
  ['WAV by wavefile', wav],
  ['FLAC by another decoder', flac],
  ['SoundFont by soundfont2', soundFont],
  ['rig archive by zip.js', archive],
];

/** Files by number: each format in its turn. */
async function tryBack(first: number, count: number): Promise<Outcome> {
  const tally = new Tally();
  for (let seed = first; seed < first + count; seed++) {
    const [name, trial] = TRIALS[seed % TRIALS.length];
    tally.count(name);
    try {
      const wrong = await trial(new Chance(seed + 1), seed);
      if (wrong) tally.fail(`file ${seed}, ${name}: ${wrong}`);
    } catch (error) {
      tally.fail(`file ${seed}, ${name}: ${(error as Error).stack}`);
    }
  }
  return tally.outcome;
}

export const BACK: Part = {
  name: 'back',
  promise: 'What is written is read by others as it was meant, and by us to its last field',
  against: 'the packages wavefile, soundfont2 and zip.js, and a decoder of FLAC that is not of the encoder’s makers',
  items: 'files written by chance',
  count: 8000,
  chunk: 200,
  try: tryBack,
};
