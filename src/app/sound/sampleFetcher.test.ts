import { newLayer, newPatch, newRig, newSound, newZone, markAt } from '../../core/rig/defaults';
import { writeWav } from '../../core/formats/wav';
import { prepare } from '../../core/formats/prepare';
import type { AudioHost } from '../../host/audioHost';
import type { Rig } from '../../core/rig/schema';
import type { PrepareJob } from '../../workers/prepareWorker';

const wav = writeWav(
  { rate: 48000, channels: 1, data: Float32Array.from({ length: 4000 }, (_, i) => Math.sin(i / 9)) },
  { root: 60 },
);
const asked: string[] = [];
const lost = new Set<string>();
jest.mock('../document/storage/demoSamples', () => ({
  sampleBytes: (id: string) => {
    asked.push(id);
    return Promise.resolve(lost.has(id) ? undefined : wav);
  },
}));
Object.defineProperty(globalThis, 'navigator', { value: { hardwareConcurrency: 2 }, configurable: true });
/** What a worker does, at once. */
jest.mock('../document/hired', () => ({
  Hired: class {
    isGone = false;
    ask = (question: (api: unknown) => Promise<unknown>) => question({ prepare: prepared });
  },
}));
const prepared = ({ request, bytes }: PrepareJob) =>
  Promise.resolve({ key: request.key, sample: prepare(request, new Uint8Array(bytes)) });
Object.assign(globalThis, { Worker: class {} });
jest.mock('./compiled', () => {
  const { compile, contextOf } = jest.requireActual<typeof import('../../core/engine/program/compile')>(
    '../../core/engine/program/compile',
  );
  return {
    programIfAny: (patch: never, rig: Rig) => compile(patch, contextOf(rig, 48000)),
  };
});

// eslint-disable-next-line @typescript-eslint/no-require-imports
const { SampleFetcher } = require('./sampleFetcher') as typeof import('./sampleFetcher');
// eslint-disable-next-line @typescript-eslint/no-require-imports
const { programIfAny } = require('./compiled') as typeof import('./compiled');

const ids = ['one', 'two', 'three', 'four'];
const rig: Rig = {
  ...newRig('r', 'R'),
  samples: ids.map((id) => ({ id, name: `${id}.wav`, rate: 48000, channels: 1, frames: 4000 })),
  sounds: ids.map((id) =>
    newSound(id, id, [{ ...newZone(id, 60), key: { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' } }]),
  ),
  patches: ids.map((id) => ({ ...newPatch(id, id), layers: [newLayer('l', 'l', id, markAt(0))] })),
};
const requestsOf = (n: number) => programIfAny(rig.patches[n], rig, 48000)!.samples;
function begin() {
  const given: string[] = [];
  const kept: string[][] = [];
  const silent: string[] = [];
  let tells = 0;
  const audio = {
    context: { sampleRate: 48000 },
    addSamples: (list: { key: string }[]) => given.push(...list.map(({ key }) => key)),
    keepSamples: (keys: string[]) => kept.push(keys),
    sampleOf: () => undefined,
  } as unknown as AudioHost;
  const fetcher = new SampleFetcher(
    audio,
    () => {
      tells++;
    },
    (id, why) => silent.push(`${id}: ${why}`),
  );
  return { fetcher, given, kept, silent, tells: () => tells };
}
beforeEach(() => {
  asked.length = 0;
  lost.clear();
  jest.useFakeTimers();
});
afterEach(() => jest.useRealTimers());

test('what plays comes first, then its neighbours in the show, then the others; each once', async () => {
  const { fetcher } = begin();
  fetcher.needed = new Set(requestsOf(0).map(({ key }) => key));
  const done = fetcher.fetch(rig, requestsOf(0), [rig.patches[2], rig.patches[3], rig.patches[1], rig.patches[0]], 1);
  expect(fetcher.loading).toBe(1);
  await jest.advanceTimersByTimeAsync(100);
  expect(asked).toEqual(['one']);
  expect([fetcher.loading, fetcher.readiness(requestsOf(2))]).toEqual([0, { coming: 1, missing: 0 }]);
  // The neighbour after a quarter of a second, the others when one has settled.
  await jest.advanceTimersByTimeAsync(400);
  expect(asked).toEqual(['one', 'three']);
  expect(fetcher.readiness(requestsOf(2))).toEqual({ coming: 0, missing: 0 });
  await jest.advanceTimersByTimeAsync(4000);
  await done;
  expect(asked).toEqual(['one', 'three', 'four', 'two']);
});
test('a step that comes meanwhile takes over; what was fetched is not fetched again', async () => {
  const { fetcher } = begin();
  void fetcher.fetch(rig, requestsOf(0), [rig.patches[1], rig.patches[2]], 0);
  await jest.advanceTimersByTimeAsync(100);
  const second = fetcher.fetch(rig, requestsOf(3), [rig.patches[0]], 1);
  await jest.advanceTimersByTimeAsync(6000);
  await second;
  expect(asked).toEqual(['one', 'four']);
});
test('what is missing is told by its name, and counts as missing and not as coming', async () => {
  lost.add('two');
  const { fetcher, given, silent } = begin();
  await Promise.all([fetcher.fetch(rig, requestsOf(1), [], 0), jest.advanceTimersByTimeAsync(100)]);
  expect(fetcher.readiness(requestsOf(1))).toEqual({ coming: 0, missing: 1 });
  expect(silent).toEqual(['two: “two.wav” is missing from this browser: its zones stay silent']);
  expect(given).toEqual([]);
  // It is asked for again when the rig is another, or was brought in anew.
  fetcher.forget();
  lost.clear();
  await Promise.all([fetcher.fetch(rig, requestsOf(1), [], 0), jest.advanceTimersByTimeAsync(100)]);
  expect(fetcher.readiness(requestsOf(1))).toEqual({ coming: 0, missing: 0 });
});
test('what nobody needs any more is forgotten, here and in the engine', async () => {
  const { fetcher, kept } = begin();
  await Promise.all([fetcher.fetch(rig, requestsOf(0), [], 0), jest.advanceTimersByTimeAsync(100)]);
  await Promise.all([fetcher.fetch(rig, requestsOf(1), [], 0), jest.advanceTimersByTimeAsync(100)]);
  expect(kept).toEqual([requestsOf(1).map(({ key }) => key)]);
  expect(fetcher.isSettled(requestsOf(0)[0].key)).toBe(false);
});
