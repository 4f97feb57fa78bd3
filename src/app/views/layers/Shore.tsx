import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { parseSource } from '../../../core/space/source';
import { gainOfWindow } from '../../../core/space/window';
import type { Layer, LayerWindow } from '../../../core/rig/schema';
import { nameOfKey } from '../../../core/music/noteNames';
import { patchGain } from '../../sound/gains';
import { draggedKey, type KeyScale } from '../../parts/keyScale';
import { colourOf } from '../../parts/Mark';
import { useNow } from '../../parts/useLive';
import { session } from '../../sound/session';
import { useAppSelector } from '../../document/store';

/** What lets a layer in: hands, and another program. */
const MOVING = [session.hands, session];

interface Props {
  layer: Layer;
  source: 'key' | 'velocity';
  window: LayerWindow;
  /** Pixels along the source and across it. Keys run to the right, velocities upward. */
  length: number;
  depth: number;
  scale?: KeyScale;
  faded: boolean;
  selected: boolean;
  onChange: (window: LayerWindow, gesture: string) => void;
  onEnd: () => void;
  /** After a border was moved: where it stood before. */
  onMoved?: (before: LayerWindow) => void;
}

type Part = 'body' | 'low' | 'high' | 'fadeIn' | 'fadeOut';
let gestures = 0;

/**
 * A window as a body of water: its height is the real gain along the source, flat where it is full, sloping to shores
 * where it fades. The water stands as high as
 * the controllers let it. Body, borders and fades are dragged, or moved with the arrow keys.
 */
