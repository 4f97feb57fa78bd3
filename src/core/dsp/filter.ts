/** What a second-order section lets through. */
export type SectionKind = 'low' | 'high' | 'band' | 'notch' | 'peak';
/** How much a peak lifts its middle. */
export const PEAK_DB = 12;

export interface Section {
  cutoffHz: number;
  q: number;
  g?: number;
}

/**
 * Coefficients of a second-order section for the kernel, which takes two frames at a time: written to `into` from
 * element `at` on.
 *
 * The section is a state-variable filter by trapezoidal integration (A. Simper, "Linear trapezoidal state variable
 * filter", 2013). Its response equals that of
 * the bilinear filters of the "Audio EQ Cookbook" (W3C Note), and since its states mean the same whatever the cutoff,
 * it stays stable while
 * cutoff and Q move. With states s = (band, low) a frame takes s to A·s + B·x and gives C·s + D·x; two frames in one go
 * take it to
 * A²·s + A·B·x₁ + B·x₂ and give C·s + D·x₁ and C·A·s + C·B·x₁ + D·x₂. The pairs are: what band, low, x₁, x₂ add to the
 * new states; what they add to the
 * two outputs; and A by columns, for a single frame left over. `cutoffHz` counts up to 0.49 of the rate; Q is above 0.
 */
export function setSection(into: Float64Array, at: number, kind: SectionKind, section: Section, rate: number): void {
  section.g = Math.tan((Math.PI * Math.min(section.cutoffHz, 0.49 * rate)) / rate);
  fillSection(into, at, kind, section);
}

/** The same for a section whose `g`, tan(π·cutoff / rate), is known. */
export function fillSection(into: Float64Array, at: number, kind: SectionKind, { g = 0, q }: Section): void {
  // A peak is a bell: its damping is less by the root of its gain.
  const damping = kind === 'peak' ? 1 / (q * PEAK_ROOT) : 1 / q;
  const a1 = 1 / (1 + g * (g + damping));
  const a2 = g * a1;
  const a3 = g * a2;
  const bandByBand = 2 * a1 - 1,
    bandByLow = -2 * a2,
    bandByX = 2 * a2;
  const lowByBand = 2 * a2,
    lowByLow = 1 - 2 * a3,
    lowByX = 2 * a3;
  let outByBand = 0;
  let outByLow = 0;
  let outByX = 0;
  if (kind === 'low') {
    outByBand = a2;
    outByLow = 1 - a3;
    outByX = a3;
  } else if (kind === 'high') {
    outByBand = -damping * a1 - a2;
    outByLow = damping * a2 + a3 - 1;
    outByX = 1 - damping * a2 - a3;
  } else {
    // What goes through, and how much of the band is added to it.
    const direct = kind === 'band' ? 0 : 1;
    const byBand = kind === 'band' ? damping : kind === 'notch' ? -damping : damping * (PEAK_ROOT * PEAK_ROOT - 1);
    outByBand = byBand * a1;
    outByLow = -byBand * a2;
    outByX = direct + byBand * a2;
  }
  into[at] = bandByBand * bandByBand + bandByLow * lowByBand;
  into[at + 1] = lowByBand * bandByBand + lowByLow * lowByBand;
  into[at + 2] = bandByBand * bandByLow + bandByLow * lowByLow;
  into[at + 3] = lowByBand * bandByLow + lowByLow * lowByLow;
  into[at + 4] = bandByBand * bandByX + bandByLow * lowByX;
  into[at + 5] = lowByBand * bandByX + lowByLow * lowByX;
  into[at + 6] = bandByX;
  into[at + 7] = lowByX;
  into[at + 8] = outByBand;
  into[at + 9] = outByBand * bandByBand + outByLow * lowByBand;
  into[at + 10] = outByLow;
  into[at + 11] = outByBand * bandByLow + outByLow * lowByLow;
  into[at + 12] = outByX;
  into[at + 13] = outByBand * bandByX + outByLow * lowByX;
  into[at + 14] = 0;
  into[at + 15] = outByX;
  into[at + 16] = bandByBand;
  into[at + 17] = lowByBand;
  into[at + 18] = bandByLow;
  into[at + 19] = lowByLow;
}
const PEAK_ROOT = 10 ** (PEAK_DB / 40);

