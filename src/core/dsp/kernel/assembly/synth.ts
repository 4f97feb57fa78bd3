/**
 * Oscillators: waves read at any phase, four frames at a time, with phase and frequency modulation, ring, unison and
 * hard sync. See `synthLayout.ts` for the memory.
 */
import {
  DELAYED, DELAYED_AT, DELAYED_FRAMES, FREQUENCY_MOD, FROM, GOES_OVER, HISTORY, INCREMENTS, IS_CIRCLE, IS_PLAIN,
  IS_PULSE, LEADS, LEFTS, MIX, MODULATES, NEXT_FREQUENCY_MOD, NEXT_LEFTS, NEXT_MIX, NEXT_NOISE_LEFT, NEXT_PHASE_MOD,
  NEXT_RIGHTS, NEXT_RING, NOISE_COLOUR, NOISE_LEFT, NOISE_LOW, NOISE_PATH, NOISE_PLAYS, NOISE_SEED, OLD_MIX, OLD_OTHER,
  OLD_SHIFT, OLD_WAVE, ORDER, OSCILLATOR_BYTES, OTHER_WAVE, OUTPUTS, PATH, PATHS, PENDING, PHASES, PHASE_MOD, PLAYS,
  RIGHTS, RING, SHARE, SHARED, SHIFT, STEP_PHASES, STEP_TAPS, STEPS, STRIP_BYTES, SUM, SYNC, UNISON, WAVE, WAYS,
  WRAP_HISTORY, WRAPS, STEREO, SIDE_BY_SIDE,
} from '../synthLayout';
import { MADE, MADE_RIGHT, PAST, SIDE } from '../layout';

const TWO_32: f32 = 4294967296.0;
const OF_32: f32 = 1.0 / 4294967296.0;
const LEFT: usize = SUM, RIGHT: usize = SUM + STRIP_BYTES, PLAIN: usize = SUM + 2 * STRIP_BYTES;

/** Four cubics through four taps each, at `t` of the way from the second to the third. */
@inline
function cubics(y0: v128, y1: v128, y2: v128, y3: v128, t: v128): v128 {
  const three = f32x4.splat(3);
  const sum = f32x4.add(y0, y2);
  const k3 = f32x4.add(f32x4.sub(y3, y0), f32x4.mul(three, f32x4.sub(y1, y2)));
  const k2 = f32x4.mul(three, f32x4.sub(sum, f32x4.add(y1, y1)));
  const k1 = f32x4.mul(three, f32x4.sub(y2, y0));
  const k0 = f32x4.add(sum, f32x4.mul(f32x4.splat(4), y1));
  return f32x4.add(f32x4.mul(f32x4.add(f32x4.mul(f32x4.add(f32x4.mul(k3, t), k2), t), k1), t), k0);
}

/** Four taps of a wave, or of what lies between two. */
@inline
function tapsAt(wave: usize, other: usize, mix: v128, frame: i32): v128 {
  const here = v128.load(wave + 4 * frame);
  return wave === other ? here : f32x4.add(here, f32x4.mul(mix, f32x4.sub(v128.load(other + 4 * frame), here)));
}

/** A wave at four phases. */
@inline
function waveAt(wave: usize, other: usize, shift: i32, mix: v128, phases: v128): v128 {
  const frames = i32x4.shr_u(phases, shift);
  const t = f32x4.mul(f32x4.convert_i32x4_u(i32x4.shl(phases, 32 - shift)), f32x4.splat(OF_32));
  const a = tapsAt(wave, other, mix, i32x4.extract_lane(frames, 0));
  const b = tapsAt(wave, other, mix, i32x4.extract_lane(frames, 1));
  const c = tapsAt(wave, other, mix, i32x4.extract_lane(frames, 2));
  const d = tapsAt(wave, other, mix, i32x4.extract_lane(frames, 3));
  const ab01 = v128.shuffle<f32>(a, b, 0, 4, 1, 5);
  const ab23 = v128.shuffle<f32>(a, b, 2, 6, 3, 7);
  const cd01 = v128.shuffle<f32>(c, d, 0, 4, 1, 5);
  const cd23 = v128.shuffle<f32>(c, d, 2, 6, 3, 7);
  return cubics(
    v128.shuffle<f32>(ab01, cd01, 0, 1, 4, 5), v128.shuffle<f32>(ab01, cd01, 2, 3, 6, 7),
    v128.shuffle<f32>(ab23, cd23, 0, 1, 4, 5), v128.shuffle<f32>(ab23, cd23, 2, 3, 6, 7), t);
}

