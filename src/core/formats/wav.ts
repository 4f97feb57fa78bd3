import type { Audio, Loop } from '../dsp/sample';
import { FileError } from './fileError';

/**
 * WAV files (RIFF/WAVE, Multimedia Programming Interface and Data Specifications 1.0): PCM of 8, 16, 24 and 32 bits and
 * 32- or 64-bit float,
 * one or two channels, with the sampler's `smpl` chunk for root, tuning and loop and the `inst` chunk for ranges.
 */
export interface WavFile {
  audio: Audio;
  /** From the `smpl` chunk, else from `inst`: the key the recording sounds at, and the cents it lies above that. */
  root: number | null;
  tuneCents: number;
  loop: Loop | null;
  /** From the `inst` chunk: the keys and velocities it is meant for. */
  range: WavRange | null;
  /** What of its chunks could not be taken as it is written. */
  warnings: string[];
}
export interface WavRange {
  keyLow: number;
  keyHigh: number;
  velocityLow: number;
  velocityHigh: number;
}
export type WavEncoding = 'pcm16' | 'pcm24' | 'float32';

/** What stands for a length that nobody knew. */
const OPEN_LENGTH = 0xffffffff;
/** Kinds of loops in `smpl`; 0 is forward. */
const ALTERNATING = 1,
  BACKWARD = 2;
const PCM = 1,
  FLOAT = 3,
  EXTENSIBLE = 0xfffe;

interface Format {
  code: number;
  channels: number;
  rate: number;
  bits: number;
}

/** What a WAV file's chunks say about the audio, without decoding it. Throws a {@link FileError}. */
export function readWavHeader(bytes: Uint8Array): {
  format: Format;
  frames: number;
  data: number;
  root: number | null;
  tuneCents: number;
  loop: Loop | null;
  range: WavRange | null;
  warnings: string[];
} {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 12 || ascii(bytes, 0) !== 'RIFF' || ascii(bytes, 8) !== 'WAVE')
    throw new FileError('', 'this is not a WAV file');
  let format: Format | null = null;
  let data = -1;
  let size = 0;
  let root: number | null = null;
  let tuneCents = 0;
  let loop: Loop | null = null;
  let range: WavRange | null = null;
  const warnings: string[] = [];
  let instrument: { root: number; tuneCents: number } | null = null;
  for (let at = 12; at + 8 <= bytes.length;) {
    const name = ascii(bytes, at);
    const length = view.getUint32(at + 4, true);
    const body = at + 8;
    const there = Math.min(length, bytes.length - body);
    if (name === 'fmt ') {
      if (there < 16) throw new FileError('fmt chunk', 'is cut off');
      const code = view.getUint16(body, true);
      format = {
        code: code === EXTENSIBLE && there >= 26 ? view.getUint16(body + 24, true) : code,
        channels: view.getUint16(body + 2, true),
        rate: view.getUint32(body + 4, true),
        bits: view.getUint16(body + 14, true),
      };
    } else if (name === 'data' && data < 0) {
      // A recorder that could not go back to write the length leaves it open: the audio goes on to the end of the file.
      const open = length === OPEN_LENGTH || (length === 0 && [0, OPEN_LENGTH].includes(view.getUint32(4, true)));
      if (!open && there < length)
        throw new FileError('data chunk', `is cut off: ${there} of ${length} bytes are there`);
      data = body;
      size = open ? bytes.length - body : length;
      if (open) break;
    } else if (name === 'smpl' && there >= 36) {
      root = Math.min(127, view.getUint32(body + 12, true));
      tuneCents = (view.getUint32(body + 16, true) / 2 ** 32) * 100;
      if (view.getUint32(body + 28, true) > 0 && there >= 60) {
        loop = { start: view.getUint32(body + 44, true), end: view.getUint32(body + 48, true) + 1 };
        const kind = view.getUint32(body + 40, true);
        if (kind === ALTERNATING || kind === BACKWARD)
          warnings.push(
            `its loop runs ${kind === ALTERNATING ? 'forward and backward in turn' : 'backward'}; it is played forward`,
          );
      }
    } else if (name === 'inst' && there >= 7) {
      const [keyLow, keyHigh, velocityLow, velocityHigh] = [3, 4, 5, 6].map((offset) =>
        Math.min(127, view.getUint8(body + offset)),
      );
      instrument = { root: Math.min(127, view.getUint8(body)), tuneCents: view.getInt8(body + 1) };
      if (keyLow <= keyHigh && velocityLow <= velocityHigh && velocityHigh > 0)
        range = { keyLow, keyHigh, velocityLow: Math.max(1, velocityLow), velocityHigh };
    }
    at = body + length + (length % 2);
  }
  if (!format) throw new FileError('fmt chunk', 'is missing');
  if (data < 0) throw new FileError('data chunk', 'is missing');
  const { channels, bits, code, rate } = format;
  if (channels < 1 || channels > 2)
    throw new FileError('fmt chunk', `${channels} channels are not supported, only 1 or 2`);
  if (rate < 1000 || rate > 768000)
    throw new FileError('fmt chunk', `a rate of ${rate} frames a second is not supported`);
  const known = (code === PCM && [8, 16, 24, 32].includes(bits)) || (code === FLOAT && [32, 64].includes(bits));
  if (!known) throw new FileError('fmt chunk', `coding ${code} with ${bits} bits is not supported`);
  const frames = Math.floor(size / (channels * (bits / 8)));
  // `smpl` says it finer than `inst`.
  if (root === null && instrument) ({ root, tuneCents } = instrument);
  // Some write the frame after the last one as the loop's end: the loop then ends with the file.
  if (loop && loop.end === frames + 1) loop = { ...loop, end: frames };
  if (loop && (loop.end > frames || loop.start >= loop.end)) {
    warnings.push(
      `its loop from ${loop.start} to ${loop.end - 1} does not lie in its ${frames} frames and is left out`,
    );
    loop = null;
  }
  return { format, frames, data, root, tuneCents, loop, range, warnings };
}

