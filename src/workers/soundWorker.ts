import { expose, transfer } from 'comlink';
import { openDB, type IDBPDatabase } from 'idb';
import { audioKind, joinedChannels, plainFile, readAudioFile, type AudioFile } from '../core/formats/audioFile';
import { bringSoundFont } from '../core/formats/bringSoundFont';
import { bringSfz, lookOver, samplePathsOf, type BroughtFile, type BroughtSound } from '../core/formats/bringIn';
import { FolderIndex } from '../core/formats/folder';
import { readWav } from '../core/formats/wav';
import { evenedLoop } from '../core/measure/evenLoop';
import { channelsOf, levelsOf, type Levels } from '../core/measure/level';
import { loopOf, recordingOf, type LoopHeard, type Recording } from '../core/measure/recording';
import { findLoops, loopQuality, type FoundLoop } from '../core/measure/loop';
import { pitchOf, type HeardPitch } from '../core/measure/pitch';
import type { Audio } from '../core/dsp/sample';
import { isRigArchive, type Archive } from '../core/formats/rigArchive';
import { checkedArchive } from '../host/checkedArchive';
import { contentHash } from '../host/contentHash';

/** What the page asks for. Files are read, decoded, measured and kept here, away from it. */
export type SoundJob =
  /** `right`: the right channel, where it is a file of its own. */
  | { type: 'look'; file: Blob; right?: Blob; path: string }
  /** A file that only the browser could decode. */
  | { type: 'decoded'; channelData: Float32Array[]; sampleRate: number; path: string }
  | { type: 'sfz'; text: string; path: string; texts: [string, string][]; base: string; files: [string, BroughtFile][] }
  /** Paths of the samples that an SFZ file names. */
  | { type: 'samplePaths'; text: string; path: string; texts: [string, string][]; base: string }
  | { type: 'soundFont'; file: Blob }
  | { type: 'archive'; file: Blob }
  | { type: 'isArchive'; file: Blob }
  | { type: 'pitch'; sampleId: string }
  | { type: 'levels'; sampleId: string }
  | { type: 'audio'; sampleId: string }
  | {
      type: 'recording';
      sampleId: string;
      pitched: boolean;
      loops: readonly { start: number; end: number; crossfade: number }[];
    }
  /** A copy whose loop stays as loud as it begins. */
  | { type: 'evenLoop'; sampleId: string; start: number; end: number; name: string }
  | { type: 'findLoops'; sampleId: string; start: number; end: number; reach: number };

/** The answer to each kind of job. */
export interface SoundAnswers {
  look: BroughtFile | 'browser';
  decoded: BroughtFile;
  samplePaths: string[];
  sfz: BroughtSound;
  soundFont: BroughtSound[];
  archive: Archive;
  isArchive: boolean;
  pitch: HeardPitch | null;
  levels: Levels;
  audio: Audio;
  recording: { recording: Recording; loops: (LoopHeard | undefined)[] };
  findLoops: FoundLoop[];
  evenLoop: BroughtFile;
}
/** `handedBack`: samples that could not be kept. */
export interface SoundAnswer<Type extends SoundJob['type']> {
  answer: SoundAnswers[Type];
  handedBack: [id: string, wav: Uint8Array][];
}

type Samples = IDBPDatabase<{ samples: { key: string; value: Uint8Array } }>;
let opened: Promise<Samples> | undefined;
/**
 * A newer version of the application has taken the database over in another tab: what it keeps there may be other than
 * what is written here.
 */
let isOvertaken = false;
/**
 * The page's database, as it is. It gives way to a newer version of the application, and is opened anew by whoever
 * needs it next.
 */
const database = (): Promise<Samples> =>
  (opened ??= openDB<{ samples: { key: string; value: Uint8Array } }>('wavicle', undefined, {
    blocking(current, next) {
      void opened?.then((db) => db.close());
      opened = undefined;
      isOvertaken ||= next !== null && next > current;
    },
    terminated() {
      opened = undefined;
    },
  }).catch((error: unknown) => {
    opened = undefined;
    throw error;
  }));

/**
 * What was read and could not be kept, for a browser that keeps nothing or has no room: the page gets it with the
 * answer.
 */
type HandedBack = [id: string, wav: Uint8Array][];

/** What a job is done with: samples that only the page has, and where samples go that cannot be kept here. */
interface Bench {
  isMemory: boolean;
  bytes?: Uint8Array;
  handedBack: HandedBack;
}

