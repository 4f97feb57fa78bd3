import { useCallback, useRef, type PointerEvent } from 'react';
import { useFrames } from '../../parts/useLive';
import { write, writeHidden } from '../../parts/write';

/** What is drawn of a macro; `colour` names one of the theme. */
export interface MacroView {
  number: number;
  name: string;
  words: string;
  style: 'strip' | 'momentary' | 'latched';
  colour: string;
}

interface Props {
  macro: MacroView;
  /** Where it stands, 0…1, and where a control that has not taken hold yet stands; asked on every frame. */
  read: () => { value: number; waits?: number };
  onMove: (value: number) => void;
  onRest: () => void;
}

/**
 * A macro as large as a hand: dragged from wherever it is touched, so that nothing jumps. Fingers leave the focus where
 * it is.
 */
export function StageMacro({ macro, read, onMove, onRest }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const water = useRef<HTMLDivElement>(null);
  const number = useRef<HTMLSpanElement>(null);
  const waiting = useRef<HTMLDivElement>(null);
  const drag = useRef<{ pointer: number; y: number; from: number } | null>(null);
  const { style } = macro;
  const colour = `var(--${macro.colour})`;
  useFrames(
    useCallback(() => {
      const { value, waits } = read();
      const percent = String(Math.round(value * 100));
      if (water.current) water.current.style.transform = `scaleY(${value.toFixed(3)})`;
      if (waiting.current) {
        writeHidden(waiting.current, waits === undefined);
        waiting.current.style.bottom = `${(waits ?? 0) * 100}%`;
      }
      if (number.current && number.current.textContent !== percent) {
        number.current.textContent = percent;
        write(box.current, 'aria-valuenow', percent);
      }
    }, [read]),
  );
  const put = (value: number) => onMove(Math.min(1, Math.max(0, value)));
  const press = (event: PointerEvent) => {
    if (event.button !== 0 || drag.current) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const { value } = read();
    drag.current = { pointer: event.pointerId, y: event.clientY, from: value };
    if (style === 'momentary') put(1);
    else if (style === 'latched') put(value >= 0.5 ? 0 : 1);
  };
  const end = (event: PointerEvent) => {
    if (drag.current?.pointer !== event.pointerId) return;
    drag.current = null;
    if (style === 'momentary') put(0);
  };
  return (
    <div
      ref={box}
      role="slider"
      data-plays
      tabIndex={0}
      aria-label={macro.name}
      aria-orientation="vertical"
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={0}
      className="stage-macro relative min-h-10 min-w-0 touch-none overflow-hidden rounded-xl border border-edge bg-sheet select-none"
      onMouseDown={(event) => event.preventDefault()}
      onPointerDown={press}
      onPointerUp={end}
      onPointerCancel={end}
      onPointerMove={(event) => {
        if (drag.current?.pointer === event.pointerId && style === 'strip')
          put(drag.current.from + (drag.current.y - event.clientY) / Math.max(120, box.current!.clientHeight));
      }}
      onDoubleClick={() => {
        if (style === 'strip') onRest();
      }}
      onKeyDown={(event) => {
        const { value } = read();
        const by = event.shiftKey ? 0.005 : 0.04;
        const to = {
          ArrowUp: value + by,
          ArrowRight: value + by,
          ArrowDown: value - by,
          ArrowLeft: value - by,
          Home: 0,
          End: 1,
          Enter: style === 'latched' && value >= 0.5 ? 0 : 1,
        }[event.key];
        if (to === undefined || (event.key === 'Enter' && style === 'strip')) return;
        event.preventDefault();
        event.stopPropagation();
        put(to);
      }}
      onKeyUp={(event) => {
        if (event.key === 'Enter' && style === 'momentary') put(0);
      }}
    >
      <div
        ref={water}
        className="pointer-events-none absolute inset-0 origin-bottom"
        style={{
          transform: 'scaleY(0)',
          background: `color-mix(in srgb, ${colour} 34%, transparent)`,
          boxShadow: `inset 0 3px 0 ${colour}`,
        }}
      />
      <div
        ref={waiting}
        hidden
        className="pointer-events-none absolute inset-x-0 border-t-[3px] border-dashed border-alarm"
        title="The control stands here, and takes hold once it reaches the value"
      />
      <div className="stage-macro-face absolute inset-0 flex flex-col justify-between px-3 py-2 max-sm:px-2 max-sm:py-1">
        <span className="min-w-0">
          <span className="line-clamp-2 text-[clamp(15px,1.5vw,20px)] leading-tight font-semibold break-words">
            {macro.name}
          </span>
          <span className="stage-macro-words line-clamp-3 text-[13px] leading-tight text-ink/80">{macro.words}</span>
        </span>
        <span ref={number} className="number text-[clamp(20px,2.2vw,30px)] leading-none">
          0
        </span>
      </div>
    </div>
  );
}
