import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { Archive } from '../../core/formats/rigArchive';
import { readRig } from '../../core/rig/read';
import type { Rig } from '../../core/rig/schema';

interface Schema extends DBSchema {
  rigs: { key: string; value: { id: string; rig: unknown; savedAt: number } };
  /** WAV files by the hash of their content. */
  samples: { key: string; value: Uint8Array };
  state: { key: string; value: string };
}

let opened: Promise<IDBPDatabase<Schema>> | undefined;

const database = (): Promise<IDBPDatabase<Schema>> => (opened ??= openDB<Schema>('wavicle', 1, {
  upgrade(db) {
    db.createObjectStore('rigs', { keyPath: 'id' });
    db.createObjectStore('samples');
    db.createObjectStore('state');
  },
  // A connection that the browser closes is opened anew by whoever needs it next.
  terminated() { opened = undefined; },
}));

/** Asks the browser not to throw the rig away when its disk fills up. */
export async function keepForGood(): Promise<void> {
  await navigator.storage?.persist?.();
}

/** The rig that was open last, or undefined on a new machine. Throws what readRig throws when what is stored is damaged. */
export async function loadCurrentRig(): Promise<Rig | undefined> {
  const db = await database();
  const id = await db.get('state', 'current');
  const stored = id === undefined ? undefined : await db.get('rigs', id);
  return stored && readRig(stored.rig);
}

/** Keeps the rig and makes it the current one, in one transaction: either all of it is there afterwards or what was there before. */
export async function saveRig(rig: Rig): Promise<void> {
  const transaction = (await database()).transaction(['rigs', 'state'], 'readwrite', { durability: 'strict' });
  await Promise.all([
    transaction.objectStore('rigs').put({ id: rig.id, rig, savedAt: Date.now() }),
    transaction.objectStore('state').put(rig.id, 'current'),
    transaction.done,
  ]);
}

/** Keeps a rig together with its samples, all or nothing. */
export async function saveArchive({ rig, wavs }: Archive): Promise<void> {
  const transaction = (await database()).transaction(['rigs', 'samples', 'state'], 'readwrite', { durability: 'strict' });
  const samples = transaction.objectStore('samples');
  await Promise.all([
    ...[...wavs].map(([id, bytes]) => samples.put(bytes.slice(), id)),
    transaction.objectStore('rigs').put({ id: rig.id, rig, savedAt: Date.now() }),
    transaction.objectStore('state').put(rig.id, 'current'),
    transaction.done,
  ]);
}

export const loadSample = async (id: string): Promise<Uint8Array | undefined> => (await database()).get('samples', id);

/**
 * Forgets samples that no kept rig holds, such as those of an import that was given up. Only where no other tab is open: it might still want them, for undoing.
 * From then on this tab counts as open.
 */
export async function sweepSamples(): Promise<void> {
  const name = 'wavicle-samples';
  await navigator.locks.request(name, { ifAvailable: true }, async (lock) => {
    if (!lock) return;
    const db = await database();
    const used = new Set<string>();
    for (const { rig } of await db.getAll('rigs')) {
      const { samples } = rig as { samples?: unknown };
      // A rig that cannot be read may be mended one day: then nothing is thrown away.
      if (!Array.isArray(samples)) return;
      for (const sample of samples) used.add(String((sample as { id?: unknown } | null)?.id));
    }
    for (const id of await db.getAllKeys('samples')) if (!used.has(id)) await db.delete('samples', id);
  });
  void navigator.locks.request(name, { mode: 'shared' }, () => new Promise(() => undefined));
}
