import { createHash, webcrypto } from 'node:crypto';
import { SAMPLE_PIECE, type SpareMessage } from '../../../core/remote/spare';
import { SamplesOverTheLine } from './samples';

Object.defineProperty(globalThis, 'crypto', { value: webcrypto, configurable: true });
const bytesOf = (length: number, seed: number) => Uint8Array.from({ length }, (_, i) => (i * seed + (i >> 7)) & 255);
const idOf = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');

/** Another machine that has some samples, and answers. */
function line(there: Map<string, Uint8Array>, has: readonly string[] = [], spoil = false) {
  const kept = new Map<string, Uint8Array>();
  const asked: SpareMessage[] = [];
  const samples = new SamplesOverTheLine({
    say: (message) => asked.push(message),
    has: (id) => Promise.resolve(has.includes(id)),
    keep: (id, bytes) => Promise.resolve(void kept.set(id, bytes)),
  });
  const answerAll = async () => {
    for (let message = asked.shift(); message; message = asked.shift()) {
      if (message.type !== 'want') continue;
      const { id, from } = message;
      const bytes = there.get(id);
      const part = bytes?.slice(from, from + SAMPLE_PIECE) ?? new Uint8Array();
      if (spoil && part.length > 0) part[0] ^= 1;
      const data = Buffer.from(part).toString('base64');
      await samples.hear({ type: 'sample', id, from, total: bytes?.length ?? 0, data });
    }
  };
  return { samples, kept, asked, answerAll };
}

test('samples come part by part, each once, and are what they are called; what is here is not asked for', async () => {
  const all = [10, SAMPLE_PIECE, 3 * SAMPLE_PIECE + 5, 77, 200_000].map((length, n) => bytesOf(length, 3 + n));
  const there = new Map(all.map((bytes) => [idOf(bytes), bytes]));
  const ids = [...there.keys()];
  const { samples, kept, asked, answerAll } = line(there, [ids[3]]);
  await samples.want(ids);
  await samples.want(ids);
  expect(samples.count).toBe(4);
  expect(asked.length).toBeLessThanOrEqual(3);
  await answerAll();
  expect(samples.count).toBe(0);
  expect([...kept.keys()].sort()).toEqual(ids.filter((id) => id !== ids[3]).sort());
  for (const [id, bytes] of kept) expect(bytes).toEqual(there.get(id));
});

test('one that the other does not have, or whose bytes are others, is not kept and not waited for', async () => {
  const bytes = bytesOf(5000, 7);
  const wrong = line(new Map([[idOf(bytes), bytes]]), [], true);
  await wrong.samples.want([idOf(bytes), 'nowhere']);
  await wrong.answerAll();
  expect([wrong.samples.count, wrong.kept.size]).toEqual([0, 0]);
});

test('a part that comes twice, or of nothing that was asked for, changes nothing', async () => {
  const bytes = bytesOf(2 * SAMPLE_PIECE, 9);
  const id = idOf(bytes);
  const { samples, kept, answerAll } = line(new Map([[id, bytes]]));
  await samples.want([id]);
  const part = Buffer.from(bytes.subarray(0, SAMPLE_PIECE)).toString('base64');
  const first = { type: 'sample', id, from: 0, total: bytes.length, data: part } as const;
  await samples.hear({ ...first, id: 'other' });
  await samples.hear(first);
  await samples.hear(first);
  await answerAll();
  expect(kept.get(id)).toEqual(bytes);
});
