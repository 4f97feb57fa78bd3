import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { Section } from '../../../core/rig/edits/clip';
import type { Clip } from '../../../core/rig/edits/clip';
import type { Archive } from '../../../core/formats/rigArchive';
import { reading } from '../reading';
import { sealOf, textOf } from '../../../core/rig/seal';
import type { EffectSpec, Rig } from '../../../core/rig/schema';
import { EVERY_MS, spareStates, type Kept } from './earlierStates';
import type { MemoryDatabase } from './memoryDatabase';
import { RIG_VERSION } from '../../../core/rig/limits';

/**
 * `rig`: its JSON text, which a browser keeps far faster than objects; what was kept by earlier versions is the rig
 * itself. `seal`: that of the rig when it was checked last; what still has it need not be checked again.
 */
export interface StoredRig {
  id: string;
  rig: unknown;
  savedAt: number;
  seal?: number;
}
export interface StoredState extends Kept {
  rigId: string;
  rig: unknown;
}

/**
 * Something kept under a name to be used again: layers of a patch with all that goes with them, some values of a layer,
 * or a chain of effects.
 */
export interface KeptPart {
  id: string;
  name: string;
  kind: 'patch' | 'group' | 'layer' | 'sound' | 'section' | 'chain';
  at: number;
  clip?: Clip;
  part?: string;
  section?: Section;
  chain?: readonly EffectSpec[];
}

/**
 * `handle`: where the browser can write to a file again; null: it was only downloaded. `at`: when it was written last,
 * and `seal`: of the rig as it was then.
 */
export interface KeptFile {
  name: string;
  handle: FileSystemFileHandle | null;
  at: number;
  seal: number;
}

interface Schema extends DBSchema {
  parts: { key: string; value: KeptPart };
  /** By rig: the file that it is written to. */
  files: { key: string; value: KeptFile };
  rigs: { key: string; value: StoredRig };
  /** WAV files by the hash of their content. */
  samples: { key: string; value: Uint8Array };
  state: { key: string; value: string };
  /** Earlier states of rigs. */
  states: { key: number; value: StoredState; indexes: { rigId: string } };
  /** Takes of one's own, as MIDI files, by rig and patch. */
  takes: { key: string; value: { name: string; bytes: Uint8Array } };
}

let opened: Promise<IDBPDatabase<Schema>> | undefined;

/** A newer version of the application has taken the database over in another tab: this one may only read. */
export const overtaken = { is: false, told: (): void => undefined };
/** 5: rigs are kept as text. */
const VERSION = 5;

/** Refused to whoever would write as this version of the application does. */
class Overtaken extends Error {
  constructor() {
    super('a newer version of Wavicle was opened in another tab; load this page again');
  }
}

/** Where the key of a value lies, and whether it is numbered: of each store. */
export const STORES = {
  rigs: { keyPath: 'id' },
  samples: {},
  state: {},
  states: { keyPath: 'id', numbered: true },
  takes: {},
  files: {},
  parts: { keyPath: 'id' },
} as const;
export type StoreName = keyof typeof STORES;

/** `waits`: another tab with an older version keeps this one from opening. */
const openDisk = (waits: () => void = () => undefined): Promise<IDBPDatabase<Schema>> =>
  openDB<Schema>('wavicle', overtaken.is ? undefined : VERSION, {
    // Whatever is missing, whichever version was there before.
    upgrade(db) {
      for (const name of Object.keys(STORES) as StoreName[]) {
        if (db.objectStoreNames.contains(name)) continue;
        const { keyPath, numbered } = STORES[name] as { keyPath?: string; numbered?: boolean };
        const made = db.createObjectStore(name, { keyPath, autoIncrement: numbered });
        if (name === 'states') made.createIndex('rigId' as never, 'rigId');
      }
    },
    blocked: waits,
    // A newer page in another tab must not wait for this one. What reads goes on with whatever version is there then.
    blocking(_current, next) {
      if (memory) return;
      void opened?.then((db) => db.close());
      opened = undefined;
      if (next === null || next <= VERSION || overtaken.is) return;
      overtaken.is = true;
      overtaken.told();
    },
    // A connection that the browser closes is opened anew by whoever needs it next.
    terminated() {
      if (!memory) opened = undefined;
    },
  });

const database = (): Promise<IDBPDatabase<Schema>> => {
  if (opened) return opened;
  const mine = openDisk().catch((error: unknown) => {
    if (opened === mine) opened = undefined;
    throw error;
  });
  opened = mine;
  return mine;
};

