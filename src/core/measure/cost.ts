import { EFFECTS } from '../effects';
import { effectForPicture } from '../effects/picture';
import { Engine } from '../engine/engine';
import type { Program } from '../engine/program/program';
import { resolveStrikes } from '../engine/offline/resolve';
import type { Prepared } from '../dsp/prepared';

/** What a patch costs, as shares of one core's time: each effect while it sounds, and one voice of each layer. */
export interface Costs {
  effects: { id: string; place: string; label: string; share: number }[];
  voices: number[];
}

const RATE = 48000;
const EFFECT_SECONDS = 0.2;
const VOICE_SECONDS = 0.25;
const BLOCK = 128;
const VOICES = 4;

/**
 * Measures a program on this machine: each of its effects alone on noise, and a voice of each layer alone on a key that
 * it answers. `clock` gives milliseconds. A layer that cannot be heard alone (it answers no
 * key that was tried, or its samples are missing) costs nothing.
 */
export function costsOf(
  program: Program,
  samples: readonly { key: string; sample: Prepared }[],
  clock: () => number,
): Costs {
  const left = new Float32Array(BLOCK);
  const right = new Float32Array(BLOCK);
  const effects = program.mix.places.flatMap((place) =>
    place.effects.map((compiled) => {
      const kind = EFFECTS[compiled.kind];
      const values = Object.fromEntries(Object.keys(kind.parameters).map((id, i) => [id, compiled.rests[i]]));
      const { effect } = effectForPicture(kind.id, values, [], 120);
      let noise = 1;
      const run = (seconds: number): number => {
        const began = clock();
        for (let done = 0; done < seconds * RATE; done += BLOCK) {
          for (let i = 0; i < BLOCK; i++) {
            noise = (noise * 16807) % 2147483647;
            left[i] = right[i] = noise / 2147483647 - 0.5;
          }
          effect.process(left, right, 0, BLOCK);
        }
        return (clock() - began) / 1000 / seconds;
      };
      run(EFFECT_SECONDS / 4);
      return { id: compiled.id, place: place.id, label: kind.label, share: run(EFFECT_SECONDS) };
    }),
  );
  const engine = new Engine({ rate: RATE });
  for (const { key, sample } of samples) engine.addSample(key, sample);
  engine.setProgram(program);
  const run = (seconds: number): number => {
    const began = clock();
    for (let done = 0; done < seconds * RATE; done += BLOCK) engine.process(left, right, BLOCK);
    return (clock() - began) / 1000 / seconds;
  };
  const voices = program.layers.map(({ id }, l) => {
    const strike = STRIKES.find(([key, velocity]) =>
      resolveStrikes(program, key, velocity)[0].some(({ layer }) => layer === l),
    );
    if (!strike) return 0;
    engine.handle({ type: 'panic' });
    run(0.05);
    engine.handle({ type: 'solo', layerIds: [id] });
    const rest = run(VOICE_SECONDS);
    for (let n = 0; n < VOICES; n++) engine.handle({ type: 'noteOn', channel: 1, key: strike[0], velocity: strike[1] });
    run(0.02);
    const sounding = engine.voiceCount;
    return sounding > 0 ? Math.max(0, run(VOICE_SECONDS) - rest) / sounding : 0;
  });
  return { effects, voices };
}

/** Keys and velocities that are tried: the middle first. */
const STRIKES: readonly (readonly [key: number, velocity: number])[] = [
  60, 48, 72, 36, 84, 42, 54, 66, 78, 30, 90,
].flatMap(
  (key) =>
    [
      [key, 100],
      [key, 40],
    ] as const,
);
