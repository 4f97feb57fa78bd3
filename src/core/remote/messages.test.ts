import fc from 'fast-check';
import {
  Bucket,
  isNear,
  LIMITS,
  readAway,
  readGuest,
  readHello,
  readHost,
  type GuestMessage,
  type HostMessage,
} from './messages';

const GOOD: GuestMessage[] = [
  { type: 'macro', number: 16, value: 0 },
  { type: 'xy', number: 4, x: 1, y: 0.5, letGo: true },
  { type: 'rest', kind: 'xy', number: 1 },
  { type: 'go', place: 0 },
  { type: 'next' },
  { type: 'previous' },
  { type: 'silence' },
  { type: 'ping', at: 12.5, latency: 3 },
];
test('every message of a device comes through as it is, and is short enough', () => {
  for (const message of GOOD) {
    const text = JSON.stringify(message);
    expect(readGuest(text)).toEqual(message);
    expect(text.length).toBeLessThan(LIMITS.guestBytes);
  }
});
test('with anything missing, more, out of range or of another type it is none', () => {
  for (const message of GOOD) {
    for (const key of Object.keys(message))
      expect(readGuest(JSON.stringify({ ...message, [key]: undefined }))).toBeUndefined();
    expect(readGuest(JSON.stringify({ ...message, more: 1 }))).toBeUndefined();
    for (const [key, value] of Object.entries(message))
      for (const wrong of [typeof value === 'string' ? 5 : String(value), null, [value], {}])
        expect(readGuest(JSON.stringify({ ...message, [key]: wrong }))).toBeUndefined();
  }
  for (const text of [
    '{"type":"macro","number":0,"value":0}',
    '{"type":"macro","number":1.5,"value":0}',
    '{"type":"xy","number":1,"x":-0.1,"y":0,"letGo":false}',
    '{"type":"macro","number":1,"value":1e999}',
    '{"__proto__":{"type":"next"}}',
    '[]',
    '5',
    '',
    '"next"',
  ])
    expect(readGuest(text)).toBeUndefined();
});
test('whatever comes, nothing is thrown, and what is taken is what the schemas say', () => {
  fc.assert(
    fc.property(
      fc.oneof(
        fc.json(),
        fc.string(),
        fc
          .record({
            type: fc.constantFrom('macro', 'xy', 'go', 'open', 'say', 'join', 'toString'),
            number: fc.anything(),
            value: fc.anything(),
            code: fc.anything(),
          })
          .map((value) => {
            try {
              return JSON.stringify(value) ?? '';
            } catch {
              return '';
            }
          }),
      ),
      (text) => {
        const guest = readGuest(text);
        if (guest?.type === 'macro')
          expect(guest.value >= 0 && guest.value <= 1 && Number.isInteger(guest.number)).toBe(true);
        readHost(text);
        readHello(text);
      },
    ),
    { numRuns: 500 },
  );
});
test('greetings are no messages, and devices cannot speak as the page', () => {
  expect(readHello('{"type":"join","code":"ABCD2345","name":""}')).toEqual({
    type: 'join',
    code: 'ABCD2345',
    name: '',
  });
  expect(readHello('{"type":"join","code":"ABCD2345"}')).toBeUndefined();
  expect(readGuest('{"type":"join","code":"ABCD2345","name":""}')).toBeUndefined();
  const tell: HostMessage = { type: 'tell', body: { type: 'pong', at: 1 } };
  expect(readHost(JSON.stringify(tell))).toEqual(tell);
  expect(readGuest(JSON.stringify(tell))).toBeUndefined();
});
test('OSC goes to numbered addresses and to paths of ours alone', () => {
  const osc = (place: unknown) => readHost(JSON.stringify({ type: 'osc', in: place, out: null }));
  expect(osc({ address: '127.0.0.1', port: 9000 })).toBeDefined();
  for (const wrong of [
    { address: 'somewhere.test', port: 9000 },
    { address: '127.0.0.1', port: 0 },
    { address: '127.0.0.1', port: 70000 },
    { address: '127.0.0.1' },
    'here',
  ])
    expect(osc(wrong)).toBeUndefined();
  const say = (address: string, values: unknown) => readHost(JSON.stringify({ type: 'say', address, values }));
  expect(say('/wavicle/stage', ['Low Water', 1])).toBeDefined();
  for (const [address, values] of [
    ['/other', [1]],
    ['/wavicle/Stage', [1]],
    ['/wavicle/stage', [null]],
    ['/wavicle/stage', Array(9).fill(1)],
    ['/wavicle/stage', ['x'.repeat(201)]],
  ] as const)
    expect(say(address, values)).toBeUndefined();
});
test('a bucket lets a burst through, then so many a second, and fills again while nothing comes', () => {
  const bucket = new Bucket(10, 5, 0);
  const through = (now: number, tries: number) =>
    Array.from({ length: tries }, () => bucket.take(now)).filter(Boolean).length;
  expect(through(0, 20)).toBe(5);
  expect(through(300, 20)).toBe(3);
  expect(through(10_000, 20)).toBe(5);
});

test('what is near: private networks and this machine, and nothing that a name would have to be looked up for', () => {
  for (const address of ['10.0.0.1', '127.0.0.1', '172.16.0.1', '172.31.255.9', '192.168.1.20', '169.254.3.4'])
    expect([address, isNear(address)]).toEqual([address, true]);
  for (const address of ['8.8.8.8', '172.32.0.1', '172.15.0.1', '192.169.0.1', '11.0.0.1', 'localhost', '10.0.0', ''])
    expect([address, isNear(address)]).toEqual([address, false]);
  expect(readAway('{"type":"away","address":"192.168.1.20","port":4180}')).toBeDefined();
  for (const bad of [
    '{"type":"away","address":"8.8.8.8","port":80}',
    '{"type":"away","address":"10.0.0.1","port":0}',
    'x',
  ])
    expect(readAway(bad)).toBeUndefined();
});
