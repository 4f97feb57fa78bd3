import { contours, geoPath } from 'd3';
import { useCallback, useEffect, useMemo, useRef, useState, type PointerEvent } from 'react';
import { moveAnchor } from '../../../core/rig/edits/moves';
import { MARK_COLOURS, type Patch, type XyPad } from '../../../core/rig/schema';
import { NaturalNeighbours } from '../../../core/space/naturalNeighbours';
import { dotNow } from '../../live';
import { SHAPES } from '../../parts/Mark';
import { prepared } from '../../parts/canvas';
import { useWidth } from '../../parts/keyScale';
import { useFrames, useRefresh } from '../../parts/useLive';
import { session } from '../../session';
import { rigSlice } from '../../state/rigSlice';
import { editPatch, useAppDispatch, useAppSelector } from '../../state/store';

const CELLS = 48;
const LEVELS = [0.25, 0.5, 0.75];
let gestures = 0;

/** Shares of each anchor over the plane, row by row from the bottom. */
function sharesOver(pad: XyPad): Float64Array[] {
  const neighbours = new NaturalNeighbours(Float64Array.from(pad.anchors.flatMap(({ x, y }) => [x, y])));
  const grids = pad.anchors.map(() => new Float64Array((CELLS + 1) ** 2));
  const dot = new Float64Array(2);
  for (let j = 0; j <= CELLS; j++) for (let i = 0; i <= CELLS; i++) {
    dot[0] = i / CELLS;
    dot[1] = j / CELLS;
    neighbours.shareOut(dot, 0);
    grids.forEach((grid, a) => { grid[j * (CELLS + 1) + i] = neighbours.shares[a]; });
  }
  return grids;
}

