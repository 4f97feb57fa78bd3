import { useCallback, useMemo, useRef, useState } from 'react';
import { moveAnchor } from '../../../core/rig/edits/moves';
import type { Patch, XyPad } from '../../../core/rig/schema';
import { dotNow } from '../../live';
import { SHAPES } from '../../parts/Mark';
import { PadPlane } from '../../parts/PadPlane';
import { padView } from '../../padView';
import { useRefresh } from '../../parts/useLive';
import { session } from '../../session';
import { rigSlice } from '../../state/rigSlice';
import { editPatch, useAppDispatch, useAppSelector } from '../../state/store';

let gestures = 0;

/** An XY pad as a chart of the patch: with `edits`, anchors are dragged too. */
export function PadChart({ patch, pad, edits }: { patch: Patch; pad: XyPad; edits: boolean }) {
  useRefresh(session.hands);
  const dispatch = useAppDispatch();
  const theme = useAppSelector((state) => state.ui.theme);
  const box = useRef<HTMLDivElement>(null);
  const labels = useRef<(HTMLSpanElement | null)[]>([]);
  const place = patch.xyPads.indexOf(pad);
  const view = useMemo(() => padView(patch, pad), [patch, pad]);
  const read = useCallback(() => dotNow(place, pad.number), [place, pad.number]);
  const onShares = useCallback((shares: Float64Array) => labels.current.forEach((label, i) => {
    const text = `${Math.round(shares[i] * 100)} %`;
    if (label && label.textContent !== text) label.textContent = text;
  }), []);
  return (
    <PadPlane pad={view} theme={theme} read={read} onShares={onShares} box={box} onMove={(x, y, letGo) => session.play({ type: 'xy', number: pad.number, x, y, letGo })} onRest={() => session.play({ type: 'rest', kind: 'xy', number: pad.number })}>
      {pad.anchors.map((anchor, i) => <AnchorMark key={i} patch={patch} pad={pad} at={i} colour={view.anchors[i].colour} edits={edits} label={(node) => { labels.current[i] = node; }}
        onMove={(x, y, gesture) => dispatch(editPatch(patch.id, (old) => moveAnchor(old, pad.number, i, x, y), gesture))} onEnd={() => dispatch(rigSlice.actions.gestureEnded())} box={box} name={anchor.name} />)}
    </PadPlane>
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
      <span dir="auto" className={`pointer-events-none absolute top-[-8px] max-w-[92px] truncate text-[11.5px] whitespace-nowrap ${toLeft ? 'right-[10px]' : 'left-[10px]'}`}>{name} <span ref={label} className="number" /></span>
    </div>
  );
}
