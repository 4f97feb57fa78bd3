/** Audio files made by hand for tests, after their specifications. */

/** An AIFF file by hand (Audio Interchange File Format 1.3): big-endian chunks, the rate as an 80-bit float. */
export function aiff(samples: Float32Array, channels: number, bits: 16 | 24): Uint8Array {
  const width = bits / 8;
  const frames = samples.length / channels;
  const bytes = new Uint8Array(12 + 26 + 16 + samples.length * width);
  const view = new DataView(bytes.buffer);
  const tag = (at: number, text: string) => {
    for (let i = 0; i < 4; i++) bytes[at + i] = text.charCodeAt(i);
  };
  tag(0, 'FORM');
  view.setUint32(4, bytes.length - 8);
  tag(8, 'AIFF');
  tag(12, 'COMM');
  view.setUint32(16, 18);
  view.setUint16(20, channels);
  view.setUint32(22, frames);
  view.setUint16(26, bits);
  // 44 100 = 0xAC44 · 2^0: exponent 16383 + 15, mantissa left-aligned.
  view.setUint16(28, 16383 + 15);
  view.setUint32(30, 0xac440000);
  tag(38, 'SSND');
  view.setUint32(42, 8 + samples.length * width);
  samples.forEach((x, i) => {
    const whole = Math.round(x * 2 ** (bits - 1));
    const at = 54 + i * width;
    if (bits === 16) view.setInt16(at, whole);
    else {
      view.setInt16(at, whole >> 8);
      view.setUint8(at + 2, whole & 255);
    }
  });
  return bytes;
}

/** A FLAC file by hand (RFC 9639) with one verbatim frame of 16-bit mono. */
export function flac(samples: Int16Array): Uint8Array {
  const bits: number[] = [];
  const put = (value: number, count: number) => {
    for (let i = count - 1; i >= 0; i--) bits.push(Math.floor(value / 2 ** i) % 2);
  };
  const bytesOf = () =>
    Uint8Array.from({ length: bits.length / 8 }, (_, i) => parseInt(bits.slice(i * 8, i * 8 + 8).join(''), 2));
  const crc = (data: Uint8Array, width: 8 | 16, polynomial: number) => {
    let sum = 0;
    const top = 1 << (width - 1);
    for (const byte of data) {
      sum ^= width === 8 ? byte : byte << 8;
      for (let i = 0; i < 8; i++) sum = ((sum & top ? (sum << 1) ^ polynomial : sum << 1) & ((1 << width) - 1)) >>> 0;
    }
    return sum;
  };
  put(0x664c6143, 32);
  put(0x80, 8);
  put(34, 24);
  put(samples.length, 16);
  put(samples.length, 16);
  put(0, 24);
  put(0, 24);
  put(44100, 20);
  put(0, 3);
  put(15, 5);
  put(0, 4);
  put(samples.length, 32);
  for (let i = 0; i < 16; i++) put(0, 8);
  const frame = bits.length;
  put(0xfff8, 16);
  put(0x79, 8);
  put(0x08, 8);
  put(0, 8);
  put(samples.length - 1, 16);
  put(crc(bytesOf().subarray(frame / 8), 8, 0x07), 8);
  put(0x02, 8);
  for (const x of samples) put(x & 0xffff, 16);
  put(crc(bytesOf().subarray(frame / 8), 16, 0x8005), 16);
  return bytesOf();
}
