import { PNG } from 'pngjs';
import { RATE, spectrum } from './measure';

/** Pictures of the lab: a spectrogram, and lines over it. */

const WIDTH = 1200;
const HEIGHT = 800;

/** Dark to light over 90 dB. */
function shade(db: number): [number, number, number] {
  const x = Math.max(0, Math.min(1, (db + 90) / 90));
  return [Math.round(255 * x ** 0.9), Math.round(235 * x ** 1.6), Math.round(90 + 120 * x - 60 * x ** 3)];
}

export class Sheet {
  readonly png = new PNG({ width: WIDTH, height: HEIGHT });

  dot(x: number, y: number, [r, g, b]: readonly number[]): void {
    if (x < 0 || y < 0 || x >= WIDTH || y >= HEIGHT) return;
    const at = 4 * (Math.round(y) * WIDTH + Math.round(x));
    this.png.data[at] = r;
    this.png.data[at + 1] = g;
    this.png.data[at + 2] = b;
    this.png.data[at + 3] = 255;
  }

  fill(x: number, y: number, width: number, height: number, colour: readonly number[]): void {
    for (let j = 0; j < height; j++) for (let i = 0; i < width; i++) this.dot(x + i, y + j, colour);
  }

  /** Time to the right, frequency upwards in octaves from 30 Hz to 20 kHz, in a part of the sheet. */
  spectrogram(side: Float32Array, x: number, y: number, width: number, height: number): void {
    const columns = Array.from({ length: Math.ceil(width / 2) }, (_, n) =>
      spectrum(side, Math.round((n * 2 * Math.max(1, side.length - 4000)) / width)),
    );
    const highest = Math.max(...columns.map((column) => column.reduce((most, p) => Math.max(most, p), 0)));
    columns.forEach((power, n) => {
      for (let j = 0; j < height; j++) {
        const hz = 30 * (20000 / 30) ** (1 - j / height);
        const low = (hz * 2 * power.length) / RATE;
        const high = Math.max(low + 1, low * (20000 / 30) ** (1 / height));
        let most = 0;
        for (let bin = Math.floor(low); bin < high; bin++) most = Math.max(most, power[bin] ?? 0);
        const colour = shade(10 * Math.log10(most / highest + 1e-12));
        this.dot(x + 2 * n, y + j, colour);
        this.dot(x + 2 * n + 1, y + j, colour);
      }
    });
  }

  /** A line through values, left to right over the width; `low` is at the bottom. */
  line(values: readonly number[], low: number, high: number, box: readonly number[], colour: readonly number[]): void {
    const [x, y, width, height] = box;
    let before: number | null = null;
    for (let i = 0; i < width; i++) {
      const at = (i / (width - 1)) * (values.length - 1);
      const n = Math.floor(at);
      const value = values[n] + (at - n) * ((values[n + 1] ?? values[n]) - values[n]);
      const here = Math.round(y + height - 1 - Math.max(0, Math.min(1, (value - low) / (high - low))) * (height - 1));
      for (let j = Math.min(before ?? here, here); j <= Math.max(before ?? here, here); j++) this.dot(x + i, j, colour);
      before = here;
    }
  }

  bytes(): Buffer {
    return PNG.sync.write(this.png);
  }
}
