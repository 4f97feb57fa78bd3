/** Files that mean harm, or were made by accident: each is answered with one clear line, in a moment. */
import { strToU8, zipSync } from 'fflate';
import { readNames } from '../mapping/names';
import { readSfzText, SFZ_LIMITS } from './sfzText';
import { filesOfZip, ZIP_LIMITS } from './zip';

/**
 * How long something took, and what it said where it was refused. Two seconds are more than any answer may take; here
 * they are far more than it takes.
 */
function answer(work: () => unknown): string {
  const began = performance.now();
  let said = '';
  try {
    work();
  } catch (error) {
    said = (error as Error).message;
  }
  expect(performance.now() - began).toBeLessThan(2000);
  return said;
}
const read = (text: string, include: (path: string) => string | undefined = () => undefined) =>
  readSfzText(text, 'x.sfz', include, { region: () => undefined });

/** A zip whose central directory claims other sizes than there are. */
function claiming(bytes: number): Uint8Array {
  const zip = zipSync({ 'a.wav': [new Uint8Array(1000), { level: 9 }] });
  const view = new DataView(zip.buffer);
  for (let i = 0; i + 28 < zip.length; i++)
    if (view.getUint32(i, true) === 0x02014b50) view.setUint32(i + 24, bytes, true);
  return zip;
}

describe('zips', () => {
  test('one that claims far more than it can hold is refused before it is unpacked', () => {
    expect(answer(() => filesOfZip(claiming(3e9)))).toMatch(/claims to hold .* GiB, and at most 64 MiB are unpacked/);
  });
  test('one that truly holds too much of nothing as well', () => {
    const zip = zipSync({ 'a.wav': [new Uint8Array(2 ** 27), { level: 1 }] });
    expect(answer(() => filesOfZip(zip))).toMatch(/at most/);
  });
  test('too many files, and names without end', () => {
    const many = Object.fromEntries(
      Array.from({ length: ZIP_LIMITS.entries + 1 }, (_, n) => [`${n}`, new Uint8Array()]),
    );
    const zip = zipSync(many, { level: 0 });
    expect(answer(() => filesOfZip(zip))).toBe(`holds more than ${ZIP_LIMITS.entries} files`);
    expect(answer(() => filesOfZip(zipSync({ ['x'.repeat(45_000)]: strToU8('x') })))).toContain(
      `longer than ${ZIP_LIMITS.name} letters`,
    );
  });
  test('an honest one is opened', () =>
    expect(filesOfZip(zipSync({ 'a/b.wav': strToU8('x') }))).toMatchObject([{ path: 'a/b.wav' }]));
});

describe('SFZ', () => {
  test('variables that double and double', () => {
    const doubling = [
      '#define $A0 xxxxxxxxxx',
      ...Array.from({ length: 30 }, (_, n) => `#define $A${n + 1} $A${n}$A${n}`),
      '<region> sample=$A30',
    ].join('\n');
    expect(answer(() => read(doubling))).toMatch(/stands for more than 2000 letters|becomes longer than 20000 letters/);
  });
  test('a line of slashes is read once, and one without end is refused', () => {
    expect(answer(() => read(`<region> sample=${'a//'.repeat(6000)}b.wav key=60`))).toBe('');
    expect(answer(() => read(`<region> sample=${'a//'.repeat(20_000)}`))).toContain(
      `longer than ${SFZ_LIMITS.line} letters`,
    );
    expect(
      answer(() => read(Array.from({ length: 200 }, () => `<region> sample=${'a//'.repeat(6000)}b.wav`).join('\n'))),
    ).toBe('');
  });
  test('files that include files that include files', () => {
    const fan = Array.from({ length: 100 }, (_, n) => `#include "f${n}.sfz"`).join('\n');
    expect(
      answer(() =>
        read(fan, (path) =>
          /^f\d+\.sfz$/.test(path) ? fan.replaceAll('"f', '"g') : /^g/.test(path) ? '<region>' : undefined,
        ),
      ),
    ).toMatch(/more than 2000 files are included/);
  });
  test('a sharp belongs to the value of a variable', () => {
    const apart: string[] = [];
    readSfzText('#define $HIGH g#4\n<region> hikey=$HIGH', 'x.sfz', () => undefined, {
      region: (opcodes) => apart.push(opcodes.take('hikey') ?? ''),
    });
    expect(apart).toEqual(['g#4']);
  });
});

test('names of 45 000 letters are read in a moment', () => {
  expect(answer(() => readNames([`${'a1_'.repeat(15_000)}C4.wav`, `${'b-'.repeat(20_000)}D4.wav`]))).toBe('');
});
