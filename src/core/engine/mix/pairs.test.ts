import { make, off, on, RATE, start, TONE, type Setup } from '../../../../tests/kit/engine';
import { prepareSample } from '../../dsp/sample';
import { newEffect } from '../../rig/defaults';
import { addSend, takeConnection, updateConnection } from '../../rig/edits/mix';
import { outputId } from '../../rig/mix';
import type { Patch } from '../../rig/schema';
import { compile } from '../program/compile';
import { Engine } from '../engine';

/** What goes to pairs of outputs by name. `hall` is the first; what main makes goes there. */
const PAIRS = ['hall', 'phones', 'drummer'];
type Made = { hall: Float32Array; phones: Float32Array; drummer: Float32Array };

function play(engine: Engine, frames: number, cut = 128): Made {
  const all = Array.from({ length: 8 }, () => new Float32Array(frames));
  for (let at = 0; at < frames; at += cut) {
    const [left, right, ...beside] = all.map((each) => each.subarray(at, Math.min(frames, at + cut)));
    engine.process(left, right, left.length, beside);
  }
  return { hall: all[0], phones: all[2], drummer: all[4] };
}
const two: Setup = { audio: TONE, layers: [{}, { params: { level: -6 } }] };
const programOf = (setup: Setup, edit: (patch: Patch) => Patch) => {
  const { patch, context } = make(setup);
  return compile(edit(patch), { ...context, pairs: PAIRS });
};
function begin(setup: Setup, edit: (patch: Patch) => Patch, map = [0, 1, 2, 0]): Engine {
  const engine = new Engine({ rate: RATE });
  engine.outputs.map(map);
  const program = programOf(setup, edit);
  for (const { key, loop, levels, reverse } of program.samples)
    engine.addSample(key, prepareSample(setup.audio!, loop, levels, reverse));
  engine.setProgram(program);
  return engine;
}
const rms = (x: Float32Array, from = 2000): number =>
  Math.sqrt(x.subarray(from).reduce((sum, each) => sum + each * each, 0) / (x.length - from));
const db = (x: number): number => 20 * Math.log10(x);

test('a layer whose output is the phones is heard there and not in the hall', () => {
  const engine = begin(two, (patch) => takeConnection(patch, outputId('layer.l1'), 'pair.phones'));
  engine.handle(on());
  const { hall, phones, drummer } = play(engine, 8000);
  expect(db(rms(hall) / rms(phones))).toBeCloseTo(6, 1);
  expect(rms(drummer)).toBe(0);
});

test('a send to a pair takes nothing from the hall: the same bits as without it', () => {
  const plain = start(two);
  plain.handle(on());
  const sent = begin(two, (patch) =>
    updateConnection(addSend(patch, 'layer.l0', 'pair.phones'), 'send-1', { level: -3 }),
  );
  sent.handle(on());
  const a = play(plain, 6000),
    b = play(sent, 6000);
  for (let i = 0; i < 6000; i++) expect(Math.abs(a.hall[i] - b.hall[i])).toBeLessThan(1e-7);
  expect(db(rms(b.phones) / (rms(b.hall) / (1 + 10 ** (-6 / 20))))).toBeCloseTo(-3, 1);
});

test('main can be sent to a pair: what the hall hears, at its level', () => {
  const engine = begin(two, (patch) =>
    updateConnection(addSend(patch, 'main', 'pair.drummer'), 'send-1', { level: 0 }),
  );
  engine.handle(on());
  const { hall, drummer } = play(engine, 6000);
  for (let i = 0; i < 6000; i++) expect(drummer[i]).toBeCloseTo(hall[i], 6);
});

test('pairs are as late as the hall: ways with effects that take time stay together to the frame', () => {
  const late = (patch: Patch): Patch => ({
    ...addSend(patch, 'layer.l0', 'pair.phones'),
    main: { ...patch.main, effects: [newEffect('x', 'limiter')] },
  });
  const engine = begin({ audio: TONE }, late);
  engine.handle(on());
  const { hall, phones } = play(engine, 4000);
  const first = (x: Float32Array) => x.findIndex((each) => Math.abs(each) > 1e-6);
  expect(first(phones)).toBe(first(hall));
});

test('where a machine has too few outputs, what would be lost goes to the first pair', () => {
  const engine = begin(two, (patch) => takeConnection(patch, outputId('layer.l1'), 'pair.phones'), [0, 0, 0, 0]);
  engine.handle(on());
  const { hall, phones } = play(engine, 6000);
  expect(rms(phones)).toBe(0);
  const plain = start(two);
  plain.handle(on());
  expect(db(rms(hall) / rms(play(plain, 6000).hall))).toBeCloseTo(0, 2);
});

test('the same bits however the output is cut', () => {
  const run = (cut: number) => {
    const engine = begin(two, (patch) =>
      addSend(takeConnection(patch, outputId('layer.l1'), 'pair.phones'), 'main', 'pair.drummer'),
    );
    engine.handle(on(60), 100);
    engine.handle(off(60), 3000);
    return play(engine, 6000, cut);
  };
  const whole = run(6000);
  for (const cut of [1, 7, 33, 128, 441]) expect(run(cut)).toEqual(whole);
});

test('a way to a pair that an edit takes away fades there: nothing of it gets into the hall', () => {
  const setup: Setup = { audio: TONE, layers: [{}, {}] };
  const silentHall = (patch: Patch): Patch =>
    takeConnection(takeConnection(patch, outputId('layer.l0'), 'pair.phones'), outputId('layer.l1'), 'pair.phones');
  const engine = begin(setup, (patch) => addSend(silentHall(patch), 'layer.l0', 'pair.drummer'));
  engine.handle(on());
  const before = play(engine, 4000);
  expect(rms(before.drummer)).toBeGreaterThan(0.01);
  engine.setProgram(programOf(setup, silentHall));
  const after = play(engine, 6000);
  expect(rms(after.hall, 0)).toBe(0);
  expect(rms(after.drummer, 4000)).toBe(0);
  // It faded and did not stop: no step is larger than the tone itself makes.
  let step = 0;
  for (let i = 1; i < 6000; i++) step = Math.max(step, Math.abs(after.drummer[i] - after.drummer[i - 1]));
  expect(step).toBeLessThan(0.05);
  // And what plays alone is made the short way again.
  expect(engine.sounding!.mix.placeNamed('pair.drummer')).toBeNull();
});

test('silence is silence everywhere, and nothing leaves a pair above its ceiling', () => {
  const engine = begin({ audio: TONE, layers: Array.from({ length: 8 }, () => ({ params: { level: 6 } })) }, (patch) =>
    addSend(patch, 'main', 'pair.phones'),
  );
  engine.handle(on());
  const loud = play(engine, 12000);
  expect(Math.max(...loud.phones)).toBeLessThanOrEqual(10 ** (-0.1 / 20) + 1e-6);
  engine.handle({ type: 'panic' });
  play(engine, RATE / 10);
  expect(rms(play(engine, 2000).phones, 0)).toBe(0);
});
