import type { KeyboardEvent } from 'react';

/**
 * For a long list with one tab stop: arrow keys, Home and End go from item (`data-item`) to item, wherever in it the
 * focus is.
 */
export function throughList(event: KeyboardEvent<HTMLElement>): void {
  const items = [...event.currentTarget.querySelectorAll<HTMLElement>('[data-item]')];
  const row = (event.target as HTMLElement).closest('li');
  const at = items.findIndex((item) => item === event.target || (row !== null && row.contains(item)));
  const to = { ArrowDown: at + 1, ArrowUp: at - 1, Home: 0, End: items.length - 1 }[event.key];
  if (at < 0 || to === undefined || !items[to] || (event.target as HTMLElement).closest('[role="menu"]')) return;
  event.preventDefault();
  event.stopPropagation();
  items[to].focus();
}
