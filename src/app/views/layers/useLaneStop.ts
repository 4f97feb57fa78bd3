import { useLayoutEffect, useRef, useState, type FocusEvent, type KeyboardEvent } from 'react';

const CONTROLS = 'button, input, select, a[href], [role="slider"]';
/** Lanes as they stand, each a stop of the Tab key. */
const LANES = '[data-lane]';

/**
 * A lane is one stop of the Tab key. Up and down go to the next lane, right and Enter into it, to its first control;
 * inside, Tab goes through its controls, left and right from button to button, and Escape comes out
 * again. What is pressed by pointer is inside as well.
 */
export function useLaneStop(onGo: () => void) {
  const lane = useRef<HTMLElement | null>(null);
  const [isInside, setInside] = useState(false);
  // The controls are many and made by others: which of them Tab stops at is set here, for all alike, after each
  // drawing.
  useLayoutEffect(() => {
    for (const control of lane.current?.querySelectorAll<HTMLElement | SVGElement>(CONTROLS) ?? []) {
      if (control.dataset.stop === undefined) control.dataset.stop = control.getAttribute('tabindex') ?? '';
      if (!isInside) control.setAttribute('tabindex', '-1');
      else if (control.dataset.stop === '') control.removeAttribute('tabindex');
      else control.setAttribute('tabindex', control.dataset.stop);
    }
  });
  const controls = () =>
    [...(lane.current?.querySelectorAll<HTMLElement>(CONTROLS) ?? [])].filter(
      (control) => control.dataset.stop !== '-1' && !control.matches(':disabled'),
    );
  const take = (event: KeyboardEvent) => {
    event.preventDefault();
    event.stopPropagation();
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const target = event.target as HTMLElement;
    if (!lane.current?.contains(target) || event.ctrlKey || event.metaKey || event.altKey) return;
    if (target === lane.current) {
      const lanes = [...document.querySelectorAll<HTMLElement>(LANES)];
      const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
      if (by !== undefined) {
        lanes[lanes.indexOf(lane.current) + by]?.focus();
        take(event);
      } else if (event.key === 'ArrowRight' || event.key === 'Enter') {
        onGo();
        controls()[0]?.focus();
        take(event);
      }
      return;
    }
    if (event.key === 'Escape' && !target.matches('input')) return lane.current.focus();
    const by = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (by === undefined || !target.matches('button') || target.matches('[aria-pressed="true"][aria-roledescription]'))
      return;
    const all = controls();
    const next = all[all.indexOf(target) + by];
    if (next) next.focus();
    else if (by < 0) lane.current.focus();
    take(event);
  };
  return {
    lane,
    stop: {
      tabIndex: 0,
      'data-lane': '',
      onKeyDown,
      onFocus: (event: FocusEvent) => {
        if (event.target === lane.current) onGo();
        setInside(event.target !== lane.current && lane.current?.contains(event.target) === true);
      },
      onBlur: (event: FocusEvent) => {
        if (!lane.current?.contains(event.relatedTarget)) setInside(false);
      },
    },
  };
}
