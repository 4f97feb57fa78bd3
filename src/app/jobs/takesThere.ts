import type { Take } from '../../core/music/take';
import { loadTake } from '../document/storage/database';

/** What reads and writes MIDI files comes when the first is read or written. */
export const midiFiles = () => import('../../core/formats/midiFile');

/** The take of one's own that stays with a patch, if there is one. */
export async function ownTakeOf(rigId: string, patchId: string): Promise<Take | undefined> {
  const kept = await loadTake(rigId, patchId);
  return kept && (await midiFiles()).readTake(kept.bytes, kept.name);
}

/** Names of takes that walk through a setlist begin so; the id of the setlist follows. */
export const SHOW_TAKE = 'show-';

/** The takes that ship with the application, by the id of the patch they show; fetched once. */
export const fetchTakes = (): Promise<Map<string, Take>> =>
  (shipped ??= readTakes().catch((error: unknown) => {
    shipped = undefined;
    throw error;
  }));
let shipped: Promise<Map<string, Take>> | undefined;

async function readTakes(): Promise<Map<string, Take>> {
  const names = (await (await fetch('/demo/takes.json')).json()) as string[];
  const { readTake } = await midiFiles();
  const takes = await Promise.all(
    names.map(async (name) => {
      const bytes = new Uint8Array(await (await fetch(`/demo/takes/${name}`)).arrayBuffer());
      const id = name.replace('.mid', '');
      return [id, readTake(bytes, id.replaceAll('-', ' '))] as const;
    }),
  );
  return new Map(takes);
}