/** Cycles as whole numbers of 2⁻³² of one: what lies before the point falls away. */
@inline
function wrapped(cycles: v128): v128 {
  return i32x4.trunc_sat_f32x4_u(f32x4.mul(f32x4.sub(cycles, f32x4.floor(cycles)), f32x4.splat(TWO_32)));
}

/** What an oscillator gives at four phases: a wave, or two of them with a width between, which is `mix`. */
@inline
function given(osc: usize, phases: v128, mix: v128): v128 {
  const wave = <usize>load<u32>(osc, WAVE);
  const shift = load<i32>(osc, SHIFT);
  if (load<i32>(osc, IS_PULSE)) return f32x4.sub(waveAt(wave, wave, shift, mix, phases), waveAt(wave, wave, shift, mix, i32x4.add(phases, wrapped(mix))));
  return waveAt(wave, <usize>load<u32>(osc, OTHER_WAVE), shift, mix, phases);
}

@inline
function givenBefore(osc: usize, phases: v128): v128 {
  const wave = <usize>load<u32>(osc, OLD_WAVE);
  const shift = load<i32>(osc, OLD_SHIFT);
  const mix = f32x4.splat(load<f32>(osc, OLD_MIX));
  if (load<i32>(osc, IS_PULSE)) return f32x4.sub(waveAt(wave, wave, shift, mix, phases), waveAt(wave, wave, shift, mix, i32x4.add(phases, wrapped(mix))));
  return waveAt(wave, <usize>load<u32>(osc, OLD_OTHER), shift, mix, phases);
}

/** A value that goes from one to another by `step` in each frame, at four of them from `at` on. */
@inline
function rampAt(from: f32, step: f32, at: i32): v128 {
  return f32x4.add(f32x4.splat(from + step * <f32>(at + 1)), f32x4.mul(f32x4(0, 1, 2, 3), f32x4.splat(step)));
}

/**
 * What modulates an oscillator at four frames: the output of another one, which may not have been made yet; then it is
 * that of four frames ago.
 */
@inline
function modulator(voice: usize, osc: usize, at: i32, made: u32): v128 {
  const from = load<i32>(osc, FROM);
  return made & (1 << from) ? v128.load(OUTPUTS + <usize>from * STRIP_BYTES + 4 * at) : v128.load(voice + <usize>from * OSCILLATOR_BYTES + HISTORY);
}

/**
 * Makes `frames` frames of an oscillator from frame `at` of a span of `total` on; `made` has a bit for each oscillator
 * that is ready.
 */
