import { scaleLinear } from 'd3';
import { touchTable } from '../../../../core/engine/program/touch';
import { updateLayer } from '../../../../core/rig/edits/layers';
import type { Layer, Patch } from '../../../../core/rig/schema';
import { useRefresh } from '../../../parts/useLive';
import { session } from '../../../sound/session';
import { editPatch, useAppDispatch } from '../../../document/store';
import { rigSlice } from '../../../document/rigSlice';
import { Corner } from './EnvelopePicture';

const WIDTH = 250,
  HEIGHT = 110;
const x = scaleLinear([1, 127], [16, WIDTH - 6]);
const y = scaleLinear([1, 127], [HEIGHT - 14, 6]);
/** Strikes shown, and how long they stay. */
const SHOWN = 16,
  STAY_MS = 8000;

/**
 * What a layer makes of how hard a key is struck, with dots for what was played just now. The ends are dragged up and
 * down, the middle for the curve.
 */
export function TouchPicture({ patch, layer, colour }: { patch: Patch; layer: Layer; colour: string }) {
  const dispatch = useAppDispatch();
  useRefresh(session.hands);
  const table = touchTable(layer.touch);
  const now = performance.now();
  const strikes = session.hands.strikes.filter(({ at }) => now - at < STAY_MS).slice(-SHOWN);
  const put = (change: Partial<Layer['touch']>, gesture: string) =>
    dispatch(
      editPatch(
        patch.id,
        (old) => updateLayer(old, layer.id, (each) => ({ ...each, touch: { ...each.touch, ...change } })),
        gesture,
      ),
    );
  const { curve, outLow, outHigh, fixed } = layer.touch;
  const whole = (value: number) => Math.round(Math.min(127, Math.max(1, value)));
  const end = () => dispatch(rigSlice.actions.gestureEnded());
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="w-full shrink-0 touch-none rounded-md border border-edge bg-sheet"
      role="img"
      aria-label={fixed === null ? `Touch: ${outLow} to ${outHigh}, curve ${curve}` : `Every strike counts as ${fixed}`}
    >
      <line x1={x(1)} x2={x(127)} y1={y(1)} y2={y(127)} stroke="var(--line)" strokeDasharray="3 4" />
      <path
        d={`M${Array.from({ length: 127 }, (_, i) => `${x(i + 1).toFixed(1)},${y(table[i + 1]).toFixed(1)}`).join('L')}`}
        fill="none"
        stroke={colour}
        strokeWidth={2}
      />
      <text x={x(1)} y={HEIGHT - 3} fontSize={8.5} fill="var(--faint)">
        soft
      </text>
      <text x={x(127)} y={HEIGHT - 3} fontSize={8.5} textAnchor="end" fill="var(--faint)">
        as struck → hard
      </text>
      {strikes.map(({ velocity, at }, i) => (
        <circle
          key={`${at} ${i}`}
          cx={x(velocity)}
          cy={y(table[velocity])}
          r={3.2}
          fill="var(--ink)"
          opacity={0.25 + (0.75 * (i + 1)) / strikes.length}
        />
      ))}
      {fixed === null && (
        <>
          <Corner
            name="softest"
            x={x(1)}
            y={y(outLow)}
            colour={colour}
            onEnd={end}
            drag={() => (_dx, dy, gesture) => put({ outLow: whole(y.invert(y(outLow) + dy)) }, gesture)}
          />
          <Corner
            name="curve"
            x={x(64)}
            y={y(table[64])}
            colour={colour}
            onEnd={end}
            drag={() => (_dx, dy, gesture) =>
              put({ curve: Math.round(Math.min(1, Math.max(-1, curve - dy / 40)) * 100) / 100 }, gesture)
            }
          />
          <Corner
            name="hardest"
            x={x(127)}
            y={y(outHigh)}
            colour={colour}
            onEnd={end}
            drag={() => (_dx, dy, gesture) => put({ outHigh: whole(y.invert(y(outHigh) + dy)) }, gesture)}
          />
        </>
      )}
    </svg>
  );
}
