import { chainOf, connectionsOf, flowOrder, nameOfPlace } from '../core/rig/mix';
import { readArguments, required } from './arguments';
import { findPatch, naming, readRigFile } from './files';

/** `paths RIG --patch NAME`: the signal path, in the order in which it is worked out; main last, to the limiter. */
export function paths(args: string[]): unknown {
  const { values, file } = readArguments(args, { patch: { type: 'string' } }, 'RIG');
  const patch = findPatch(readRigFile(file), required(values, 'patch'));
  const order = naming(`${file}: ${patch.name}`, () => flowOrder(patch)).filter((place) => place !== 'main');
  const all = connectionsOf(patch);
  const effectsOf = (place: string) => chainOf(patch, place)!.map(({ id, kind, on }) => ({ id, kind, on }));
  return {
    connections: [
      ...order.flatMap((place) =>
        all
          .filter(({ from }) => from === place)
          .map(({ id, kind, from, to, level, on, tap }) => ({
            id,
            kind,
            from,
            fromName: nameOfPlace(patch, from),
            to,
            toName: nameOfPlace(patch, to),
            levelDb: level <= -60 ? null : level,
            on,
            tap,
            effects: kind === 'output' ? effectsOf(from) : [],
          })),
      ),
      {
        id: 'main',
        kind: 'output',
        from: 'main',
        fromName: 'main',
        to: 'limiter',
        toName: 'limiter',
        levelDb: patch.main.level <= -60 ? null : patch.main.level,
        on: true,
        tap: 'after',
        effects: effectsOf('main'),
      },
    ],
  };
}
