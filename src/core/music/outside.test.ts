import { bytesOfMessage, bytesOfText, wordsOfMessage, type OutsideMessage } from './outside';

const message = (change: Partial<OutsideMessage>): OutsideMessage => ({
  kind: 'program',
  number: 0,
  value: -1,
  bytes: '',
  ...change,
});

/** Source of every byte here: MIDI 1.0 Detailed Specification 4.2, tables I to III. */
describe('messages on a cable', () => {
  test('a program alone, and after its bank: most significant byte, least significant byte, program', () => {
    expect(bytesOfMessage(message({ number: 11 }), 1)).toEqual([[0xc0, 11]]);
    expect(bytesOfMessage(message({ number: 127, value: 129 }), 16)).toEqual([
      [0xbf, 0, 1],
      [0xbf, 32, 1],
      [0xcf, 127],
    ]);
    // Bank 0 is told as well: some instruments stand in another one.
    expect(bytesOfMessage(message({ value: 0 }), 3)).toHaveLength(3);
  });
  test('a controller is held within its seven bits', () => {
    expect(bytesOfMessage(message({ kind: 'controller', number: 74, value: 90 }), 2)).toEqual([[0xb1, 74, 90]]);
    expect(bytesOfMessage(message({ kind: 'controller', number: 7, value: 16383 }), 2)).toEqual([[0xb1, 7, 127]]);
  });
  test('an NRPN: its number, its value in fourteen bits, and the null number that closes it', () => {
    expect(bytesOfMessage(message({ kind: 'nrpn', number: 130, value: 300 }), 1)).toEqual([
      [0xb0, 99, 1],
      [0xb0, 98, 2],
      [0xb0, 6, 2],
      [0xb0, 38, 44],
      [0xb0, 99, 127],
      [0xb0, 98, 127],
    ]);
  });
  test('notes off lifts the pedal first, for a pedal keeps what all notes off ends', () => {
    expect(bytesOfMessage(message({ kind: 'notesOff' }), 4)).toEqual([
      [0xb3, 64, 0],
      [0xb3, 123, 0],
    ]);
  });
  test('every message of every kind is one that a cable can carry: a status, then data below 128', () => {
    const ends = [0, 1, 127].flatMap((number) => [-1, 0, 127, 128, 16383].map((value) => ({ number, value })));
    for (const kind of ['program', 'controller', 'nrpn', 'notesOff'] as const)
      for (const { number, value } of ends)
        for (const channel of [1, 16])
          for (const bytes of bytesOfMessage(message({ kind, number, value }), channel)) {
            expect(bytes[0] & 15).toBe(channel - 1);
            expect(bytesOfText(bytes.map((byte) => byte.toString(16).padStart(2, '0')).join(' '))).toEqual({
              messages: [bytes],
            });
          }
  });
});

describe('bytes as they are typed', () => {
  const read = (text: string) => {
    const found = bytesOfText(text);
    return 'problem' in found ? found.problem : found.messages;
  };
  test('several messages in a row, spaces or none, capitals or none', () => {
    expect(read('F0 7d 01 F7, c0 05 f8')).toEqual([[0xf0, 0x7d, 1, 0xf7], [0xc0, 5], [0xf8]]);
    expect(read('B00740')).toEqual([[0xb0, 7, 64]]);
    expect(read('f2 00 08')).toEqual([[0xf2, 0, 8]]);
    expect(read('  ')).toEqual([]);
  });
  test.each([
    ['B0 07 zz', /"z" is no hexadecimal digit/],
    ['B0 07 4', /has two digits, and the last has one/],
    ['07 40', /byte 1 \(07\) is data where a message should begin/],
    ['B0 07', /the message B0 is cut off/],
    ['B0 07 F8', /byte 3 \(F8\) is no data/],
    ['F0 7D 01', /has no end \(F7\)/],
    ['F0 7D 90 F7', /byte 3 \(90\) is no data/],
    ['F4', /F4 begins no message/],
    ['F8'.repeat(257), /257 bytes are more than 256/],
  ])('%s is refused, with what is wrong', (text, problem) => {
    expect(read(text)).toMatch(problem);
    // What cannot be read is never half sent.
    expect(bytesOfMessage(message({ kind: 'bytes', bytes: text }), 1)).toEqual([]);
  });
});

test('messages in words', () => {
  expect(wordsOfMessage(message({ number: 11, value: 2 }))).toBe('program 12 of bank 2');
  expect(wordsOfMessage(message({ kind: 'controller', number: 7, value: 90 }))).toBe('CC 7 = 90');
  expect(wordsOfMessage(message({ kind: 'nrpn', number: 7, value: 90 }))).toBe('NRPN 7 = 90');
  expect(wordsOfMessage(message({ kind: 'notesOff' }))).toBe('notes off');
  expect(wordsOfMessage(message({ kind: 'bytes' }))).toBe('no bytes yet');
  expect(wordsOfMessage(message({ kind: 'bytes', bytes: 'F8 '.repeat(20) }))).toHaveLength(24);
});