function oscillate(voice: usize, n: i32, at: i32, frames: i32, total: i32, made: u32): void {
  const osc = voice + <usize>n * OSCILLATOR_BYTES;
  const unison = load<i32>(osc, UNISON);
  const pm0 = load<f32>(osc, PHASE_MOD), pm1 = load<f32>(osc, NEXT_PHASE_MOD);
  const fm0 = load<f32>(osc, FREQUENCY_MOD), fm1 = load<f32>(osc, NEXT_FREQUENCY_MOD);
  const ring0 = load<f32>(osc, RING), ring1 = load<f32>(osc, NEXT_RING);
  const mix0 = load<f32>(osc, MIX), mix1 = load<f32>(osc, NEXT_MIX);
  const usesPhase = pm0 !== 0 || pm1 !== 0;
  const usesFrequency = fm0 !== 0 || fm1 !== 0;
  const goesOver = load<i32>(osc, GOES_OVER) !== 0;
  const each: f32 = 1 / <f32>total;
  const pmStep = (pm1 - pm0) * each, fmStep = (fm1 - fm0) * each, mixStep = (mix1 - mix0) * each;
  const wave = <usize>load<u32>(osc, WAVE), other = <usize>load<u32>(osc, OTHER_WAVE);
  const shift = load<i32>(osc, SHIFT);
  const pulse = load<i32>(osc, IS_PULSE) !== 0;
  const single = wave === other;
  const plainMix = f32x4.splat(mix0);
  const stereo = load<i32>(voice + SHARED, STEREO) !== 0;
  const modulates = load<i32>(osc, MODULATES) !== 0;
  const leads = load<i32>(osc, LEADS) !== 0;
  const share = load<f32>(osc, SHARE);
  const output = OUTPUTS + <usize>n * STRIP_BYTES;
  const wraps = WRAPS + <usize>n * STRIP_BYTES;
  for (let i = at; i < at + frames; i += 4) {
    v128.store(LEFT + 4 * i, f32x4.splat(0));
    v128.store(RIGHT + 4 * i, f32x4.splat(0));
    v128.store(PLAIN + 4 * i, f32x4.splat(0));
    if (leads) v128.store(wraps + 4 * i, f32x4.splat(-1));
  }
  if (leads) store<f32>(wraps + 4 * at, load<f32>(osc, PENDING));
  for (let u = 0; u < unison; u++) {
    const place = osc + 4 * <usize>u;
    const inc = load<u32>(place, INCREMENTS);
    let phase = load<u32>(place, PHASES);
    const left0 = load<f32>(place, LEFTS), left1 = load<f32>(place, NEXT_LEFTS);
    const right0 = load<f32>(place, RIGHTS), right1 = load<f32>(place, NEXT_RIGHTS);
    const cycles = <f32>inc * OF_32;
    const leftStep = (left1 - left0) * each, rightStep = (right1 - right0) * each;
    let lefts = rampAt(left0, leftStep, at), rights = rampAt(right0, rightStep, at);
    const leftBy = f32x4.splat(4 * leftStep), rightBy = f32x4.splat(4 * rightStep);
    for (let i = 0; i < frames; i += 4) {
      const t = at + i;
      const left = frames - i;
      const mix = mixStep === 0 ? plainMix : rampAt(mix0, mixStep, t);
      let phases: v128;
      let next: u32;
      let ahead: v128;
      if (usesFrequency) {
        const steps = i32x4.add(i32x4.splat(inc), wrapped(f32x4.mul(f32x4.mul(rampAt(fm0, fmStep, t), modulator(voice, osc, t, made)), f32x4.splat(cycles))));
        const p1 = phase + i32x4.extract_lane(steps, 0);
        const p2 = p1 + i32x4.extract_lane(steps, 1);
        const p3 = p2 + i32x4.extract_lane(steps, 2);
        const p4 = p3 + i32x4.extract_lane(steps, 3);
        phases = i32x4(phase, p1, p2, p3);
        ahead = i32x4(p1, p2, p3, p4);
        next = left >= 4 ? p4 : left === 3 ? p3 : left === 2 ? p2 : p1;
      } else {
        phases = i32x4.add(i32x4.splat(phase), i32x4.mul(i32x4.splat(inc), i32x4(0, 1, 2, 3)));
        ahead = i32x4.add(phases, i32x4.splat(inc));
        next = phase + inc * <u32>(left < 4 ? left : 4);
      }
      if (leads && u === 0) {
        // Where the cycle ends between a frame and the next, the next one learns how long ago that was.
        for (let lane = 0; lane < 4 && lane < left; lane++) {
          const before = lane === 0 ? i32x4.extract_lane(phases, 0) : lane === 1 ? i32x4.extract_lane(phases, 1) : lane === 2 ? i32x4.extract_lane(phases, 2) : i32x4.extract_lane(phases, 3);
          const after = lane === 0 ? i32x4.extract_lane(ahead, 0) : lane === 1 ? i32x4.extract_lane(ahead, 1) : lane === 2 ? i32x4.extract_lane(ahead, 2) : i32x4.extract_lane(ahead, 3);
          const wrap: f32 = <u32>after < <u32>before && inc < 0x80000000 ? <f32>(<u32>after) / Mathf.max(1, <f32>(<u32>after - <u32>before)) : -1;
          if (i + lane + 1 < frames) store<f32>(wraps + 4 * (t + lane + 1), wrap);
          else store<f32>(osc, wrap, PENDING);
        }
      }
      phase = next;
      if (usesPhase) phases = i32x4.add(phases, wrapped(f32x4.mul(rampAt(pm0, pmStep, t), modulator(voice, osc, t, made))));
      let y = pulse ? f32x4.sub(waveAt(wave, wave, shift, mix, phases), waveAt(wave, wave, shift, mix, i32x4.add(phases, wrapped(mix)))) : single ? waveAt(wave, wave, shift, mix, phases) : waveAt(wave, other, shift, mix, phases);
      if (goesOver) {
        const before = givenBefore(osc, phases);
        y = f32x4.add(before, f32x4.mul(rampAt(0, each, t), f32x4.sub(y, before)));
      }
      v128.store(LEFT + 4 * t, f32x4.add(v128.load(LEFT + 4 * t), f32x4.mul(y, lefts)));
      if (stereo) v128.store(RIGHT + 4 * t, f32x4.add(v128.load(RIGHT + 4 * t), f32x4.mul(y, rights)));
      if (modulates) v128.store(PLAIN + 4 * t, f32x4.add(v128.load(PLAIN + 4 * t), f32x4.mul(y, f32x4.splat(share))));
      lefts = f32x4.add(lefts, leftBy);
      rights = f32x4.add(rights, rightBy);
    }
    store<u32>(place, phase, PHASES);
  }
  leave(voice, osc, output, at, frames, total, made, ring0, ring1);
}

