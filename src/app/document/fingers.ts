/** Pointers that are down now: two of them are two fingers, or a finger and a mouse. */
const down = new Set<number>();

/** Whether hands move two things at once. */
export const severalFingers = (): boolean => down.size > 1;

if (typeof window !== 'undefined') {
  window.addEventListener('pointerdown', ({ pointerId }) => down.add(pointerId), true);
  for (const type of ['pointerup', 'pointercancel'] as const)
    window.addEventListener(type, ({ pointerId }) => down.delete(pointerId), true);
  // Whatever was down when the page lost sight of it is not known to be down any more.
  window.addEventListener('blur', () => down.clear());
}
