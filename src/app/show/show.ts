import { nameOfEntry, patchAsPlayed, setlistOf, stepsOf, type ShowStep } from '../../core/rig/setlist';
import type { Patch, Rig } from '../../core/rig/schema';
import type { Take } from '../../core/music/take';
import { session } from '../sound/session';
import { notice, store } from '../document/store';
import { pageTurner } from './pageTurner';
import { showSlice } from './showSlice';
import { small } from '../document/storage/small';

const stepKey = (rigId: string): string => `wavicle-step-${rigId}`;
const known = new WeakMap<Rig, ShowStep[]>();

/** The steps of the setlist of the next show; the same list for the same rig. */
export function stepsOfShow(rig: Rig): ShowStep[] {
  let steps = known.get(rig);
  if (!steps) known.set(rig, (steps = stepsOf(rig, setlistOf(rig))));
  return steps;
}

/**
 * Where the show is: the place of its step, as it was chosen or kept; else that of the patch in view; else the first.
 * −1 where there is no step.
 */
export function placeInShow(rig: Rig, stepId: string | null): number {
  const steps = stepsOfShow(rig);
  const at = steps.findIndex(({ id }) => id === stepId);
  if (at >= 0 || steps.length === 0) return at;
  // Its entry was edited: the song goes on from its beginning.
  const sameEntry = steps.findIndex(({ entry }) => entry.id === stepId?.replace(/\.\d+$/, ''));
  return sameEntry >= 0
    ? sameEntry
    : Math.max(
        0,
        steps.findIndex(({ patch }) => patch !== null && patch.id === session.shownPatchId),
      );
}

/** The step that was in view last in this browser. */
export const keptStep = (rigId: string): string | null => small.get(stepKey(rigId));

/** What plays at a place: the patch of its step, or in a pause that of the last step before it that has one. */
export function playedAt(rig: Rig, place: number): { patch: Patch; step: ShowStep } | undefined {
  const steps = stepsOfShow(rig);
  for (let at = Math.min(place, steps.length - 1); at >= 0; at--) {
    const { patch, entry } = steps[at];
    if (patch) return { patch: patchAsPlayed(patch, entry), step: steps[at] };
  }
  const step = steps.find(({ patch }) => patch !== null);
  return step && { patch: patchAsPlayed(step.patch!, step.entry), step };
}

/** What plays on Stage: a patch that was asked for although the show does not have it, else that of the step. */
export function playsOnStage(rig: Rig, place: number, asideId: string | null): Patch | undefined {
  return rig.patches.find(({ id }) => id === asideId) ?? (place >= 0 ? playedAt(rig, place)?.patch : undefined);
}

/** The patches after and before a place, as they would be played: what is made ready. */
export function neighboursOf(rig: Rig, place: number): Patch[] {
  const steps = stepsOfShow(rig);
  const after = steps.slice(place + 1).find(({ patch }) => patch !== null);
  const before = steps
    .slice(0, Math.max(0, place))
    .reverse()
    .find(({ patch }) => patch !== null);
  return [after, before].flatMap((step) => (step ? [patchAsPlayed(step.patch!, step.entry)] : []));
}

/** As controllers print them, from 1. */
const programAt = (place: number): string => `Program change ${place + 1}`;
const countOf = (which: 'setlist' | 'patches', count: number): string =>
  which === 'setlist'
    ? `the setlist has ${count} ${count === 1 ? 'step' : 'steps'}`
    : `the rig has ${count} ${count === 1 ? 'patch' : 'patches'}`;
const tell = (text: string): void => void store.dispatch(notice('info', text, 'program'));

/** Goes through the show. The patch is handed to the engine before the page draws anything: the next key plays it. */
class Show {
  /** Of two machines in step this one takes over. Set by whoever knows the other. */
  takeOver: () => void = () => undefined;
  /** Opens a place of the application; set by whoever knows the way. */
  navigate: (path: string) => void = () => undefined;
  /** When the last change was asked for, in ms of the page's clock, and how long handing it over took. */
  lastSwitch = { at: 0, ms: 0 };