/** One value of an oscillator. */
@inline
function one(osc: usize, phase: u32, mix: f32): f32 {
  return f32x4.extract_lane(given(osc, i32x4.splat(phase), f32x4.splat(mix)), 0);
}

/** A saw, or the difference of two, without any limit of its band. */
@inline
function saws(phase: u32, pulse: bool, width: u32): f32 {
  return pulse ? 2 * (<f32>(phase + width) - <f32>phase) * OF_32 : 1 - 2 * <f32>phase * OF_32;
}

/**
 * Adds what a band-limited step differs by from a plain one that came `since` frames before the frame that is made now.
 */
@inline
function addStep(lefts: usize, ringAt: i32, since: f32, left: f32, right: f32, plain: f32): void {
  const exact = since * <f32>STEP_PHASES;
  const row = <i32>exact;
  const t = exact - <f32>row;
  const table = STEPS + <usize>row * STEP_TAPS * 4;
  for (let k = 0; k < STEP_TAPS; k++) {
    const a = load<f32>(table + 4 * k);
    const r = a + t * (load<f32>(table + STEP_TAPS * 4 + 4 * k) - a);
    const to = lefts + 4 * <usize>((ringAt + k) & (DELAYED_FRAMES - 1));
    store<f32>(to, load<f32>(to) + left * r);
    store<f32>(to, load<f32>(to, 4 * DELAYED_FRAMES) + right * r, 4 * DELAYED_FRAMES);
    store<f32>(to, load<f32>(to, 8 * DELAYED_FRAMES) + plain * r, 8 * DELAYED_FRAMES);
  }
}

/**
 * The jumps of saws that came by themselves: `end` is the phase reached after `way` of a frame's step `inc`, `since`
 * frames before the frame that is made now.
 */
@inline
function ownJumps(osc: usize, lefts: usize, ringAt: i32, end: u32, way: u32, inc: u32, since: f32, pulse: bool, width: u32, left: f32, right: f32, share: f32): void {
  if (end < way) addStep(lefts, ringAt, since + <f32>end / Mathf.max(1, <f32>inc), 2 * left, 2 * right, 2 * share);
  const other = end + width;
  if (pulse && other < way) addStep(lefts, ringAt, since + <f32>other / Mathf.max(1, <f32>inc), -2 * left, -2 * right, -2 * share);
}

/**
 * The same for an oscillator that begins anew with each cycle of another: each step that this makes is made
 * band-limited, so that its output comes {@link STEP_TAPS} / 2 frames later.
 */
