import { moverKind } from '../../../core/movers';
import { NOTE_VALUES } from '../../../core/music/time';
import { moverParam } from '../../../core/rig/defaults';
import { readsSource } from '../../../core/rig/moves';
import type { Mover, Patch } from '../../../core/rig/schema';

export const countMoved = (patch: Patch, source: string): number =>
  patch.routes.filter((route) => route.on && readsSource(route, source)).length +
  patch.layers.filter((layer) => layer.windows.some((window) => window.source === source)).length;

/** A mover in a line: `LFO, 1/2, patch`. */
export function describeMover(mover: Mover): string {
  const { kind, clock, reach } = mover;
  const time =
    kind === 'envelope' || kind === 'follower'
      ? ''
      : clock === 'note'
        ? NOTE_VALUES[moverParam(mover, 'length')].label
        : clock === 'seconds'
          ? `${Number(moverParam(mover, kind === 'lfo' ? 'period' : 'lasts').toPrecision(2))} s`
          : `${Number(moverParam(mover, 'rate').toPrecision(2))} Hz`;
  return [moverKind(kind).label, ...(time ? [time] : []), reach === 'note' ? 'each note' : 'patch'].join(', ');
}
