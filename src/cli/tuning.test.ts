import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { newPatch, newRig } from '../core/rig/defaults';
import { folder, rigPath, takePath, wavicle } from '../../tests/kit/commandLine';
import { tunedRig } from './tuning';

const at = (name: string, text: string): string => {
  const path = join(folder, name);
  writeFileSync(path, text);
  return path;
};
const hz = (...args: string[]): number[] =>
  (
    wavicle('resolve', rigPath, '--patch', 'p', '--velocity', '90', ...args).json as unknown as {
      sounding: { hz: number; semitones: number }[];
    }[]
  )[0].sounding.map((each) => each.hz);

test('resolve tells hz, and follows concert pitch', () => {
  expect(hz('--key', '69')[0]).toBeCloseTo(440, 6);
  expect(hz('--key', '69', '--a4', '442')[0]).toBeCloseTo(442, 6);
  expect(hz('--key', '60', '--a4', '415')[0]).toBeCloseTo((261.6255653 * 415) / 440, 5);
});

test('what is said here holds for patches that have a concert pitch of their own as well', () => {
  const rig = { ...newRig('r', 'R'), patches: [{ ...newPatch('p', 'P'), a4: 415 }] };
  expect(tunedRig(rig, {}).patches[0].a4).toBe(415);
  const said = tunedRig(rig, { a4: '442' });
  expect([said.pitch.a4, said.patches[0].a4]).toEqual([442, null]);
});

test('a scale of five equal degrees: the A stays, its neighbour is a fifth of an octave away', () => {
  const scl = at('five.scl', '! five.scl\n!\nfive equal\n 5\n!\n 240.0\n 480.0\n 720.0\n 960.0\n 2/1\n');
  expect(hz('--key', '69', '--tuning', scl)[0]).toBeCloseTo(440, 6);
  expect(hz('--key', '70', '--tuning', scl)[0]).toBeCloseTo(440 * 2 ** 0.2, 6);
  expect(hz('--key', '70', '--tuning', scl, '--a4', '432')[0]).toBeCloseTo(432 * 2 ** 0.2, 6);
  const kbm = at('five.kbm', '0\n0\n127\n60\n60\n264.0\n0\n');
  expect(hz('--key', '60', '--tuning', scl, '--mapping', kbm)[0]).toBeCloseTo(264, 6);
  expect(hz('--key', '61', '--tuning', scl, '--mapping', kbm)[0]).toBeCloseTo(264 * 2 ** 0.2, 6);
  const gaps = at('gaps.kbm', '2\n0\n127\n60\n60\n264.0\n2\n0\nx\n');
  expect(hz('--key', '61', '--tuning', scl, '--mapping', gaps)).toEqual([]);
});

test('render plays as it is tuned, and what cannot be read is told with its line', () => {
  const out = join(folder, 'tuned.wav');
  const scl = at('ok.scl', 'two\n2\n600.0\n2/1\n');
  expect(
    wavicle('render', rigPath, '--patch', 'p', '--take', takePath, '--out', out, '--tuning', scl, '--a4', '430'),
  ).toMatchObject({ status: 0 });
  const bad = at('bad.scl', 'bad\n2\nhello\n2/1\n');
  const call = (...args: string[]) =>
    wavicle('resolve', rigPath, '--patch', 'p', '--key', '60', '--velocity', '9', ...args);
  expect(call('--tuning', bad)).toMatchObject({
    status: 1,
    stderr: expect.stringMatching(/bad\.scl: line 3: .*hello/) as string,
  });
  expect(call('--mapping', scl)).toMatchObject({
    status: 2,
    stderr: expect.stringMatching(/--tuning FILE\.scl is missing/) as string,
  });
  expect(call('--a4', '500')).toMatchObject({ status: 2 });
  expect(call('--tuning', join(folder, 'nothing.scl'))).toMatchObject({ status: 1 });
});
