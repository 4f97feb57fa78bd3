import { contentHash } from '../../../host/contentHash';
import { hasSample, keepSample, loadSample, sampleInMemory } from './database';
import { small } from './small';

/** Settled once the browser was swept of samples that nobody needs: whoever brings in new ones waits for that. */
export const swept = (() => {
  let done: () => void = () => undefined;
  const promise = new Promise<void>((resolve) => {
    done = resolve;
  });
  return { promise, done };
})();

const PENDING = 'wavicle-demo-pending';
/** Where at the server a rig lies that comes along. */
export type Folder = 'demo' | 'store';

/**
 * Samples of rigs that come along which the server has and this browser may not have yet; also those that a visit of
 * before left behind.
 */
const atServer = new Map<string, Folder>(pending());
const coming = new Map<string, Promise<Uint8Array | undefined>>();

function pending(): [string, Folder][] {
  try {
    const ids: unknown = JSON.parse(small.get(PENDING) ?? '[]');
    // Names alone are those of the demo.
    return Array.isArray(ids)
      ? ids.map((each) => (Array.isArray(each) ? [String(each[0]), 'store'] : [String(each), 'demo']))
      : [];
  } catch {
    // Nothing sensible is written there: then nothing is missing.
    return [];
  }
}

export function expectFromServer(ids: readonly string[], folder: Folder = 'demo'): void {
  for (const id of ids) if (!atServer.has(id)) atServer.set(id, folder);
  remember();
}

/** Samples of the store that are heard before anything of it is in a rig: they come when they are asked for. */
export function offerFromServer(ids: readonly string[], folder: Folder): void {
  for (const id of ids) if (!atServer.has(id)) offered.set(id, folder);
}
const offered = new Map<string, Folder>();

/** Of those that are offered, some that a rig has from now on: they are expected, and come while one plays. */
export function expectOffered(ids: readonly string[]): void {
  const taken = ids.filter((id) => offered.has(id));
  if (taken.length === 0) return;
  for (const id of taken) {
    atServer.set(id, offered.get(id)!);
    offered.delete(id);
  }
  remember();
  void goOnFetching();
}

const remember = (): void =>
  void small.set(PENDING, JSON.stringify([...atServer].map(([id, folder]) => (folder === 'demo' ? id : [id]))));

/**
 * A sample from this browser, from an archive that is still being taken in, or from the server while the demo is still
 * coming.
 */
export async function sampleBytes(id: string): Promise<Uint8Array | undefined> {
  return (
    held.get(id) ??
    (await loadSample(id)) ??
    (arriving.has(id) ? takeFromArchive(id) : atServer.has(id) || offered.has(id) ? fetchSample(id) : undefined)
  );
}

/** Samples of large archives that were opened and are not all kept yet: where each comes from. */
const arriving = new Map<string, (id: string) => Promise<Uint8Array>>();

async function takeFromArchive(id: string): Promise<Uint8Array | undefined> {
  const under = coming.get(id);
  if (under) return under;
  const task = (async () => {
    const bytes = await arriving.get(id)!(id);
    await keepOrHold(id, bytes);
    arriving.delete(id);
    return bytes;
  })().finally(() => coming.delete(id));
  coming.set(id, task);
  return task;
}

/**
 * Takes in all samples of an archive, while those that a patch needs are served first. `told` hears after each how many
 * are still to come; gives the ids of those that could not be read.
 */
export async function takeIn(
  ids: readonly string[],
  sample: (id: string) => Promise<Uint8Array>,
  told: (left: number) => void,
): Promise<string[]> {
  for (const id of ids) arriving.set(id, sample);
  const bad: string[] = [];
  for (const [n, id] of ids.entries()) {
    // What plays has the disk to itself for a moment.
    await new Promise((resolve) => setTimeout(resolve, n === 0 ? FIRST_MS : 0));
    try {
      if (arriving.has(id) && !(await hasSample(id))) await takeFromArchive(id);
    } catch {
      bad.push(id);
    }
    arriving.delete(id);
    told(ids.length - n - 1);
  }
  return bad;
}
const FIRST_MS = 1500;

/** Whether samples are still being taken in: closing the page would leave them behind. */
export const isTakingIn = (): boolean => arriving.size > 0;

function fetchSample(id: string): Promise<Uint8Array | undefined> {
  const under = coming.get(id);
  if (under) return under;
  const task = (async () => {
    const answer = await fetch(`/${atServer.get(id) ?? offered.get(id) ?? 'demo'}/samples/${id}.wav`);
    if (!answer.ok) return undefined;
    const bytes = new Uint8Array(await answer.arrayBuffer());
    if ((await contentHash(bytes)) !== id) return undefined;
    await keepOrHold(id, bytes);
    return bytes;
  })().finally(() => coming.delete(id));
  coming.set(id, task);
  return task;
}

/** Samples for which this browser has no room: they play, and go into files, from memory, until there is. */
const held = new Map<string, Uint8Array>();
/** Called when samples could not be kept, or could after all, with how many are held. */
export const holding: { told: (count: number, why: string) => void } = { told: () => undefined };
const AGAIN_MS = 15_000;
let again: ReturnType<typeof setTimeout> | undefined;

/** A sample that is nowhere but in this page's memory: whoever works with it elsewhere is given it. */
export const onlyInMemory = async (id: string): Promise<Uint8Array | undefined> => held.get(id) ?? sampleInMemory(id);

export async function keepOrHold(id: string, bytes: Uint8Array): Promise<void> {
  try {
    await keepSample(id, bytes);
    if (held.delete(id)) holding.told(held.size, '');
  } catch (error) {
    held.set(id, bytes);
    holding.told(held.size, (error as Error).message);
    clearTimeout(again);
    again = setTimeout(() => void keepHeld(), AGAIN_MS);
  }
}

/** Tries once more to keep what is only held in memory. */
export async function keepHeld(): Promise<void> {
  for (const [id, bytes] of [...held]) await keepOrHold(id, bytes);
}

const AT_ONCE = 2;
const LATER_MS = 8000;

/** Fetches what is left of the demo, a few files at a time, while one plays. */
export async function goOnFetching(): Promise<void> {
  // Whoever has just come plays; what plays then has the line and the cores to itself.
  await new Promise((resolve) => setTimeout(resolve, LATER_MS));
  const ids = [...atServer.keys()];
  await Promise.all(
    Array.from({ length: AT_ONCE }, async () => {
      for (let id = ids.pop(); id !== undefined; id = ids.pop()) {
        try {
          if (held.has(id) || (await hasSample(id)) || (await fetchSample(id))) atServer.delete(id);
        } catch {
          // The next start tries again.
        }
      }
    }),
  );
  if (atServer.size === 0) small.remove(PENDING);
  else remember();
}
