import { expose } from 'comlink';
import { Engine } from '../core/engine/engine';
import { playTake } from '../core/engine/offline/playTake';
import type { Program } from '../core/engine/program/program';
import { costsOf, type Costs } from '../core/measure/cost';
import type { Prepared } from '../core/dsp/prepared';
import { thirdsOf } from '../core/measure/bands';
import { loudnessOf, peakOf } from '../core/measure/loudness';
import { rehearse, type Rehearsed } from '../core/measure/rehearse';
import type { Take } from '../core/music/take';

/**
 * `without`: what is left out. `from`: what comes before that second is not measured, unless nothing is left after it.
 * `rehearsed`: everything that a rehearsal tells is wanted. `costs`: only what everything costs is wanted. `bands`: the
 * thirds of octaves of these layers are wanted instead, each after its own effects.
 */
export interface MeasureJob {
  program: Program;
  samples: { key: string; sample: Prepared }[];
  take: Take;
  without?: readonly string[];
  from?: number;
  bands?: readonly string[];
  costs?: boolean;
  rehearsed?: { before: { program: Program; samples: { key: string; sample: Prepared }[] } | null };
}
/** Loudness in LUFS and greatest sample in dB of a take; null where it cannot be rendered. */
/** `voices`: the most at once. */
export interface Measured {
  lufs: number | null;
  peakDb: number;
  voices: number;
  bands: number[][];
  costs?: Costs;
  rehearsed?: Rehearsed;
}

const RATE = 48000;
const TAIL = 1.5;
const SILENT_LUFS = -60;

function measured({
  program,
  samples,
  take,
  without = [],
  from = 0,
  bands = [],
  costs = false,
  rehearsed,
}: MeasureJob): Measured {
  if (costs)
    return {
      lufs: null,
      peakDb: -Infinity,
      voices: 0,
      bands: [],
      costs: costsOf(program, samples, () => performance.now()),
    };
  if (rehearsed) {
    const result = rehearse(program, samples, take, () => performance.now(), rehearsed.before);
    return {
      lufs: result.lufs,
      peakDb: result.peakDb ?? -Infinity,
      voices: result.voices,
      bands: [],
      rehearsed: result,
    };
  }
  const engine = new Engine({ rate: RATE });
  for (const { key, sample } of samples) engine.addSample(key, sample);
  engine.setProgram(program);
  if (bands.length > 0) {
    const scopes = bands.map((layerId) => ({
      place: `layer.${layerId}`,
      ring: new Float32Array(2 * Math.ceil((take.seconds + TAIL + 1) * RATE)),
      at: 0,
    }));
    engine.watch(scopes);
    playTake(engine, take, TAIL);
    const left = new Float32Array(scopes[0].at / 2);
    const right = new Float32Array(scopes[0].at / 2);
    return {
      lufs: null,
      peakDb: -Infinity,
      voices: engine.mostVoices,
      bands: scopes.map(({ ring }) => {
        for (let i = 0; i < left.length; i++) {
          left[i] = ring[2 * i];
          right[i] = ring[2 * i + 1];
        }
        return thirdsOf([left, right], RATE);
      }),
    };
  }
  if (without.length > 0) engine.handle({ type: 'without', ids: without, gainDb: 0 });
  const { left, right } = playTake(engine, take, TAIL);
  const whole = [left, right];
  const later = whole.map((side) => side.subarray(Math.round(from * RATE)));
  const counted = loudnessOf(later, RATE) > SILENT_LUFS ? later : whole;
  return {
    lufs: loudnessOf(counted, RATE),
    peakDb: 20 * Math.log10(peakOf(counted) + 1e-9),
    voices: engine.mostVoices,
    bands: [],
  };
}

/** Renders a take through a program, and measures it. */
function measure(job: MeasureJob): Measured {
  try {
    return measured(job);
  } catch {
    // It stays unmeasured.
    return { lufs: null, peakDb: -Infinity, voices: 0, bands: [] };
  }
}

const api = { measure };
export type MeasureApi = typeof api;
expose(api);
