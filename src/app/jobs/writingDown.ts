import { writeTake } from '../../core/formats/midiFile';
import type { Take } from '../../core/music/take';
import { addTake } from '../../core/rig/edits/takes';
import { partOf } from '../../core/rig/takes';
import type { Patch } from '../../core/rig/schema';
import { download, working } from './working';
import { session } from '../sound/session';
import { editPatch, newId, notice, stepBack, store } from '../document/store';
import { listeningSlice } from '../listening/listeningSlice';

/**
 * What the scale, the chord and the arpeggio of a layer make of the take that is loaded: notes as they are heard;
 * undefined where nothing is loaded.
 */
async function writtenOf(layerId: string): Promise<Take | undefined> {
  const { take } = session.takes;
  const place = session.program?.layers.findIndex(({ id }) => id === layerId) ?? -1;
  if (!take || !session.program || place < 0) return undefined;
  // It brings an engine with it, which the page needs for nothing else.
  const { writeDown } = await import('../../core/engine/offline/writeDown');
  return writeDown(session.program, place, take);
}
const notesIn = (take: Take): string => {
  const count = take.events.filter(({ event }) => event.type === 'noteOn').length;
  return `${count} ${count === 1 ? 'note' : 'notes'}`;
};

/** Writes down what a layer makes of the take, as a MIDI file. */
export async function exportWritten(patch: Patch, layerId: string): Promise<void> {
  const written = await writtenOf(layerId);
  if (!written) return;
  const { name } = patch.layers.find(({ id }) => id === layerId)!;
  await working('Writing it down', async () => {
    await Promise.resolve();
    download(writeTake({ ...written, name }, patch.tempo), `${name}.mid`, 'audio/midi');
  });
  store.dispatch(notice('info', `“${name}” made ${notesIn(written)} of the take.`));
}

/**
 * The same as a take of the patch, to be edited like any other: its notes go to the layer as they are, past what made
 * them.
 */
export async function keepWritten(patch: Patch, layerId: string): Promise<void> {
  const written = await writtenOf(layerId);
  if (!written) return;
  const { name } = patch.layers.find(({ id }) => id === layerId)!;
  const id = newId();
  const part = { ...partOf(written, patch.tempo, newId()), name, plays: `notes.${layerId}` };
  if (part.notes.length === 0)
    return void store.dispatch(notice('info', `“${name}” made no notes of the take that is loaded.`, 'written'));
  const quarters = Math.max(
    1,
    Math.ceil(Math.max(written.seconds * (patch.tempo / 60), ...part.notes.map(([at, length]) => at + length)) - 0.01),
  );
  let kept = false;
  store.dispatch(
    editPatch(patch.id, (old) => {
      const next = addTake(old, {
        id,
        name: `${name}, written down`.slice(0, 200),
        quarters,
        tempo: patch.tempo,
        parts: [part],
      });
      kept = next !== old;
      return next;
    }),
  );
  if (!kept) return void store.dispatch(notice('info', 'A patch has thirty-two takes at the most.', 'written'));
  store.dispatch(listeningSlice.actions.takeChosen({ patchId: patch.id, takeId: id }));
  store.dispatch(
    notice(
      'info',
      `${notesIn(written)} are a take of this patch now: “take and backing” in Mix edits them.`,
      'written',
      { label: 'Take it away', run: () => void store.dispatch(stepBack('undone')) },
    ),
  );
}
