import { chainOf, circleIn, connectionsOf, flowOrder, isPair, type PlaceId } from '../../../core/rig/mix';
import type { Connection, Patch } from '../../../core/rig/schema';

/** Where a place of the river lies: its middle on the left side for springs, its middle for all else. */
export interface Spot {
  place: PlaceId;
  x: number;
  y: number;
  width: number;
  height: number;
}
export interface Point {
  x: number;
  y: number;
}
/**
 * A stretch of the river: a bend from one point to another. `connection` is null for the way from where all waters meet
 * to the mouth.
 */
export interface Stretch {
  id: string;
  connection: Connection | null;
  from: PlaceId;
  to: PlaceId;
  a: Point;
  b: Point;
}
export interface RiverLayout {
  spots: ReadonlyMap<PlaceId, Spot>;
  stretches: readonly Stretch[];
  springs: readonly PlaceId[];
  meets: Point;
}

const PAIR_WIDTH = 92;
export const SPRING_WIDTH = 196,
  SPRING_HEIGHT = 34;
const LEFT = 14,
  TOP = 58,
  BOTTOM = 36;
/** How far apart waters come in at a place. */
const SPREAD = 15;

/** Height below which the springs of a patch would lie on one another. */
export const leastHeight = (patch: Patch): number => TOP + BOTTOM + 27 * patch.layers.length;

/**
 * Lays out a patch's mix in a space of so many pixels: springs on the left, groups where their members meet, shared
 * effects below, the mouth on the right.
 */
export function layOutRiver(patch: Patch, width: number, height: number): RiverLayout {
  const spots = new Map<PlaceId, Spot>();
  const usable = Math.max(60, height - TOP - BOTTOM);
  const rows = Math.max(1, patch.layers.length);
  const rowHeight = Math.min(84, usable / rows);
  const springHeight = Math.min(SPRING_HEIGHT, rowHeight - 4);
  const first = TOP + Math.max(0, (usable - rowHeight * rows) / 3);
  const springWidth = Math.min(SPRING_WIDTH, Math.max(120, width * 0.22));
  patch.layers.forEach((layer, i) =>
    spots.set(`layer.${layer.id}`, {
      place: `layer.${layer.id}`,
      x: LEFT,
      y: first + rowHeight * (i + 0.5),
      width: springWidth,
      height: springHeight,
    }),
  );
  const right = LEFT + springWidth;
  const groupX = right + (width - right) * 0.36;
  const meetX = right + (width - right) * 0.74;
  const yOf = (place: PlaceId) => spots.get(place)?.y ?? height / 2;
  const mean = (values: readonly number[], rest: number) =>
    values.length === 0 ? rest : values.reduce((sum, y) => sum + y, 0) / values.length;
  for (const group of patch.groups) {
    const place = `group.${group.id}`;
    spots.set(place, {
      place,
      x: groupX,
      y: mean(
        patch.layers.filter(({ groupId }) => groupId === group.id).map(({ id }) => yOf(`layer.${id}`)),
        height / 2,
      ),
      width: 12,
      height: 60,
    });
  }
  // What flows into another shared effect lies left of it.
  const flow = circleIn(patch) ? [] : flowOrder(patch);
  const pools = [...patch.pools].sort((a, b) => flow.indexOf(`pool.${a.id}`) - flow.indexOf(`pool.${b.id}`));
  pools.forEach((pool, i) => {
    const place = `pool.${pool.id}`;
    const n = patch.pools.length;
    const span = meetX - groupX - 30;
    const poolWidth = Math.max(56, Math.min(104, span / Math.min(n, 3) - 6));
    spots.set(place, {
      place,
      x: groupX + 6 + poolWidth / 2 + (span - 6 - poolWidth) * (n === 1 ? 0.5 : i / (n - 1)),
      y: height - BOTTOM - 24 - (i % 2) * 34,
      width: poolWidth,
      height: 42,
    });
  });
  const all = connectionsOf(patch);
  // Pairs of outputs that something goes to lie beside the mouth, at the foot.
  const ends = [...new Set(all.map(({ to }) => to).filter(isPair))];
  ends.forEach((place, i) =>
    spots.set(place, {
      place,
      x: width - PAIR_WIDTH / 2 - 4,
      y: height - BOTTOM - 14 - 34 * (ends.length - 1 - i),
      width: PAIR_WIDTH,
      height: 24,
    }),
  );
  const outputs = all.filter(({ kind, from }) => kind === 'output' && !from.startsWith('pool.'));
  const meets = {
    x: meetX,
    y: Math.min(
      height * 0.6,
      Math.max(
        TOP + 50,
        mean(
          outputs.filter(({ to }) => to === 'main').map(({ from }) => yOf(from)),
          height * 0.4,
        ),
      ),
    ),
  };
  spots.set('main', { place: 'main', x: width, y: meets.y, width: 0, height: 80 });

  // Waters come in beside one another, in the order of where they come from.
  const comingIn = new Map<PlaceId, Connection[]>();
  for (const connection of all) comingIn.set(connection.to, [...(comingIn.get(connection.to) ?? []), connection]);
  for (const list of comingIn.values()) list.sort((a, b) => yOf(a.from) - yOf(b.from));
  const stretches = all.map((connection): Stretch => {
    const from = spots.get(connection.from)!;
    const list = comingIn.get(connection.to)!;
    const offset = (list.indexOf(connection) - (list.length - 1) / 2) * Math.min(SPREAD, 90 / list.length);
    const isSend = connection.kind === 'send';
    const siblings = all.filter((other) => other.kind === 'send' && other.from === connection.from);
    const shift = isSend ? 20 + 26 * siblings.indexOf(connection) : 0;
    const start = connection.from.startsWith('layer.')
      ? { x: LEFT + springWidth + shift, y: from.y + (isSend ? 5 : 0) }
      : connection.from.startsWith('pool.')
        ? { x: from.x + from.width / 2, y: from.y }
        : connection.from === 'main'
          ? { x: (meets.x + width) / 2, y: meets.y + 8 }
          : { x: from.x + shift, y: from.y + (isSend ? 8 : 0) };
    const to = spots.get(connection.to)!;
    const end =
      connection.to === 'main'
        ? { x: meets.x, y: meets.y + offset }
        : connection.to.startsWith('pool.')
          ? { x: to.x - to.width / 2 + 8, y: to.y + offset / 2 }
          : isPair(connection.to)
            ? { x: to.x - to.width / 2, y: to.y + offset / 3 }
            : { x: to.x, y: to.y + offset };
    return { id: connection.id, connection, from: connection.from, to: connection.to, a: start, b: end };
  });
  stretches.push({ id: 'main', connection: null, from: 'main', to: 'main', a: meets, b: { x: width, y: meets.y } });
  return { spots, stretches, springs: patch.layers.map(({ id }) => `layer.${id}`), meets };
}