function oscillateInSync(voice: usize, n: i32, at: i32, frames: i32, total: i32, made: u32): void {
  const osc = voice + <usize>n * OSCILLATOR_BYTES;
  const unison = load<i32>(osc, UNISON);
  const pm0 = load<f32>(osc, PHASE_MOD), pm1 = load<f32>(osc, NEXT_PHASE_MOD);
  const fm0 = load<f32>(osc, FREQUENCY_MOD), fm1 = load<f32>(osc, NEXT_FREQUENCY_MOD);
  const mix0 = load<f32>(osc, MIX), mix1 = load<f32>(osc, NEXT_MIX);
  const share = load<f32>(osc, SHARE);
  const leads = load<i32>(osc, LEADS) !== 0;
  const output = OUTPUTS + <usize>n * STRIP_BYTES;
  const wraps = WRAPS + <usize>n * STRIP_BYTES;
  // In a circle, one that comes later has not been made: what it did four frames ago counts, as it does where it
  // modulates.
  const leader = load<i32>(osc, SYNC);
  const isMade = (made & (1 << leader)) !== 0;
  const master = isMade ? WRAPS + <usize>leader * STRIP_BYTES + 4 * at : voice + <usize>leader * OSCILLATOR_BYTES + WRAP_HISTORY;
  const from = load<i32>(osc, FROM);
  const source = made & (1 << from) ? OUTPUTS + <usize>from * STRIP_BYTES + 4 * at : voice + <usize>from * OSCILLATOR_BYTES + HISTORY;
  const lefts = osc + DELAYED, rights = lefts + 4 * DELAYED_FRAMES, plains = rights + 4 * DELAYED_FRAMES;
  const plain = load<i32>(osc, IS_PLAIN) !== 0 && pm0 === 0 && pm1 === 0;
  const pulse = load<i32>(osc, IS_PULSE) !== 0;
  let ringAt = load<i32>(osc, DELAYED_AT);
  if (leads) for (let i = at; i < at + frames; i++) store<f32>(wraps + 4 * i, i === at ? load<f32>(osc, PENDING) : -1);
  for (let i = 0; i < frames; i++) {
    const t = at + i;
    const way = <f32>(t + 1) / <f32>total;
    const mix = mix0 + (mix1 - mix0) * way;
    const m = load<f32>(source + 4 * (made & (1 << from) ? i : i & 3));
    const turn = (pm0 + (pm1 - pm0) * way) * m;
    const shift = <u32>((turn - Mathf.floor(turn)) * TWO_32);
    const width = <u32>(mix * TWO_32);
    const bend: f32 = 1 + (fm0 + (fm1 - fm0) * way) * m;
    const wrap = load<f32>(master + 4 * (isMade ? i : i & 3));
    const due = (ringAt + STEP_TAPS / 2) & (DELAYED_FRAMES - 1);
    for (let u = 0; u < unison; u++) {
      const place = osc + 4 * <usize>u;
      const cycles = <f32>load<u32>(place, INCREMENTS) * OF_32 * bend;
      const inc = <u32>((cycles - Mathf.floor(cycles)) * TWO_32);
      let phase = load<u32>(place, PHASES);
      const left = load<f32>(place, LEFTS) + (load<f32>(place, NEXT_LEFTS) - load<f32>(place, LEFTS)) * way;
      const right = load<f32>(place, RIGHTS) + (load<f32>(place, NEXT_RIGHTS) - load<f32>(place, RIGHTS)) * way;
      if (wrap >= 0) {
        const passed = <u32>(wrap * <f32>inc);
        const end = phase - passed;
        if (plain) ownJumps(osc, lefts, ringAt, end, inc - passed, inc, wrap, pulse, width, left, right, share);
        const height = (plain ? saws(0, pulse, width) - saws(end, pulse, width) : one(osc, shift, mix) - one(osc, end + shift, mix));
        addStep(lefts, ringAt, wrap, height * left, height * right, height * share);
        phase = passed;
      } else if (plain) ownJumps(osc, lefts, ringAt, phase, inc, inc, 0, pulse, width, left, right, share);
      const y = plain ? saws(phase, pulse, width) : one(osc, phase + shift, mix);
      const to = 4 * <usize>due;
      store<f32>(lefts + to, load<f32>(lefts + to) + left * y);
      store<f32>(rights + to, load<f32>(rights + to) + right * y);
      store<f32>(plains + to, load<f32>(plains + to) + share * y);
      const next = phase + inc;
      if (leads && u === 0) {
        const wrapHere: f32 = next < phase && inc < 0x80000000 ? <f32>next / Mathf.max(1, <f32>inc) : -1;
        if (i + 1 < frames) store<f32>(wraps + 4 * (t + 1), wrapHere);
        else store<f32>(osc, wrapHere, PENDING);
      }
      store<u32>(place, next, PHASES);
    }
    const out = 4 * <usize>ringAt;
    store<f32>(LEFT + 4 * t, load<f32>(lefts + out));
    store<f32>(RIGHT + 4 * t, load<f32>(rights + out));
    store<f32>(PLAIN + 4 * t, load<f32>(plains + out));
    store<f32>(lefts + out, 0);
    store<f32>(rights + out, 0);
    store<f32>(plains + out, 0);
    ringAt = (ringAt + 1) & (DELAYED_FRAMES - 1);
  }
  store<i32>(osc, ringAt, DELAYED_AT);
  leave(voice, osc, output, at, frames, total, made, load<f32>(osc, RING), load<f32>(osc, NEXT_RING));
}

