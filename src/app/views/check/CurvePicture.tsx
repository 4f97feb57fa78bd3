import { line, scaleLinear } from 'd3';
import type { Curve } from '../../../core/check/finding';

const WIDTH = 284,
  HEIGHT = 150,
  EDGE = { left: 40, right: 12, top: 18, bottom: 22 };

/**
 * What was measured: heights over places, a ring around what is meant, and a dotted line where an edit would bring it.
 */
export function CurvePicture({ curve }: { curve: Curve }) {
  const values = [...curve.points, ...(curve.mended ?? [])].map(([, value]) => value);
  const spread = Math.max(2, Math.max(...values) - Math.min(...values));
  const middle = (Math.max(...values) + Math.min(...values)) / 2;
  const x = scaleLinear(
    [Math.min(...curve.points.map(([at]) => at)), Math.max(...curve.points.map(([at]) => at))],
    [EDGE.left + 14, WIDTH - EDGE.right - 14],
  );
  const y = scaleLinear([middle - 0.7 * spread, middle + 0.7 * spread], [HEIGHT - EDGE.bottom, EDGE.top]);
  const path = line<readonly [number, number]>(
    (point) => x(point[0]),
    (point) => y(point[1]),
  );
  const marked = curve.points.find(([at]) => at === curve.mark);
  const ticks = y.ticks(4);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="w-full rounded-lg border border-edge bg-sheet"
      role="img"
      aria-label={`${curve.unit} over ${curve.over}: ${curve.points.map(([at, value]) => `${round(at)}: ${round(value)}`).join(', ')}`}
    >
      {ticks.map((tick) => (
        <g key={tick}>
          <line x1={EDGE.left} x2={WIDTH - EDGE.right} y1={y(tick)} y2={y(tick)} stroke="var(--line)" />
          <text x={EDGE.left - 5} y={y(tick) + 3.5} fontSize={10} textAnchor="end" fill="var(--faint)">
            {round(tick)}
          </text>
        </g>
      ))}
      <text x={6} y={12} fontSize={10.5} fill="var(--faint)">
        {curve.unit}
      </text>
      {curve.mended && (
        <path d={path([...curve.mended])!} fill="none" stroke="var(--teal)" strokeWidth={1.6} strokeDasharray="3 3" />
      )}
      {curve.points.length > 1 && (
        <path d={path([...curve.points])!} fill="none" stroke="var(--ink)" strokeWidth={1.8} />
      )}
      {curve.points.map(([at, value]) => (
        <circle key={at} cx={x(at)} cy={y(value)} r={2.6} fill="var(--ink)" />
      ))}
      {marked && (
        <circle cx={x(marked[0])} cy={y(marked[1])} r={9} fill="none" stroke="var(--alarm)" strokeWidth={1.6} />
      )}
      <text x={EDGE.left} y={HEIGHT - 6} fontSize={10.5} fill="var(--faint)">
        {curve.over.toLowerCase()} {round(curve.points[0][0])}
      </text>
      {curve.points.length > 1 && (
        <text x={WIDTH - EDGE.right} y={HEIGHT - 6} fontSize={10.5} textAnchor="end" fill="var(--faint)">
          {round(curve.points[curve.points.length - 1][0])}
        </text>
      )}
    </svg>
  );
}
const round = (x: number): string => String(Math.round(x * 10) / 10).replace('-', '−');
