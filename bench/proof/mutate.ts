/** Files changed by chance, as no careful hand would. */
import type { Chance } from '../../src/core/dsp/chance';

const anyOf = <T>(list: readonly T[], chance: Chance): T => list[chance.below(list.length)];

/** Numbers where readers tend to go wrong. */
const ODD_BYTES = [0, 1, 0x7f, 0x80, 0xfe, 0xff];
const ODD_WORDS = [0, 1, 2, 0x7fff, 0x8000, 0xffff, 0x7fffffff, 0x80000000, 0xffffffff, 0xfffffffe, 65_536, 2 ** 30];
const ODD_WORDS_OF_TEXT = [
  '',
  '-1',
  '0',
  '1e999',
  'NaN',
  '99999999999999999999',
  '$A',
  '#define $A $A$A',
  '#include "x.sfz"',
  '<region>',
  '../../x',
  '\u0000',
  '½ 名 “odd”',
  '{',
  ']',
  '//',
  'x'.repeat(3000),
];
const ODD_VALUES: readonly unknown[] = [
  null,
  true,
  0,
  -1,
  0.5,
  1e308,
  -1e308,
  '',
  '名',
  '__proto__',
  'x'.repeat(5000),
  [],
  {},
  [[]],
  { constructor: 1 },
];

/** Bytes with one to four changes: some set, a part cut out, doubled, moved or repeated, a length or a count made odd. */
export function mutatedBytes(from: Uint8Array, chance: Chance): Uint8Array {
  let bytes: Uint8Array = from.slice();
  for (let times = 1 + chance.below(4); times > 0; times--) {
    const at = chance.below(Math.max(1, bytes.length));
    const long = 1 + chance.below(anyOf([4, 64, 1024], chance));
    const part = bytes.subarray(at, at + long);
    const joined = (...parts: Uint8Array[]) => {
      const made = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0));
      parts.reduce((to, each) => (made.set(each, to), to + each.length), 0);
      return made;
    };
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    const what = chance.below(9);
    if (what === 0) bytes[at] = anyOf(ODD_BYTES, chance);
    else if (what === 1) bytes[at] ^= 1 << chance.below(8);
    else if (what === 2 && at + 4 <= bytes.length) view.setUint32(at, anyOf(ODD_WORDS, chance), true);
    else if (what === 3 && at + 4 <= bytes.length) view.setUint32(at, anyOf(ODD_WORDS, chance), false);
    else if (what === 4 && at + 2 <= bytes.length) view.setUint16(at, anyOf(ODD_WORDS, chance) & 0xffff, true);
    else if (what === 5) bytes = bytes.slice(0, at);
    else if (what === 6) bytes = joined(bytes.subarray(0, at), bytes.subarray(at + long));
    else if (what === 7) bytes = joined(bytes.subarray(0, at), part, part, bytes.subarray(at + long));
    else
      bytes = joined(
        bytes.subarray(0, at),
        bytes.subarray(chance.below(bytes.length + 1)).slice(0, long),
        bytes.subarray(at),
      );
  }
  return bytes;
}

/** Text with words, lines and signs changed; where it has no lines, its words. */
export function mutatedText(from: string, chance: Chance): string {
  let text = from;
  for (let times = 1 + chance.below(4); times > 0; times--) {
    const by = anyOf(['\n', /(?<=[\s=/])/, ''] as const, chance);
    const parts = text.split(by);
    const at = chance.below(parts.length);
    const what = chance.below(5);
    if (what === 0) parts.splice(at, 1);
    else if (what === 1) parts.splice(at, 0, parts[chance.below(parts.length)]);
    else if (what === 2) parts[at] = anyOf(ODD_WORDS_OF_TEXT, chance);
    else if (what === 3) parts[at] = `${parts[at]}${String(anyOf(ODD_WORDS, chance))}`;
    else parts.length = at;
    text = parts.join(by === '\n' ? '\n' : '');
  }
  return text;
}

/** A value of JSON with one to three of its parts, anywhere in it, replaced, taken away, doubled, or given another's name. */
export function mutatedJson(from: unknown, chance: Chance): unknown {
  const json = structuredClone(from);
  for (let times = 1 + chance.below(3); times > 0; times--) {
    let holder = json as Record<string, unknown>;
    let key = anyOf(Object.keys(holder), chance);
    // The deeper it is, the more there is of it: it goes down in most cases.
    for (;;) {
      const value = holder[key];
      if (typeof value !== 'object' || value === null || Object.keys(value).length === 0 || chance.share() < 0.12)
        break;
      holder = value as Record<string, unknown>;
      key = anyOf(Object.keys(holder), chance);
    }
    if (key === undefined) continue;
    const what = chance.below(6);
    const value = holder[key];
    if (what === 0) delete holder[key];
    else if (what === 1) holder[`${key}x`] = value;
    else if (what === 2 && Array.isArray(holder)) holder.push(structuredClone(value));
    else if (what === 3) holder[key] = structuredClone(holder[anyOf(Object.keys(holder), chance)]);
    else if (what === 4 && typeof value === 'number')
      holder[key] = anyOf([-value, value * 1000, value + 0.5, 2 ** 31], chance);
    else holder[key] = structuredClone(anyOf(ODD_VALUES, chance));
  }
  // As it comes from a file: what JSON does not know is none of it.
  return JSON.parse(JSON.stringify(json));
}
