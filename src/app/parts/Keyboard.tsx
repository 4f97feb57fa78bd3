import { textScale } from './textScale';
import { memo, useEffect, useMemo, useReducer, useRef, type PointerEvent } from 'react';
import { hasPath } from '../../core/engine/program/compiledPath';
import { nameOfKey } from '../../core/music/noteNames';
import { isBlackKey } from '../../core/music/pitch';
import type { Patch } from '../../core/rig/schema';
import { gainGrid, gainsAt, haveSameOrigins, type LayerGain, originsOfGains } from '../sound/gains';
import { session } from '../sound/session';
import { useAppSelector } from '../document/store';
import { BLACK_KEYS, FIRST_KEY, keyScaleOf, LAST_KEY, useWidth, WHITE_KEYS, type KeyScale } from './keyScale';
import { colourOf } from './Mark';
import { checkState } from '../jobs/checkState';
import { useRefresh, useStore } from './useLive';

const HEIGHT = 118;
/** How far black keys reach, and how much room the bands have, as shares of the height. */
const BLACK_SHARE = 72 / 118,
  BANDS_SHARE = 26 / 118;
/** Where a key is struck decides how hard: near its front edge hardest. */
const SOFTEST = 20;

/** The keyboard under every building view: plays by pointer, shows what is held and which layers lie where. */
export function Keyboard({
  patch,
  onPoint = () => undefined,
  height = HEIGHT * textScale(),
}: {
  patch: Patch;
  onPoint?: (key: number | null, velocity: number) => void;
  height?: number;
}) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const scale = useMemo(() => keyScaleOf(width), [width]);
  const middleC = useAppSelector((state) => state.settings.middleC);
  useRefresh(session.hands);
  useRefresh(session);
  const made = usePathKeys(patch);
  const sounding = useRef(new Map<number, number>());
  const { held } = session.hands;

  const strikeAt = (event: PointerEvent): { key: number; velocity: number } => {
    const box = ref.current!.getBoundingClientRect();
    const key = keyUnder(scale, event.clientX - box.left, event.clientY - box.top, BLACK_SHARE * height);
    const depth = (event.clientY - box.top) / (isBlackKey(key) ? BLACK_SHARE * height : height);
    return {
      key,
      velocity: Math.round(Math.min(127, Math.max(1, SOFTEST + (127 - SOFTEST) * Math.min(1, Math.max(0, depth))))),
    };
  };
  const press = (event: PointerEvent) => {
    const { key, velocity } = strikeAt(event);
    sounding.current.set(event.pointerId, key);
    session.play({ type: 'noteOn', channel: 1, key, velocity });
  };
  const lift = (event: PointerEvent) => {
    const key = sounding.current.get(event.pointerId);
    if (key === undefined) return;
    sounding.current.delete(event.pointerId);
    session.play({ type: 'noteOff', channel: 1, key, velocity: 64 });
  };

  return (
    <div
      ref={ref}
      className="relative touch-none overflow-hidden select-none"
      style={{ height }}
      role="application"
      aria-label="Keyboard: play with the pointer; lower on a key is harder"
      data-testid="keyboard"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        press(event);
      }}
      onPointerMove={(event) => {
        const { key, velocity } = strikeAt(event);
        onPoint(key, velocity);
        if (sounding.current.has(event.pointerId) && sounding.current.get(event.pointerId) !== key) {
          lift(event);
          press(event);
        }
      }}
      onPointerUp={lift}
      onPointerCancel={lift}
      onPointerLeave={() => onPoint(null, 0)}
    >
      {width > 0 && <Keys scale={scale} patch={patch} held={held} made={made} middleC={middleC} height={height} />}
    </div>
  );
}

/** The keys at which note paths sound just now; looked at on every frame only where a patch has such a layer. */
function usePathKeys(patch: Patch): ReadonlyMap<number, number> {
  const [, again] = useReducer((n: number) => n + 1, 0);
  const has = patch.layers.some(({ path }) => hasPath(path));
  useEffect(() => {
    if (!has) return undefined;
    let frame = requestAnimationFrame(function step() {
      if (session.made.read()) again();
      frame = requestAnimationFrame(step);
    });
    return () => {
      cancelAnimationFrame(frame);
      session.made.keys.clear();
    };
  }, [has]);
  return session.made.keys;
}

