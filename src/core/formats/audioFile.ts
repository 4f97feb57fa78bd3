import decodeAiff from '@audio/decode-aiff';
import { FLACDecoder } from '@wasm-audio-decoders/flac';
import type { Audio, Loop } from '../dsp/sample';
import { FileError } from './fileError';
import { narrowestEncoding, readWav, writeWav } from './wav';

/** Where a sampler's data in a file puts it. */
export interface FileRange {
  keyLow: number;
  keyHigh: number;
  velocityLow: number;
  velocityHigh: number;
}

/** An audio file as it is brought in: its audio, what it says of itself, and the WAV file that the rig keeps of it. */
export interface AudioFile {
  audio: Audio;
  /** Key at which it sounds at its own pitch, and the cents that bring it in tune there; null where it does not say. */
  root: number | null;
  tuneCents: number;
  loop: Loop | null;
  range: FileRange | null;
  /** What of it could not be taken as it is written. */
  warnings: string[];
  /** The file itself where it is a WAV, else a WAV of the same samples without loss. */
  wav: Uint8Array;
}

/** Endings of files that are read without a browser; it reads the others. */
export const AUDIO_ENDINGS = /\.(wav|wave|aif|aiff|aifc|flac)$/i;
export const BROWSER_AUDIO_ENDINGS = /\.(wav|wave|aif|aiff|aifc|flac|ogg|oga|mp3)$/i;

const LONGEST_SECONDS = 3600;

/** What a file is by its first bytes; its name may lie. */
export function audioKind(bytes: Uint8Array): 'wav' | 'aiff' | 'flac' | 'ogg' | 'mp3' | 'unknown' {
  const head = String.fromCharCode(...bytes.subarray(0, 12));
  if (head.startsWith('RIFF') && head.slice(8, 12) === 'WAVE') return 'wav';
  if (head.startsWith('FORM') && /^AIF[FC]$/.test(head.slice(8, 12))) return 'aiff';
  if (head.startsWith('fLaC')) return 'flac';
  if (head.startsWith('OggS')) return 'ogg';
  if (head.startsWith('ID3') || (bytes[0] === 0xff && (bytes[1] & 0xe0) === 0xe0)) return 'mp3';
  return 'unknown';
}

/** Reads a WAV, AIFF or FLAC file. Throws a {@link FileError} that says what is wrong with it. */
export async function readAudioFile(bytes: Uint8Array): Promise<AudioFile> {
  if (bytes.length === 0) throw new FileError('', 'the file is empty');
  const kind = audioKind(bytes);
  if (kind === 'wav') {
    const { audio, root, tuneCents, loop, range, warnings } = readWav(bytes);
    checkLength(audio);
    const tuned = root === null ? { root, tuneCents: 0 } : inTune(root + tuneCents / 100);
    return { audio, ...tuned, loop, range, warnings, wav: bytes };
  }
  if (kind === 'aiff') return plainFile(await decoded('AIFF', async () => decodeAiff(bytes)));
  if (kind === 'flac') {
    return plainFile(
      await decoded('FLAC', async () => {
        const decoder = new FLACDecoder();
        await decoder.ready;
        try {
          const { channelData, sampleRate, bitDepth, errors } = await decoder.decodeFile(bytes);
          if (errors.length > 0 && channelData.every((channel) => channel.length === 0))
            throw new Error(errors[0].message);
          // The decoder takes the greatest whole number for full scale; WAV takes the one above, so that samples stay
          // whole numbers.
          const full = 2 ** (bitDepth - 1);
          for (const channel of channelData)
            for (let i = 0; i < channel.length; i++) channel[i] = Math.round(channel[i] * (full - 1)) / full;
          return { channelData, sampleRate };
        } finally {
          decoder.free();
        }
      }),
    );
  }
  throw new FileError(
    '',
    kind === 'unknown'
      ? 'this is no audio file that is known here (WAV, AIFF, FLAC, OGG, MP3)'
      : `${kind.toUpperCase()} files are read in the browser only`,
  );
}

/**
 * The two channels of one recording that came as files of their own, as one; undefined where they are no such pair (not
 * both mono, or of different rates). The shorter is filled up with silence.
 */
export function joinedChannels(left: AudioFile, right: AudioFile): AudioFile | undefined {
  const { rate } = left.audio;
  if (left.audio.channels !== 1 || right.audio.channels !== 1 || right.audio.rate !== rate) return undefined;
  const frames = Math.max(left.audio.data.length, right.audio.data.length);
  const data = new Float32Array(frames * 2);
  left.audio.data.forEach((x, i) => {
    data[2 * i] = x;
  });
  right.audio.data.forEach((x, i) => {
    data[2 * i + 1] = x;
  });
  const audio: Audio = { rate, channels: 2, data };
  const { root, tuneCents, loop, range } = left;
  return {
    audio,
    root,
    tuneCents,
    loop,
    range,
    warnings: [...new Set([...left.warnings, ...right.warnings])],
    wav: writeWav(audio, { encoding: narrowestEncoding(data) }),
  };
}

/** A file of which nothing but the audio is known, such as one that the browser decoded. Throws a {@link FileError}. */
export function plainFile({
  channelData,
  sampleRate,
}: {
  channelData: readonly Float32Array[];
  sampleRate: number;
}): AudioFile {
  const channels = channelData.length;
  if (channels === 0 || channelData[0].length === 0) throw new FileError('', 'it holds no audio');
  if (channels > 2) throw new FileError('', `${channels} channels are not supported, only 1 or 2`);
  if (!(sampleRate >= 1000 && sampleRate <= 768000))
    throw new FileError('', `a rate of ${sampleRate} frames a second is not supported`);
  const frames = channelData[0].length;
  const data = new Float32Array(frames * channels);
  channelData.forEach((channel, c) => {
    for (let i = 0; i < frames; i++) {
      const x = channel[i];
      data[i * channels + c] = x - x === 0 ? x : 0;
    }
  });
  const audio: Audio = { rate: sampleRate, channels: channels as 1 | 2, data };
  checkLength(audio);
  return {
    audio,
    root: null,
    tuneCents: 0,
    loop: null,
    range: null,
    warnings: [],
    wav: writeWav(audio, { encoding: narrowestEncoding(data) }),
  };
}

/** The root and the tuning that play a sample of a fractional key in tune. */
export function inTune(key: number): { root: number; tuneCents: number } {
  const root = Math.max(0, Math.min(127, Math.round(key)));
  return { root, tuneCents: Math.round((root - key) * 100 * 1e6) / 1e6 || 0 };
}

async function decoded<T>(what: string, decode: () => Promise<T>): Promise<T> {
  try {
    return await decode();
  } catch (error) {
    throw new FileError(
      '',
      `this ${what} file is damaged or cut off (${error instanceof Error ? error.message : String(error)})`,
    );
  }
}

function checkLength({ data, channels, rate }: Audio): void {
  if (data.length === 0) throw new FileError('', 'it holds no audio');
  if (data.length / channels / rate > LONGEST_SECONDS) throw new FileError('', 'it lasts longer than an hour');
}
