/** What loops of effects share: both channels, or two of anything, side by side as 64-bit floats. */

@inline
export function splat(x: f64): v128 {
  return f64x2.splat(x);
}

/** a · b + c, rounded twice as on every processor. */
@inline
export function muladd(a: v128, b: v128, c: v128): v128 {
  return f64x2.add(f64x2.mul(a, b), c);
}

/** What has died must not linger in numbers so small that processors slow down. */
@inline
export function settledPair(x: v128): v128 {
  return v128.and(x, f64x2.gt(f64x2.abs(x), splat(1e-18)));
}

/**
 * The natural logarithm of two positive normal numbers, within 2 units in the last place: what is left of the exponent,
 * m between √½ and √2, as 2·artanh((m − 1) / (m + 1)) by its series.
 */
export function ln(x: v128): v128 {
  const exponents = i32x4.shr_s(i32x4.sub(v128.shuffle<i32>(x, x, 1, 3, 1, 3), i32x4.splat(0x3fe6a09e)), 20);
  const m = i64x2.sub(x, v128.shuffle<i32>(i32x4.splat(0), i32x4.shl(exponents, 20), 0, 4, 1, 5));
  const k = f64x2.convert_low_i32x4_s(exponents);
  const one = splat(1);
  const z = f64x2.div(f64x2.sub(m, one), f64x2.add(m, one));
  const z2 = f64x2.mul(z, z);
  let s = splat(2.0 / 21.0);
  s = muladd(s, z2, splat(2.0 / 19.0));
  s = muladd(s, z2, splat(2.0 / 17.0));
  s = muladd(s, z2, splat(2.0 / 15.0));
  s = muladd(s, z2, splat(2.0 / 13.0));
  s = muladd(s, z2, splat(2.0 / 11.0));
  s = muladd(s, z2, splat(2.0 / 9.0));
  s = muladd(s, z2, splat(2.0 / 7.0));
  s = muladd(s, z2, splat(2.0 / 5.0));
  s = muladd(s, z2, splat(2.0 / 3.0));
  s = muladd(s, z2, splat(2));
  return muladd(k, splat(0.6931471805599453), f64x2.mul(z, s));
}

/** e to the power of two numbers between −700 and 700. */
export function exp(x: v128): v128 {
  const k = f64x2.nearest(f64x2.mul(x, splat(1.4426950408889634)));
  const r = f64x2.sub(f64x2.sub(x, f64x2.mul(k, splat(0.6931471803691238))), f64x2.mul(k, splat(1.9082149292705877e-10)));
  let s = splat(1.0 / 479001600.0);
  s = muladd(s, r, splat(1.0 / 39916800.0));
  s = muladd(s, r, splat(1.0 / 3628800.0));
  s = muladd(s, r, splat(1.0 / 362880.0));
  s = muladd(s, r, splat(1.0 / 40320.0));
  s = muladd(s, r, splat(1.0 / 5040.0));
  s = muladd(s, r, splat(1.0 / 720.0));
  s = muladd(s, r, splat(1.0 / 120.0));
  s = muladd(s, r, splat(1.0 / 24.0));
  s = muladd(s, r, splat(1.0 / 6.0));
  s = muladd(s, r, splat(0.5));
  s = muladd(s, r, splat(1));
  s = muladd(s, r, splat(1));
  const whole = i64x2.extend_low_i32x4_s(i32x4.trunc_sat_f64x2_s_zero(k));
  return i64x2.add(s, i64x2.shl(whole, 52));
}

/** The sine of two numbers up to some hundreds: what is left of whole half turns, by its series. */
export function sin(x: v128): v128 {
  const k = f64x2.nearest(f64x2.mul(x, splat(0.3183098861837907)));
  const r = f64x2.sub(f64x2.sub(x, f64x2.mul(k, splat(3.141592653589793))), f64x2.mul(k, splat(1.2246467991473532e-16)));
  const r2 = f64x2.mul(r, r);
  let s = splat(-1.0 / 121645100408832000.0);
  s = muladd(s, r2, splat(1.0 / 355687428096000.0));
  s = muladd(s, r2, splat(-1.0 / 1307674368000.0));
  s = muladd(s, r2, splat(1.0 / 6227020800.0));
  s = muladd(s, r2, splat(-1.0 / 39916800.0));
  s = muladd(s, r2, splat(1.0 / 362880.0));
  s = muladd(s, r2, splat(-1.0 / 5040.0));
  s = muladd(s, r2, splat(1.0 / 120.0));
  s = muladd(s, r2, splat(-1.0 / 6.0));
  const y = muladd(f64x2.mul(s, r2), r, r);
  const odd = i64x2.shl(i64x2.extend_low_i32x4_s(i32x4.trunc_sat_f64x2_s_zero(k)), 63);
  return v128.xor(y, odd);
}
