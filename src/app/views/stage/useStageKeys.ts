import { useEffect, useRef, useState } from 'react';
import { session } from '../../sound/session';
import { rigFile } from '../../jobs/rigFile';
import { stepBack, store } from '../../document/store';
import { toldSlice } from '../../document/toldSlice';
import { deskSlice } from '../../hands/deskSlice';
import { showSlice } from '../../show/showSlice';
import { pageTurner } from '../../show/pageTurner';
import { show } from '../../show/show';
import { focusGets, focusOf } from '../../hands/keys';
import { typing } from '../../hands/typingKeys';

const TWICE_MS = 600;
/** Digits that were typed go to their step after so long, or with Enter at once. */
const NUMBER_MS = 1200;

/** Ends learning, closes what is open; the second of two in a row is silence. */
function escape(event: KeyboardEvent, again: boolean): void {
  if (session.hearing.isLearning) {
    session.hearing.endLearning();
    store.dispatch(toldSlice.actions.noticeClosed('learn'));
  }
  if (again) session.panic();
  else if (store.getState().show.stagePanel && focusOf(event.target).field !== 'touched')
    store.dispatch(showSlice.actions.stagePanelOpened(null));
}

/** What a key does with Control held. */
function withControl(event: KeyboardEvent): (() => void) | undefined {
  const key = event.key.toLowerCase();
  if (key === 's') return () => void rigFile.save(event.shiftKey);
  // Nothing is undone by accident either.
  const mayUndo = !store.getState().show.stageLocked && focusOf(event.target).field !== 'touched';
  if (!mayUndo || !/^[zy]$/.test(key)) return undefined;
  return () => void store.dispatch(stepBack(key === 'y' || event.shiftKey ? 'redone' : 'undone'));
}

/** To the next step or the one before, by the keys of a page-turner. */
function turnOf(event: KeyboardEvent): (() => void) | undefined {
  if (event.key === 'PageDown') return () => show.next();
  if (event.key === 'PageUp') return () => show.previous();
  // A control that was reached by Tab has the arrows; fingers leave the focus where it was. What opens and closes, and
  // lists in order, have theirs too.
  const hasArrows =
    event.target instanceof HTMLElement &&
    event.target.matches(':focus-visible') &&
    event.target.closest('[role="slider"], [role="application"], select, [aria-roledescription="sortable"]') !== null;
  if (hasArrows) return undefined;
  if (event.key === 'ArrowRight' || event.key === 'ArrowDown') return () => show.next();
  if (event.key === 'ArrowLeft' || event.key === 'ArrowUp') return () => show.previous();
  return undefined;
}

const toggleTyping = () => store.dispatch(deskSlice.actions.typingPlaysSet(!store.getState().desk.typingPlays));

/** What a key does by itself. */
const PLAIN: Record<string, () => void> = {
  l: () =>
    store.dispatch(showSlice.actions.stagePanelOpened(store.getState().show.stagePanel === 'list' ? null : 'list')),
  f: () => toggleFullScreen(),
  t: () => session.input.tap(),
  n: () => pageTurner.turn(1),
  b: () => pageTurner.turn(-1),
  p: toggleTyping,
  F8: toggleTyping,
  '?': () => store.dispatch(deskSlice.actions.sheetOpened(store.getState().desk.sheet === 'help' ? null : 'help')),
};

/** Keys of a page-turner, and what else works on Stage wherever the focus is. Gives the number that is being typed. */
export function useStageKeys(): string {
  const [typed, setTyped] = useState('');
  const digits = useRef('');
  useEffect(() => {
    let lastEscape = -Infinity;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const go = () => {
      clearTimeout(timer);
      const place = Number(digits.current) - 1;
      digits.current = '';
      setTyped('');
      if (place >= 0) show.goTo(place);
    };
    const down = (event: KeyboardEvent) => {
      const done = (act: () => void) => {
        event.preventDefault();
        event.stopPropagation();
        act();
      };
      if (event.key === 'Escape') {
        escape(event, event.timeStamp - lastEscape < TWICE_MS);
        lastEscape = event.timeStamp;
        return;
      }
      const control = event.ctrlKey || event.metaKey;
      if (control) {
        const act = withControl(event);
        if (act) return done(act);
      }
      if (control || event.altKey || focusGets({ key: event.key, control, alt: event.altKey }, focusOf(event.target)))
        return;
      const turn = turnOf(event);
      if (turn) return done(turn);
      if (store.getState().desk.typingPlays && !event.repeat && typing.press(event.code)) return event.preventDefault();
      if (/^\d$/.test(event.key) && !event.repeat) {
        return done(() => {
          digits.current = `${digits.current}${event.key}`.slice(-3);
          setTyped(digits.current);
          clearTimeout(timer);
          timer = setTimeout(go, NUMBER_MS);
        });
      }
      if (event.key === 'Enter' && digits.current !== '') return done(go);
      if (event.repeat) return;
      // What scrolls a page or plays a take elsewhere must not surprise here.
      if (event.key === ' ' && !(event.target instanceof HTMLButtonElement)) return done(() => undefined);
      const act = PLAIN[event.key] as (() => void) | undefined;
      if (act) done(act);
    };
    const up = (event: KeyboardEvent) => typing.lift(event.code);
    const blur = () => typing.liftAll();
    window.addEventListener('keydown', down, true);
    window.addEventListener('keyup', up, true);
    window.addEventListener('blur', blur);
    return () => {
      clearTimeout(timer);
      window.removeEventListener('keydown', down, true);
      window.removeEventListener('keyup', up, true);
      window.removeEventListener('blur', blur);
    };
  }, []);
  return typed;
}

export function toggleFullScreen(): void {
  if (document.fullscreenElement) void document.exitFullscreen();
  else void document.documentElement.requestFullscreen?.().catch(() => undefined);
}
