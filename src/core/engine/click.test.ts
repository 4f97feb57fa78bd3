import { on, RATE, start } from '../../../tests/kit/engine';
import { Click } from './click';

/** Frames at which something begins after silence. */
function onsets(x: Float32Array): number[] {
  const found: number[] = [];
  for (let i = 0, quiet = 1000; i < x.length; i++) {
    if (Math.abs(x[i]) > 1e-4) {
      if (quiet > 300) found.push(i);
      quiet = 0;
    } else quiet++;
  }
  return found;
}
const sound = { gain: 0.5, beats: 4, subdivision: 1, wood: false };
function play(change: Partial<typeof sound>, seconds: number, tempo = 120, cut = 128, from = 0): Float32Array {
  const click = new Click(RATE);
  click.set({ ...sound, ...change });
  const left = new Float32Array(Math.round(seconds * RATE));
  const perFrame = tempo / 60 / RATE;
  for (let at = 0; at < left.length; at += cut) {
    const block = left.subarray(at, at + cut);
    click.process(block, new Float32Array(block.length), block.length, from + at * perFrame, perFrame);
  }
  return left;
}
/** Zero crossings in the first milliseconds, as a frequency in Hz. */
function pitchAt(x: Float32Array, at: number): number {
  let crossings = 0;
  const frames = Math.round(0.008 * RATE);
  for (let i = at + 40; i < at + 40 + frames; i++) if (x[i - 1] <= 0 !== x[i] <= 0) crossings++;
  return (crossings * RATE) / (2 * frames);
}

test('one click on each quarter, to the frame, and a higher one at the beginning of each bar', () => {
  const x = play({ beats: 3 }, 3.6);
  const found = onsets(x);
  expect(found).toHaveLength(8);
  found.forEach((at, n) => expect(Math.abs(at - n * 24000)).toBeLessThanOrEqual(4));
  expect(found.map((at) => pitchAt(x, at) > 1450)).toEqual([true, false, false, true, false, false, true, false]);
});

test('subdivisions are lower and softer', () => {
  const x = play({ subdivision: 2 }, 1.9);
  const found = onsets(x);
  expect(found).toHaveLength(8);
  const peak = (n: number) =>
    x.subarray(found[n], found[n] + 2000).reduce((most, each) => Math.max(most, Math.abs(each)), 0);
  expect(peak(1) / peak(2)).toBeCloseTo(0.5, 1);
  expect(pitchAt(x, found[1])).toBeLessThan(1000);
});

test('the same clicks however the output is cut, none twice where blocks meet', () => {
  for (const wood of [true, false]) {
    const whole = play({ wood, subdivision: 3 }, 2, 137, 128);
    for (const cut of [1, 7, 441, 96000]) {
      const other = play({ wood, subdivision: 3 }, 2, 137, cut);
      expect(onsets(other)).toHaveLength(onsets(whole).length);
      for (let i = 0; i < whole.length; i += 13) expect(Math.abs(whole[i] - other[i])).toBeLessThan(0.02);
    }
  }
});

test('before the beginning, and with a tempo that is none, it is silent; it never exceeds its level', () => {
  expect(onsets(play({}, 1.2, 120, 128, -2))).toEqual([expect.any(Number)]);
  expect(onsets(play({}, 1, 0))).toEqual([]);
  expect(onsets(play({}, 1, NaN))).toEqual([]);
  expect(Math.max(...play({ wood: true }, 2))).toBeLessThanOrEqual(0.5);
});

test('it stands where the music is: a note that is struck on the beat begins with the click, to within a millisecond', () => {
  const engine = start({ patch: { tempo: 125 } });
  const click = new Click(RATE);
  click.set(sound);
  const frames = Math.round(1.6 * RATE);
  const music = new Float32Array(frames),
    clicks = new Float32Array(frames),
    none = new Float32Array(frames);
  engine.handle({ type: 'position', quarters: 0 }, 4800);
  // 125 quarters a minute are 23040 frames each.
  engine.handle(on(60, 127), 4800 + 2 * 23040);
  for (let at = 0; at < frames; at += 128) {
    const end = Math.min(frames, at + 128);
    engine.process(music.subarray(at, end), none.subarray(at, end), end - at);
    const { quartersPerFrame, quartersHeard } = engine;
    click.process(
      clicks.subarray(at, end),
      none.subarray(at, end),
      end - at,
      quartersHeard - (end - at) * quartersPerFrame,
      quartersPerFrame,
    );
  }
  const struck = music.findIndex((x) => Math.abs(x) > 1e-4);
  const nearest = onsets(clicks).reduce((best, at) => (Math.abs(at - struck) < Math.abs(best - struck) ? at : best), 0);
  expect(Math.abs(nearest - struck)).toBeLessThan(RATE / 1000);
});
