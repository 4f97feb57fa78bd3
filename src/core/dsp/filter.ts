/** What a second-order section lets through. */
export type SectionKind = 'low' | 'high';

export interface Section { cutoffHz: number; q: number; g?: number }

/**
 * Coefficients of a second-order section for the kernel, which takes two frames at a time: written to `into` from element `at` on.
 *
 * The section is a state-variable filter by trapezoidal integration (A. Simper, "Linear trapezoidal state variable filter", 2013). Its response equals that of
 * the bilinear low-pass and high-pass of the "Audio EQ Cookbook" (W3C Note), and since its states mean the same whatever the cutoff, it stays stable while
 * cutoff and Q move. With states s = (band, low) a frame takes s to A·s + B·x and gives C·s + D·x; two frames in one go take it to
 * A²·s + A·B·x₁ + B·x₂ and give C·s + D·x₁ and C·A·s + C·B·x₁ + D·x₂. The pairs are: what band, low, x₁, x₂ add to the new states; what they add to the
 * two outputs; and A by columns, for a single frame left over. `cutoffHz` counts up to 0.49 of the rate; Q is above 0.
 */
export function setSection(into: Float64Array, at: number, kind: SectionKind, section: Section, rate: number): void {
  section.g = Math.tan((Math.PI * Math.min(section.cutoffHz, 0.49 * rate)) / rate);
  fillSection(into, at, kind, section);
}

/** The same for a section whose `g`, tan(π·cutoff / rate), is known. */
export function fillSection(into: Float64Array, at: number, kind: SectionKind, { g = 0, q }: Section): void {
  const damping = 1 / q;
  const a1 = 1 / (1 + g * (g + damping));
  const a2 = g * a1;
  const a3 = g * a2;
  const bandByBand = 2 * a1 - 1, bandByLow = -2 * a2, bandByX = 2 * a2;
  const lowByBand = 2 * a2, lowByLow = 1 - 2 * a3, lowByX = 2 * a3;
  const isLow = kind === 'low';
  const outByBand = isLow ? a2 : -damping * a1 - a2;
  const outByLow = isLow ? 1 - a3 : damping * a2 + a3 - 1;
  const outByX = isLow ? a3 : 1 - damping * a2 - a3;
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