async function keepAll(wavs: HandedBack, { isMemory, handedBack }: Bench): Promise<void> {
  if (isOvertaken) throw new Error('a newer version of Wavicle was opened in another tab; load this page again');
  try {
    if (isMemory) throw new Error('this browser keeps nothing');
    const transaction = (await database()).transaction('samples', 'readwrite');
    await Promise.all([...wavs.map(([id, bytes]) => transaction.store.put(bytes, id)), transaction.done]);
  } catch (error) {
    if (isOvertaken) throw error;
    handedBack.push(...wavs);
  }
}

async function keep(file: AudioFile, path: string, bench: Bench): Promise<BroughtFile> {
  const id = await contentHash(file.wav);
  await keepAll([[id, file.wav]], bench);
  return lookOver(file, path, id);
}

async function audioOf(sampleId: string, bench: Bench): Promise<Audio> {
  const bytes = bench.bytes ?? (bench.isMemory ? undefined : await (await database()).get('samples', sampleId));
  if (!bytes) throw new Error('this sample is missing from the browser');
  return readWav(bytes).audio;
}

async function work(job: SoundJob, bench: Bench): Promise<SoundAnswers[keyof SoundAnswers]> {
  switch (job.type) {
    case 'look': {
      const bytes = new Uint8Array(await job.file.arrayBuffer());
      const kind = audioKind(bytes);
      if (kind === 'ogg' || kind === 'mp3') return 'browser';
      const file = await readAudioFile(bytes);
      if (!job.right) return keep(file, job.path, bench);
      const both = joinedChannels(file, await readAudioFile(new Uint8Array(await job.right.arrayBuffer())));
      if (!both) throw new Error('its left and right file are no pair: both must be mono, at one rate');
      return keep(both, job.path, bench);
    }
    case 'decoded':
      return keep(plainFile(job), job.path, bench);
    case 'sfz': {
      const texts = new FolderIndex(job.texts, job.base);
      const files = new FolderIndex(job.files, job.base);
      return bringSfz(
        job.text,
        job.path,
        (path) => texts.find(path),
        (path) => files.find(path),
      );
    }
    case 'samplePaths': {
      const texts = new FolderIndex(job.texts, job.base);
      return samplePathsOf(job.text, job.path, (path) => texts.find(path));
    }
    case 'soundFont': {
      const { sounds, wavs } = await bringSoundFont(new Uint8Array(await job.file.arrayBuffer()), contentHash);
      await keepAll([...wavs], bench);
      return sounds;
    }
    case 'archive':
      return checkedArchive(new Uint8Array(await job.file.arrayBuffer()));
    case 'isArchive':
      return isRigArchive(new Uint8Array(await job.file.arrayBuffer()));
    case 'pitch':
      return pitchOf(await audioOf(job.sampleId, bench));
    case 'levels':
      return levelsOf(await audioOf(job.sampleId, bench));
    case 'recording': {
      const audio = await audioOf(job.sampleId, bench);
      return { recording: recordingOf(audio, job.pitched), loops: job.loops.map((loop) => loopOf(audio, loop)) };
    }
    case 'audio':
      return audioOf(job.sampleId, bench);
    case 'evenLoop': {
      const audio = await audioOf(job.sampleId, bench);
      const even = evenedLoop(audio, job, loopQuality(audio, job.start, job.end).levelDb);
      return keep(plainFile({ channelData: channelsOf(even), sampleRate: even.rate }), job.name, bench);
    }
    case 'findLoops':
      return findLoops(await audioOf(job.sampleId, bench), job.start, job.end, job.reach);
  }
}

/** What of an answer goes over to the page instead of being copied; files that lie in the same bytes go over once. */
function handedOver(job: SoundJob, answer: SoundAnswers[keyof SoundAnswers]): ArrayBuffer[] {
  if (job.type === 'audio') return [(answer as Audio).data.buffer as ArrayBuffer];
  if (job.type !== 'archive') return [];
  return [...new Set([...(answer as Archive).wavs.values()].map(({ buffer }) => buffer as ArrayBuffer))];
}

const api = {
  /**
   * `isMemory`: this browser keeps nothing. `bytes`: the file of the sample that the job is about, where only the page
   * has it.
   */
  async work(job: SoundJob, isMemory: boolean, bytes?: Uint8Array): Promise<SoundAnswer<SoundJob['type']>> {
    const handedBack: HandedBack = [];
    const answer = await work(job, { isMemory, bytes, handedBack });
    return transfer({ answer, handedBack }, handedOver(job, answer));
  },
};
export type SoundApi = typeof api;
expose(api);
