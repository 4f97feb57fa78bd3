import { COEFFICIENTS, FIRST, LOW_CUT, SECOND, SECTION_BYTES, SECTIONS } from './kernel/layout';

/**
 * What the response of a voice's filters is worked out from: coefficients as the kernel has them, which of its sections
 * are in, and the combs.
 */
export interface FilterPicture {
  numbers: Float64Array;
  block: number;
  sections: number;
  sideBySide: boolean;
  combs: readonly ({ feedback: boolean; delay: number; share: number; loss: number; level: number } | null)[];
}

/**
 * Gain in dB of a voice's filters at a frequency, without drive: H(z) = C·(zI − A)⁻¹·B + D of each section with the
 * very coefficients that the kernel uses; of a comb 1 + g·z⁻ᴰ, or 1 over 1 − g·loss(z)·z⁻ᴰ.
 */
export function responseAt(
  { numbers, block, sections, sideBySide, combs }: FilterPicture,
  hz: number,
  rate: number,
): number {
  const w = (2 * Math.PI * hz) / rate;
  const first = product([...sectionsOf(numbers, block, sections, FIRST, SECOND, w), ...combOf(combs[0], w)]);
  const second = product([...sectionsOf(numbers, block, sections, SECOND, LOW_CUT, w), ...combOf(combs[1], w)]);
  const middle = sideBySide ? { re: first.re + second.re, im: first.im + second.im } : product([first, second]);
  const all = product([middle, ...sectionsOf(numbers, block, sections, LOW_CUT, SECTIONS, w)]);
  return 20 * Math.log10(Math.hypot(all.re, all.im) + 1e-9);
}

interface Complex {
  re: number;
  im: number;
}
const product = (factors: readonly Complex[]): Complex =>
  factors.reduce((a, b) => ({ re: a.re * b.re - a.im * b.im, im: a.re * b.im + a.im * b.re }), { re: 1, im: 0 });
const over = (a: Complex, b: Complex): Complex => {
  const size = b.re * b.re + b.im * b.im;
  return { re: (a.re * b.re + a.im * b.im) / size, im: (a.im * b.re - a.re * b.im) / size };
};

function sectionsOf(
  numbers: Float64Array,
  block: number,
  sections: number,
  from: number,
  to: number,
  w: number,
): Complex[] {
  const found: Complex[] = [];
  for (let n = from; n < to; n++) {
    if ((sections & (1 << n)) === 0) continue;
    const at = (block + COEFFICIENTS + n * SECTION_BYTES) >> 3;
    const a = numbers[at + 16],
      c = numbers[at + 17],
      b = numbers[at + 18],
      d = numbers[at + 19];
    const b0 = numbers[at + 6],
      b1 = numbers[at + 7],
      c0 = numbers[at + 8],
      c1 = numbers[at + 10],
      direct = numbers[at + 12];
    const z = { re: Math.cos(w), im: Math.sin(w) };
    // (zI − A) = [[z − a, −b], [−c, z − d]].
    const determinant = product([
      { re: z.re - a, im: z.im },
      { re: z.re - d, im: z.im },
    ]);
    determinant.re -= b * c;
    const top = {
      re: c0 * ((z.re - d) * b0 + b * b1) + c1 * (c * b0 + (z.re - a) * b1),
      im: c0 * z.im * b0 + c1 * z.im * b1,
    };
    const h = over(top, determinant);
    found.push({ re: h.re + direct, im: h.im });
  }
  return found;
}

function combOf(comb: FilterPicture['combs'][number], w: number): Complex[] {
  if (!comb) return [];
  const { feedback, share, loss, level } = comb;
  const own = feedback ? loss / (1 - loss) : 0;
  const delay = Math.max(3, comb.delay - own);
  const turned = { re: share * Math.cos(w * delay), im: -share * Math.sin(w * delay) };
  if (!feedback) return [{ re: level * (1 + turned.re), im: level * turned.im }];
  const lost = product([turned, over({ re: 1 - loss, im: 0 }, { re: 1 - loss * Math.cos(w), im: loss * Math.sin(w) })]);
  return [over({ re: level, im: 0 }, { re: 1 - lost.re, im: -lost.im })];
}
