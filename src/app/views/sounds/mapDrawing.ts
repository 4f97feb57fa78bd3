import type { Zone } from '../../../core/rig/schema';
import { FIRST_KEY, LAST_KEY, type KeyScale } from '../../parts/keyScale';

export interface Box {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}
export interface MapSpace {
  scale: KeyScale;
  height: number;
}

export const yOfVelocity = (velocity: number, height: number): number => height * (1 - (velocity - 1) / 127);
export const velocityAtY = (y: number, height: number): number =>
  Math.min(127, Math.max(1, Math.ceil((1 - y / height) * 127)));

/** The water of a zone on the map, as far as it reaches at all. */
export const boxOf = ({ key, velocity }: Zone, { scale, height }: MapSpace): Box => ({
  x0: scale.left(key.low),
  x1: scale.left(key.high + 1),
  y0: yOfVelocity(velocity.high + 1, height),
  y1: yOfVelocity(velocity.low, height),
});

/** Where it is at full depth. */
export function depthOf(zone: Zone, space: MapSpace): Box {
  const { key, velocity } = zone;
  const { scale, height } = space;
  const box = boxOf(zone, space);
  return {
    x0: key.fadeIn > 0 ? scale.middle(key.low + key.fadeIn) : box.x0,
    x1: key.fadeOut > 0 ? scale.middle(key.high - key.fadeOut) : box.x1,
    y1: velocity.fadeIn > 0 ? yOfVelocity(velocity.low + velocity.fadeIn + 0.5, height) : box.y1,
    y0: velocity.fadeOut > 0 ? yOfVelocity(velocity.high - velocity.fadeOut + 0.5, height) : box.y0,
  };
}

/** The paper of a map over the keys, with a line at every C. */
export function drawGround(
  context: CanvasRenderingContext2D,
  { scale, height }: MapSpace,
  tall: number,
  sheet: string,
  line: string,
): void {
  context.fillStyle = sheet;
  context.fillRect(0, 0, scale.width, tall);
  context.strokeStyle = line;
  context.lineWidth = 0.8;
  context.beginPath();
  for (let key = FIRST_KEY; key <= LAST_KEY; key++) {
    if (key % 12 !== 0) continue;
    context.moveTo(scale.left(key), 0);
    context.lineTo(scale.left(key), height);
  }
  context.stroke();
}

/** A pool with a shore: bays at its corners instead of right angles. */
function pool(context: CanvasRenderingContext2D, { x0, y0, x1, y1 }: Box, inset: number): void {
  const width = x1 - x0 - 2 * inset;
  const height = y1 - y0 - 2 * inset;
  context.beginPath();
  if (width <= 0 || height <= 0) return;
  // Too small for bays: a plain outline is drawn much faster.
  if (width < 7 || height < 7) context.rect(x0 + inset, y0 + inset, width, height);
  else context.roundRect(x0 + inset, y0 + inset, width, height, Math.min(7, width / 3, height / 3));
}

export interface PoolLook {
  colour: string;
  ink: string;
  /** 0…1: the harder the strikes, the deeper the water. */ depth: number;
  chosen: boolean;
  hovered: boolean;
  root: number;
}

