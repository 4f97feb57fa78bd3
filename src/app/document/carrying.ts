import type { DragEvent } from 'react';
import type { Putting } from '../../core/rig/edits/put';

/**
 * Sounds and recordings that a hand carries from a list to a place; what is carried stays in the page, a drag names it
 * by this type.
 */
const TYPE = 'application/x-wavicle-sound';
let hand: Putting | null = null;

/** A drag begins on something that can be put somewhere. */
export function carry(event: DragEvent, thing: Putting): void {
  hand = thing;
  event.dataTransfer.setData(TYPE, thing.name);
  event.dataTransfer.effectAllowed = 'copy';
}

/** Whether a drag over a place carries something of the page: then the place takes it. */
export function mayTake(event: DragEvent): boolean {
  if (!event.dataTransfer.types.includes(TYPE)) return false;
  event.preventDefault();
  event.dataTransfer.dropEffect = 'copy';
  return true;
}

/** What a drop on a place carries of the page; undefined where it carries files, or nothing. The drop ends there. */
export function taken(event: DragEvent): Putting | undefined {
  if (!event.dataTransfer.types.includes(TYPE) || !hand) return undefined;
  event.preventDefault();
  event.stopPropagation();
  const thing = hand;
  hand = null;
  return thing;
}