/** What holds everything while this browser keeps nothing. */
let memory: MemoryDatabase | undefined;
/** Whether this page works from memory alone. */
export const keepsNothing = (): boolean => memory !== undefined;
/** Waits, in ms: for a tab with an older version, and for a browser that does not answer at all. */
const BLOCKED_MS = 3000,
  MUTE_MS = 15_000;

/** The database on disk, or why there is none. */
async function reach(): Promise<IDBPDatabase<Schema> | string> {
  const timers: ReturnType<typeof setTimeout>[] = [];
  let given = false;
  const why = (ms: number, text: string) =>
    new Promise<string>((resolve) => {
      timers.push(setTimeout(() => resolve(text), ms));
    });
  let waits: () => void = () => undefined;
  const older = new Promise<string>((resolve) => {
    waits = () =>
      void why(BLOCKED_MS, 'another tab with an older version of Wavicle has it open: close that tab').then(resolve);
  });
  // Some browsers throw, some reject, some never answer.
  const disk = (async () => openDisk(() => waits()))();
  void disk.then(
    (db) => {
      if (given) db.close();
    },
    () => undefined,
  );
  const found = await Promise.race([disk.catch(reasonOf), older, why(MUTE_MS, 'the browser does not answer')]);
  for (const timer of timers) clearTimeout(timer);
  given = typeof found === 'string';
  return found;
}

function reasonOf(error: unknown): string {
  const { name, message } = error as Error;
  if (name === 'VersionError') return 'it was made by a newer version of Wavicle: load that version again';
  if (name === 'SecurityError') return 'its settings do not let pages keep anything';
  return message || name;
}

/** Opens what this browser keeps. Where it cannot be reached the page works from memory, and this gives why. */
export async function reachDisk(): Promise<string | undefined> {
  const found = await reach();
  if (typeof found !== 'string') {
    opened = Promise.resolve(found);
    return undefined;
  }
  const { MemoryDatabase } = await import('./memoryDatabase');
  memory = new MemoryDatabase(STORES);
  opened = Promise.resolve(memory as unknown as IDBPDatabase<Schema>);
  return found;
}

/** For whoever brings what is in memory to disk: see returnToDisk.ts. */
export const disk = {
  reach,
  reasonOf,
  memory: (): MemoryDatabase | undefined => memory,
  take: (db: IDBPDatabase<Schema>): void => {
    memory = undefined;
    opened = Promise.resolve(db);
  },
};

/** The same for writing. */
const writable = (): Promise<IDBPDatabase<Schema>> => (overtaken.is ? Promise.reject(new Overtaken()) : database());

/** Asks the browser not to throw the rig away when its disk fills up. */
export async function keepForGood(): Promise<void> {
  if (memory) return;
  await navigator.storage?.persist?.();
}

/** A rig that is kept, but cannot be read: as it is, and why. */
export class UnreadableRig extends Error {
  constructor(
    readonly rigId: string,
    readonly stored: unknown,
    problem: string,
  ) {
    super(problem);
  }
}

export const loadFile = async (rigId: string): Promise<KeptFile | undefined> => (await database()).get('files', rigId);
export const keepFile = async (rigId: string, file: KeptFile): Promise<void> => {
  await (await writable()).put('files', file, rigId);
};

/**
 * Bytes that this browser holds and may hold for the application, and whether it has promised to keep them; null where
 * it does not tell.
 */
export async function spaceHere(): Promise<{ used: number; room: number; forGood: boolean } | null> {
  const { storage } = navigator;
  const estimate = await storage?.estimate?.();
  return estimate?.usage === undefined || estimate.quota === undefined
    ? null
    : { used: estimate.usage, room: estimate.quota, forGood: (await storage.persisted?.()) ?? false };
}

/** The id of the rig that was open last. */
export const currentRigId = async (): Promise<string | undefined> => (await database()).get('state', 'current');

/** A kept rig, or undefined where there is none of that id. Throws an {@link UnreadableRig} when it is damaged. */
export async function loadRig(id: string): Promise<Rig | undefined> {
  const found = await (await database()).get('rigs', id);
  if (!found) return undefined;
  try {
    const rig = rigIn(found);
    return isChecked(rig, found.seal) ? rig : (await reading()).readRig(rig);
  } catch (error) {
    throw new UnreadableRig(id, rigIn(found), (error as Error).message);
  }
}

