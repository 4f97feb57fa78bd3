import { readAudioFile } from './audioFile';
import { writeFlac } from './flac';
import { readWav } from './wav';

const noise = (() => {
  let x = 7;
  return () => {
    x = (x * 16807) % 2147483647;
    return x / 1073741824 - 1;
  };
})();

// RFC 9639: the stream begins with "fLaC" and a STREAMINFO block; the coding is without loss.
test.each([
  [16, 1],
  [16, 2],
  [24, 1],
  [24, 2],
] as const)('FLAC of %s bits and %s channels is the same to the bit when it is read again', async (bits, channels) => {
  const full = 2 ** (bits - 1);
  const data = Float32Array.from(
    { length: 70001 * channels },
    (_, n) => Math.round(full * (0.4 * Math.sin(n / 30) + 0.4 * noise())) / full,
  );
  data[3] = -1;
  data[4] = (full - 1) / full;
  const bytes = await writeFlac({ rate: 48000, channels, data }, bits);
  expect(new TextDecoder().decode(bytes.subarray(0, 4))).toBe('fLaC');
  expect(bytes.length).toBeLessThan((data.length * bits) / 8);
  const back = readWav((await readAudioFile(bytes)).wav);
  expect([back.audio.rate, back.audio.channels, back.audio.data.length]).toEqual([48000, channels, data.length]);
  expect(back.audio.data.every((x, i) => x === data[i])).toBe(true);
});

test('what lies beyond full scale is cut off, and an odd rate is told', async () => {
  const bytes = await writeFlac({ rate: 48000, channels: 1, data: Float32Array.of(2, -2, 0) }, 16);
  expect([...readWav((await readAudioFile(bytes)).wav).audio.data]).toEqual([32767 / 32768, -1, 0]);
  await expect(writeFlac({ rate: 1e9, channels: 1, data: new Float32Array(10) })).rejects.toThrow(/FLAC/);
});