/** A WAV file decoded. Samples are −1…1; a sample that is not a number becomes 0. Throws a {@link FileError}. */
export function readWav(bytes: Uint8Array): WavFile {
  const { format, frames, data, root, tuneCents, loop, range, warnings } = readWavHeader(bytes);
  const channels = format.channels as 1 | 2;
  const view = new DataView(bytes.buffer, bytes.byteOffset + data, bytes.byteLength - data);
  const out = new Float32Array(frames * channels);
  const { bits, code } = format;
  if (code === PCM && bits === 16) for (let i = 0; i < out.length; i++) out[i] = view.getInt16(i * 2, true) / 0x8000;
  else if (code === PCM && bits === 24)
    for (let i = 0; i < out.length; i++)
      out[i] = ((view.getUint16(i * 3, true) << 8) | (view.getInt8(i * 3 + 2) << 24)) / 0x8000_0000;
  else if (code === PCM && bits === 32)
    for (let i = 0; i < out.length; i++) out[i] = view.getInt32(i * 4, true) / 0x8000_0000;
  else if (code === PCM) for (let i = 0; i < out.length; i++) out[i] = (view.getUint8(i) - 128) / 128;
  else
    for (let i = 0; i < out.length; i++) {
      const x = bits === 32 ? view.getFloat32(i * 4, true) : view.getFloat64(i * 8, true);
      out[i] = Number.isFinite(x) ? x : 0;
    }
  return { audio: { rate: format.rate, channels, data: out }, root, tuneCents, loop, range, warnings };
}

export interface WavOptions {
  encoding?: WavEncoding;
  root?: number;
  tuneCents?: number;
  loop?: Loop | null;
  range?: WavRange | null;
}