/** What is kept of a rig, as it would be read; a text that is none of a rig stays what it is. */
export function rigIn({ rig }: { rig: unknown }): unknown {
  if (typeof rig !== 'string') return rig;
  try {
    return JSON.parse(rig) as unknown;
  } catch {
    return rig;
  }
}

const isChecked = (rig: unknown, seal: number | undefined): rig is Rig =>
  seal !== undefined && (rig as Rig | undefined)?.version === RIG_VERSION && sealOf(rig) === seal;
/** What is kept of a rig that was checked. */
export const stored = (rig: Rig): StoredRig => ({
  id: rig.id,
  rig: textOf(rig),
  savedAt: Date.now(),
  seal: sealOf(rig),
});

export interface RigEntry {
  id: string;
  name: string;
  patches: number;
  samples: number;
  savedAt: number;
}

/** The rigs that this browser keeps, the one saved last first; of damaged ones what can be told. */
export async function listRigs(): Promise<RigEntry[]> {
  const entries = (await (await database()).getAll('rigs')).map((found): RigEntry => {
    const { id, savedAt } = found;
    const { name, patches, samples } = (rigIn(found) ?? {}) as { name?: unknown; patches?: unknown; samples?: unknown };
    const count = (value: unknown) => (Array.isArray(value) ? value.length : 0);
    return {
      id,
      name: typeof name === 'string' ? name : 'unnamed',
      patches: count(patches),
      samples: count(samples),
      savedAt,
    };
  });
  return entries.sort((a, b) => b.savedAt - a.savedAt);
}

export const rawRig = async (id: string): Promise<unknown> => {
  const found = await (await database()).get('rigs', id);
  return found && rigIn(found);
};

/** When the newest earlier state of a rig was kept, as far as this page has seen. */
const keptAt = new Map<string, number>();

/**
 * Keeps the rig and makes it the current one, in one transaction: either all of it is there afterwards or what was
 * there before. Now and then the state before is kept as well. `isSound`: it can be read again, and is sealed as such;
 * otherwise that is looked at when it is opened.
 */
export async function saveRig(rig: Rig, isSound = true): Promise<void> {
  const transaction = (await writable()).transaction(['rigs', 'state', 'states'], 'readwrite', {
    durability: 'strict',
  });
  const now = Date.now();
  const rigs = transaction.objectStore('rigs');
  const states = transaction.objectStore('states');
  // The states of a large rig are large: they are looked at only where it may be time for another one.
  const before = now - (keptAt.get(rig.id) ?? 0) >= EVERY_MS ? await rigs.get(rig.id) : undefined;
  let newest: number | undefined;
  if (before) {
    const kept = await states.index('rigId').getAll(rig.id);
    newest = Math.max(0, ...kept.map(({ at }) => at));
    if (now - newest >= EVERY_MS) {
      await states.add({ rigId: rig.id, rig: before.rig, at: before.savedAt, name: null } as StoredState);
      for (const id of spareStates(kept, now)) await states.delete(id);
      newest = before.savedAt;
    }
  }
  const kept = isSound ? stored(rig) : { ...stored(rig), seal: undefined };
  await Promise.all([rigs.put(kept), transaction.objectStore('state').put(rig.id, 'current'), transaction.done]);
  if (newest !== undefined) keptAt.set(rig.id, newest);
}

/** Makes a kept rig the one that opens next time. */
export async function makeCurrent(id: string): Promise<void> {
  await (await writable()).put('state', id, 'current');
}

/** Keeps the state of a rig under a name, for good. */
export async function keepState(rig: Rig, name: string): Promise<void> {
  await (await writable()).add('states', { rigId: rig.id, rig, at: Date.now(), name } as StoredState);
}

/** The earlier states of a rig, newest first. */
export async function listStates(rigId: string): Promise<Kept[]> {
  const all = await (await database()).getAllFromIndex('states', 'rigId', rigId);
  return all.map(({ id, at, name }) => ({ id, at, name })).sort((a, b) => b.at - a.at);
}

/** An earlier state. Throws what readRig throws when it is damaged. */
export async function loadState(id: number): Promise<Rig | undefined> {
  const found = await (await database()).get('states', id);
  return found && (await reading()).readRig(rigIn(found));
}

export const deleteState = async (id: number): Promise<void> => (await writable()).delete('states', id);