export function Shore({
  layer,
  source,
  window,
  length,
  depth,
  scale,
  faded,
  selected,
  onChange,
  onEnd,
  onMoved,
}: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const drag = useRef<{ part: Part; from: number; start: LayerWindow; gesture: string } | null>(null);
  const middleC = useAppSelector((state) => state.settings.middleC);
  const along = source === 'key';
  const { low: least, high: most } = parseSource(source)!;
  const colour = colourOf(layer.mark);
  const room = depth - 14;

  const position = (value: number): number => (scale ? scale.middle(value) : length - ((value - 0.5) / 127) * length);
  const edge = (value: number, side: -1 | 1): number =>
    scale ? scale.left(value + (side > 0 ? 1 : 0)) : length - ((value - (side > 0 ? 0 : 1)) / 127) * length;
  const point = (at: number, gain: number): [number, number] =>
    along ? [at, depth - 3 - gain * room] : [3 + gain * room * 0.9, at];
  const valueAt = (event: PointerEvent): number => {
    const box = svg.current!.getBoundingClientRect();
    return scale
      ? draggedKey(scale, event.clientX - box.left)
      : Math.min(127, Math.max(1, Math.ceil((1 - (event.clientY - box.top) / length) * 127)));
  };

  const windows = layer.windows.filter((candidate) => candidate.source === source);
  const gainAt = (value: number) => windows.reduce((gain, each) => gain * gainOfWindow(each, value), 1);
  const outline = outlineOf(window, gainAt, position, edge);
  const path = (height: number, closed: boolean) => {
    const points = outline.map(([at, gain]) => point(at, gain * height));
    const text = points.map(([x, y], i) => `${i ? 'L' : 'M'}${x.toFixed(1)} ${y.toFixed(1)}`).join('');
    if (!closed || points.length === 0) return text;
    const [first] = outline[0];
    const [last] = outline[outline.length - 1];
    const [x0, y0] = point(first, 0);
    const [x1, y1] = point(last, 0);
    return `${text}L${x1.toFixed(1)} ${y1.toFixed(1)}L${x0.toFixed(1)} ${y0.toFixed(1)}Z`;
  };
  // After an edit the program comes a moment later, and the water stands at another height.
  const water = useNow(MOVING, () => (along ? patchGain(layer.id) : 1));

  const moved = (part: Part, value: number, start: LayerWindow, by: number): LayerWindow => {
    switch (part) {
      case 'low':
        return {
          ...start,
          low: Math.min(value, start.high),
          fadeIn: Math.min(start.fadeIn, Math.max(0, start.high - value)),
        };
      case 'high':
        return {
          ...start,
          high: Math.max(value, start.low),
          fadeOut: Math.min(start.fadeOut, Math.max(0, value - start.low)),
        };
      case 'fadeIn':
        return { ...start, fadeIn: Math.min(start.high - start.low, Math.max(0, value - start.low)) };
      case 'fadeOut':
        return { ...start, fadeOut: Math.min(start.high - start.low, Math.max(0, start.high - value)) };
      case 'body': {
        const shift = Math.min(most - start.high, Math.max(least - start.low, by));
        return { ...start, low: start.low + shift, high: start.high + shift };
      }
    }
  };
  const begin = (part: Part) => (event: PointerEvent) => {
    if (event.button !== 0) return;
    svg.current!.setPointerCapture(event.pointerId);
    drag.current = { part, from: valueAt(event), start: window, gesture: `shore ${layer.id} ${source} ${++gestures}` };
  };
  const follow = (event: PointerEvent) => {
    const { current } = drag;
    if (!current) return;
    const value = valueAt(event);
    const next = moved(current.part, value, current.start, value - current.from);
    if (
      next.low !== window.low ||
      next.high !== window.high ||
      next.fadeIn !== window.fadeIn ||
      next.fadeOut !== window.fadeOut
    )
      onChange(next, current.gesture);
  };
  const finish = () => {
    const { current } = drag;
    if (!current) return;
    drag.current = null;
    onEnd();
    if (current.part === 'low' || current.part === 'high') onMoved?.(current.start);
  };
  const nudge = (part: Part) => (event: KeyboardEvent) => {
    const forward = event.key === 'ArrowRight' || event.key === 'ArrowUp';
    if (!forward && event.key !== 'ArrowLeft' && event.key !== 'ArrowDown') return;
    event.preventDefault();
    event.stopPropagation();
    const by = (forward ? 1 : -1) * (event.shiftKey ? 12 : 1);
    const now = {
      low: window.low,
      high: window.high,
      fadeIn: window.low + window.fadeIn,
      fadeOut: window.high - window.fadeOut,
      body: 0,
    }[part];
    onChange(moved(part, Math.min(most, Math.max(least, now + by)), window, by), `nudge ${++gestures}`);
    onEnd();
    if (part === 'low' || part === 'high') onMoved?.(window);
  };

  const name = (value: number) => (source === 'key' ? nameOfKey(value, middleC) : String(value));
  const handles: { part: Part; at: number; gain: number; label: string; text: string; value: number }[] = [
    {
      part: 'low',
      at: edge(window.low, -1),
      gain: 0,
      label: `lowest ${source}`,
      text: name(window.low),
      value: window.low,
    },
    {
      part: 'high',
      at: edge(window.high, 1),
      gain: 0,
      label: `highest ${source}`,
      text: name(window.high),
      value: window.high,
    },
    {
      part: 'fadeIn',
      at: window.fadeIn > 0 ? position(window.low + window.fadeIn) : edge(window.low, -1),
      gain: 1,
      label: `fade in over ${source === 'key' ? 'keys' : 'velocities'}`,
      text: String(window.fadeIn),
      value: window.fadeIn,
    },
    {
      part: 'fadeOut',
      at: window.fadeOut > 0 ? position(window.high - window.fadeOut) : edge(window.high, 1),
      gain: 1,
      label: `fade out over ${source === 'key' ? 'keys' : 'velocities'}`,
      text: String(window.fadeOut),
      value: window.fadeOut,
    },
  ];
  const [width, height] = along ? [length, depth] : [42, length];

  return (
    <svg
      ref={svg}
      width={width}
      height={height}
      className={`block touch-none ${along ? 'overflow-hidden' : 'overflow-visible'}`}
      style={{ opacity: faded ? 0.4 : 1 }}
      onPointerMove={follow}
      onPointerUp={finish}
      onPointerCancel={finish}
      data-testid={`shore-${source}`}
    >
      {along &&
        scale &&
        Array.from({ length: 8 }, (_, i) => 24 + 12 * i).map((c) => (
          <line
            key={c}
            x1={scale.left(c)}
            x2={scale.left(c)}
            y1={0}
            y2={height}
            stroke="var(--line)"
            strokeWidth={0.8}
          />
        ))}
      {[1, 0.8, 0.6, 0.4, 0.2].map((share) => (
        <path
          key={share}
          d={path(share * water, true)}
          fill={colour}
          fillOpacity={0.13}
          stroke={colour}
          strokeOpacity={share === 1 ? 0 : 0.4}
          strokeWidth={0.7}
        />
      ))}
      <path
        d={path(1, true)}
        fill="transparent"
        stroke={colour}
        strokeWidth={1.7}
        strokeDasharray={water < 0.999 ? '4 3' : undefined}
        className={along ? 'cursor-grab' : ''}
        onPointerDown={begin('body')}
      />
      {/* The whole border is held, not just its end. */}
      {(['low', 'high'] as const).map((part) => {
        const at = Math.min(length - 2, Math.max(2, edge(window[part], part === 'low' ? -1 : 1)));
        return (
          <line
            key={part}
            {...(along ? { x1: at, x2: at, y1: 0, y2: depth } : { x1: 0, x2: width, y1: at, y2: at })}
            stroke="transparent"
            strokeWidth={9}
            className={`border-grip ${along ? 'cursor-ew-resize' : 'cursor-ns-resize'}`}
            onPointerDown={begin(part)}
            data-border={part}
          />
        );
      })}
      <line
        pointerEvents="none"
        {...(along ? { x1: 0, x2: width, y1: depth - 3, y2: depth - 3 } : { x1: 3, x2: 3, y1: 0, y2: height })}
        stroke={colour}
        strokeWidth={0.8}
        strokeOpacity={0.5}
      />
      {handles.map(({ part, at, gain, label, text, value }) => {
        const [x, y] = point(Math.min(length - 4, Math.max(4, at)), gain);
        return (
          <g
            key={part}
            role="slider"
            tabIndex={0}
            aria-label={`${layer.name}: ${label}`}
            aria-valuemin={part === 'low' || part === 'high' ? least : 0}
            aria-valuemax={most}
            aria-valuenow={value}
            aria-valuetext={text}
            className={`edge-grip ${along ? 'cursor-ew-resize' : 'cursor-ns-resize'} opacity-0 hover:opacity-100 focus-visible:opacity-100 focus-visible:outline-none [&:focus-visible>circle]:stroke-[var(--indigo)] [&:focus-visible>circle]:[stroke-width:2.5]`}
            style={selected ? { opacity: 1 } : undefined}
            onPointerDown={begin(part)}
            onKeyDown={nudge(part)}
            data-part={part}
          >
            <title>{`${label}: ${text}`}</title>
            <circle cx={x} cy={y} r={9.5} fill="transparent" />
            <circle cx={x} cy={y} r={along ? 4.6 : 3.6} fill="var(--sheet)" stroke={colour} strokeWidth={1.8} />
          </g>
        );
      })}
    </svg>
  );
}

/**
 * Points along the source with their gains, from border to border; the outermost values reach to the outer edges of
 * their keys.
 */
function outlineOf(
  window: LayerWindow,
  gainAt: (value: number) => number,
  position: (value: number) => number,
  edge: (value: number, side: -1 | 1) => number,
): [number, number][] {
  const points: [number, number][] = [[edge(window.low, -1), gainAt(window.low)]];
  const span = window.high - window.low;
  const steps = window.fadeIn === 0 && window.fadeOut === 0 ? 1 : Math.max(1, span * 2);
  for (let i = 0; i <= steps; i++) {
    const value = window.low + (span * i) / steps;
    points.push([position(value), gainAt(value)]);
  }
  points.push([edge(window.high, 1), gainAt(window.high)]);
  return points;
}
