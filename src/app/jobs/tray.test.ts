import { zipSync } from 'fflate';
import { swept } from '../document/storage/demoSamples';
import type { BroughtFile } from '../../core/formats/bringIn';
import type { DroppedFile } from '../document/droppedFiles';
import { Tray } from './tray';

/** Files by name: what the workers would say of them. */
const answers: Record<string, (job: { type: string; path?: string; sampleId?: string }) => unknown> = {};
const asked: string[] = [];
jest.mock('../document/soundLab', () => ({
  soundLab: {
    ask: async (job: { type: string; path?: string; sampleId?: string }) => {
      asked.push(`${job.type} ${job.path ?? job.sampleId ?? ''}`);
      await new Promise((resolve) => setTimeout(resolve, 1));
      const answer = answers[job.type]?.(job);
      if (answer instanceof Error) throw answer;
      return answer;
    },
  },
}));
const brought = (path: string, lufs = -20): BroughtFile => ({
  plan: { path, sampleId: path, frames: 100, levelDb: lufs, root: null, tuneCents: 0, loop: null },
  sample: { id: path, name: path, rate: 44100, channels: 1, frames: 100 },
  levels: { peakDb: -3, rmsDb: -23, lufs },
  warnings: [],
});
const dropped = (...paths: string[]): DroppedFile[] => paths.map((path) => ({ path, file: new File(['x'], path) }));

beforeAll(() => swept.done());
let tray: Tray;
beforeEach(() => {
  tray = new Tray();
  asked.length = 0;
  answers.look = ({ path }) =>
    path!.includes('bad') ? new Error('it is cut off') : brought(path!, path!.includes('loud') ? -6 : -20);
  answers.pitch = ({ sampleId }) => (sampleId!.includes('hum') ? { hz: 110, key: 45, cents: 3, clarity: 0.99 } : null);
  answers.sfz = () => ({ name: 'kit', zones: [{}], samples: [], notCarried: [], warnings: [] });
  answers.soundFont = () => new Error('this SoundFont is damaged');
});
const paths = () => tray.files.map((file) => file.path);

test('a common folder gives the name, and files come in the order in which people count', async () => {
  await tray.add(dropped('/Wires/C 10.wav', '/Wires/C 9.wav', '/Wires/.DS_Store', '/Wires/readme.txt', '/Wires/a.xyz'));
  expect(tray.name).toBe('Wires');
  expect(paths()).toEqual(['C 9.wav', 'C 10.wav']);
  expect(tray.problems).toEqual(['1 file is no audio that is known here, and stayed out']);
  expect(tray.busy).toBe(false);
  expect(tray.open).toBe(true);
});

test('folders without a common one stay in the paths', async () => {
  await tray.add(dropped('soft/C3.wav', 'hard/C3.wav'));
  expect(paths()).toEqual(['hard/C3.wav', 'soft/C3.wav']);
  expect(tray.plan.dynamics).toEqual(['soft', 'hard']);
});

test('a file that cannot be read is kept with its reason, and the others are planned', async () => {
  await tray.add(dropped('C3.wav', 'bad D3.wav', 'E3.wav'));
  expect(tray.files.map(({ state, problem }) => [state, problem])).toEqual([
    ['failed', 'it is cut off'],
    ['ready', undefined],
    ['ready', undefined],
  ]);
  expect(tray.plan.rows.map((row) => row.root)).toEqual([48, 52]);
});

test('names that say nothing of keys are laid out one after another', async () => {
  await tray.add(dropped('wind 1.wav', 'wind 2.wav'));
  expect(tray.options).toMatchObject({ layout: 'run', from: 36 });
  expect(tray.plan.rows.map((row) => row.root)).toEqual([36, 37]);
});

test('files are moved, sorted and left out, and the plan follows', async () => {
  await tray.add(dropped('x 1 loud.wav', 'x 2.wav', 'x 3.wav'));
  tray.move(2, 0);
  expect(paths()).toEqual(['x 3.wav', 'x 1 loud.wav', 'x 2.wav']);
  expect(tray.ready[tray.plan.rows[0].file].path).toBe('x 3.wav');
  tray.sort('level');
  expect(paths()).toEqual(['x 3.wav', 'x 2.wav', 'x 1 loud.wav']);
  tray.sort('name');
  expect(paths()[0]).toBe('x 1 loud.wav');
  tray.remove(tray.files[0]);
  expect(tray.plan.rows).toHaveLength(2);
});

