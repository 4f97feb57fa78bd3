import { Chance } from '../../src/core/dsp/chance';
import { addPartial, addRattle, fadeEnd, finish, RATE, rise, shape, sharedOutAsFelt, type Recording } from './tools';

export const DYNAMICS = 8;
export const ALTERNATES = 3;

/** One hit of a pad: `force` 0…1, its chance differs for each alternate. */
type Hit = (force: number, chance: Chance) => Float64Array;
/** Keys of the General MIDI percussion map: 36 bass drum, 38 snare, 42 closed and 46 open hi-hat. */
const PADS: readonly { name: string; key: number; hit: Hit }[] = [
  { name: 'drum', key: 36, hit: drum },
  { name: 'lid', key: 38, hit: lid },
  { name: 'tin shut', key: 42, hit: (force, chance) => tin(force, chance, 0.09) },
  { name: 'tin open', key: 46, hit: (force, chance) => tin(force, chance, 0.75) },
];

/** A recording of a pad: its place among the dynamics and the alternates. */
export interface PadRecording extends Recording {
  alternate: number;
}

/** Four pads of tinware, each in eight dynamics that differ in tone, three hits of each: mono. */
export function tinKit(): PadRecording[] {
  const ranges = sharedOutAsFelt(DYNAMICS);
  return PADS.flatMap(({ name, key, hit }) =>
    ranges.flatMap(({ low, high }, d) =>
      Array.from({ length: ALTERNATES }, (_, alternate): PadRecording => {
        const out = hit((d + 0.5) / DYNAMICS, new Chance(key * 1009 + d * 31 + alternate));
        shape(out, (t) => rise(t, 0.0008));
        fadeEnd(out, 0.08);
        return {
          name: `Tin Kit ${name}_v${d + 1}_rr${alternate + 1}.wav`,
          root: key,
          velocity: [low, high],
          alternate,
          audio: finish([out]),
          loop: null,
        };
      }),
    ),
  );
}

const seconds = (length: number): Float64Array => new Float64Array(Math.round(length * RATE));

/** An oil drum struck with a soft mallet: a tone that sinks, and the knock of the mallet. */
function drum(force: number, chance: Chance): Float64Array {
  const out = seconds(0.7);
  const base = 50 * (1 + 0.02 * (chance.share() - 0.5));
  let phase = 0;
  for (let i = 0; i < out.length; i++) {
    const t = i / RATE;
    phase += (base + (55 + 110 * force) * Math.exp(-t * 38)) / RATE;
    out[i] = Math.sin(2 * Math.PI * phase) * Math.exp(-t * 8.5);
  }
  addPartial(out, 0.25, base * 2.6, chance.share(), 0.22);
  addRattle(out, 0.1 + 0.7 * force ** 1.5, 180, 900 + 3600 * force, 0.03 + 0.03 * force, 60, chance);
  addRattle(out, 0.6 * force ** 2, 3000, 15500, 0.025, 90, chance);
  return out;
}

/** A pot lid hit with a stick over loose wire: a few modes of the lid, and the wire's buzz. */
function lid(force: number, chance: Chance): Float64Array {
  const out = seconds(0.6);
  for (const [ratio, level, fall] of [
    [1, 1, 0.28],
    [1.59, 0.7, 0.2],
    [2.14, 0.55, 0.16],
    [2.65, 0.4, 0.13],
    [3.6, 0.3, 0.1],
  ] as const) {
    addPartial(out, level * 0.5, 186 * ratio * (1 + 0.006 * (chance.share() - 0.5)), chance.share(), fall);
  }
  addRattle(out, 0.5 + 0.9 * force, 1100, 4200 + 11500 * force, 0.16 + 0.14 * force, 190, chance);
  return out;
}

/** Two plates of tin that meet: many modes in no harmonic order, short where they are held together. */
function tin(force: number, chance: Chance, fall: number): Float64Array {
  const out = seconds(Math.max(0.45, fall * 1.6));
  for (const [i, ratio] of [1, 1.342, 1.2312, 1.6532, 1.9523, 2.1523, 2.83, 3.31, 4.07].entries()) {
    addPartial(
      out,
      (0.3 + 0.5 * force) / (1 + i * 0.15),
      1730 * ratio * (1 + 0.004 * (chance.share() - 0.5)),
      chance.share(),
      fall * (0.9 - 0.05 * i),
    );
  }
  addRattle(out, 0.5 + 0.6 * force, 3200, 7000 + 10500 * force, fall * (0.6 + 0.4 * force), 150, chance);
  return out;
}