/** Sections, of second order, in which a tilt is made. */
export const TILT_SECTIONS = 3;
const TILT_LOW = 20,
  TILT_OCTAVES = 10;

/**
 * A slope of so many dB an octave through 0 dB at a pivot, over ten octaves from 20 Hz: pairs of real poles and zeros
 * at equal distances on a scale of octaves (J. O. Smith and H. F. Smith, "Closed form
 * fractional integration and differentiation via real exponentially spaced pole-zero pairs", 2016), two pairs a
 * section. `values[slope]` in dB an octave, `pivot` in Hz.
 */
export function setTilt(
  into: Float64Array,
  at: number,
  stride: number,
  values: Float64Array,
  slope: number,
  pivot: number,
  rate: number,
): void {
  const spacing = TILT_OCTAVES / (2 * TILT_SECTIONS);
  const half = (values[slope] / SIX_DB) * (spacing / 2);
  let gain = 1;
  const w = 2 * Math.PI * (pivot / rate);
  for (let s = 0; s < TILT_SECTIONS; s++) {
    for (let p = 0; p < 2; p++) {
      const middle = TILT_LOW * 2 ** (spacing * (2 * s + p + 0.5));
      const zero = Math.tan(Math.PI * Math.min(0.49, (middle * 2 ** -half) / rate));
      const pole = Math.tan(Math.PI * Math.min(0.49, (middle * 2 ** half) / rate));
      // (1 + s/zero) / (1 + s/pole), bilinear: 0 dB at the bottom.
      const k = pole / (zero * (1 + pole));
      firsts[3 * p] = k * (1 + zero);
      firsts[3 * p + 1] = k * (zero - 1);
      firsts[3 * p + 2] = (pole - 1) / (pole + 1);
      const b0 = firsts[3 * p],
        b1 = firsts[3 * p + 1],
        a = firsts[3 * p + 2];
      gain *= Math.sqrt((b0 * b0 + b1 * b1 + 2 * b0 * b1 * Math.cos(w)) / (1 + a * a + 2 * a * Math.cos(w)));
    }
    const scale = s === TILT_SECTIONS - 1 ? 1 / gain : 1;
    pairOfFirstOrder(into, at + s * stride, scale);
  }
}
const SIX_DB = 20 * Math.log10(2);
const firsts = new Float64Array(6);

/**
 * Two sections of first order in a row, b₀ + b₁z⁻¹ over 1 + az⁻¹ each, in the form that the kernel takes: a state for
 * each.
 */
function pairOfFirstOrder(into: Float64Array, at: number, scale: number): void {
  const b0 = firsts[0],
    b1 = firsts[1],
    a = firsts[2];
  const c0 = firsts[3] * scale,
    c1 = firsts[4] * scale,
    c = firsts[5];
  const k = b1 - a * b0;
  const l = c1 - c * c0;
  // A by rows: (−a, 0), (l, −c); B: (k, l·b₀); C: (c₀, 1); D: b₀·c₀.
  const m = l * b0;
  into[at] = a * a;
  into[at + 1] = -l * (a + c);
  into[at + 2] = 0;
  into[at + 3] = c * c;
  into[at + 4] = -a * k;
  into[at + 5] = l * k - c * m;
  into[at + 6] = k;
  into[at + 7] = m;
  into[at + 8] = c0;
  into[at + 9] = -c0 * a + l;
  into[at + 10] = 1;
  into[at + 11] = -c;
  into[at + 12] = b0 * c0;
  into[at + 13] = c0 * k + m;
  into[at + 14] = 0;
  into[at + 15] = b0 * c0;
  into[at + 16] = -a;
  into[at + 17] = l;
  into[at + 18] = 0;
  into[at + 19] = -c;
}
