import type { PadView } from '../show/padView';
import { contours, geoPath } from 'd3';
import { useCallback, useEffect, useMemo, useRef, type PointerEvent, type ReactNode, type RefObject } from 'react';
import { NaturalNeighbours } from '../../core/space/naturalNeighbours';
import { prepared } from './canvas';
import { useWidth } from './keyScale';
import { useFrames } from './useLive';

const CELLS = 48;
const LEVELS = [0.25, 0.5, 0.75];
const DOT = 16;

/** Shares of each anchor over the plane, row by row from the bottom. */
function sharesOver(pad: PadView): Float64Array[] {
  const neighbours = new NaturalNeighbours(Float64Array.from(pad.anchors.flatMap(({ x, y }) => [x, y])));
  const grids = pad.anchors.map(() => new Float64Array((CELLS + 1) ** 2));
  const dot = new Float64Array(2);
  for (let j = 0; j <= CELLS; j++)
    for (let i = 0; i <= CELLS; i++) {
      dot[0] = i / CELLS;
      dot[1] = j / CELLS;
      neighbours.shareOut(dot, 0);
      grids.forEach((grid, a) => {
        grid[j * (CELLS + 1) + i] = neighbours.shares[a];
      });
    }
  return grids;
}

interface Props {
  pad: PadView;
  theme: string;
  /** Where the dot is now, asked on every frame. */
  read: () => { x: number; y: number };
  onMove: (x: number, y: number, letGo: boolean) => void;
  onRest: () => void;
  /** Shares of the anchors at the dot, on every frame. */
  onShares?: (shares: Float64Array) => void;
  /** Fingers leave the focus where it is: arrow keys stay with whoever had them. */
  keepsFocus?: boolean;
  dotSize?: number;
  children?: ReactNode;
  box?: RefObject<HTMLDivElement | null>;
}

/**
 * A pad as a chart: lines of equal share around its anchors, and the dot, played by pointer, pen, finger or arrow keys.
 */
export function PadPlane({
  pad,
  theme,
  read,
  onMove,
  onRest,
  onShares,
  keepsFocus,
  dotSize = DOT,
  children,
  box: given,
}: Props) {
  const [box, width] = useWidth<HTMLDivElement>();
  const chart = useRef<HTMLCanvasElement>(null);
  const dot = useRef<HTMLDivElement>(null);
  const holds = useRef<number | null>(null);
  const { anchors } = pad;
  const grids = useMemo(() => sharesOver(pad), [pad]);
  const neighbours = useMemo(
    () => new NaturalNeighbours(Float64Array.from(anchors.flatMap(({ x, y }) => [x, y]))),
    [anchors],
  );
  useEffect(() => {
    if (given) given.current = box.current;
  });

  useEffect(() => {
    const context = prepared(chart, width, width);
    if (!context) return;
    context.clearRect(0, 0, width, width);
    const styles = getComputedStyle(document.documentElement);
    const project = geoPath(
      {
        stream: (output) => ({
          point: (x: number, y: number) =>
            output.point(((x - 0.5) / CELLS) * width, width - ((y - 0.5) / CELLS) * width),
          lineStart: () => output.lineStart(),
          lineEnd: () => output.lineEnd(),
          polygonStart: () => output.polygonStart(),
          polygonEnd: () => output.polygonEnd(),
          sphere: () => undefined,
        }),
      },
      context,
    );
    grids.forEach((grid, a) => {
      const colour = styles.getPropertyValue(`--${anchors[a].colour}`);
      contours()
        .size([CELLS + 1, CELLS + 1])
        .smooth(true)
        .thresholds(LEVELS)([...grid])
        .forEach((shape, i) => {
          context.beginPath();
          project(shape);
          context.globalAlpha = 0.11;
          context.fillStyle = colour;
          context.fill('evenodd');
          context.globalAlpha = i === 1 ? 0.9 : 0.45;
          context.lineWidth = i === 1 ? 1.3 : 0.8;
          context.setLineDash(i === 1 ? [] : [3, 3]);
          context.strokeStyle = colour;
          context.stroke();
        });
    });
    context.setLineDash([]);
    context.globalAlpha = 1;
  }, [grids, anchors, width, theme]);

  useFrames(
    useCallback(() => {
      const now = read();
      // Moved without a new layout of anything.
      if (dot.current)
        dot.current.style.transform = `translate(${(now.x * width - dotSize / 2).toFixed(1)}px, ${((1 - now.y) * width - dotSize / 2).toFixed(1)}px)`;
      if (!onShares) return;
      neighbours.shareOut(Float64Array.of(now.x, now.y), 0);
      onShares(neighbours.shares);
    }, [neighbours, read, width, onShares, dotSize]),
  );

  const move = (event: PointerEvent, letGo = false) => {
    const { left, top, width: w, height: h } = box.current!.getBoundingClientRect();
    onMove(
      Math.min(1, Math.max(0, (event.clientX - left) / w)),
      Math.min(1, Math.max(0, 1 - (event.clientY - top) / h)),
      letGo,
    );
  };
  return (
    <div
      ref={box}
      role="application"
      tabIndex={0}
      aria-label={`XY pad ${pad.name}: drag the dot, or use the arrow keys`}
      data-testid={`pad-${pad.number}`}
      className="relative aspect-square w-full touch-none overflow-hidden rounded-lg border border-edge bg-sheet select-none [contain:layout_paint]"
      onMouseDown={(event) => {
        if (keepsFocus) event.preventDefault();
      }}
      onPointerDown={(event) => {
        if (event.button !== 0 || holds.current !== null) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        holds.current = event.pointerId;
        move(event);
      }}
      onPointerMove={(event) => {
        if (holds.current === event.pointerId) move(event);
      }}
      onPointerUp={(event) => {
        if (holds.current === event.pointerId) {
          move(event, true);
          holds.current = null;
        }
      }}
      onPointerCancel={(event) => {
        if (holds.current === event.pointerId) {
          const { x, y } = read();
          onMove(x, y, true);
          holds.current = null;
        }
      }}
      onDoubleClick={onRest}
      onKeyDown={(event) => {
        const by = event.shiftKey ? 0.005 : 0.04;
        const way = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, by], ArrowDown: [0, -by] }[event.key];
        if (!way) return;
        event.preventDefault();
        event.stopPropagation();
        const now = read();
        onMove(Math.min(1, Math.max(0, now.x + way[0])), Math.min(1, Math.max(0, now.y + way[1])), false);
      }}
    >
      <canvas ref={chart} className="pointer-events-none absolute inset-0 h-full w-full" />
      {children}
      <div
        ref={dot}
        className="pointer-events-none absolute rounded-full bg-ink ring-2 ring-sheet"
        style={{ left: 0, top: 0, width: dotSize, height: dotSize }}
      />
    </div>
  );
}