/**
 * A WAV file of the audio; with a root, also a `smpl` chunk, and with ranges an `inst` chunk. Samples beyond ±1 are
 * held at full scale in PCM.
 */
export function writeWav(
  audio: Audio,
  { encoding = 'pcm16', root, tuneCents = 0, loop = null, range = null }: WavOptions = {},
): Uint8Array {
  const { channels, rate, data } = audio;
  const bits = encoding === 'pcm16' ? 16 : encoding === 'pcm24' ? 24 : 32;
  const width = bits / 8;
  const dataBytes = data.length * width;
  const smplBytes = root === undefined ? 0 : 8 + 36 + (loop ? 24 : 0);
  const instBytes = root === undefined || !range ? 0 : 16;
  const bytes = new Uint8Array(12 + 24 + smplBytes + instBytes + 8 + dataBytes + (dataBytes % 2));
  const view = new DataView(bytes.buffer);
  let at = 0;
  const tag = (text: string) => {
    for (let i = 0; i < 4; i++) bytes[at++] = text.charCodeAt(i);
  };
  const u32 = (value: number) => {
    view.setUint32(at, value, true);
    at += 4;
  };
  const u16 = (value: number) => {
    view.setUint16(at, value, true);
    at += 2;
  };
  tag('RIFF');
  u32(bytes.length - 8);
  tag('WAVE');
  tag('fmt ');
  u32(16);
  u16(encoding === 'float32' ? FLOAT : PCM);
  u16(channels);
  u32(rate);
  u32(rate * channels * width);
  u16(channels * width);
  u16(bits);
  if (root !== undefined) {
    tag('smpl');
    u32(smplBytes - 8);
    u32(0);
    u32(0);
    u32(Math.round(1e9 / rate));
    u32(root);
    u32(Math.round((tuneCents / 100) * 2 ** 32) >>> 0);
    u32(0);
    u32(0);
    u32(loop ? 1 : 0);
    u32(0);
    if (loop) {
      u32(0);
      u32(0);
      u32(loop.start);
      u32(loop.end - 1);
      u32(0);
      u32(0);
    }
  }
  if (instBytes > 0) {
    tag('inst');
    u32(7);
    // `inst` tunes by −50 … +50 cents: what lies nearer to the next key is counted from there.
    const up = tuneCents > 50 && root! < 127 ? 1 : 0;
    const fine = Math.min(50, Math.round(tuneCents - 100 * up));
    for (const value of [
      root! + up,
      fine & 255,
      0,
      range!.keyLow,
      range!.keyHigh,
      range!.velocityLow,
      range!.velocityHigh,
      0,
    ])
      bytes[at++] = value;
  }
  tag('data');
  u32(dataBytes);
  for (let i = 0; i < data.length; i++, at += width) {
    const x = data[i];
    if (bits === 32) view.setFloat32(at, x, true);
    else {
      const full = 2 ** (bits - 1);
      const whole = Math.max(-full, Math.min(full - 1, Math.round(x * full)));
      view.setInt16(at, bits === 16 ? whole : whole & 0xffff, true);
      if (bits === 24) view.setInt8(at + 2, whole >> 16);
    }
  }
  return bytes;
}

/** The narrowest coding that keeps every sample exactly. */
export function narrowestEncoding(data: Float32Array): WavEncoding {
  let encoding: WavEncoding = 'pcm16';
  for (let i = 0; i < data.length; i++) {
    const x = data[i];
    if (x < -1 || x >= 1) return 'float32';
    const at16 = x * 0x8000;
    if (encoding === 'pcm16' && at16 === Math.round(at16)) continue;
    const at24 = x * 0x800000;
    if (at24 !== Math.round(at24)) return 'float32';
    encoding = 'pcm24';
  }
  return encoding;
}

const ascii = (bytes: Uint8Array, at: number): string =>
  String.fromCharCode(bytes[at], bytes[at + 1], bytes[at + 2], bytes[at + 3]);