  constructor() {
    session.onAction = (target) => this.act(target);
    session.onChoice = (which, place) => {
      const rig = store.getState().rig.rig;
      const there = rig && (which === 'setlist' ? stepsOfShow(rig) : rig.patches).length;
      if (rig && place >= there!) tell(`${programAt(place)} chose nothing: ${countOf(which, there!)}.`);
      else if (which === 'setlist') this.goTo(place);
      else this.goToPatch(rig?.patches[place]?.id);
    };
    session.onUnchosen = (program, channel) => {
      const controllers = store.getState().rig.rig?.controllers;
      // A layer that picks a sound of its list by it has a use for it.
      const isHeard = session.shown?.layers.some(({ receive, list }) => receive.program && list.length > 1) ?? false;
      if (!controllers || isHeard) return;
      tell(
        controllers.programs === 'off'
          ? `${programAt(program)} came in and chose nothing: program changes are off (Stage, “Going through the show”).`
          : `${programAt(program)} came in on channel ${channel} and chose nothing: the rig listens on channel ${controllers.programChannel}.`,
      );
    };
    session.onTakeProgram = (program) => {
      if (this.walking) this.goTo(program);
    };
  }

  private get place(): number {
    const {
      rig: { rig },
      show: { stepId },
    } = store.getState();
    return rig ? placeInShow(rig, stepId) : -1;
  }

  next(): void {
    this.goTo(this.place + 1);
  }
  previous(): void {
    this.goTo(this.place - 1);
  }

  act(target: string): void {
    if (target === 'show.lead') this.takeOver();
    else if (target === 'show.next') this.next();
    else if (target === 'show.previous') this.previous();
    else if (target === 'show.silence') session.panic();
    else if (target === 'show.page') pageTurner.turn(1);
    else if (target === 'show.page.back') pageTurner.turn(-1);
    else if (target.startsWith('show.step.')) this.goTo(Number(target.slice(10)) - 1);
    else if (target.startsWith('patch.')) this.goToPatch(target.slice(6));
  }

  /** Goes to a step by its place; one that is not there changes nothing. */
  goTo(place: number): void {
    const {
      rig: { rig, ledBy },
      show: { onStage },
    } = store.getState();
    const step = rig ? stepsOfShow(rig)[place] : undefined;
    // Where another machine leads, it goes through the show.
    if (!rig || !step || ledBy) return;
    const began = performance.now();
    if (onStage) {
      const played = playedAt(rig, place);
      if (played) session.show(rig, played.patch);
      session.programs.expect(neighboursOf(rig, place));
    }
    this.lastSwitch = { at: began, ms: performance.now() - began };
    store.dispatch(showSlice.actions.stepSet(step.id));
    small.set(stepKey(rig.id), step.id);
    if (!onStage && step.patch) this.navigate(step.patch.id);
  }

  /** Goes to a patch: to its nearest step from here on, around the end, where the show has it. */
  goToPatch(patchId: string | undefined): void {
    const {
      rig: { rig, ledBy },
      show: { onStage },
    } = store.getState();
    if (ledBy || !rig || patchId === undefined || !rig.patches.some(({ id }) => id === patchId)) return;
    const steps = stepsOfShow(rig);
    const { place } = this;
    const at = steps.map((_, n) => (place + 1 + n) % steps.length).find((n) => steps[n].patch?.id === patchId);
    if (at !== undefined) this.goTo(at);
    else if (!onStage) this.navigate(patchId);
    else {
      session.show(
        rig,
        rig.patches.find(({ id }) => id === patchId)!,
      );
      store.dispatch(showSlice.actions.asideSet(patchId));
    }
  }

  // The walk through the whole show

  walking = false;
  private looped = true;

  /** Plays a take with program changes, which go through the setlist, or ends it. */
  async walk(take: Take): Promise<void> {
    await session.audio.start();
    if (this.walking) return this.endWalk();
    this.walking = true;
    this.looped = session.takes.looped;
    session.takes.load(take);
    session.takes.setLooped(false);
    const stop = session.takes.subscribe(() => {
      if (!session.takes.playing) {
        stop();
        this.endWalk();
      }
    });
    session.play({ type: 'position', quarters: 0 });
    session.takes.play();
    session.tell();
  }

  private endWalk(): void {
    if (!this.walking) return;
    this.walking = false;
    session.takes.stop();
    session.takes.setLooped(this.looped);
    session.tell();
  }
}

export const show = new Show();

/** How a step is named in the show, with the patch of a song after it. */
export const titleOfStep = (rig: Rig, { entry, patch }: ShowStep): { title: string; song: string } =>
  patch
    ? {
        title: patch.name,
        song: entry.kind === 'song' ? entry.name : entry.name && entry.name !== patch.name ? entry.name : '',
      }
    : { title: nameOfEntry(rig, entry), song: '' };
