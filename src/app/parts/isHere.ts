import type { SyntheticEvent } from 'react';

/**
 * Whether an event happened inside an element, and not in a menu or panel that was opened from it: those stand
 * elsewhere on the page, yet what happens in them is told to the element as well.
 */
export const isHere = (event: SyntheticEvent): boolean => event.currentTarget.contains(event.target as Node);
