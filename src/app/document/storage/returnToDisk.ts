import type { Rig } from '../../../core/rig/schema';
import {
  disk,
  rigIn,
  STORES,
  stored,
  type KeptFile,
  type KeptPart,
  type StoredRig,
  type StoredState,
  type StoreName,
} from './database';
import type { MemoryDatabase } from './memoryDatabase';

/**
 * Tries again to reach what this browser keeps, and brings all there that was only in memory. Nothing that is there is
 * written over: a rig whose id is taken comes beside it, under another one. Gives why not, or what
 * became of which id.
 */
export async function returnToDisk(newId: () => string): Promise<{ why: string } | { ids: Map<string, string> }> {
  const ids = new Map<string, string>();
  const from = disk.memory();
  if (!from) return { ids };
  const found = await disk.reach();
  if (typeof found === 'string') return { why: found };
  try {
    for (const { id } of (await from.getAll('rigs')) as StoredRig[])
      ids.set(id, (await found.getKey('rigs', id)) === undefined ? id : newId());
    const transaction = found.transaction(Object.keys(STORES) as StoreName[], 'readwrite', { durability: 'strict' });
    const of = <N extends StoreName>(name: N) => transaction.objectStore(name);
    const idOf = (id: string) => ids.get(id) ?? id;
    for (const [id, bytes] of await entries<Uint8Array>(from, 'samples')) await of('samples').put(bytes, id);
    for (const kept of (await from.getAll('rigs')) as StoredRig[])
      await of('rigs').put(stored({ ...(rigIn(kept) as Rig), id: idOf(kept.id) }));
    for (const { rigId, rig, at, name } of (await from.getAll('states')) as StoredState[])
      await of('states').add({ rigId: idOf(rigId), rig, at, name } as StoredState);
    for (const [key, take] of await entries<{ name: string; bytes: Uint8Array }>(from, 'takes'))
      await of('takes').put(take, key.replace(/^[^/]+/, idOf));
    for (const [id, file] of await entries<KeptFile>(from, 'files')) await of('files').put(file, idOf(id));
    for (const part of (await from.getAll('parts')) as KeptPart[]) await of('parts').put(part);
    const current = (await from.get('state', 'current')) as string | undefined;
    if (current !== undefined) await of('state').put(idOf(current), 'current');
    await transaction.done;
  } catch (error) {
    found.close();
    return { why: disk.reasonOf(error) };
  }
  disk.take(found);
  return { ids };
}

const entries = async <T>(from: MemoryDatabase, store: StoreName): Promise<[string, T][]> =>
  Promise.all(
    (await from.getAllKeys(store)).map(async (key) => [String(key), (await from.get(store, key)) as T] as [string, T]),
  );
