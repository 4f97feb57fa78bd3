import { type Chance } from '../../src/core/dsp/chance';
import { addPeriodicNoise, finish, HALF_HZ, mixed, RATE, rise, shape, wholePeriods, type Recording } from './tools';

/** One of the players of something that sounds as long as it is blown, bowed or sung. */
export interface Player {
  /** Whole turns of the loop by which it lies beside the pitch, where they are fine enough. */
  beats: number;
  /** Place between left (0) and right (1). */
  place: number;
  /** Vibrato: cents to either side, and turns a second. */
  vibrato?: { cents: number; hz: number };
  /** Level of each of its partials, 1 the fundamental, at a frequency. */
  partial: (n: number, hz: number) => number;
  /** Seconds in which a partial speaks, and after how many it begins to. */
  speaks: (n: number) => number;
  begins?: number;
  /** Cents from which it comes to its pitch while it speaks. */
  scoop?: number;
}

/** Noise beside it: level, between two frequencies, there after so many seconds, louder by so much while it speaks. */
export interface Air {
  level: number;
  low: number;
  high: number;
  rises: number;
  onset?: number;
}

export interface HeldModel {
  hz: number;
  players: readonly Player[];
  air: readonly Air[];
  /** Seconds until the loop, and of the loop. */
  until: number;
  loop: number;
  highest: number;
  sides: 1 | 2;
  chance: Chance;
}

/** Sound that goes on as long as a key is held: an onset, and a loop in which everything comes round without a seam. */
export function held(model: HeldModel): Pick<Recording, 'audio' | 'loop'> {
  const { hz, chance } = model;
  // Dark sound is made, and kept, at half of the rate: what is told to the tools is twice as high.
  const half = Math.max(model.highest, ...model.air.map(({ high }) => high)) <= HALF_HZ ? 2 : 1;
  const rate = RATE / half;
  const whole = wholePeriods(hz, model.loop);
  const period = whole.period / half;
  const start = Math.round(model.until * rate);
  const frames = start + period;
  const sides = Array.from({ length: model.sides }, () => new Float64Array(frames));
  for (const player of model.players) {
    const tone = play(player, model, { period, cycles: whole.cycles, start, frames, chance, rate });
    sides.forEach((side, s) => {
      const angle = (player.place * Math.PI) / 2;
      const gain = model.sides === 1 ? 1 : s === 0 ? Math.cos(angle) : Math.sin(angle);
      for (let i = 0; i < frames; i++) side[i] += gain * tone[i];
    });
  }
  for (const side of sides)
    for (const { level, low, high, rises, onset = 0 } of model.air) {
      const noise = new Float64Array(frames);
      addPeriodicNoise(noise, level, low * half, high * half, period, NOISE_SINES, chance);
      const settles = model.until * 0.8;
      shape(noise, (t) => rise(t, rises) * (1 + onset * rise(settles - t, settles)), rate);
      mixed(side, noise);
    }
  return { audio: finish(sides, rate), loop: { start, end: frames } };
}
const NOISE_SINES = 60;

interface Room {
  period: number;
  cycles: number;
  start: number;
  frames: number;
  chance: Chance;
  rate: number;
}

/** Cents by which players may lie beside each other. */
const MOST_HAIR_CENTS = 9;
/** Seconds after which a vibrato sets in. */
const SWAYS_AFTER = 0.08;

/** From 0 to 1 without a corner, quicker to work out than half a cosine. */
const smooth = (x: number): number => (x >= 1 ? 1 : x <= 0 ? 0 : x * x * (3 - 2 * x));

/** The tone of one player: partials as the powers of one turning number, so that vibrato moves all of them. */
function play(player: Player, { hz, highest }: HeldModel, room: Room): Float64Array {
  const { period, cycles, start, frames, chance, rate } = room;
  const partials = Math.min(90, Math.floor(highest / hz));
  // Where a turn of the loop is more than a hair of the pitch, they lie together, and their vibrato tells them apart.
  const hair = 1200 * Math.log2(1 + 1 / cycles);
  const own = (cycles + (hair < MOST_HAIR_CENTS ? player.beats : 0)) / period;
  const settled = start / rate - (player.begins ?? 0) - 2 / rate;
  const sway = player.vibrato ? swaying(player.vibrato, period, rate, chance) : null;
  const out = new Float64Array(frames);
  const cosines = new Float64Array(partials);
  const sines = new Float64Array(partials);
  const quick = new Float64Array(partials);
  for (let n = 0; n < partials; n++) {
    const angle = 2 * Math.PI * chance.share();
    const level = player.partial(n + 1, (n + 1) * hz);
    cosines[n] = level * Math.cos(angle);
    sines[n] = level * Math.sin(angle);
    // All have spoken where the loop begins.
    quick[n] = 1 / Math.min(player.speaks(n + 1), settled);
  }
  const longest = 1 / Math.min(...quick);
  let bent = 0;
  for (let i = 0; i < frames; i++) {
    const t = i / rate - (player.begins ?? 0);
    if (t < 0) continue;
    // Cents to ratio for a few of them: while it speaks it comes to its pitch.
    if (player.scoop && i < start) bent += (own * player.scoop * Math.LN2 * smooth((0.12 - t) / 0.12)) / 1200;
    const round = i - start;
    const ahead = sway ? sway(round) * smooth((t - SWAYS_AFTER) / (settled - SWAYS_AFTER)) : 0;
    const turn = 2 * Math.PI * (own * (round + ahead) + bent);
    const re = Math.cos(turn);
    const im = Math.sin(turn);
    let zr = re;
    let zi = im;
    let sum = 0;
    const speaking = t < longest;
    for (let n = 0; n < partials; n++) {
      const y = cosines[n] * zi + sines[n] * zr;
      sum += speaking ? y * smooth(t * quick[n]) : y;
      const next = zr * re - zi * im;
      zi = zr * im + zi * re;
      zr = next;
    }
    out[i] = sum;
  }
  return out;
}

/**
 * Vibrato that is no sine: turns about a rate whose speed and depth stray, as frames by which the tone is ahead; comes
 * round with the loop. Rates and depths: J. Sundberg, "Acoustic and psychoacoustic aspects of vocal vibrato", STL-QPSR
 * 35 (1994): 5 to 7 Hz; strings ± 10 to 35 cents; from memory.
 */
function swaying(
  { hz, cents }: { hz: number; cents: number },
  period: number,
  rate: number,
  chance: Chance,
): (frame: number) => number {
  const middle = Math.max(1, Math.round((hz * period) / rate));
  const deviation = 2 ** (cents / 1200) - 1;
  const lines = [
    [middle, 1],
    [Math.max(1, middle - 1), 0.34],
    [middle + 1, 0.3],
    [2 * middle, 0.12],
  ].map(([turns, level]) => {
    const radians = (2 * Math.PI * turns) / period;
    // A pitch that goes ± d leads by d / radians at the most.
    return { radians, ahead: (level * deviation) / radians, phase: 2 * Math.PI * chance.share() };
  });
  // One round of it, from which every frame reads.
  const round = Float64Array.from({ length: period }, (_, frame) =>
    lines.reduce((sum, { radians, ahead, phase }) => sum + ahead * Math.sin(radians * frame + phase), 0),
  );
  return (frame) => round[((frame % period) + period) % period];
}
