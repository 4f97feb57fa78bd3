import { openDB, type IDBPDatabase } from 'idb';
import { audioKind, joinedChannels, plainFile, readAudioFile, type AudioFile } from '../core/formats/audioFile';
import { bringSoundFont } from '../core/formats/bringSoundFont';
import { bringSfz, FolderIndex, lookOver, type BroughtFile, type BroughtSound } from '../core/formats/bringIn';
import { readWav } from '../core/formats/wav';
import { levelsOf, type Levels } from '../core/measure/level';
import { loopOf, recordingOf, type LoopHeard, type Recording } from '../core/measure/recording';
import { findLoops, type FoundLoop } from '../core/measure/loop';
import { pitchOf, type HeardPitch } from '../core/measure/pitch';
import type { Audio } from '../core/dsp/sample';
import { contentHash } from '../host/contentHash';

/** What the page asks for. Files are read, decoded, measured and kept here, away from it. */
export type SoundJob =
  /** `right`: the right channel, where it is a file of its own. */
  | { type: 'look'; file: Blob; right?: Blob; path: string }
  /** A file that only the browser could decode. */
  | { type: 'decoded'; channelData: Float32Array[]; sampleRate: number; path: string }
  | { type: 'sfz'; text: string; path: string; texts: [string, string][]; base: string; files: [string, BroughtFile][] }
  | { type: 'soundFont'; file: Blob }
  | { type: 'pitch'; sampleId: string }
  | { type: 'levels'; sampleId: string }
  | { type: 'audio'; sampleId: string }
  | { type: 'recording'; sampleId: string; pitched: boolean; loops: readonly { start: number; end: number; crossfade: number }[] }
  | { type: 'findLoops'; sampleId: string; start: number; end: number; reach: number };

/** The answer to each kind of job. */
export interface SoundAnswers {
  look: BroughtFile | 'browser';
  decoded: BroughtFile;
  sfz: BroughtSound;
  soundFont: BroughtSound[];
  pitch: HeardPitch | null;
  levels: Levels;
  audio: Audio;
  recording: { recording: Recording; loops: (LoopHeard | undefined)[] };
  findLoops: FoundLoop[];
}
export type SoundReply = { id: number; answer: SoundAnswers[keyof SoundAnswers] } | { id: number; problem: string };

type Samples = IDBPDatabase<{ samples: { key: string; value: Uint8Array } }>;
let opened: Promise<Samples> | undefined;
/** A newer version of the application has taken the database over in another tab: what it keeps there may be other than what is written here. */
let isOvertaken = false;
/** The page's database, as it is. It gives way to a newer version of the application, and is opened anew by whoever needs it next. */
const database = (): Promise<Samples> => (opened ??= openDB<{ samples: { key: string; value: Uint8Array } }>('wavicle', undefined, {
  blocking(current, next) {
    void opened?.then((db) => db.close());
    opened = undefined;
    isOvertaken ||= next !== null && next > current;
  },
  terminated() { opened = undefined; },
}).catch((error: unknown) => { opened = undefined; throw error; }));

/** The same for writing. */
const writable = (): Promise<Samples> => (isOvertaken ? Promise.reject(new Error('a newer version of Wavicle was opened in another tab; load this page again')) : database());

async function keep(file: AudioFile, path: string): Promise<BroughtFile> {
  const id = await contentHash(file.wav);
  await (await writable()).put('samples', file.wav, id);
  return lookOver(file, path, id);
}

async function audioOf(sampleId: string): Promise<Audio> {
  const bytes = await (await database()).get('samples', sampleId);
  if (!bytes) throw new Error('this sample is missing from the browser');
  return readWav(bytes).audio;
}

async function work(job: SoundJob): Promise<SoundAnswers[keyof SoundAnswers]> {
  switch (job.type) {
    case 'look': {
      const bytes = new Uint8Array(await job.file.arrayBuffer());
      const kind = audioKind(bytes);
      if (kind === 'ogg' || kind === 'mp3') return 'browser';
      const file = await readAudioFile(bytes);
      if (!job.right) return keep(file, job.path);
      const both = joinedChannels(file, await readAudioFile(new Uint8Array(await job.right.arrayBuffer())));
      if (!both) throw new Error('its left and right file are no pair: both must be mono, at one rate');
      return keep(both, job.path);
    }
    case 'decoded': return keep(plainFile(job), job.path);
    case 'sfz': {
      const texts = new FolderIndex(job.texts, job.base);
      const files = new FolderIndex(job.files, job.base);
      return bringSfz(job.text, job.path, (path) => texts.find(path), (path) => files.find(path));
    }
    case 'soundFont': {
      const { sounds, wavs } = await bringSoundFont(new Uint8Array(await job.file.arrayBuffer()), contentHash);
      const transaction = (await writable()).transaction('samples', 'readwrite');
      await Promise.all([...[...wavs].map(([id, bytes]) => transaction.store.put(bytes, id)), transaction.done]);
      return sounds;
    }
    case 'pitch': return pitchOf(await audioOf(job.sampleId));
    case 'levels': return levelsOf(await audioOf(job.sampleId));
    case 'recording': {
      const audio = await audioOf(job.sampleId);
      return { recording: recordingOf(audio, job.pitched), loops: job.loops.map((loop) => loopOf(audio, loop)) };
    }
    case 'audio': return audioOf(job.sampleId);
    case 'findLoops': return findLoops(await audioOf(job.sampleId), job.start, job.end, job.reach);
  }
}

self.onmessage = async ({ data: { id, job } }: MessageEvent<{ id: number; job: SoundJob }>) => {
  let reply: SoundReply;
  let transfer: Transferable[] = [];
  try {
    const answer = await work(job);
    if (job.type === 'audio') transfer = [(answer as Audio).data.buffer as ArrayBuffer];
    reply = { id, answer };
  } catch (error) {
    reply = { id, problem: error instanceof Error ? error.message : String(error) };
  }
  self.postMessage(reply, { transfer });
};