export function drawZone(
  context: CanvasRenderingContext2D,
  zone: Zone,
  space: MapSpace,
  { colour, ink, depth, chosen, hovered, root }: PoolLook,
): void {
  const box = boxOf(zone, space);
  const full = depthOf(zone, space);
  const faded = full.x0 !== box.x0 || full.x1 !== box.x1 || full.y0 !== box.y0 || full.y1 !== box.y1;
  const small = box.x1 - box.x0 < 14 || box.y1 - box.y0 < 14;
  context.fillStyle = context.strokeStyle = colour;
  pool(context, box, 0.6);
  context.globalAlpha = (faded ? 0.1 : 0.14 + 0.24 * depth) + (chosen ? 0.22 : 0) + (hovered ? 0.08 : 0);
  context.fill();
  context.globalAlpha = chosen ? 1 : 0.5;
  context.lineWidth = chosen ? 2 : 0.9;
  context.stroke();
  if (faded && full.x1 > full.x0 && full.y1 > full.y0) {
    // Shallows on the way to full depth.
    for (const share of [0.5, 1]) {
      pool(
        context,
        {
          x0: box.x0 + (full.x0 - box.x0) * share,
          x1: box.x1 + (full.x1 - box.x1) * share,
          y0: box.y0 + (full.y0 - box.y0) * share,
          y1: box.y1 + (full.y1 - box.y1) * share,
        },
        0.6,
      );
      context.globalAlpha = 0.07 + 0.12 * depth;
      context.fill();
      context.globalAlpha = 0.55;
      context.lineWidth = 0.8;
      context.setLineDash([2, 2]);
      context.stroke();
    }
    context.setLineDash([]);
  } else if (!small && (chosen || hovered)) {
    context.lineWidth = 0.7;
    for (const [inset, alpha] of [
      [3.5, 0.5],
      [7, 0.25],
    ] as const) {
      pool(context, box, inset);
      context.globalAlpha = alpha;
      context.stroke();
    }
  }
  // A buoy at the root, where the sample has its own pitch.
  const x = space.scale.middle(root);
  if (x > box.x0 && x < box.x1 && space.scale.keyWidth > 3) {
    context.globalAlpha = chosen ? 1 : 0.8;
    context.fillStyle = chosen ? ink : colour;
    context.beginPath();
    // Alternates lie in one place: their buoys stand one below another.
    context.arc(
      x,
      (box.y0 + box.y1) / 2 + Math.min(6, (box.y1 - box.y0) / 5) * ((zone.alternate ?? 0) % 8),
      Math.min(2.4, (box.y1 - box.y0) / 3),
      0,
      2 * Math.PI,
    );
    context.fill();
  }
  context.globalAlpha = 1;
}

/**
 * Along the foot of the map: keys that are recorded, and how far others are stretched; beyond a fifth it is told apart.
 */
export function drawStretches(
  context: CanvasRenderingContext2D,
  by: readonly (number | null)[],
  { scale, height }: MapSpace,
  { ink, colour, alarm }: { ink: string; colour: string; alarm: string },
): void {
  for (let key = FIRST_KEY; key <= LAST_KEY; key++) {
    const semitones = by[key];
    if (semitones === null) continue;
    const recorded = semitones < 0.5;
    context.fillStyle = recorded ? ink : semitones > FAR ? alarm : colour;
    context.globalAlpha = recorded ? 1 : 0.3 + 0.5 * Math.min(1, semitones / FAR);
    const tall = recorded ? 5 : Math.min(5, 1 + semitones * 0.6);
    context.fillRect(
      scale.left(key) + 0.5,
      height - tall,
      Math.max(1, scale.left(key + 1) - scale.left(key) - 1),
      tall,
    );
  }
  context.globalAlpha = 1;
}
const FAR = 7;

/** Rings that spread where a zone answered. */
export function drawAnswer(
  context: CanvasRenderingContext2D,
  zone: Zone,
  space: MapSpace,
  key: number,
  age: number,
  colour: string,
): void {
  const box = boxOf(zone, space);
  context.strokeStyle = context.fillStyle = colour;
  pool(context, box, 0);
  context.globalAlpha = 0.5 * (1 - age);
  context.fill();
  context.globalAlpha = 1 - age;
  context.lineWidth = 2;
  context.beginPath();
  context.arc(space.scale.middle(key), (box.y0 + box.y1) / 2, 4 + 12 * age, 0, 2 * Math.PI);
  context.stroke();
  context.globalAlpha = 1;
}

/** Whether a point lies inside a drawn line that closes itself. */
export function isInside(points: readonly (readonly [number, number])[], x: number, y: number): boolean {
  let inside = false;
  for (let i = 0, j = points.length - 1; i < points.length; j = i++) {
    const [xi, yi] = points[i];
    const [xj, yj] = points[j];
    if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) inside = !inside;
  }
  return inside;
}
