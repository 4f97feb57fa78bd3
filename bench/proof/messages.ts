import { Chance } from '../../src/core/dsp/chance';
import { applyChanges, type Changes } from '../../src/core/remote/changes';
import { readAway, readGuest, readHello, readHost, readLink } from '../../src/core/remote/messages';
import { readSpare } from '../../src/core/remote/spare';
import { newRig } from '../../src/core/rig/defaults';
import { readRig, RigError } from '../../src/core/rig/read';
import { mutatedJson, mutatedText } from './mutate';
import { Tally, type Outcome, type Part } from './part';

/** Honest messages of each who may speak: a device before and after it is let in, the page, another machine. */
const HONEST: readonly object[] = [
  { type: 'join', code: '123456', name: 'tablet' },
  { type: 'return', token: 'x'.repeat(43) },
  { type: 'macro', number: 1, value: 0.5 },
  { type: 'xy', number: 1, x: 0.2, y: 0.7, letGo: false },
  { type: 'rest', kind: 'macro', number: 2 },
  { type: 'go', place: 3 },
  { type: 'next' },
  { type: 'silence' },
  { type: 'ping', at: 1, latency: 3 },
  { type: 'link', body: { type: 'took' } },
  { type: 'away', address: '10.0.0.2', port: 4173 },
  { type: 'open', seats: [{ id: 1, name: 'tablet', tokens: ['a'.repeat(43)], spare: true }] },
  { type: 'tell', to: 1, body: { type: 'pong', at: 1 } },
  { type: 'dismiss', id: 1 },
  { type: 'osc', in: { address: '127.0.0.1', port: 9000 }, out: null },
  { type: 'say', address: '/wavicle/macro/1', values: [0.5, 'Speak'] },
  { type: 'hello', name: 'second', leads: false },
  { type: 'accept' },
  {
    type: 'rig',
    changes: [
      ['name', { value: 'x' }],
      ['patches', { ids: ['a'], items: [{ id: 'a' }] }],
    ],
    document: true,
  },
  { type: 'want', id: 'abc', from: 0 },
  { type: 'sample', id: 'abc', from: 0, total: 3, data: 'AAAA' },
  { type: 'lacks', count: 3, sound: false },
  { type: 'begin', epoch: 1, rate: 48000, seed: 1, maxVoices: 256 },
  {
    type: 'steps',
    epoch: 1,
    upTo: 300,
    steps: [
      { at: 3, ahead: 0, event: { type: 'noteOn', channel: 1, key: 60, velocity: 9 } },
      { at: 4, show: [['name', { gone: true }]] },
      { at: 5, outputs: [0, 1] },
    ],
    sums: [{ second: 1, hash: 5, power: 0.1 }],
  },
  { type: 'stands', since: 12, why: '', lagMs: 3 },
  { type: 'place', stepId: 's1', patchId: 'p1' },
  { type: 'take', plays: { block: 5, seconds: 1, looped: false } },
  {
    type: 'score',
    take: { name: 't', seconds: 1, events: [{ at: 0, event: { type: 'noteOff', channel: 1, key: 3, velocity: 9 } }] },
  },
  { type: 'piece', n: 0, of: 2, text: '{"type"' },
];
const READERS = { readHello, readGuest, readHost, readLink, readAway };
const LONGEST_MS = 200;

/** Messages by number: an honest one changed, read by each who might be sent it. */
function tryMessages(first: number, count: number): Outcome {
  const tally = new Tally();
  for (let seed = first; seed < first + count; seed++) {
    const chance = new Chance(seed + 1);
    const honest = HONEST[seed % HONEST.length];
    const json = chance.share() < 0.6 ? mutatedJson(honest, chance) : honest;
    const text = chance.share() < 0.3 ? mutatedText(JSON.stringify(json), chance) : JSON.stringify(json);
    tally.count('messages');
    const tryOne = (name: string, read: () => unknown) => {
      const began = performance.now();
      try {
        if (read() !== undefined) tally.count(`${name}: taken`);
      } catch (error) {
        tally.fail(`message ${seed}, ${name}: ${(error as Error).stack}`);
      }
      const ms = performance.now() - began;
      tally.measure('ms until the slowest was read', Math.round(ms));
      if (ms > LONGEST_MS) tally.fail(`message ${seed}, ${name}: read in ${Math.round(ms)} ms`);
    };
    for (const [name, read] of Object.entries(READERS)) tryOne(name, () => read(text));
    tryOne('readSpare', () => {
      const message = readSpare(json);
      if (message?.type === 'rig') hearRig(message.changes);
      return message;
    });
    if (Object.keys(Object.prototype).length > 0 || 'polluted' in {}) tally.fail(`message ${seed} changed all objects`);
  }
  return tally.outcome;
}

/** What is told of a rig is put together, and read as any file: it is a rig, or refused in words. */
function hearRig(changes: Changes): void {
  let rig: object;
  try {
    rig = applyChanges(newRig('rig', 'rig'), changes);
  } catch (error) {
    // Something was named that nobody has told of: said in words.
    if (error instanceof TypeError || error instanceof RangeError) throw error;
    return;
  }
  try {
    readRig(rig);
  } catch (error) {
    if (!(error instanceof RigError)) throw error;
  }
}

export const MESSAGES: Part = {
  name: 'messages',
  promise:
    'Whatever a device says that was let in or was not, or a page, or a second machine: it is read in a moment as what is known, or as nothing; no message changes anything but what it is about',
  against: `the schemas of the messages; ${HONEST.length} kinds of honest messages with their values, names, words and signs changed`,
  items: 'messages changed by chance',
  count: 1_000_000,
  chunk: 10_000,
  try: tryMessages,
};
