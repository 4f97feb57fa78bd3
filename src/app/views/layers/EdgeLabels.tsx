import type { Patch } from '../../../core/rig/schema';
import { useAppSelector } from '../../document/store';
import { Mark } from '../../parts/Mark';
import type { KeyScale } from '../../parts/keyScale';
import { edgesOf, rowsFor, type Edge } from './edges';

const LONG = 118,
  HIGH = 19;

/** The edges of layers on the field in words, each at its line and none on another. */
export function EdgeLabels({ patch, scale, height }: { patch: Patch; scale: KeyScale; height: number }) {
  const middleC = useAppSelector((state) => state.settings.middleC);
  const chosenId = useAppSelector((state) => state.choosing.selectedLayerId);
  const edges = edgesOf(patch, chosenId, middleC);
  const onKeys = edges
    .filter(({ on }) => on === 'key')
    .map((edge) => ({
      edge,
      x: Math.min(scale.left(edge.says.startsWith('up') ? edge.at + 1 : edge.at), scale.width - LONG),
    }))
    .sort((a, b) => a.x - b.x);
  const onVelocities = edges
    .filter(({ on }) => on === 'velocity')
    .map((edge) => ({ edge, y: height * (1 - (edge.at - 0.5) / 127) }))
    .sort((a, b) => a.y - b.y);
  const rows = rowsFor(
    onKeys.map(({ x }) => x),
    LONG,
  );
  const columns = rowsFor(
    onVelocities.map(({ y }) => y),
    HIGH,
  );
  const below = rows.length > 0 ? (Math.max(...rows) + 1) * HIGH + 8 : 0;
  return (
    <div aria-hidden className="pointer-events-none absolute inset-0">
      {onKeys.map(({ edge, x }, i) => (
        <Label key={`${edge.layerId} ${edge.says}`} edge={edge} left={x + 4} top={6 + rows[i] * HIGH} />
      ))}
      {onVelocities.map(({ edge, y }, i) => (
        <Label
          key={`${edge.layerId} ${edge.says}`}
          edge={edge}
          left={34 + columns[i] * LONG * 1.2}
          top={Math.max(below, Math.min(height - HIGH, y - HIGH))}
        />
      ))}
    </div>
  );
}

const Label = ({ edge: { mark, says }, left, top }: { edge: Edge; left: number; top: number }) => (
  <span
    style={{ left, top }}
    className="absolute flex items-center gap-1 rounded-sm bg-paper/85 px-1 text-[11px] leading-[1.4] font-bold whitespace-nowrap"
  >
    <Mark mark={mark} size={9} />
    {says}
  </span>
);
