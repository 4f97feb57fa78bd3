import { Controllers } from '../../core/engine/hands/controllers';
import { Evaluator } from '../../core/engine/moving/evaluate';
import type { CompiledWindow, ProgramLayer } from '../../core/engine/program/program';
import { dbOfGain } from '../../core/music/pitch';
import { STATE_SIZE, VALUE } from '../../core/movers/mover';
import { labelIn } from '../../core/rig/moves';
import type { Patch } from '../../core/rig/schema';
import { parseSource, type Source } from '../../core/space/source';
import { dotNow, liveEvaluator, moverNow, restingNote } from './live';
import { session } from './session';

export interface LayerGain {
  layerId: string;
  name: string;
  gain: number;
  db: number;
}

const note = restingNote();

/** What all windows of a layer let through, as a strike at this moment would find them. */
const gainOfLayer = (evaluator: Evaluator, { windows, path }: ProgramLayer): number =>
  evaluator.gainOf(windows.atStrike) * evaluator.gainOf(windows.followed) * (path ? evaluator.gainOf(path.entry) : 1);

/** Muted, or left out because others are soloed. */
const isHushed = (layers: readonly ProgramLayer[], layer: ProgramLayer): boolean =>
  !layer.on ||
  (!session.ears.soloed.includes(layer.id) && layers.some((other) => session.ears.soloed.includes(other.id)));

/**
 * Product of the windows of each layer for a strike, with the controllers as they stand: what the engine itself would
 * use. Muted layers, and those that a solo leaves out, count as silent.
 */
export function gainsAt(key: number, velocity: number): LayerGain[] {
  const { program } = session;
  const evaluator = liveEvaluator();
  if (!program || !evaluator) return [];
  note.key = key;
  note.velocity = velocity;
  return program.layers.map((layer) => {
    evaluator.look(layer, note);
    const gain = isHushed(program.layers, layer) ? 0 : gainOfLayer(evaluator, layer);
    return { layerId: layer.id, name: layer.name, gain, db: dbOfGain(gain) };
  });
}

/**
 * All that the gains of a layer can come from, as a list that holds the same as long as none of it has changed. Null where
 * windows move by themselves: then it changes all the time.
 */
export function originsOfGains(): (layerId: string) => readonly unknown[] | null {
  const { rig, patch } = session.programs;
  const { layers, ...rest } = patch ?? { layers: [] };
  const shared = [
    rig?.controllers,
    layers.length,
    session.ears.soloed,
    session.hands.controls,
    session.program !== null,
    ...Object.values(rest),
  ];
  return (layerId) =>
    compiledLayer(layerId)?.movingWindows.length
      ? null
      : [layers.find(({ id }) => id === layerId), compiledLayer(layerId) !== undefined, ...shared];
}

/** Whether gains that come from these are those that came from the others. */
export const haveSameOrigins = (now: readonly unknown[] | null, before: readonly unknown[] | null): boolean =>
  now !== null && now.length === before?.length && now.every((each, i) => each === before[i]);

/** A layer as it was compiled last; for a moment after an edit there may be none yet. */
const compiledLayer = (layerId: string) => session.program?.layers.find((layer) => layer.id === layerId);

/**
 * Gain of one layer over a grid of keys and velocities, row by row from the lowest velocity, with the controllers as
 * they stand.
 */
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
      grid[at++] = gainOfLayer(evaluator, layer);
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
  return (
    evaluator.gainOf(layer.windows.atStrike) *
    evaluator.gainOf(
      layer.windows.followed.filter((window) => parseSource(program.sources[window.source].id)!.reach === 'patch'),
    )
  );
}

/**
 * Sources that a field can have along an axis, in a patch: what windows and routes can look at and what can be put
 * somewhere for a picture.
 */
export function axesOf(patch: Patch): { id: string; label: string }[] {
  const used = patch.layers.flatMap((layer) => layer.windows.map((window) => window.source));
  const ids = new Set([
    'key',
    'velocity',
    'cc.1',
    ...used,
    ...patch.macros.map(({ number }) => `macro.${number}`),
    ...patch.xyPads.flatMap(({ number }) => [`xy.${number}.x`, `xy.${number}.y`]),
  ]);
  return [...ids]
    .filter((id) => !['blend', 'xyAnchor', 'random', 'scatter', 'alternate'].includes(parseSource(id)?.kind ?? 'blend'))
    .map((id) => ({ id, label: labelIn(patch, id) }));
}

