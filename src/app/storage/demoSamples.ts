import { contentHash } from '../../host/contentHash';
import { hasSample, keepSample, loadSample } from './database';

/** Settled once the browser was swept of samples that nobody needs: whoever brings in new ones waits for that. */
export const swept = (() => {
  let done: () => void = () => undefined;
  const promise = new Promise<void>((resolve) => { done = resolve; });
  return { promise, done };
})();

const PENDING = 'wavicle-demo-pending';
/** Samples of the demo rig that the server has and this browser may not have yet; also those that a visit of before left behind. */
const atServer = new Set<string>(pending());
const coming = new Map<string, Promise<Uint8Array | undefined>>();

function pending(): string[] {
  try {
    const ids: unknown = JSON.parse(localStorage.getItem(PENDING) ?? '[]');
    return Array.isArray(ids) ? ids.map(String) : [];
  } catch {
    // Nothing sensible is written there: then nothing is missing.
    return [];
  }
}

export function expectFromServer(ids: readonly string[]): void {
  for (const id of ids) atServer.add(id);
  localStorage.setItem(PENDING, JSON.stringify([...atServer]));
}

/** A sample from this browser, or from the server while the demo is still coming. */
export async function sampleBytes(id: string): Promise<Uint8Array | undefined> {
  return (await loadSample(id)) ?? (atServer.has(id) ? fetchSample(id) : undefined);
}

function fetchSample(id: string): Promise<Uint8Array | undefined> {
  const under = coming.get(id);
  if (under) return under;
  const task = (async () => {
    const answer = await fetch(`/demo/samples/${id}.wav`);
    if (!answer.ok) return undefined;
    const bytes = new Uint8Array(await answer.arrayBuffer());
    if ((await contentHash(bytes)) !== id) return undefined;
    await keepSample(id, bytes);
    return bytes;
  })().finally(() => coming.delete(id));
  coming.set(id, task);
  return task;
}

const AT_ONCE = 2;
const LATER_MS = 8000;

/** Fetches what is left of the demo, a few files at a time, while one plays. */
export async function goOnFetching(): Promise<void> {
  // Whoever has just come plays; what plays then has the line and the cores to itself.
  await new Promise((resolve) => setTimeout(resolve, LATER_MS));
  const ids = [...atServer];
  await Promise.all(Array.from({ length: AT_ONCE }, async () => {
    for (let id = ids.pop(); id !== undefined; id = ids.pop()) {
      try {
        if ((await hasSample(id)) || (await fetchSample(id))) atServer.delete(id);
      } catch {
        // The next start tries again.
      }
    }
  }));
  if (atServer.size === 0) localStorage.removeItem(PENDING);
  else localStorage.setItem(PENDING, JSON.stringify([...atServer]));
}
