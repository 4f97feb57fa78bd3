import type { Touch } from '../../rig/schema';
import { ofObject } from './ofObject';

/**
 * Level of a strike: 20·log10((velocity/127)²) dB at share 1 (SFZ v1, amp_veltrack 100), in proportion of the dB below
 * that.
 * `velocity` 0…127, `share` 0…1.
 */
export const gainOfVelocity = (velocity: number, share: number): number => (velocity / 127) ** (2 * share);

/**
 * The velocity that a layer feels, from `outLow` to `outHigh`, for one as struck 1…127; `curve` −1…1, above 0 soft
 * strikes count for more.
 */
export const feltVelocity = (velocity: number, curve: number, outLow: number, outHigh: number): number =>
  Math.round(outLow + (outHigh - outLow) * ((velocity - 1) / 126) ** (2 ** (-2 * curve)));

/** The velocity a layer feels for each velocity as struck (index 0 is unused); the same for the same touch. */
export const touchTable = ofObject((touch: Touch): Uint8Array => {
  const { curve, outLow, outHigh, fixed } = touch;
  return Uint8Array.from({ length: 128 }, (_, velocity) =>
    velocity === 0 ? 0 : (fixed ?? feltVelocity(velocity, curve, outLow, outHigh)),
  );
});