/**
 * What each layer lets through while two sources go from their lowest to their highest, everything else as it stands:
 * row by row from the bottom, by layer.
 */
export const gainPlane = (xSource: string, ySource: string, columns: number, rows: number): Map<string, Float64Array> =>
  sweep(xSource, columns, ySource, rows, (evaluator, layer) =>
    isHushed(session.program!.layers, layer) ? 0 : gainOfLayer(evaluator, layer),
  );

/**
 * What the windows on one blend let through of each layer that has any, while a source goes from its lowest to its
 * highest.
 */
export function gainsOfBlend(number: number, source: string, columns: number): Map<string, Float64Array> {
  const { program } = session;
  const isOnIt = ({ source: slot }: CompiledWindow): boolean => program!.sources[slot].id === `blend.${number}`;
  const windowsOf = ({ windows }: ProgramLayer): CompiledWindow[] =>
    [...windows.atStrike, ...windows.followed].filter(isOnIt);
  const all = sweep(source, columns, source, 1, (evaluator, layer) => evaluator.gainOf(windowsOf(layer)));
  for (const layer of program?.layers ?? []) if (windowsOf(layer).length === 0) all.delete(layer.id);
  return all;
}

/**
 * Reads something of every layer over a grid of the values of two sources: row by row from the bottom, by layer. With
 * one row the second source stays where it is.
 */
function sweep(
  xSource: string,
  columns: number,
  ySource: string,
  rows: number,
  read: (evaluator: Evaluator, layer: ProgramLayer) => number,
): Map<string, Float64Array> {
  const { program, hands } = session;
  const planes = new Map<string, Float64Array>();
  const x = parseSource(xSource);
  const y = parseSource(ySource);
  if (!program || !x || !y) return planes;
  const controllers = new Controllers();
  controllers.copyFrom(hands.controllers);
  const evaluator = new Evaluator(program, controllers);
  const own = restingNote();
  const last = hands.strikes[hands.strikes.length - 1];
  if (last) {
    own.key = last.key;
    own.velocity = last.velocity;
  }
  program.movers.forEach((mover, m) => evaluator.movers.show(m, mover.ofNote ? 0 : moverNow(m).value));
  const dots = program.pads.map((pad, p) => dotNow(p, pad.number));
  const put = (source: Source, value: number) => {
    switch (source.kind) {
      case 'key':
        own.key = value;
        break;
      case 'velocity':
        own.velocity = value;
        break;
      case 'cc':
        for (let at = source.index; at < controllers.cc.length; at += 128) controllers.cc[at] = value;
        break;
      case 'macro':
        controllers.macros[source.index] = value;
        break;
      case 'bend':
        controllers.bend.fill(value);
        break;
      case 'channelPressure':
        controllers.channelPressure.fill(value);
        break;
      case 'pressure':
        controllers.keyPressure.fill(value);
        break;
      case 'xyX':
      case 'xyY': {
        const p = program.pads.findIndex((pad) => pad.number === source.index);
        if (p >= 0) dots[p] = { ...dots[p], [source.kind === 'xyX' ? 'x' : 'y']: value };
        break;
      }
      default: {
        const m = program.movers.findIndex((mover) => mover.id === source.id);
        if (m < 0) return;
        evaluator.movers.show(m, value);
        own.states[m * STATE_SIZE + VALUE] = value;
      }
    }
  };
  for (const layer of program.layers) planes.set(layer.id, new Float64Array(columns * rows));
  for (let j = 0; j < rows; j++) {
    if (rows > 1) put(y, y.low + ((y.high - y.low) * j) / (rows - 1));
    for (let i = 0; i < columns; i++) {
      put(x, x.low + ((x.high - x.low) * i) / (columns - 1));
      dots.forEach((dot, p) => evaluator.showDot(p, dot.x, dot.y));
      evaluator.lookPatch(0, false);
      for (const layer of program.layers) {
        evaluator.look(layer, own);
        planes.get(layer.id)![j * columns + i] = read(evaluator, layer);
      }
    }
  }
  return planes;
}