/** What an oscillator made goes to the others, and on its way. */
@inline
function leave(voice: usize, osc: usize, output: usize, at: i32, frames: i32, total: i32, made: u32, ring0: f32, ring1: f32): void {
  const usesRing = ring0 !== 0 || ring1 !== 0;
  const ringStep = (ring1 - ring0) / <f32>total;
  const path = PATHS + <usize>load<i32>(osc, PATH) * 2 * STRIP_BYTES;
  for (let i = 0; i < frames; i += 4) {
    const t = at + i;
    let left = v128.load(LEFT + 4 * t);
    let right = v128.load(RIGHT + 4 * t);
    let plain = v128.load(PLAIN + 4 * t);
    if (usesRing) {
      const depth = rampAt(ring0, ringStep, t);
      const factor = f32x4.add(f32x4.splat(1), f32x4.mul(depth, f32x4.sub(modulator(voice, osc, t, made), f32x4.splat(1))));
      left = f32x4.mul(left, factor);
      right = f32x4.mul(right, factor);
      plain = f32x4.mul(plain, factor);
    }
    v128.store(output + 4 * t, plain);
    v128.store(path + 4 * t, f32x4.add(v128.load(path + 4 * t), left));
    v128.store(path + STRIP_BYTES + 4 * t, f32x4.add(v128.load(path + STRIP_BYTES + 4 * t), right));
  }
  if (load<i32>(osc, LEADS) !== 0) remember(osc + WRAP_HISTORY, output + (WRAPS - OUTPUTS) + 4 * at, frames);
  if (load<i32>(osc, MODULATES) !== 0) remember(osc + HISTORY, output + 4 * at, frames);
}

/** Keeps the last four of a strip, the newest last. */
@inline
function remember(history: usize, strip: usize, frames: i32): void {
  if (frames >= 4) {
    v128.store(history, v128.load(strip + 4 * (frames - 4)));
    return;
  }
  for (let i = 0; i < 4 - frames; i++) store<f32>(history + 4 * i, load<f32>(history + 4 * (i + frames)));
  for (let i = 0; i < frames; i++) store<f32>(history + 4 * (4 - frames + i), load<f32>(strip + 4 * i));
}

@inline
function run(voice: usize, n: i32, at: i32, frames: i32, total: i32, made: u32): void {
  if (load<i32>(voice + <usize>n * OSCILLATOR_BYTES, SYNC) >= 0) oscillateInSync(voice, n, at, frames, total, made);
  else oscillate(voice, n, at, frames, total, made);
}

/** Noise: white, or with less of the treble (colour below 0) or of the bass (above 0). */
function noise(shared: usize, frames: i32): void {
  const from = load<f32>(shared, NOISE_LEFT), to = load<f32>(shared, NEXT_NOISE_LEFT);
  const colour = load<f32>(shared, NOISE_COLOUR);
  const path = PATHS + <usize>load<i32>(shared, NOISE_PATH) * 2 * STRIP_BYTES;
  let seed = load<u32>(shared, NOISE_SEED);
  let low = load<f32>(shared, NOISE_LOW);
  const step = (to - from) / <f32>frames;
  // One pole, which goes down from all of the treble to 50 Hz, or takes the bass away below 5 kHz; levels are made up
  // for.
  const dark = colour < 0;
  const depth = Mathf.abs(colour);
  const pole: f32 = dark ? Mathf.exp(-5.2 * depth) : 0.5;
  const louder: f32 = dark ? Mathf.sqrt((2 - pole) / pole) : 1;
  for (let i = 0; i < frames; i++) {
    seed ^= seed << 13;
    seed ^= seed >> 17;
    seed ^= seed << 5;
    const white = <f32>(<i32>seed) * <f32>(1.0 / 2147483648.0);
    low += pole * (white - low);
    const y = (dark ? low * louder : white - depth * low) * (from + step * <f32>(i + 1));
    store<f32>(path + 4 * i, load<f32>(path + 4 * i) + y);
    store<f32>(path + STRIP_BYTES + 4 * i, load<f32>(path + STRIP_BYTES + 4 * i) + y);
  }
  store<u32>(shared, seed, NOISE_SEED);
  store<f32>(shared, low, NOISE_LOW);
}