const bendOf = ({ a, b }: Stretch): number => Math.max(30, Math.abs(b.x - a.x) * 0.5);

/** The stretch as a path of SVG, moved sideways by some pixels. */
export function pathOf(stretch: Stretch, aside = 0): string {
  const { a, b } = stretch;
  const bend = bendOf(stretch);
  return `M${a.x} ${a.y + aside}C${a.x + bend} ${a.y + aside} ${b.x - bend} ${b.y + aside} ${b.x} ${b.y + aside}`;
}

/** A point of the stretch, 0 at its beginning and 1 at its end. */
export function pointOf(stretch: Stretch, t: number): Point {
  const { a, b } = stretch;
  const bend = bendOf(stretch);
  const u = 1 - t;
  const [w0, w1, w2, w3] = [u * u * u, 3 * u * u * t, 3 * u * t * t, t * t * t];
  return {
    x: w0 * a.x + w1 * (a.x + bend) + w2 * (b.x - bend) + w3 * b.x,
    y: w0 * a.y + w1 * a.y + w2 * b.y + w3 * b.y,
  };
}

/** The stretch on which the effects of a place lie: its output; of main, the way to the mouth. */
export const stretchOfPlace = (layout: RiverLayout, place: PlaceId): Stretch | undefined =>
  layout.stretches.find(
    ({ connection, from }) => from === place && (connection === null || connection.kind === 'output'),
  );

/**
 * Small marks in a row: where each begins, from the beginning of its stretch, and whether there is room for no more than
 * its first letter.
 */
export function inARow(names: readonly string[], room: number): { x: number; isLetter: boolean }[] {
  let x = 8;
  return names.map((name, n) => {
    const left = names.length - n - 1;
    const wide = name.length * 6 + 16;
    const isLetter = x + wide + left * 24 > room;
    const at = x;
    x += (isLetter ? 20 : wide) + 4;
    return { x: at, isLetter };
  });
}

/** Where the marks of a chain of so many effects lie along their stretch. Main's begin close to where waters meet. */
export const placeOfMark = (n: number, count: number): number =>
  count === 1 ? 0.42 : 0.1 + (0.78 * (n + 0.5)) / count;

/**
 * The stretch nearest to a point, and how far along; undefined where none is near. Only those that effects can lie on.
 */
export function nearestStretch(
  layout: RiverLayout,
  point: Point,
  within = 46,
): { stretch: Stretch; t: number } | undefined {
  let best: { stretch: Stretch; t: number; distance: number } | undefined;
  for (const stretch of layout.stretches) {
    if (stretch.connection?.kind === 'send') continue;
    for (let t = 0.02; t < 1; t += 0.04) {
      const at = pointOf(stretch, t);
      const distance = Math.hypot(at.x - point.x, at.y - point.y);
      if (distance <= within && (!best || distance < best.distance)) best = { stretch, t, distance };
    }
  }
  return best;
}

/** The place under a point to which a connection could be taken; undefined: none. */
export function placeUnder(layout: RiverLayout, point: Point): PlaceId | undefined {
  for (const [place, spot] of layout.spots) {
    if (place.startsWith('layer.')) continue;
    if (place === 'main') {
      if (point.x > layout.meets.x - 30 && Math.abs(point.y - layout.meets.y) < 90) return place;
      continue;
    }
    if (
      Math.abs(point.x - spot.x) < Math.max(34, spot.width / 2 + 8) &&
      Math.abs(point.y - spot.y) < Math.max(34, spot.height / 2 + 8)
    )
      return place;
  }
  return undefined;
}

/** Where in a chain something put down at a share of its stretch comes. */
export function orderAt(patch: Patch, place: PlaceId, t: number, without: string): number {
  const chain = (chainOf(patch, place) ?? []).filter(({ id }) => id !== without);
  const at = chain.findIndex((_, n) => placeOfMark(n, chain.length) > t);
  return at < 0 ? chain.length : at;
}
