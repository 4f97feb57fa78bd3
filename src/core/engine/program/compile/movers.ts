import { LFO_SHAPES, MOVERS } from '../../../movers';
import { MOST_PARAMETERS } from '../../../movers/mover';
import { moverParam, xyParam } from '../../../rig/defaults';
import { toNormal, XY_PARAMETERS } from '../../../rig/parameters';
import type { Patch } from '../../../rig/schema';
import { PAD_PARAMETERS, type CompiledMover, type CompiledPad } from '../program';
import type { Slots } from './slots';

/** The movers of a patch in its order. */
export function moversOf(patch: Patch, { slotOf, routesTo }: Slots): CompiledMover[] {
  return patch.movers.map((mover): CompiledMover => {
    const kind = MOVERS.findIndex((each) => each.id === mover.kind);
    const parameters = Object.values(MOVERS[kind].parameters);
    const id = `${mover.kind}.${mover.number}`;
    const bases = new Float64Array(MOST_PARAMETERS);
    const rests = new Float64Array(MOST_PARAMETERS);
    parameters.forEach((parameter, p) => {
      rests[p] = moverParam(mover, parameter.id);
      bases[p] = toNormal(parameter, rests[p]);
    });
    const { points } = mover;
    const input = mover.kind === 'hold' ? (slotOf.get(mover.follows) ?? slotOf.get(`${mover.follows}@last`) ?? -1) : -1;
    return {
      id,
      slot: slotOf.get(id)!,
      kind,
      number: mover.number,
      on: mover.on,
      ofNote: mover.reach === 'note',
      bases,
      rests,
      input,
      spec: {
        clock: mover.clock,
        begins: mover.begins,
        shape: LFO_SHAPES.indexOf(mover.shape),
        loop: mover.loop,
        samplesInput: input >= 0,
        points: mover.kind === 'steps' ? Float64Array.from(mover.values) : Float64Array.from(points.flat()),
      },
      moved: parameters.flatMap((parameter, p) => {
        const routes = routesTo(`${id}.${parameter.id}`);
        return routes.length > 0 ? [{ parameter: p, routes }] : [];
      }),
      follows:
        mover.kind !== 'follower'
          ? -2
          : mover.follows === 'main'
            ? -1
            : patch.layers.findIndex((layer) => layer.id === mover.follows),
    };
  });
}

export function padsOf(patch: Patch, { routesTo }: Slots): CompiledPad[] {
  return patch.xyPads.map((pad): CompiledPad => ({
    number: pad.number,
    x: pad.x,
    y: pad.y,
    motion: pad.motion === 'path' && pad.path.length < 2 ? 'hand' : pad.motion,
    anchors: Float64Array.from(pad.anchors.flatMap(({ x, y }) => [x, y])),
    path: Float64Array.from(pad.path.flat()),
    routesX: routesTo(`xy.${pad.number}.x`),
    routesY: routesTo(`xy.${pad.number}.y`),
    rests: Float64Array.from(PAD_PARAMETERS, (id) => xyParam(pad, id)),
    bases: Float64Array.from(PAD_PARAMETERS, (id) => toNormal(XY_PARAMETERS[id], xyParam(pad, id))),
    moved: PAD_PARAMETERS.flatMap((id, parameter) => {
      const routes = routesTo(`xy.${pad.number}.${id}`);
      return routes.length > 0 ? [{ parameter, routes }] : [];
    }),
  }));
}