/** All that a voice's oscillators make in a span, into the strips of {@link PATHS}. */
export function synth(voice: usize, frames: i32): void {
  const shared = voice + SHARED;
  const ways = load<i32>(shared, WAYS);
  for (let way = 0; way < 4; way++) {
    if ((ways & (1 << way)) === 0) continue;
    const path = PATHS + <usize>way * 2 * STRIP_BYTES;
    for (let i = 0; i < frames; i += 4) {
      v128.store(path + 4 * i, f32x4.splat(0));
      v128.store(path + STRIP_BYTES + 4 * i, f32x4.splat(0));
    }
  }
  const step = load<i32>(shared, IS_CIRCLE) ? 4 : frames;
  for (let at = 0; at < frames; at += step) {
    let made: u32 = 0;
    const count = min(step, frames - at);
    for (let i = 0; i < 4; i++) {
      const n = load<i32>(shared + 4 * i, ORDER);
      if (load<i32>(voice + <usize>n * OSCILLATOR_BYTES, PLAYS) === 0) continue;
      run(voice, n, at, count, frames, made);
      made |= 1 << n;
    }
  }
  if (load<i32>(shared, NOISE_PLAYS)) noise(shared, frames);
  // What goes to both filters and to the first, what goes to the second alone, and what goes past them.
  const stereo = load<i32>(shared, STEREO) !== 0;
  const sideBySide = load<i32>(shared, SIDE_BY_SIDE) !== 0;
  bring(MADE, stereo, ways & 1 ? 0 : -1, ways & 2 ? 1 : -1, frames);
  if (sideBySide ? ways & 6 : ways & 4) bring(SIDE, stereo, sideBySide && ways & 1 ? 0 : -1, ways & 4 ? 2 : -1, frames);
  if (ways & 8) bring(PAST, stereo, 3, -1, frames);
}

/** Brings one or two of the ways to where filters take them, as 64-bit floats. */
@inline
function bring(into: usize, stereo: bool, first: i32, second: i32, frames: i32): void {
  const a = PATHS + <usize>(first < 0 ? second : first) * 2 * STRIP_BYTES;
  const b = PATHS + <usize>second * 2 * STRIP_BYTES;
  const both = first >= 0 && second >= 0;
  if (first < 0 && second < 0) {
    for (let i = 0; i < frames; i++) {
      store<f64>(into + 8 * i, 0);
      store<f64>(into + (MADE_RIGHT - MADE) + 8 * i, 0);
    }
    return;
  }
  for (let i = 0; i < frames; i += 4) {
    let left = v128.load(a + 4 * i);
    if (both) left = f32x4.add(left, v128.load(b + 4 * i));
    v128.store(into + 8 * i, f64x2.promote_low_f32x4(left));
    v128.store(into + 8 * i, f64x2.promote_low_f32x4(v128.shuffle<f32>(left, left, 2, 3, 2, 3)), 16);
    if (!stereo) continue;
    let right = v128.load(a + STRIP_BYTES + 4 * i);
    if (both) right = f32x4.add(right, v128.load(b + STRIP_BYTES + 4 * i));
    v128.store(into + (MADE_RIGHT - MADE) + 8 * i, f64x2.promote_low_f32x4(right));
    v128.store(into + (MADE_RIGHT - MADE) + 8 * i, f64x2.promote_low_f32x4(v128.shuffle<f32>(right, right, 2, 3, 2, 3)), 16);
  }
}
