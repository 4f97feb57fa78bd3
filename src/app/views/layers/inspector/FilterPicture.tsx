import { line, scaleLinear, scaleLog } from 'd3';
import { filterResponse } from '../../../../core/engine/pictures/filterPicture';
import { paramOf } from '../../../../core/rig/defaults';
import { setParam } from '../../../../core/rig/edits/layers';
import { type LayerParameterId } from '../../../../core/rig/parameters';
import { LAYER_PARAMETERS } from '../../../../core/rig/layerParameters';
import type { Layer, Patch } from '../../../../core/rig/schema';
import { rigSlice } from '../../../document/rigSlice';
import { editPatch, useAppDispatch } from '../../../document/store';
import { Corner } from './EnvelopePicture';

const WIDTH = 250,
  HEIGHT = 88;
const x = scaleLog([20, 20480], [0, WIDTH]);
const y = scaleLinear([24, -42], [2, HEIGHT - 12]);
const q = scaleLog([0.5, 20], [HEIGHT - 22, 10]);
const FREQUENCIES = Array.from({ length: 250 }, (_, i) => x.invert(i));
const CURVE = line<number>(
  (_, i) => i,
  (db) => y(Math.max(-42, Math.min(24, db))),
);

/**
 * What the filters of a layer let through, at middle C without what a strike adds; their places are dragged, upward for
 * more resonance.
 */
export function FilterPicture({ patch, layer, colour }: { patch: Patch; layer: Layer; colour: string }) {
  const dispatch = useAppDispatch();
  const put = (id: LayerParameterId, value: number, gesture: string) =>
    dispatch(editPatch(patch.id, (old) => setParam(old, layer.id, id, Number(value.toPrecision(3))), gesture));
  const ends = [
    ['first filter', 'filterKind', 'cutoff', 'resonance', '1'],
    ['second filter', 'filter2Kind', 'cutoff2', 'resonance2', '2'],
  ] as const;
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="w-full shrink-0 touch-none rounded-md border border-edge bg-sheet"
      role="img"
      aria-label="What the filters let through, 20 Hz to 20 kHz"
    >
      {[100, 1000, 10000].map((hz) => (
        <g key={hz}>
          <line x1={x(hz)} x2={x(hz)} y1={0} y2={HEIGHT - 11} stroke="var(--line)" />
          <text x={x(hz)} y={HEIGHT - 2} fontSize={8} textAnchor="middle" fill="var(--faint)">
            {hz >= 1000 ? `${hz / 1000} kHz` : `${hz} Hz`}
          </text>
        </g>
      ))}
      {[12, 0, -12, -24].map((db) => (
        <g key={db}>
          <line
            x1={0}
            x2={WIDTH}
            y1={y(db)}
            y2={y(db)}
            stroke="var(--line)"
            strokeDasharray={db === 0 ? undefined : '2 4'}
          />
          <text x={2} y={y(db) - 1.5} fontSize={7.5} fill="var(--faint)">
            {`${db}`.replace('-', '−')}
          </text>
        </g>
      ))}
      <path
        d={CURVE(filterResponse(layer, FREQUENCIES, 60 - layer.transpose, 0)) ?? ''}
        fill="none"
        stroke={colour}
        strokeWidth={2}
      />
      {ends.map(([name, kind, cutoff, resonance, number]) => {
        if (paramOf(layer, kind) === 0) return null;
        const hz = paramOf(layer, cutoff);
        const depth = paramOf(layer, resonance);
        return (
          <g key={name}>
            <Corner
              name={name}
              x={Math.min(WIDTH - 5, Math.max(5, x(hz)))}
              y={q(depth)}
              colour={colour}
              onEnd={() => dispatch(rigSlice.actions.gestureEnded())}
              drag={() => (dx, dy, gesture) => {
                put(cutoff, Math.min(LAYER_PARAMETERS[cutoff].high, Math.max(20, x.invert(x(hz) + dx))), gesture);
                put(resonance, Math.min(20, Math.max(0.5, q.invert(q(depth) + dy))), gesture);
              }}
            />
            <text
              x={Math.min(WIDTH - 5, Math.max(5, x(hz)))}
              y={q(depth) - 7}
              fontSize={8.5}
              fontWeight={700}
              textAnchor="middle"
              fill="var(--ink)"
              className="pointer-events-none"
            >
              {number}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