test('pitches are listened for once, when they are asked for', async () => {
  await tray.add(dropped('hum.wav', 'hiss.wav'));
  tray.setOptions({ layout: 'pitch' });
  await new Promise((resolve) => setTimeout(resolve, 20));
  expect(tray.plan.rows.map((row) => [row.placed, row.problem ?? row.root])).toEqual([
    [false, 'unpitched'],
    [true, 45],
  ]);
  tray.setOptions({ layout: 'pitch' });
  await new Promise((resolve) => setTimeout(resolve, 20));
  expect(asked.filter((job) => job.startsWith('pitch'))).toHaveLength(2);
});

test('SFZ files take the audio beside them; what is wrong with a SoundFont is told', async () => {
  answers.samplePaths = () => ['A.wav'];
  await tray.add([
    {
      path: 'Kit/kit.sfz',
      file: Object.assign(new File(['x'], 'kit.sfz'), { text: async () => '<region> sample=A.wav' }),
    },
    ...dropped('Kit/a.wav', 'Kit/bank.sf2'),
  ]);
  expect(tray.files).toEqual([]);
  expect(tray.sounds.map(({ name, wanted, file }) => [name, wanted, file])).toEqual([['kit', true, 'kit.sfz']]);
  expect(tray.problems).toEqual(['bank.sf2: this SoundFont is damaged']);
  tray.want([tray.sounds[0]], false);
  expect(tray.sounds[0].wanted).toBe(false);
});

test('of a few presets all are wanted, of many those that are chosen; what answers no key cannot be', async () => {
  const presets = (count: number) =>
    Array.from({ length: count }, (_, n) => ({
      name: `preset ${n}`,
      zones: n === 2 ? [] : [{}],
      samples: [],
      notCarried: [],
      warnings: [],
    }));
  answers.soundFont = () => presets(8);
  await tray.add(dropped('few.sf2'));
  expect(tray.sounds.filter(({ wanted }) => wanted)).toHaveLength(7);
  tray.clear();
  answers.soundFont = () => presets(9);
  await tray.add(dropped('many.sf2'));
  expect(tray.sounds.filter(({ wanted }) => wanted)).toHaveLength(0);
  tray.want(tray.sounds.slice(0, 4), true);
  expect(tray.sounds.filter(({ wanted }) => wanted).map(({ name }) => name)).toEqual([
    'preset 0',
    'preset 1',
    'preset 3',
  ]);
});

test('stopping keeps what was read; giving up keeps nothing', async () => {
  const adding = tray.add(dropped(...Array.from({ length: 60 }, (_, i) => `C${i}.wav`)));
  await new Promise((resolve) => setTimeout(resolve, 3));
  tray.cancel();
  await adding;
  expect(tray.busy).toBe(false);
  expect(tray.files.length).toBeLessThan(60);
  expect(tray.files.every((file) => file.state === 'ready')).toBe(true);
  tray.clear();
  expect([tray.files, tray.sounds, tray.open, tray.name]).toEqual([[], [], false, '']);
});

test('nothing dropped says so', async () => {
  await tray.add([]);
  expect(tray.problems).toEqual(['there is no file in what was dropped']);
});

test('what is brought in while something is read waits for it, and both come', async () => {
  const first = tray.add(dropped('C1.wav', 'C2.wav'));
  const second = tray.add(dropped('C3.wav'));
  expect(tray.busy).toBe(true);
  await Promise.all([first, second]);
  expect(tray.files.map(({ path, state }) => [path, state])).toEqual([
    ['C1.wav', 'ready'],
    ['C2.wav', 'ready'],
    ['C3.wav', 'ready'],
  ]);
  expect(tray.busy).toBe(false);
});

test('a zip is opened as the folders in it; one that is damaged is told', async () => {
  await tray.add([
    {
      path: 'Kit.zip',
      file: new File(
        [zipSync({ 'Kick/one.wav': new Uint8Array([1]), 'Snare/one.wav': new Uint8Array([1]) }).slice()],
        'Kit.zip',
      ),
    },
    ...dropped('bad.zip'),
  ]);
  expect(tray.files.map(({ path }) => path)).toEqual(['Kick/one.wav', 'Snare/one.wav']);
  expect(tray.name).toBe('Kit');
  expect(tray.plan.folders?.meaning).toBe('pads');
  expect(tray.problems).toEqual(['bad.zip: this is not a zip file, or it is cut off or damaged']);
});

test('what was done to the tray is taken back and done again', async () => {
  await tray.add(dropped('C1.wav', 'C2.wav'));
  tray.move(0, 1);
  tray.setOptions({ softEdge: 9 });
  expect([tray.files[0].path, tray.options.softEdge, tray.canGoBack('undone')]).toEqual(['C2.wav', 9, true]);
  tray.goBack('undone');
  tray.goBack('undone');
  expect([tray.files[0].path, tray.options.softEdge, tray.canGoBack('undone')]).toEqual(['C1.wav', 0, false]);
  tray.goBack('redone');
  expect(tray.files[0].path).toBe('C2.wav');
});
