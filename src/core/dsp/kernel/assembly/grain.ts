/** A grain of what was read: its shape, its gains, four frames at a time. See `layout.ts`. */
import { GRAIN_AGE, GRAIN_BACKWARD, GRAIN_COUNT, GRAIN_FROM, GRAIN_LEFT, GRAIN_LENGTH, GRAIN_RIGHT, GRAIN_SHAPE, GRAIN_STEREO, MADE, MADE_RIGHT, SIDE, SIDE_RIGHT } from '../layout';

/** Frames in which the ends of a shape that does not reach 0 are smoothed. */
const EDGE: f32 = 12;
/** Bits of the number of points of a shape, of which there are 512: see `GRAIN_POINTS` in `synthLayout.ts`. */
const PLACES = 9;
const SHIFT = 32 - PLACES;

/** The shape at four places, which are shares of a grain in 32 bits. */
@inline
function shapeAt(points: usize, places: v128): v128 {
  const n = i32x4.shl(i32x4.shr_u(places, SHIFT), 2);
  const t = f32x4.mul(f32x4.convert_i32x4_u(i32x4.shl(places, PLACES)), f32x4.splat(1.0 / 4294967296.0));
  const a = v128.load64_zero(points + <usize>i32x4.extract_lane(n, 0)), b = v128.load64_zero(points + <usize>i32x4.extract_lane(n, 1));
  const c = v128.load64_zero(points + <usize>i32x4.extract_lane(n, 2)), d = v128.load64_zero(points + <usize>i32x4.extract_lane(n, 3));
  const ab = v128.shuffle<f32>(a, b, 0, 4, 1, 5), cd = v128.shuffle<f32>(c, d, 0, 4, 1, 5);
  const here = v128.shuffle<f32>(ab, cd, 0, 1, 4, 5), next = v128.shuffle<f32>(ab, cd, 2, 3, 6, 7);
  return f32x4.add(here, f32x4.mul(f32x4.sub(next, here), t));
}

@inline
function addTo(place: usize, x: v128, by: v128, isIn: v128): void {
  v128.store(place, f64x2.add(v128.load(place), v128.and(f64x2.mul(x, by), isIn)));
}

/** Adds a grain, of which the frames stand where voices are made, to the side's pair of buffers. */
export function grain(): void {
  const count = load<i32>(GRAIN_COUNT), backward = load<i32>(GRAIN_BACKWARD), stereo = load<i32>(GRAIN_STEREO);
  const points = <usize>load<u32>(GRAIN_SHAPE);
  const age = load<f64>(GRAIN_AGE), length = load<f64>(GRAIN_LENGTH);
  const left = v128.load64_splat(GRAIN_LEFT), right = v128.load64_splat(GRAIN_RIGHT);
  const scale = 4294967296.0 / length;
  const first = <u32>(age * scale), step = <u32>scale;
  let places = i32x4(first, first + step, first + 2 * step, first + 3 * step);
  const by = i32x4.splat(4 * step);
  let out: usize = 8 * <usize>load<i32>(GRAIN_FROM);
  for (let i = 0; i < count; i += 4) {
    let height = shapeAt(points, places);
    places = i32x4.add(places, by);
    const old = <f32>(age + <f64>i), rest = <f32>(length - age - <f64>i);
    if (old < EDGE || rest - 3 < EDGE) {
      const ages = f32x4.add(f32x4.splat(old), f32x4(0, 1, 2, 3)), rests = f32x4.sub(f32x4.splat(rest), f32x4(0, 1, 2, 3));
      const one = f32x4.splat(1);
      height = f32x4.mul(height, f32x4.min(one, f32x4.mul(f32x4.add(ages, one), f32x4.splat(1 / (EDGE + 1)))));
      height = f32x4.mul(height, f32x4.min(one, f32x4.mul(rests, f32x4.splat(1 / EDGE))));
    }
    // Behind the last frame nothing is added.
    const isIn = i32x4.lt_s(i32x4.add(i32x4.splat(i), i32x4(0, 1, 2, 3)), i32x4.splat(count));
    const firstIn = i64x2.extend_low_i32x4_s(isIn), lastIn = i64x2.extend_high_i32x4_s(isIn);
    const low = f64x2.promote_low_f32x4(height), high = f64x2.promote_low_f32x4(v128.shuffle<f32>(height, height, 2, 3, 2, 3));
    const read: usize = MADE + 8 * <usize>(backward ? count - 2 - i : i);
    let a = v128.load(read), b = backward ? v128.load(read - 16) : v128.load(read, 16);
    if (backward) {
      a = v128.shuffle<f64>(a, a, 1, 0);
      b = v128.shuffle<f64>(b, b, 1, 0);
    }
    a = f64x2.mul(a, low);
    b = f64x2.mul(b, high);
    addTo(SIDE + out, a, left, firstIn);
    addTo(SIDE + out + 16, b, left, lastIn);
    if (stereo) {
      const other = read + MADE_RIGHT - MADE;
      a = v128.load(other);
      b = backward ? v128.load(other - 16) : v128.load(other, 16);
      if (backward) {
        a = v128.shuffle<f64>(a, a, 1, 0);
        b = v128.shuffle<f64>(b, b, 1, 0);
      }
      a = f64x2.mul(a, low);
      b = f64x2.mul(b, high);
    }
    addTo(SIDE_RIGHT + out, a, right, firstIn);
    addTo(SIDE_RIGHT + out + 16, b, right, lastIn);
    out += 32;
  }
}
