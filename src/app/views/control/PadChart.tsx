import { useCallback, useMemo, useRef, useState } from 'react';
import { moveAnchor } from '../../../core/rig/edits/moves';
import type { Patch, XyPad } from '../../../core/rig/schema';
import { dotNow } from '../../sound/live';
import { Shape } from '../../parts/Mark';
import { PadPlane } from '../../parts/PadPlane';
import { useSize } from '../../parts/useSize';
import { padView } from '../../show/padView';
import { useRefresh } from '../../parts/useLive';
import { session } from '../../sound/session';
import { rigSlice } from '../../document/rigSlice';
import { editPatch, useAppDispatch, useAppSelector } from '../../document/store';

let gestures = 0;

/** A pad from this side on has room for the names of its anchors; on a smaller one they stand beside it. */
const ROOMY = 200;

/** An XY pad as a chart of the patch, as large as its place allows: with `edits`, anchors are dragged too. */
export function PadChart({ patch, pad, edits }: { patch: Patch; pad: XyPad; edits: boolean }) {
  useRefresh(session.hands);
  const dispatch = useAppDispatch();
  const theme = useAppSelector((state) => state.settings.theme);
  const box = useRef<HTMLDivElement>(null);
  const labels = useRef<(HTMLSpanElement | null)[]>([]);
  const [place, width, height] = useSize<HTMLDivElement>();
  const wide = Math.min(width, height);
  const isRoomy = wide >= ROOMY || pad.anchors.length === 0;
  // In a narrow column they stand under it, and the column is scrolled.
  const isUnder = !isRoomy && width < LEAST + LEGEND;
  const side = isRoomy ? wide : isUnder ? width : Math.max(LEAST, Math.min(height, width - LEGEND));
  const which = patch.xyPads.indexOf(pad);
  const view = useMemo(() => padView(patch, pad), [patch, pad]);
  const read = useCallback(() => dotNow(which, pad.number), [which, pad.number]);
  const onShares = useCallback(
    (shares: Float64Array) =>
      labels.current.forEach((label, i) => {
        const text = `${Math.round(shares[i] * 100)} %`;
        if (label && label.textContent !== text) label.textContent = text;
      }),
    [],
  );
  return (
    <div
      ref={place}
      className={`flex min-w-0 flex-wrap content-start gap-x-2 gap-y-1 ${isUnder ? 'flex-none' : 'min-h-[150px] flex-1 basis-0'}`}
    >
      <div className="shrink-0" style={{ width: Math.max(LEAST, side) }}>
        <PadPlane
          pad={view}
          theme={theme}
          read={read}
          onShares={onShares}
          box={box}
          onMove={(x, y, letGo) => session.play({ type: 'xy', number: pad.number, x, y, letGo })}
          onRest={() => session.play({ type: 'rest', kind: 'xy', number: pad.number })}
        >
          {pad.anchors.map((anchor, i) => (
            <AnchorMark
              key={i}
              pad={pad}
              at={i}
              colour={view.anchors[i].colour}
              shape={view.anchors[i].shape}
              edits={edits}
              label={
                isRoomy
                  ? (node) => {
                      labels.current[i] = node;
                    }
                  : null
              }
              onMove={(x, y, gesture) =>
                dispatch(editPatch(patch.id, (old) => moveAnchor(old, pad.number, i, x, y), gesture))
              }
              onEnd={() => dispatch(rigSlice.actions.gestureEnded())}
              box={box}
              name={anchor.name}
            />
          ))}
        </PadPlane>
      </div>
      {!isRoomy && (
        <ul aria-label="Anchors" className="flex min-w-[96px] flex-1 flex-col gap-0.5 text-[12px] leading-tight">
          {pad.anchors.map((anchor, i) => (
            <li key={i} className="flex min-w-0 items-start gap-1">
              <span style={{ color: `var(--${view.anchors[i].colour})` }}>
                <Shape shape={view.anchors[i].shape} />
              </span>
              <span dir="auto" className="line-clamp-2 min-w-0 flex-1 break-words">
                {anchor.name}
              </span>
              <span
                ref={(node) => {
                  labels.current[i] = node;
                }}
                className="number shrink-0 text-[11.5px]"
              />
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
/** The room that names beside a pad need, and the least that a pad has. */
const LEGEND = 112,
  LEAST = 150;

interface AnchorProps {
  pad: XyPad;
  at: number;
  colour: string;
  shape: string;
  edits: boolean;
  name: string;
  box: React.RefObject<HTMLDivElement | null>; /** Where its share is written; null: not on the pad. */
  label: ((node: HTMLSpanElement | null) => void) | null;
  onMove: (x: number, y: number, gesture?: string) => void;
  onEnd: () => void;
}

function AnchorMark({ pad, at, colour, shape, edits, name, box, label, onMove, onEnd }: AnchorProps) {
  const anchor = pad.anchors[at];
  const [gesture, setGesture] = useState<string | null>(null);
  const toLeft = anchor.x > 0.55;
  const inset = (value: number) => `clamp(9px, ${value * 100}%, calc(100% - 9px))`;
  return (
    <div
      className={`absolute ${edits ? '' : 'pointer-events-none'}`}
      style={{ left: inset(anchor.x), top: inset(1 - anchor.y) }}
    >
      <button
        className={`absolute -translate-1/2 ${edits ? 'cursor-move' : ''}`}
        tabIndex={edits ? 0 : -1}
        aria-label={`Anchor ${name}: drag, or use the arrow keys`}
        onPointerDown={(event) => {
          if (!edits) return;
          event.stopPropagation();
          event.currentTarget.setPointerCapture(event.pointerId);
          setGesture(`anchor ${++gestures}`);
        }}
        onPointerMove={(event) => {
          if (!gesture) return;
          const { left, top, width, height } = box.current!.getBoundingClientRect();
          onMove(
            Math.min(1, Math.max(0, (event.clientX - left) / width)),
            Math.min(1, Math.max(0, 1 - (event.clientY - top) / height)),
            gesture,
          );
        }}
        onPointerUp={() => {
          setGesture(null);
          onEnd();
        }}
        onKeyDown={(event) => {
          const way = { ArrowLeft: [-0.02, 0], ArrowRight: [0.02, 0], ArrowUp: [0, 0.02], ArrowDown: [0, -0.02] }[
            event.key
          ];
          if (!way) return;
          event.preventDefault();
          event.stopPropagation();
          onMove(anchor.x + way[0], anchor.y + way[1]);
        }}
      >
        <span style={{ color: `var(--${colour})` }}>
          <Shape shape={shape} />
        </span>
      </button>
      {label && (
        <span
          dir="auto"
          className={`pointer-events-none absolute top-[-8px] max-w-[92px] truncate text-[11.5px] whitespace-nowrap ${toLeft ? 'right-[10px]' : 'left-[10px]'}`}
        >
          {name} <span ref={label} className="number" />
        </span>
      )}
    </div>
  );
}
