/** A grain of what was read: its shape, its gains, four frames at a time. See `layout.ts`. */
import {
  GRAIN_AGE, GRAIN_BACKWARD, GRAIN_COUNT, GRAIN_FROM, GRAIN_LEFT, GRAIN_LENGTH, GRAIN_RIGHT, GRAIN_SHAPE, GRAIN_STEREO,
  MADE, MADE_RIGHT, SIDE, SIDE_RIGHT,
} from '../layout';

/** From a place in the left channel's buffer to the same in the right one's. */
const ASIDE: usize = MADE_RIGHT - MADE;
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

/** Two frames from `read` on, or that one and the one before it where it goes backward. */
@inline
function twoFrom(read: usize, backward: bool): v128 {
  if (!backward) return v128.load(read);
  const turned = v128.load(read - 8);
  return v128.shuffle<f64>(turned, turned, 1, 0);
}

/** Adds a grain, of which the frames stand where voices are made, to the side's pair of buffers. */
export function grain(): void {
  const count = load<i32>(GRAIN_COUNT), backward = load<i32>(GRAIN_BACKWARD) !== 0, stereo = load<i32>(GRAIN_STEREO);
  const points = <usize>load<u32>(GRAIN_SHAPE);
  const age = load<f64>(GRAIN_AGE), length = load<f64>(GRAIN_LENGTH);
  const left = v128.load64_splat(GRAIN_LEFT), right = v128.load64_splat(GRAIN_RIGHT);
  const scale = 4294967296.0 / length;
  const begin = <u32>(age * scale), step = <u32>scale;
  let places = i32x4(begin, begin + step, begin + 2 * step, begin + 3 * step);
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
    const read: usize = MADE + 8 * <usize>(backward ? count - 1 - i : i);
    const next = backward ? read - 16 : read + 16;
    let first = f64x2.mul(twoFrom(read, backward), low), last = f64x2.mul(twoFrom(next, backward), high);
    addTo(SIDE + out, first, left, firstIn);
    addTo(SIDE + out + 16, last, left, lastIn);
    if (stereo) {
      first = f64x2.mul(twoFrom(read + ASIDE, backward), low);
      last = f64x2.mul(twoFrom(next + ASIDE, backward), high);
    }
    addTo(SIDE_RIGHT + out, first, right, firstIn);
    addTo(SIDE_RIGHT + out + 16, last, right, lastIn);
    out += 32;
  }
}
