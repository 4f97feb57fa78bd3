import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { writeWav } from '../../src/core/formats/wav';

/** A sine at 44 100 Hz. */
export const tone = (hz: number, amplitude = 0.4, seconds = 0.4) =>
  Float32Array.from(
    { length: Math.round(44100 * seconds) },
    (_, i) => amplitude * Math.sin((2 * Math.PI * hz * i) / 44100),
  );
export const wav = (hz: number, amplitude?: number) =>
  writeWav({ rate: 44100, channels: 1, data: tone(hz, amplitude) });
/** Writes files below a folder of the test. */
export function folderOf(root: string, files: Record<string, Uint8Array | string>): string {
  for (const [path, bytes] of Object.entries(files)) {
    mkdirSync(dirname(join(root, path)), { recursive: true });
    writeFileSync(join(root, path), bytes);
  }
  return root;
}
