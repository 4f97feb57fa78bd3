import { transposePage } from '../../core/formats/chordPro';
import { whatItMoves } from '../../core/rig/hands';
import { notesOfStep, setlistOf } from '../../core/rig/setlist';
import type { Macro, Patch, Rig } from '../../core/rig/schema';
import type { StageState } from '../../core/remote/messages';
import { padView } from './padView';
import { placeInShow, playedAt, stepsOfShow, titleOfStep } from './show';
import { MARK_COLOURS } from '../../core/rig/limits';

/** What is drawn of a macro on Stage, here and on paired devices. */
export const macroView = (patch: Patch, macro: Macro): StageState['macros'][number] => ({
  number: macro.number,
  name: macro.name || `macro ${macro.number}`,
  words: whatItMoves(patch, `macro.${macro.number}`),
  style: macro.style,
  colour: MARK_COLOURS[(macro.number - 1) % MARK_COLOURS.length],
});

/** The show as a paired device sees it; undefined where there is no step. */
export function stageState(rig: Rig, stepId: string | null, shown: Patch | null): StageState | undefined {
  const steps = stepsOfShow(rig);
  const place = placeInShow(rig, stepId);
  const step = steps[place];
  const patch = shown ?? playedAt(rig, place)?.patch;
  if (!step || !patch) return undefined;
  const titles = steps.map((each) => ({ ...titleOfStep(rig, each), pause: each.patch === null }));
  // A patch that the show does not have goes by its own name.
  const here =
    step.patch?.id === patch.id || step.patch === null ? titles[place] : { title: patch.name, song: '', pause: false };
  return {
    setlist: setlistOf(rig).name,
    place,
    title: here.title,
    song: here.song,
    notes: notesOfStep(step).slice(0, 600),
    page: here === titles[place] ? transposePage(step.entry.page, step.entry.transpose) : '',
    next: titles[place + 1]?.title ?? '',
    tempo: patch.tempo,
    transpose: step.entry.transpose,
    steps: titles,
    macros: patch.macros.map((macro) => macroView(patch, macro)),
    pads: patch.xyPads.map((pad) => padView(patch, pad)),
  };
}
