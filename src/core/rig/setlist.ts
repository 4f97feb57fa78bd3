import type { Entry, Patch, Rig, Setlist } from './schema';

/**
 * One step of a show: a patch as an entry plays it, or a pause. `at`: which of the patches of its song; `patch` is null
 * in a pause.
 */
export interface ShowStep {
  id: string;
  entry: Entry;
  at: number;
  patch: Patch | null;
}

/** The setlist of the next show, or an empty one where a rig has none. */
export const setlistOf = (rig: Rig): Setlist =>
  rig.setlists.find(({ id }) => id === rig.setlist) ?? { id: '', name: '', notes: '', entries: [] };

/** The steps of a setlist in order: each patch of each song, and pauses. */
export const stepsOf = (rig: Rig, setlist: Setlist): ShowStep[] => {
  const patches = new Map(rig.patches.map((patch) => [patch.id, patch]));
  return setlist.entries.flatMap((entry): ShowStep[] =>
    entry.kind === 'pause'
      ? [{ id: `${entry.id}.0`, entry, at: 0, patch: null }]
      : entry.patches.flatMap((id, at) => {
          const patch = patches.get(id);
          return patch ? [{ id: `${entry.id}.${at}`, entry, at, patch }] : [];
        }),
  );
};

/** What a step is called: a song's name, or its patch's. */
export const nameOfEntry = (rig: Rig, entry: Entry): string =>
  entry.name ||
  (entry.kind === 'pause' ? 'Pause' : (rig.patches.find(({ id }) => id === entry.patches[0])?.name ?? ''));

const staged = new WeakMap<Patch, Map<string, Patch>>();
/** Highest and lowest transposition that a layer may have, semitones. */
const FARTHEST = 48;

/**
 * A patch as a step of a show plays it: at the entry's tempo, transposed by its semitones but for layers (and members
 * of groups) that do not go along. The same object for the same step
 * of the same patch, so that whoever compares finds nothing changed.
 */
export function patchAsPlayed(patch: Patch, { tempo, transpose }: Pick<Entry, 'tempo' | 'transpose'>): Patch {
  if ((tempo === null || tempo === patch.tempo) && transpose === 0) return patch;
  const key = `${tempo ?? ''} ${transpose}`;
  const known = staged.get(patch)?.get(key);
  if (known) return known;
  const stays = new Set(patch.groups.filter(({ receive }) => !receive.song).map(({ id }) => id));
  const layers = patch.layers.map((layer) =>
    !layer.receive.song || (layer.groupId !== null && stays.has(layer.groupId)) || transpose === 0
      ? layer
      : { ...layer, transpose: Math.max(-FARTHEST, Math.min(FARTHEST, layer.transpose + transpose)) },
  );
  const made = { ...patch, tempo: tempo ?? patch.tempo, layers };
  if (!staged.has(patch)) staged.set(patch, new Map());
  staged.get(patch)!.set(key, made);
  return made;
}

/** Notes for the player at a step: the entry's own, or the patch's. */
export const notesOfStep = ({ entry, patch }: ShowStep): string => entry.notes || patch?.notes || '';

/**
 * What a program change chooses: the place of a step, or of a patch, counted from 0. MIDI 1.0 Detailed Specification:
 * bank select (CC 0 and CC 32) gives 14 bits, each bank 128 programs.
 */
export const placeOfProgram = (bank: number, program: number): number => bank * 128 + program;

/** Patches that no setlist has. */
export function newToShow({ patches, setlists }: Pick<Rig, 'patches' | 'setlists'>): Patch[] {
  const listed = new Set(setlists.flatMap(({ entries }) => entries.flatMap((entry) => entry.patches)));
  return patches.filter(({ id }) => !listed.has(id));
}