/** An XY pad as a chart: anchors with lines of equal share, and the dot, played by pointer or pen. With `edits`, anchors are dragged too. */
export function PadChart({ patch, pad, edits }: { patch: Patch; pad: XyPad; edits: boolean }) {
  useRefresh(session.hands);
  const dispatch = useAppDispatch();
  const theme = useAppSelector((state) => state.ui.theme);
  const [box, width] = useWidth<HTMLDivElement>();
  const chart = useRef<HTMLCanvasElement>(null);
  const dot = useRef<HTMLDivElement>(null);
  const labels = useRef<(HTMLSpanElement | null)[]>([]);
  const place = patch.xyPads.indexOf(pad);
  const held = useRef(false);
  const grids = useMemo(() => sharesOver(pad), [pad]);
  const neighbours = useMemo(() => new NaturalNeighbours(Float64Array.from(pad.anchors.flatMap(({ x, y }) => [x, y]))), [pad.anchors]);
  const colours = useMemo(() => pad.anchors.map((anchor, i) => [...patch.layers, ...patch.groups].find(({ id }) => id === anchor.layerId)?.mark.colour ?? MARK_COLOURS[i]), [pad.anchors, patch.layers, patch.groups]);

  useEffect(() => {
    const context = prepared(chart, width, width);
    if (!context) return;
    context.clearRect(0, 0, width, width);
    const styles = getComputedStyle(document.documentElement);
    const project = geoPath({ stream: (output) => ({
      point: (x: number, y: number) => output.point(((x - 0.5) / CELLS) * width, width - ((y - 0.5) / CELLS) * width),
      lineStart: () => output.lineStart(), lineEnd: () => output.lineEnd(), polygonStart: () => output.polygonStart(), polygonEnd: () => output.polygonEnd(), sphere: () => undefined,
    }) }, context);
    grids.forEach((grid, a) => {
      const colour = styles.getPropertyValue(`--${colours[a]}`);
      contours().size([CELLS + 1, CELLS + 1]).smooth(true).thresholds(LEVELS)([...grid]).forEach((shape, i) => {
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
  }, [grids, colours, width, theme]);

  useFrames(useCallback(() => {
    const now = dotNow(place, pad.number);
    if (dot.current) {
      // Moved without a new layout of anything.
      dot.current.style.transform = `translate(${(now.x * width - 8).toFixed(1)}px, ${((1 - now.y) * width - 8).toFixed(1)}px)`;
    }
    neighbours.shareOut(Float64Array.of(now.x, now.y), 0);
    pad.anchors.forEach((_, i) => {
      const label = labels.current[i];
      const text = `${Math.round(neighbours.shares[i] * 100)} %`;
      if (label && label.textContent !== text) label.textContent = text;
    });
  }, [neighbours, pad, place, width]));

  const move = (event: PointerEvent, letGo = false) => {
    const { left, top, width: w, height: h } = box.current!.getBoundingClientRect();
    const x = Math.min(1, Math.max(0, (event.clientX - left) / w));
    const y = Math.min(1, Math.max(0, 1 - (event.clientY - top) / h));
    session.play({ type: 'xy', number: pad.number, x, y, letGo });
  };
  const step = (x: number, y: number) => {
    const now = { x: session.liveOf(`xy.${pad.number}.x`)!, y: session.liveOf(`xy.${pad.number}.y`)! };
    session.play({ type: 'xy', number: pad.number, x: Math.min(1, Math.max(0, now.x + x)), y: Math.min(1, Math.max(0, now.y + y)) });
  };
  return (
    <div
      ref={box} role="application" tabIndex={0} aria-label={`XY pad ${pad.name}: drag the dot, or use the arrow keys`} data-testid={`pad-${pad.number}`}
      className="relative aspect-square w-full touch-none overflow-hidden rounded-lg border border-edge bg-sheet [contain:layout_paint]"
      onPointerDown={(event) => { if (event.button !== 0) return; event.currentTarget.setPointerCapture(event.pointerId); held.current = true; move(event); }}
      onPointerMove={(event) => { if (held.current) move(event); }}
      onPointerUp={(event) => { if (held.current) move(event, true); held.current = false; }} onPointerCancel={() => { held.current = false; }}
      onDoubleClick={() => session.play({ type: 'rest', kind: 'xy', number: pad.number })}
      onKeyDown={(event) => {
        const by = event.shiftKey ? 0.005 : 0.04;
        const way = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, by], ArrowDown: [0, -by] }[event.key];
        if (!way) return;
        event.preventDefault();
        event.stopPropagation();
        step(way[0], way[1]);
      }}
    >
      <canvas ref={chart} className="pointer-events-none absolute inset-0 h-full w-full" />
      {pad.anchors.map((anchor, i) => <AnchorMark key={i} patch={patch} pad={pad} at={i} colour={colours[i]} edits={edits} label={(node) => { labels.current[i] = node; }}
        onMove={(x, y, gesture) => dispatch(editPatch(patch.id, (old) => moveAnchor(old, pad.number, i, x, y), gesture))} onEnd={() => dispatch(rigSlice.actions.gestureEnded())} box={box} name={anchor.name} />)}
      <div ref={dot} className="pointer-events-none absolute h-[16px] w-[16px] rounded-full bg-ink ring-2 ring-sheet" style={{ left: 0, top: 0 }} />
    </div>
  );
}

interface AnchorProps { patch: Patch; pad: XyPad; at: number; colour: string; edits: boolean; name: string; box: React.RefObject<HTMLDivElement | null>; label: (node: HTMLSpanElement | null) => void; onMove: (x: number, y: number, gesture?: string) => void; onEnd: () => void }

function AnchorMark({ patch, pad, at, colour, edits, name, box, label, onMove, onEnd }: AnchorProps) {
  const anchor = pad.anchors[at];
  const [gesture, setGesture] = useState<string | null>(null);
  const shape = [...patch.layers, ...patch.groups].find(({ id }) => id === anchor.layerId)?.mark.shape ?? 'dot';
  const { d, line } = SHAPES[shape];
  const toLeft = anchor.x > 0.55;
  const inset = (value: number) => `clamp(9px, ${value * 100}%, calc(100% - 9px))`;
  return (
    <div className={`absolute ${edits ? '' : 'pointer-events-none'}`} style={{ left: inset(anchor.x), top: inset(1 - anchor.y) }}>
      <button
        className={`absolute -translate-1/2 ${edits ? 'cursor-move' : ''}`} tabIndex={edits ? 0 : -1} aria-label={`Anchor ${name}: drag, or use the arrow keys`}
        onPointerDown={(event) => { if (!edits) return; event.stopPropagation(); event.currentTarget.setPointerCapture(event.pointerId); setGesture(`anchor ${++gestures}`); }}
        onPointerMove={(event) => {
          if (!gesture) return;
          const { left, top, width, height } = box.current!.getBoundingClientRect();
          onMove(Math.min(1, Math.max(0, (event.clientX - left) / width)), Math.min(1, Math.max(0, 1 - (event.clientY - top) / height)), gesture);
        }}
        onPointerUp={() => { setGesture(null); onEnd(); }}
        onKeyDown={(event) => {
          const way = { ArrowLeft: [-0.02, 0], ArrowRight: [0.02, 0], ArrowUp: [0, 0.02], ArrowDown: [0, -0.02] }[event.key];
          if (!way) return;
          event.preventDefault();
          event.stopPropagation();
          onMove(anchor.x + way[0], anchor.y + way[1]);
        }}
      >
        <svg width={14} height={14} viewBox="0 0 14 14" style={{ color: `var(--${colour})` }}>{line ? <path d={d} fill="none" stroke="currentColor" strokeWidth={2.6} /> : <path d={d} fill="currentColor" />}</svg>
      </button>
      <span className={`pointer-events-none absolute top-[-8px] max-w-[92px] truncate text-[11.5px] whitespace-nowrap ${toLeft ? 'right-[10px]' : 'left-[10px]'}`}>{name} <span ref={label} className="number" /></span>
    </div>
  );
}
