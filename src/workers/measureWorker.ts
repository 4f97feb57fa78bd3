import { Engine } from '../core/engine/engine';
import { playTake } from '../core/engine/playTake';
import type { PlayedProgram } from '../core/engine/program';
import type { PreparedSample } from '../core/dsp/sample';
import { loudnessOf } from '../core/measure/loudness';
import type { Take } from '../core/music/take';

export interface MeasureJob { program: PlayedProgram; samples: { key: string; sample: PreparedSample }[]; take: Take }

const RATE = 48000;
const TAIL = 1.5;

/** Renders a take through a program, away from the page, and gives its loudness in LUFS; null where it cannot be rendered. */
self.onmessage = ({ data: { id, job: { program, samples, take } } }: MessageEvent<{ id: number; job: MeasureJob }>) => {
  let lufs: number | null = null;
  try {
    const engine = new Engine({ rate: RATE });
    for (const { key, sample } of samples) engine.addSample(key, sample);
    engine.setProgram(program);
    const { left, right } = playTake(engine, take, TAIL);
    lufs = loudnessOf([left, right], RATE);
  } catch { /* It stays unmeasured. */ }
  self.postMessage({ id, lufs });
};
