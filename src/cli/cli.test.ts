import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeTake } from '../core/formats/midiFile';
import { writeArchive } from '../core/formats/rigArchive';
import { readWav, writeWav } from '../core/formats/wav';
import { markAt, newLayer, newPatch, newRig, newZone } from '../core/rig/defaults';
import { splitLayersAt } from '../core/rig/edits/windows';

const folder = mkdtempSync(join(tmpdir(), 'wavicle test '));
const rigPath = join(folder, 'a rig.wavicle');
const takePath = join(folder, 'take.mid');
afterAll(() => rmSync(folder, { recursive: true }));

const wav = writeWav({ rate: 44100, channels: 1, data: Float32Array.from({ length: 44100 }, (_, i) => 0.4 * Math.sin((2 * Math.PI * 261.6 * i) / 44100)) }, { root: 60 });
const id = createHash('sha256').update(wav).digest('hex');
beforeAll(() => {
  const layers = [newLayer('a', 'Left', 's', markAt(0)), newLayer('b', 'Right', 's', markAt(1))];
  const patch = splitLayersAt({ ...newPatch('p', 'Low Tide'), layers }, 'a', 'b', 60, 0);
  const zone = { ...newZone(id, 60), key: { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' as const } };
  const rig = { ...newRig('r', 'R'), patches: [patch], setlist: ['p'], samples: [{ id, name: 'c4.wav', rate: 44100, channels: 1, frames: 44100 }], sounds: [{ id: 's', name: 'S', kind: 'multisample' as const, alternation: 'in-turn' as const, zones: [zone] }] };
  writeFileSync(rigPath, writeArchive(rig, () => wav));
  writeFileSync(takePath, writeTake({ name: 't', seconds: 1, events: [{ at: 0, event: { type: 'noteOn', channel: 1, key: 60, velocity: 127 } }, { at: 0.5, event: { type: 'noteOff', channel: 1, key: 60, velocity: 64 } }] }, 120));
});

function wavicle(...args: string[]) {
  const { status, stdout, stderr } = spawnSync(process.execPath, ['node_modules/tsx/dist/cli.mjs', 'src/cli/main.ts', ...args], { encoding: 'utf8' });
  return { status, json: stdout ? (JSON.parse(stdout) as never) : undefined, stderr: stderr.split('\n').filter((line) => line.startsWith('wavicle') || line.includes('    at ')).join('\n') };
}

test('show gives the outline', () => {
  const { json } = wavicle('show', rigPath);
  expect(json).toMatchObject({ name: 'R', patches: [{ name: 'Low Tide', layers: [{ name: 'Left', sound: 'S' }, { name: 'Right' }] }], sounds: [{ kind: 'multisample', zones: [{ sample: 'c4.wav', root: 60, key: [0, 127], velocity: [1, 127] }] }] });
});

test('resolve tells who sounds on either side of a split, by name or number, patch by name or id', () => {
  const layer = (...args: string[]) => (wavicle('resolve', rigPath, ...args).json as unknown as { sounding: { layer: string }[] }[]).map(({ sounding }) => sounding.map((answer) => answer.layer));
  expect(layer('--patch', 'low tide', '--key', '59', '--velocity', '90')).toEqual([['Left']]);
  expect(layer('--patch', 'p', '--key', 'C4', '--velocity', '90', '--repeat', '2')).toEqual([['Right'], ['Right']]);
  expect(wavicle('resolve', rigPath, '--patch', 'p', '--key', '72', '--velocity', '64').json).toMatchObject([{ strike: 1, sounding: [{ sound: 'S', sample: 'c4.wav', gain: 1, gainDb: 0, touchDb: expect.closeTo(-11.9, 1), semitones: 12, pan: 0 }] }]);
});

test('render plays a take into a WAV, the same bits for the same seed', () => {
  const out = join(folder, 'out.wav');
  const { json } = wavicle('render', rigPath, '--patch', 'Low Tide', '--take', takePath, '--out', out, '--tail', '0.5');
  expect(json).toMatchObject({ seconds: 1.5, voices: 1 });
  const first = readFileSync(out);
  const { audio } = readWav(first);
  expect(audio).toMatchObject({ rate: 48000, channels: 2 });
  expect(audio.data.length).toBe(2 * 72000);
  expect(audio.data.every((x) => Math.abs(x) <= 1)).toBe(true);
  expect(Math.max(...audio.data.slice(1000, 40000))).toBeGreaterThan(0.2);
  wavicle('render', rigPath, '--patch', 'Low Tide', '--take', takePath, '--out', out, '--tail', '0.5');
  expect(readFileSync(out).equals(first)).toBe(true);
});

const nowhere = join(folder, 'nowhere.wavicle');
test.each<[string[], number, RegExp]>([
  [[], 2, /a command is missing; there are demo, show, resolve, render/],
  [['dance'], 2, /"dance" is no command/],
  [['show'], 2, /RIG is missing/],
  [['show', nowhere], 1, /nowhere\.wavicle: there is no such file/],
  [['show', takePath], 1, /take\.mid: this is not a rig archive/],
  [['resolve', rigPath, '--patch', 'X', '--key', '60', '--velocity', '90'], 1, /--patch X: the rig has no such patch; it has Low Tide/],
  [['resolve', rigPath, '--patch', 'p', '--key', 'H9', '--velocity', '90'], 2, /--key H9: expected/],
  [['resolve', rigPath, '--patch', 'p', '--key', '60', '--velocity', '0'], 2, /--velocity 0: expected a whole number from 1 to 127/],
  [['resolve', rigPath, '--patch', 'p', '--key', '60', '--velocity', '9', '--set', 'cc.1=900'], 2, /cc\.1 goes from 0 to 127/],
  [['resolve', rigPath, '--patch', 'p', '--key', '60', '--velocity', '9', '--set', 'key=3'], 2, /cannot be set/],
  [['render', rigPath, '--patch', 'p', '--take', rigPath, '--out', join(folder, 'bad.wav')], 1, /not a readable MIDI file/],
  [['render', rigPath, '--patch', 'p', '--take', takePath, '--out', join(folder, 'no', 'where.wav')], 1, /cannot be written/],
])('%j fails with exit code %i, one line and no stack', (args, code, message) => {
  const { status, stderr, json } = wavicle(...args);
  expect(status).toBe(code);
  expect(stderr).toMatch(/^wavicle: [^\n]*$/);
  expect(stderr).toMatch(message);
  expect(json).toBeUndefined();
  expect(existsSync(join(folder, 'bad.wav'))).toBe(false);
  expect(readdirSync(folder).filter((name) => name.endsWith('.part'))).toEqual([]);
});
