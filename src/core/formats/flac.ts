import type { Audio } from '../dsp/sample';

/** The parts of the encoder that are used; the package brings no types that fit its modules. */
interface Encoder {
  isReady(): boolean;
  on(event: 'ready', act: () => void): void;
  create_libflac_encoder(
    rate: number,
    channels: number,
    bits: number,
    level: number,
    frames: number,
    verify: boolean,
    block: number,
  ): number;
  init_encoder_stream(encoder: number, write: (data: Uint8Array) => void): number;
  FLAC__stream_encoder_process_interleaved(encoder: number, data: Int32Array, frames: number): boolean | number;
  FLAC__stream_encoder_finish(encoder: number): boolean | number;
  FLAC__stream_encoder_delete(encoder: number): void;
}

let loading: Promise<Encoder> | null = null;
function encoder(): Promise<Encoder> {
  loading ??= (async () => {
    const module = (await import('libflacjs/dist/libflac.js')) as unknown as { default?: Encoder } & Encoder;
    const flac = module.default ?? module;
    if (!flac.isReady()) await new Promise<void>((resolve) => flac.on('ready', resolve));
    return flac;
  })();
  return loading;
}

const LEVEL = 5;
const CHUNK = 65536;

/**
 * A recording as a FLAC file, without loss at 16 or 24 bits; what lies beyond full scale is cut off there. Through
 * libFLAC. Throws an Error where the encoder refuses it.
 */
export async function writeFlac({ rate, channels, data }: Audio, bits: 16 | 24 = 24): Promise<Uint8Array> {
  const flac = await encoder();
  const frames = data.length / channels;
  const id = flac.create_libflac_encoder(rate, channels, bits, LEVEL, frames, false, 0);
  if (!id) throw new Error('the FLAC encoder could not be made');
  const pieces: Uint8Array[] = [];
  try {
    if (
      flac.init_encoder_stream(id, (piece) => {
        pieces.push(piece.slice());
      }) !== 0
    )
      throw new Error(`FLAC takes no recording at ${rate} Hz`);
    const full = 2 ** (bits - 1);
    for (let from = 0; from < frames; from += CHUNK) {
      const to = Math.min(frames, from + CHUNK);
      const whole = Int32Array.from(data.subarray(from * channels, to * channels), (x) =>
        Math.max(-full, Math.min(full - 1, Math.round(x * full))),
      );
      if (!flac.FLAC__stream_encoder_process_interleaved(id, whole, to - from))
        throw new Error('the FLAC encoder stopped');
    }
    flac.FLAC__stream_encoder_finish(id);
  } finally {
    flac.FLAC__stream_encoder_delete(id);
  }
  const out = new Uint8Array(pieces.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const piece of pieces) {
    out.set(piece, at);
    at += piece.length;
  }
  return out;
}