/** A rig and its earlier states; its samples go at the next start, where no other needs them. */
export async function deleteRig(id: string): Promise<void> {
  const transaction = (await writable()).transaction(['rigs', 'states'], 'readwrite', { durability: 'strict' });
  const states = transaction.objectStore('states');
  for (const key of await states.index('rigId').getAllKeys(id)) await states.delete(key);
  await Promise.all([transaction.objectStore('rigs').delete(id), transaction.done]);
  keptAt.delete(id);
}

/** Keeps a rig together with its samples, all or nothing. */
export async function saveArchive({ rig, wavs }: Archive): Promise<void> {
  const transaction = (await writable()).transaction(['rigs', 'samples', 'state'], 'readwrite', {
    durability: 'strict',
  });
  const samples = transaction.objectStore('samples');
  await Promise.all([
    ...[...wavs].map(([id, bytes]) => samples.put(bytes.slice(), id)),
    transaction.objectStore('rigs').put(stored(rig)),
    transaction.objectStore('state').put(rig.id, 'current'),
    transaction.done,
  ]);
}

/** A sample that is only in memory, because this browser keeps nothing. */
export const sampleInMemory = async (id: string): Promise<Uint8Array | undefined> =>
  (await memory?.get('samples', id)) as Uint8Array | undefined;
export const loadSample = async (id: string): Promise<Uint8Array | undefined> => (await database()).get('samples', id);
export const hasSample = async (id: string): Promise<boolean> =>
  (await (await database()).getKey('samples', id)) !== undefined;
export const keepSample = async (id: string, bytes: Uint8Array): Promise<void> => {
  await (await writable()).put('samples', bytes, id);
};

/** Parts that were kept, the newest first. */
export const listParts = async (): Promise<KeptPart[]> =>
  (await (await database()).getAll('parts')).sort((a, b) => b.at - a.at);
export const keepPart = async (part: KeptPart): Promise<void> => {
  await (await writable()).put('parts', part);
};
export const deletePart = async (id: string): Promise<void> => (await writable()).delete('parts', id);

const takeKey = (rigId: string, patchId: string): string => `${rigId}/${patchId}`;
/** A take of one's own stays with its patch. */
export const keepTake = async (rigId: string, patchId: string, name: string, bytes: Uint8Array): Promise<void> => {
  await (await writable()).put('takes', { name, bytes }, takeKey(rigId, patchId));
};
export const loadTake = async (
  rigId: string,
  patchId: string,
): Promise<{ name: string; bytes: Uint8Array } | undefined> => (await database()).get('takes', takeKey(rigId, patchId));

/** A recording that goes on, as far as it has come: the browser may end at any moment. */
export interface Unfinished {
  rigId: string;
  patchId: string;
  tempo: number;
  at: number;
  notes: (readonly [number, number, number, number])[];
  moves: (readonly [number, string, number])[];
}
const UNFINISHED = 'recording';
export const keepUnfinished = async (recording: Unfinished | null): Promise<void> => {
  const db = await writable();
  if (recording) await db.put('state', JSON.stringify(recording), UNFINISHED);
  else await db.delete('state', UNFINISHED);
};
export async function loadUnfinished(): Promise<Unfinished | undefined> {
  const text = await (await database()).get('state', UNFINISHED);
  try {
    return text === undefined ? undefined : (JSON.parse(text) as Unfinished);
  } catch {
    return undefined;
  }
}

/**
 * Forgets samples that no kept rig holds, now or in an earlier state, such as those of an import that was given up.
 * Only where no other tab is open: it might still want them,
 * for undoing. From then on this tab counts as open.
 */
export async function sweepSamples(): Promise<void> {
  if (memory) return;
  const name = 'wavicle-samples';
  await navigator.locks.request(name, { ifAvailable: true }, async (lock) => {
    if (!lock) return;
    const db = await database();
    const used = new Set<string>();
    for (const found of [...(await db.getAll('rigs')), ...(await db.getAll('states'))]) {
      const { samples } = (rigIn(found) ?? {}) as { samples?: unknown };
      // A rig that cannot be read may be mended one day: then nothing is thrown away.
      if (!Array.isArray(samples)) return;
      for (const sample of samples) used.add(String((sample as { id?: unknown } | null)?.id));
    }
    for (const { clip } of await db.getAll('parts')) for (const { id } of clip?.samples ?? []) used.add(id);
    for (const id of await db.getAllKeys('samples')) if (!used.has(id)) await db.delete('samples', id);
  });
  void navigator.locks.request(name, { mode: 'shared' }, () => new Promise(() => undefined));
}
