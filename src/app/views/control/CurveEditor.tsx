import { useRef, useState, type PointerEvent } from 'react';
import { lineBetween } from '../../../core/movers/mover';

/** A point of a drawn curve: x, y, and the bend of the line that follows where lines can bend. */
export type CurvePoint = readonly [x: number, y: number, bend: number];

interface Props {
  label: string;
  points: readonly CurvePoint[];
  low: number;
  most: number;
  bends?: boolean;
  colour?: string;
  height?: number;
  /** Where it stands now, 0…1 from left to right. */
  now?: number;
  onChange: (points: CurvePoint[], gesture?: string) => void;
  onEnd: () => void;
}
let gestures = 0;
const WIDTH = 240;

/**
 * A curve drawn by its points: click for a new one, drag, Delete to take it away; between two points, drag up or down
 * to bend the line.
 */
export function CurveEditor({
  label,
  points,
  low,
  most,
  bends,
  colour = 'var(--clay)',
  height = 110,
  now,
  onChange,
  onEnd,
}: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const [drag, setDrag] = useState<{ at: number; bend: boolean; gesture: string; y: number; from: number } | null>(
    null,
  );
  const px = (x: number) => x * WIDTH;
  const py = (y: number) => height - ((y - low) / (1 - low)) * height;
  const placeOf = (event: PointerEvent): [number, number] => {
    const box = svg.current!.getBoundingClientRect();
    return [
      Math.min(1, Math.max(0, (event.clientX - box.left) / box.width)),
      low + (1 - low) * Math.min(1, Math.max(0, 1 - (event.clientY - box.top) / box.height)),
    ];
  };
  const moved = (at: number, x: number, y: number): CurvePoint[] =>
    points.map((point, i) =>
      i !== at
        ? point
        : [
            i === 0 ? 0 : i === points.length - 1 ? 1 : Math.min(points[i + 1][0], Math.max(points[i - 1][0], x)),
            y,
            point[2],
          ],
    );
  const press = (event: PointerEvent) => {
    if (event.button !== 0 || (event.target as Element).closest('[data-point]')) return;
    const [x, y] = placeOf(event);
    const after = points.findIndex((point) => point[0] > x);
    const before = points[after - 1];
    svg.current!.setPointerCapture(event.pointerId);
    const onLine = before && Math.abs(lineBetween(before, points[after], x) - y) < 0.12 * (1 - low);
    if (bends && onLine && !event.shiftKey) {
      setDrag({ at: after - 1, bend: true, gesture: `bend ${++gestures}`, y: event.clientY, from: before[2] });
      return;
    }
    if (points.length >= most || after < 1) return;
    const gesture = `point ${++gestures}`;
    onChange([...points.slice(0, after), [x, y, 0], ...points.slice(after)], gesture);
    setDrag({ at: after, bend: false, gesture, y: 0, from: 0 });
  };
  const follow = (event: PointerEvent) => {
    if (!drag) return;
    if (drag.bend)
      onChange(
        points.map((point, i) =>
          i === drag.at
            ? [
                point[0],
                point[1],
                Math.min(
                  1,
                  Math.max(
                    -1,
                    drag.from +
                      ((drag.y - event.clientY) / height) * 2 * Math.sign((points[i + 1]?.[1] ?? 0) - point[1] || 1),
                  ),
                ),
              ]
            : point,
        ),
        drag.gesture,
      );
    else onChange(moved(drag.at, ...placeOf(event)), drag.gesture);
  };
  const drop = () => {
    setDrag(null);
    onEnd();
  };
  const line = points
    .map((point, i) =>
      i === 0
        ? `M${px(point[0])} ${py(point[1])}`
        : Array.from({ length: 12 }, (_, n) => {
            const x = points[i - 1][0] + ((point[0] - points[i - 1][0]) * (n + 1)) / 12;
            return `L${px(x)} ${py(lineBetween(points[i - 1], point, x))}`;
          }).join(''),
    )
    .join('');
  return (
    <svg
      ref={svg}
      role="group"
      aria-label={label}
      viewBox={`0 0 ${WIDTH} ${height}`}
      preserveAspectRatio="none"
      className="w-full touch-none overflow-visible rounded-md border border-edge bg-sheet"
      style={{ height }}
      onPointerDown={press}
      onPointerMove={follow}
      onPointerUp={drop}
      onPointerCancel={drop}
    >
      {[0.25, 0.5, 0.75].map((share) => (
        <line
          key={share}
          x1={share * WIDTH}
          x2={share * WIDTH}
          y1={0}
          y2={height}
          stroke="var(--line)"
          vectorEffect="non-scaling-stroke"
        />
      ))}
      <line x1={0} x2={WIDTH} y1={height / 2} y2={height / 2} stroke="var(--line)" vectorEffect="non-scaling-stroke" />
      {now !== undefined && (
        <line
          x1={px(now)}
          x2={px(now)}
          y1={0}
          y2={height}
          stroke="var(--ink)"
          strokeDasharray="2 3"
          vectorEffect="non-scaling-stroke"
        />
      )}
      <path d={line} fill="none" stroke={colour} strokeWidth={1.8} vectorEffect="non-scaling-stroke" />
      {points.map((point, i) => (
        <circle
          key={i}
          data-point
          cx={px(point[0])}
          cy={py(point[1])}
          r={4.5}
          fill="var(--sheet)"
          stroke={colour}
          strokeWidth={1.6}
          role="slider"
          tabIndex={0}
          aria-label={`${label}, point ${i + 1}`}
          aria-valuemin={low * 100}
          aria-valuemax={100}
          aria-valuenow={Math.round(point[1] * 100)}
          className="cursor-move"
          onPointerDown={(event) => {
            if (event.button === 0) {
              svg.current!.setPointerCapture(event.pointerId);
              setDrag({ at: i, bend: false, gesture: `point ${++gestures}`, y: 0, from: 0 });
            }
          }}
          onDoubleClick={() => {
            if (points.length > 2 && i > 0 && i < points.length - 1) onChange(points.filter((_, n) => n !== i));
          }}
          onKeyDown={(event) => {
            if (
              (event.key === 'Delete' || event.key === 'Backspace') &&
              points.length > 2 &&
              i > 0 &&
              i < points.length - 1
            )
              onChange(points.filter((_, n) => n !== i));
            else {
              const way = { ArrowLeft: [-0.02, 0], ArrowRight: [0.02, 0], ArrowUp: [0, 0.04], ArrowDown: [0, -0.04] }[
                event.key
              ];
              if (!way) return;
              onChange(moved(i, point[0] + way[0], Math.min(1, Math.max(low, point[1] + way[1]))));
            }
            event.preventDefault();
            event.stopPropagation();
          }}
        />
      ))}
    </svg>
  );
}
