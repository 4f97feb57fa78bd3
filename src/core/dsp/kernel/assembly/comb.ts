/** Combs of voices, left and right at once: see `synthLayout.ts` for their memory. */
import {
  COMB_AT, COMB_DELAY, COMB_FRAMES, COMB_LEVEL, COMB_LINE, COMB_LOSS, COMB_LOST, COMB_SHARE,
} from '../synthLayout';
import { MADE, MADE_RIGHT } from '../layout';

const MASK = COMB_FRAMES - 1;
const ASIDE: usize = MADE_RIGHT - MADE;

@inline
function tap(line: usize, frame: i32): v128 {
  return f64x2.promote_low_f32x4(v128.load64_zero(line + 8 * <usize>(frame & MASK)));
}

/** What is too small for the processor's fast way is as good as none. */
@inline
function settled(x: v128): v128 {
  return v128.and(x, f64x2.gt(f64x2.abs(x), f64x2.splat(1e-15)));
}

/**
 * Sends a buffer, or with `stereo` the pair that begins at `samples`, through a comb in place. Forward: y = x + g·x(n − D);
 * feedback: y = x + g·y(n − D), what comes back having lost treble in one pole. Between samples by third-order Lagrange
 * interpolation (T. I. Laakso et al., "Splitting the unit delay", 1996). The delay is counted such that the teeth stand
 * at the multiples of rate / D.
 */
export function comb(comb: usize, stereo: i32, samples: usize, frames: i32, feedback: i32): void {
  const loss = load<f64>(comb, COMB_LOSS);
  const share = v128.load64_splat(comb, COMB_SHARE), level = v128.load64_splat(comb, COMB_LEVEL);
  // The pole of the loss delays the lower frequencies by loss / (1 − loss) frames.
  const own = feedback ? loss / (1 - loss) : 0;
  const delay = min<f64>(COMB_FRAMES - 4, max<f64>(3, load<f64>(comb, COMB_DELAY) - own));
  const whole = <i32>delay - 1;
  const d = delay - <f64>whole;
  const h0 = f64x2.splat((-(d - 1) * (d - 2) * (d - 3)) / 6), h1 = f64x2.splat((d * (d - 2) * (d - 3)) / 2);
  const h2 = f64x2.splat((-d * (d - 1) * (d - 3)) / 2), h3 = f64x2.splat((d * (d - 1) * (d - 2)) / 6);
  const keeps = f64x2.splat(1 - loss);
  const line = comb + COMB_LINE;
  let at = load<i32>(comb, COMB_AT);
  let lost = v128.load(comb, COMB_LOST);
  for (let i = 0; i < frames; i++) {
    const from = at - whole;
    let delayed = f64x2.add(f64x2.mul(h0, tap(line, from)), f64x2.mul(h1, tap(line, from - 1)));
    delayed = f64x2.add(f64x2.add(delayed, f64x2.mul(h2, tap(line, from - 2))), f64x2.mul(h3, tap(line, from - 3)));
    const both = v128.load64_splat(samples);
    const x = stereo ? f64x2.replace_lane(both, 1, load<f64>(samples + ASIDE)) : both;
    let y: v128;
    if (feedback) {
      lost = f64x2.add(lost, f64x2.mul(keeps, f64x2.sub(delayed, lost)));
      y = f64x2.add(x, f64x2.mul(share, lost));
      v128.store64_lane(line + 8 * <usize>(at & MASK), f32x4.demote_f64x2_zero(settled(y)), 0);
    } else {
      v128.store64_lane(line + 8 * <usize>(at & MASK), f32x4.demote_f64x2_zero(x), 0);
      y = f64x2.add(x, f64x2.mul(share, delayed));
    }
    y = f64x2.mul(y, level);
    v128.store64_lane(samples, y, 0);
    if (stereo) v128.store64_lane(samples + ASIDE, y, 1);
    samples += 8;
    at++;
  }
  store<i32>(comb, at & MASK, COMB_AT);
  v128.store(comb, settled(lost), COMB_LOST);
}
