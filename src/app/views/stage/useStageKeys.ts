import { useEffect, useRef, useState } from 'react';
import { session } from '../../sound/session';
import { rigFile } from '../../jobs/rigFile';
import { stepBack, store, useAppDispatch } from '../../document/store';
import { toldSlice } from '../../document/toldSlice';
import { deskSlice } from '../../hands/deskSlice';
import { showSlice } from '../../show/showSlice';
import { show } from '../../show/show';
import { focusGets, focusOf } from '../../hands/keys';
import { typing } from '../../hands/typingKeys';

const TWICE_MS = 600;
/** Digits that were typed go to their step after so long, or with Enter at once. */
const NUMBER_MS = 1200;

/** Keys of a page-turner, and what else works on Stage wherever the focus is. Gives the number that is being typed. */
export function useStageKeys(): string {
  const dispatch = useAppDispatch();
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
      const { show: stage, desk } = store.getState();
      if (event.key === 'Escape') {
        if (session.hearing.isLearning) {
          session.hearing.endLearning();
          dispatch(toldSlice.actions.noticeClosed('learn'));
        }
        if (event.timeStamp - lastEscape < TWICE_MS) session.panic();
        else if (stage.stagePanel && focusOf(event.target).field !== 'touched')
          dispatch(showSlice.actions.stagePanelOpened(null));
        lastEscape = event.timeStamp;
        return;
      }
      const control = event.ctrlKey || event.metaKey;
      if (control && event.key.toLowerCase() === 's') return done(() => void rigFile.save(event.shiftKey));
      // Nothing is undone by accident either.
      if (control && !stage.stageLocked && focusOf(event.target).field !== 'touched' && /^[zy]$/i.test(event.key))
        return done(() => dispatch(stepBack(event.key.toLowerCase() === 'y' || event.shiftKey ? 'redone' : 'undone')));
      if (control || event.altKey || focusGets({ key: event.key, control, alt: event.altKey }, focusOf(event.target)))
        return;
      if (event.key === 'PageDown') return done(() => show.next());
      if (event.key === 'PageUp') return done(() => show.previous());
      // A control that was reached by Tab has the arrows; fingers leave the focus where it was. What opens and closes,
      // and lists in order, have theirs too.
      const target =
        event.target instanceof HTMLElement && event.target.matches(':focus-visible')
          ? event.target.closest('[role="slider"], [role="application"], select, [aria-roledescription="sortable"]')
          : null;
      if (!target) {
        if (event.key === 'ArrowRight' || event.key === 'ArrowDown') return done(() => show.next());
        if (event.key === 'ArrowLeft' || event.key === 'ArrowUp') return done(() => show.previous());
      }
      if (desk.typingPlays && !event.repeat && typing.press(event.code)) return event.preventDefault();
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
      switch (event.key) {
        case 'l':
          return done(() => dispatch(showSlice.actions.stagePanelOpened(stage.stagePanel === 'list' ? null : 'list')));
        case 'f':
          return done(toggleFullScreen);
        case 't':
          return done(() => session.input.tap());
        case 'p':
        case 'F8':
          return done(() => dispatch(deskSlice.actions.typingPlaysSet(!desk.typingPlays)));
        case '?':
          return done(() => dispatch(deskSlice.actions.sheetOpened(desk.sheet === 'help' ? null : 'help')));
        // What scrolls a page or plays a take elsewhere must not surprise here.
        case ' ':
          if (!(event.target instanceof HTMLButtonElement)) return done(() => undefined);
      }
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
  }, [dispatch]);
  return typed;
}

export function toggleFullScreen(): void {
  if (document.fullscreenElement) void document.exitFullscreen();
  else void document.documentElement.requestFullscreen?.().catch(() => undefined);
}