function Keys({
  scale,
  patch,
  held,
  made,
  middleC,
  height,
}: {
  height: number;
  scale: KeyScale;
  patch: Patch;
  held: ReadonlyMap<number, number>;
  made: ReadonlyMap<number, number>;
  middleC: 3 | 4 | 5;
}) {
  // A layer's band on the keys: its gain for a strike of the middle, with the controllers as they stand.
  const bands = bandsOf(patch);
  const step = Math.max(0.7, Math.min(6, (BANDS_SHARE * height) / bands.length));
  const colourOfHeld = (key: number) => {
    const loudest = gainsAt(key, held.get(key) ?? 100)
      .filter((gain) => gain.gain > 0)
      .sort((a, b) => b.gain - a.gain)[0] as LayerGain | undefined;
    const layer = loudest && patch.layers.find((candidate) => candidate.id === loudest.layerId);
    return layer ? colourOf(layer.mark) : 'var(--faint)';
  };
  // What a path makes of the keys is lit on the keys at which it sounds, in the colour of its layer.
  const marked = useStore(checkState, (now) => now.keys);
  const lit = (key: number): string | undefined =>
    marked && key >= marked[0] && key <= marked[1] && !held.has(key)
      ? 'color-mix(in srgb, var(--ochre) 55%, var(--key-white))'
      : made.has(key) && patch.layers[made.get(key)!]
        ? colourOf(patch.layers[made.get(key)!].mark)
        : held.has(key)
          ? colourOfHeld(key)
          : undefined;
  return (
    <svg width={scale.width} height={height} aria-hidden className="block">
      {WHITE_KEYS.map((key) => {
        const x = scale.frontLeft(key);
        const next = WHITE_KEYS[WHITE_KEYS.indexOf(key) + 1];
        return (
          <rect
            key={key}
            x={x}
            y={0}
            width={(next === undefined ? scale.width : scale.frontLeft(next)) - x}
            height={height}
            fill={lit(key) ?? 'var(--key-white)'}
            stroke="var(--key-line)"
            strokeWidth={0.8}
            data-key={key}
          />
        );
      })}
      {bands.map(({ id, colour, gains }, i) => (
        <Band key={id} scale={scale} colour={colour} gains={gains} bottom={height - 1 - i * step} step={step} />
      ))}
      {scale.keyWidth > 6 &&
        WHITE_KEYS.filter((key) => key % 12 === 0).map((key) => (
          <text
            key={key}
            x={scale.frontLeft(key) + 2.5}
            y={height - 12 - bands.length * step}
            fontSize={9.5}
            fill="#55676b"
          >
            {nameOfKey(key, middleC)}
          </text>
        ))}
      {BLACK_KEYS.map((key) => (
        <rect
          key={key}
          x={scale.left(key)}
          y={0}
          width={scale.keyWidth}
          height={BLACK_SHARE * height}
          rx={1.2}
          fill={lit(key) ?? 'var(--key-black)'}
          stroke="var(--key-black)"
          strokeWidth={0.8}
          data-key={key}
        />
      ))}
    </svg>
  );
}

const ALL_KEYS = Array.from({ length: LAST_KEY - FIRST_KEY + 1 }, (_, n) => FIRST_KEY + n);

/** Of each layer: its gains over the keys, in a text that is the same as long as they are. */
function bandsOf(patch: Patch): { id: string; colour: string; gains: string }[] {
  const origins = originsOfGains();
  const before = knownBands;
  knownBands = new Map();
  return patch.layers.map((layer) => {
    const from = origins(layer.id);
    const known = before.get(layer.id);
    const gains =
      known && haveSameOrigins(from, known.from)
        ? known.gains
        : Array.from(gainGrid(layer.id, ALL_KEYS, [90]), (gain) => gain.toFixed(3)).join(' ');
    knownBands.set(layer.id, { from, gains });
    return { id: layer.id, colour: colourOf(layer.mark), gains };
  });
}
/** What was worked out last, and what it came from. */
let knownBands = new Map<string, { from: readonly unknown[] | null; gains: string }>();

/** Keys that follow each other with the same gain: the first, how many, and the gain. */
function runsOf(gains: readonly number[]): { first: number; count: number; gain: number }[] {
  const runs: { first: number; count: number; gain: number }[] = [];
  gains.forEach((gain, n) => {
    const last = runs.at(-1);
    if (last?.gain === gain) last.count++;
    else runs.push({ first: n, count: 1, gain });
  });
  return runs.filter(({ gain }) => gain > 0.001);
}

/** A layer's band along the front of the keys, paler where it is softer. */
const Band = memo(function Band({
  scale,
  colour,
  gains,
  bottom,
  step,
}: {
  scale: KeyScale;
  colour: string;
  gains: string;
  bottom: number;
  step: number;
}) {
  return runsOf(gains.split(' ').map(Number)).map(({ first, count, gain }) => (
    <rect
      key={first}
      x={scale.left(FIRST_KEY + first) - 0.2}
      width={count * scale.keyWidth + 0.4}
      y={bottom - step}
      height={Math.max(0.7, step - (step > 3 ? 2 : step > 1.5 ? 1 : 0))}
      fill={colour}
      opacity={0.25 + 0.75 * gain}
    />
  ));
});

function keyUnder(scale: KeyScale, x: number, y: number, blackHeight: number): number {
  const back = Math.min(LAST_KEY, Math.max(FIRST_KEY, Math.floor(scale.keyAt(x))));
  if (y <= blackHeight && isBlackKey(back)) return back;
  for (let i = WHITE_KEYS.length - 1; i >= 0; i--) if (scale.frontLeft(WHITE_KEYS[i]) <= x) return WHITE_KEYS[i];
  return WHITE_KEYS[0];
}
