import type { Zone } from '../../../core/rig/schema';
import { themeColour } from '../../parts/canvas';
import { FIRST_KEY, LAST_KEY, type KeyScale } from '../../parts/keyScale';
import { boxOf, depthOf, yOfVelocity, type MapSpace } from './mapDrawing';

export type Part = 'low' | 'high' | 'fadeIn' | 'fadeOut';

export const RAIL = 12;

export interface Handle {
  x: number;
  y: number;
  edge: 'key' | 'velocity';
  part: Part;
}

/** Where the fades of a zone are pulled: dots on the shore of its full depth. */
export function handlesOf(zone: Zone, space: MapSpace): Handle[] {
  const box = boxOf(zone, space);
  const full = depthOf(zone, space);
  if (box.x1 - box.x0 < 26 && box.y1 - box.y0 < 26) return [];
  const midX = (box.x0 + box.x1) / 2;
  const midY = (box.y0 + box.y1) / 2;
  const wide = box.x1 - box.x0 >= 26;
  const tall = box.y1 - box.y0 >= 26;
  return [
    ...(wide
      ? ([
          { x: Math.max(full.x0, box.x0) + 9, y: midY, edge: 'key', part: 'fadeIn' },
          { x: full.x1 - 9, y: midY, edge: 'key', part: 'fadeOut' },
        ] as const)
      : []),
    ...(tall
      ? ([
          { x: midX, y: full.y1 - 9, edge: 'velocity', part: 'fadeIn' },
          { x: midX, y: full.y0 + 9, edge: 'velocity', part: 'fadeOut' },
        ] as const)
      : []),
  ];
}

export function drawHandles(context: CanvasRenderingContext2D, handles: readonly Handle[], ink: string): void {
  context.strokeStyle = ink;
  context.fillStyle = themeColour('--sheet');
  context.lineWidth = 1.5;
  for (const { x, y } of handles) {
    context.beginPath();
    context.arc(x, y, 4, 0, 2 * Math.PI);
    context.fill();
    context.stroke();
  }
}

/** Where a click chooses whole columns and rows. */
export function drawRails(context: CanvasRenderingContext2D, scale: KeyScale, width: number, height: number): void {
  context.fillStyle = themeColour('--paper');
  context.globalAlpha = 0.85;
  context.fillRect(0, height - RAIL, width, RAIL);
  context.fillRect(0, 0, RAIL, height - RAIL);
  context.globalAlpha = 1;
  context.strokeStyle = themeColour('--edge');
  context.lineWidth = 0.8;
  context.beginPath();
  for (let key = FIRST_KEY; key <= LAST_KEY; key++) {
    const x = scale.middle(key);
    context.moveTo(x, height - RAIL + (key % 12 === 0 ? 2 : 5));
    context.lineTo(x, height - 3);
  }
  for (let velocity = 8; velocity < 128; velocity += 8) {
    const y = yOfVelocity(velocity, height);
    if (y > height) continue;
    context.moveTo(velocity % 32 === 0 ? 2 : 5, y);
    context.lineTo(RAIL - 3, y);
  }
  context.stroke();
}
