import { scaleLinear } from 'd3';
import { useRef, type PointerEvent } from 'react';
import { envelopeValues } from '../../../../core/engine/pictures/envelopePicture';
import { paramOf } from '../../../../core/rig/defaults';
import { setParam } from '../../../../core/rig/edits/layers';
import { type LayerParameterId } from '../../../../core/rig/parameters';
import { LAYER_PARAMETERS } from '../../../../core/rig/layerParameters';
import type { Layer, Patch } from '../../../../core/rig/schema';
import { rigSlice } from '../../../document/rigSlice';
import { editPatch, useAppDispatch } from '../../../document/store';

const WIDTH = 250,
  HEIGHT = 78,
  TOP = 6,
  BOTTOM = 72;
/** Widths that times may take; short times get room too. */
const SPAN = 62,
  SHORT = 0.03;
const widthOf = (seconds: number, longest = 20): number =>
  (SPAN * Math.log1p(seconds / SHORT)) / Math.log1p(longest / SHORT);
const secondsOf = (width: number, longest = 20): number =>
  SHORT * Math.expm1((Math.max(0, width) / SPAN) * Math.log1p(longest / SHORT));
const STEPS = 24;
let gestures = 0;

/**
 * The envelope of a layer's level as it is, not to scale: each part gets room by the logarithm of its time. Its corners
 * are dragged.
 */
export function EnvelopePicture({ patch, layer, colour }: { patch: Patch; layer: Layer; colour: string }) {
  const dispatch = useAppDispatch();
  const value = (id: LayerParameterId) => paramOf(layer, id);
  const times = [value('delay'), value('attack'), value('hold'), value('decay'), NaN, value('release')];
  const widths = times.map((seconds) => (Number.isNaN(seconds) ? 24 : widthOf(seconds)));
  const ends = widths.reduce<number[]>((sum, width) => [...sum, (sum[sum.length - 1] ?? 2) + width], []);
  const y = scaleLinear([0, 1], [BOTTOM, TOP]);
  const { parts, startLevel, sustain } = envelopeValues(
    layer,
    times.map((seconds) => (Number.isNaN(seconds) ? 0 : seconds)),
    STEPS,
  );
  const points: [number, number][] = [[2, y(0)]];
  parts.forEach((values, part) => {
    const from = part === 0 ? 2 : ends[part - 1];
    if (part === 1 && startLevel > 0) points.push([from, y(startLevel)]);
    values.forEach((level, i) => points.push([from + (widths[part] * (i + 1)) / STEPS, y(level)]));
  });
  const put = (id: LayerParameterId, wanted: number, gesture: string) =>
    dispatch(editPatch(patch.id, (old) => setParam(old, layer.id, id, Number(wanted.toPrecision(3))), gesture));
  const corners: {
    name: string;
    x: number;
    level: number;
    drag: () => (dx: number, dy: number, gesture: string) => void;
  }[] = [
    {
      name: 'attack',
      x: ends[1],
      level: 1,
      drag: () => {
        const from = widthOf(value('attack'));
        return (dx, _dy, gesture) => put('attack', secondsOf(from + dx), gesture);
      },
    },
    {
      name: 'hold',
      x: ends[2],
      level: 1,
      drag: () => {
        const from = widthOf(value('hold'));
        return (dx, _dy, gesture) => put('hold', secondsOf(from + dx), gesture);
      },
    },
    {
      name: 'decay and sustain',
      x: ends[3],
      level: sustain,
      drag: () => {
        const from = widthOf(value('decay'));
        return (dx, dy, gesture) => {
          const level = y.invert(y(sustain) + dy);
          put('decay', secondsOf(from + dx), gesture);
          put('sustain', level <= 0.001 ? LAYER_PARAMETERS.sustain.low : 20 * Math.log10(Math.min(1, level)), gesture);
        };
      },
    },
    {
      name: 'release',
      x: ends[5],
      level: 0,
      drag: () => {
        const from = widthOf(value('release'));
        return (dx, _dy, gesture) => put('release', secondsOf(from + dx), gesture);
      },
    },
  ];
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="w-full shrink-0 touch-none rounded-md border border-edge bg-sheet"
      role="img"
      aria-label={`Envelope: attack ${value('attack')} s, decay ${value('decay')} s, sustain ${value('sustain')} dB, release ${value('release')} s`}
    >
      <path
        d={`M${points.map(([px, py]) => `${px.toFixed(1)},${py.toFixed(1)}`).join('L')}L${points[points.length - 1][0]},${y(0)}`}
        fill={colour}
        fillOpacity={0.16}
        stroke={colour}
        strokeWidth={1.8}
      />
      <line x1={ends[4]} x2={ends[4]} y1={TOP} y2={BOTTOM} stroke="var(--edge)" strokeDasharray="2 3" />
      <text x={ends[4] - 3} y={HEIGHT - 1} fontSize={8} textAnchor="end" fill="var(--faint)">
        key up
      </text>
      {corners.map(({ name, x, level, drag }) => (
        <Corner
          key={name}
          name={name}
          x={x}
          y={y(level)}
          colour={colour}
          drag={drag}
          onEnd={() => dispatch(rigSlice.actions.gestureEnded())}
        />
      ))}
    </svg>
  );
}

/**
 * A corner that is dragged: `drag` is asked when it is taken, and told how far it has gone since, in the picture's own
 * units.
 */
export function Corner({
  name,
  x,
  y,
  colour,
  drag,
  onEnd,
}: {
  name: string;
  x: number;
  y: number;
  colour: string;
  drag: () => (dx: number, dy: number, gesture: string) => void;
  onEnd: () => void;
}) {
  const taken = useRef<{
    x: number;
    y: number;
    gesture: string;
    move: (dx: number, dy: number, gesture: string) => void;
  } | null>(null);
  const scaleOf = (event: PointerEvent<SVGCircleElement>) => {
    const svg = event.currentTarget.ownerSVGElement!;
    return svg.viewBox.baseVal.width / svg.clientWidth;
  };
  const end = () => {
    taken.current = null;
    onEnd();
  };
  return (
    <circle
      cx={x}
      cy={y}
      r={4.5}
      fill="var(--sheet)"
      stroke={colour}
      strokeWidth={2}
      className="cursor-move"
      data-corner={name}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        taken.current = { x: event.clientX, y: event.clientY, gesture: `corner ${++gestures}`, move: drag() };
      }}
      onPointerMove={(event) => {
        const { current } = taken;
        if (!current) return;
        const scale = scaleOf(event);
        current.move((event.clientX - current.x) * scale, (event.clientY - current.y) * scale, current.gesture);
      }}
      onPointerUp={end}
      onPointerCancel={end}
    >
      <title>{`Drag: ${name}`}</title>
    </circle>
  );
}
