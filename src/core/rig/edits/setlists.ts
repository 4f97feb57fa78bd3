import { newEntry, newSetlist } from '../defaults';
import { copyName, freeId, heldName } from '../names';
import type { Entry, Rig, Setlist } from '../schema';
import { LONGEST_PAGE, MOST_ENTRIES, MOST_SETLISTS, MOST_SONG_PATCHES } from '../limits';

/** Edits of setlists: pure functions. What cannot be leaves the rig as it is. */

const update = (rig: Rig, id: string, change: (setlist: Setlist) => Setlist): Rig => ({
  ...rig,
  setlists: rig.setlists.map((each) => (each.id === id ? change(each) : each)),
});
const updateEntries = (rig: Rig, id: string, change: (entries: readonly Entry[]) => readonly Entry[]): Rig =>
  update(rig, id, (setlist) => ({ ...setlist, entries: [...change(setlist.entries)] }));
const freshId = (rig: Rig): string =>
  freeId(
    'entry',
    rig.setlists.flatMap(({ entries }) => entries),
  );
const moved = <T>(list: readonly T[], from: number, to: number): T[] => {
  const left = list.filter((_, i) => i !== from);
  const at = Math.max(0, Math.min(left.length, to));
  return [...left.slice(0, at), list[from], ...left.slice(at)];
};

/** Chooses the setlist of the next show. */
export const chooseSetlist = (rig: Rig, id: string): Rig =>
  rig.setlists.some((each) => each.id === id) ? { ...rig, setlist: id } : rig;

/** One more setlist, empty or with every patch of the rig in order, which becomes that of the next show. */
export function addSetlist(rig: Rig, name: string, full = false): Rig {
  if (rig.setlists.length >= MOST_SETLISTS || heldName(name) === '') return rig;
  const id = freeId('show', rig.setlists);
  const entries = full
    ? rig.patches.slice(0, MOST_ENTRIES).map((patch, n) => newEntry(`${id}-${n + 1}`, 'patch', [patch.id]))
    : [];
  return { ...rig, setlists: [...rig.setlists, newSetlist(id, heldName(name), entries)], setlist: id };
}

export function duplicateSetlist(rig: Rig, id: string): Rig {
  const there = rig.setlists.find((each) => each.id === id);
  if (!there || rig.setlists.length >= MOST_SETLISTS) return rig;
  const copy = { ...there, id: freeId('show', rig.setlists), name: copyName(there.name) };
  return {
    ...rig,
    setlists: rig.setlists.flatMap((each) => (each === there ? [each, copy] : [each])),
    setlist: copy.id,
  };
}

/** Without a setlist; its patches stay in the rig. The next one becomes that of the show. */
export function deleteSetlist(rig: Rig, id: string): Rig {
  const setlists = rig.setlists.filter((each) => each.id !== id);
  return { ...rig, setlists, setlist: rig.setlist === id ? (setlists[0]?.id ?? null) : rig.setlist };
}

export const renameSetlist = (rig: Rig, id: string, name: string): Rig =>
  heldName(name) === '' ? rig : update(rig, id, (setlist) => ({ ...setlist, name: heldName(name) }));
export const noteSetlist = (rig: Rig, id: string, notes: string): Rig =>
  update(rig, id, (setlist) => ({ ...setlist, notes: notes.slice(0, 2000) }));

/** A patch, a song of several or a pause at a place (at the end where none is given). */
export function addEntry(
  rig: Rig,
  id: string,
  kind: Entry['kind'],
  patches: readonly string[],
  name = '',
  at = Infinity,
): Rig {
  const fits =
    kind === 'pause'
      ? patches.length === 0
      : kind === 'patch'
        ? patches.length === 1
        : patches.length > 0 && patches.length <= MOST_SONG_PATCHES;
  const there = new Set(rig.patches.map((patch) => patch.id));
  if (!fits || patches.some((patch) => !there.has(patch))) return rig;
  const entry = { ...newEntry(freshId(rig), kind, patches), name: heldName(name), minutes: kind === 'pause' ? 15 : 0 };
  return updateEntries(rig, id, (entries) =>
    entries.length >= MOST_ENTRIES
      ? entries
      : [...entries.slice(0, at), entry, ...entries.slice(Math.min(at, entries.length))],
  );
}

export const moveEntry = (rig: Rig, id: string, from: number, to: number): Rig =>
  updateEntries(rig, id, (entries) => (from >= 0 && from < entries.length ? moved(entries, from, to) : entries));
export const deleteEntry = (rig: Rig, id: string, entryId: string): Rig =>
  updateEntries(rig, id, (entries) => entries.filter((entry) => entry.id !== entryId));

/** Name, notes, tempo, transposition and length of an entry; brought into their ranges. */
export function updateEntry(
  rig: Rig,
  id: string,
  entryId: string,
  to: Partial<Pick<Entry, 'name' | 'notes' | 'page' | 'tempo' | 'transpose' | 'minutes'>>,
): Rig {
  const held = {
    ...to,
    ...(to.name === undefined ? {} : { name: heldName(to.name) }),
    ...(to.notes === undefined ? {} : { notes: to.notes.slice(0, 2000) }),
    ...(to.page === undefined ? {} : { page: to.page.slice(0, LONGEST_PAGE) }),
    ...(to.tempo === undefined || to.tempo === null ? {} : { tempo: Math.max(20, Math.min(400, to.tempo)) }),
    ...(to.transpose === undefined ? {} : { transpose: Math.round(Math.max(-12, Math.min(12, to.transpose))) }),
    ...(to.minutes === undefined ? {} : { minutes: Math.max(0, Math.min(600, to.minutes)) }),
  };
  return updateEntries(rig, id, (entries) =>
    entries.map((entry) => (entry.id === entryId ? { ...entry, ...held } : entry)),
  );
}

/** One more patch in an entry: a patch alone becomes a song. */
export function addToSong(rig: Rig, id: string, entryId: string, patchId: string): Rig {
  const name = rig.patches.find((patch) => patch.id === patchId)?.name;
  return name === undefined
    ? rig
    : updateEntries(rig, id, (entries) =>
        entries.map((entry) =>
          entry.id !== entryId || entry.kind === 'pause' || entry.patches.length >= MOST_SONG_PATCHES
            ? entry
            : {
                ...entry,
                kind: 'song',
                name: entry.name || (rig.patches.find((patch) => patch.id === entry.patches[0])?.name ?? ''),
                patches: [...entry.patches, patchId],
              },
        ),
      );
}

/** A patch of a song leaves it; the last one takes the song with it. */
export const takeFromSong = (rig: Rig, id: string, entryId: string, at: number): Rig =>
  updateEntries(rig, id, (entries) =>
    entries.flatMap((entry) => {
      if (entry.id !== entryId) return [entry];
      const patches = entry.patches.filter((_, i) => i !== at);
      return patches.length === 0 ? [] : [{ ...entry, patches }];
    }),
  );

export const moveInSong = (rig: Rig, id: string, entryId: string, from: number, to: number): Rig =>
  updateEntries(rig, id, (entries) =>
    entries.map((entry) =>
      entry.id === entryId && from >= 0 && from < entry.patches.length
        ? { ...entry, patches: moved(entry.patches, from, to) }
        : entry,
    ),
  );
