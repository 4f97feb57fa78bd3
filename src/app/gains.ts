import type { Evaluator } from '../core/engine/evaluate';
import type { ProgramLayer, WindowSet } from '../core/engine/program';
import { dbOfGain } from '../core/music/pitch';
import { parseSource } from '../core/space/source';
import { liveEvaluator, restingNote } from './live';
import { session } from './session';

export interface LayerGain { layerId: string; name: string; gain: number; db: number }

const note = restingNote();

/** What both kinds of windows let through, as a strike at this moment would find them. */
const gainOfSet = (evaluator: Evaluator, { atStrike, followed }: WindowSet): number => evaluator.gainOf(atStrike) * evaluator.gainOf(followed);

/** Muted, or left out because others are soloed. */
const isHushed = (layers: readonly ProgramLayer[], layer: ProgramLayer): boolean =>
  !layer.on || (!session.soloed.includes(layer.id) && layers.some((other) => session.soloed.includes(other.id)));

/** Product of the windows of each layer for a strike, with the controllers as they stand: what the engine itself would use. Muted layers, and those that a solo leaves out, count as silent. */
export function gainsAt(key: number, velocity: number): LayerGain[] {
  const { program } = session;
  const evaluator = liveEvaluator();
  if (!program || !evaluator) return [];
  note.key = key;
  note.velocity = velocity;
  return program.layers.map((layer) => {
    evaluator.look(layer, note);
    const gain = isHushed(program.layers, layer) ? 0 : gainOfSet(evaluator, layer.windows);
    return { layerId: layer.id, name: layer.name, gain, db: dbOfGain(gain) };
  });
}

/** A layer as it was compiled last; for a moment after an edit there may be none yet. */
const compiledLayer = (layerId: string) => session.program?.layers.find((layer) => layer.id === layerId);

/** Gain of one layer over a grid of keys and velocities, row by row from the lowest velocity, with the controllers as they stand. */
export function gainGrid(layerId: string, keys: readonly number[], velocities: readonly number[]): Float64Array {
  const { program } = session;
  const evaluator = liveEvaluator();
  const grid = new Float64Array(keys.length * velocities.length);
  const layer = compiledLayer(layerId);
  if (!program || !layer || !evaluator || isHushed(program.layers, layer)) return grid;
  let at = 0;
  for (const velocity of velocities) {
    note.velocity = velocity;
    for (const key of keys) {
      note.key = key;
      evaluator.look(layer, note);
      grid[at++] = gainOfSet(evaluator, layer.windows);
    }
  }
  return grid;
}

/** Product of the windows of a layer that do not look at the note: how far the controllers let it in. */
export function patchGain(layerId: string): number {
  const { program } = session;
  const layer = compiledLayer(layerId);
  const evaluator = liveEvaluator();
  if (!program || !layer || !evaluator) return 1;
  evaluator.look(layer, null);
  return evaluator.gainOf(layer.windows.atStrike) * evaluator.gainOf(layer.windows.followed.filter((window) => parseSource(program.sources[window.source].id)!.reach === 'patch'));
}
