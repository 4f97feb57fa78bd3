import type { Audio } from '../dsp/sample';
import { equalPieces, piecesAt, piecesAtStrikes, piecesBetweenSilences, strikesIn } from './strikes';

const RATE = 44100;
/** Decaying tones at given seconds, over a faint floor of noise. */
const knocks = (at: readonly number[], seconds: number, fall = 18, noise = 1e-4): Audio => {
  const data = new Float32Array(Math.round(seconds * RATE));
  let s = 1;
  for (let i = 0; i < data.length; i++) {
    s = (Math.imul(s, 1664525) + 1013904223) | 0;
    data[i] = (noise * s) / 2 ** 31;
  }
  at.forEach((t, n) => {
    for (let i = Math.round(t * RATE); i < data.length; i++) {
      const age = i / RATE - t;
      data[i] +=
        (0.3 + 0.1 * (n % 4)) *
        Math.min(1, age / 0.002) *
        Math.exp(-fall * age) *
        Math.sin(2 * Math.PI * (300 + 40 * n) * age);
    }
  });
  return { rate: RATE, channels: 1, data };
};

test('strikes are found where they are, within some milliseconds, and nowhere else', () => {
  const at = [0.1, 0.42, 0.74, 1.3, 1.55, 2.2];
  const found = strikesIn(knocks(at, 3));
  expect(found).toHaveLength(at.length);
  // A cut lies before the strike, by 12 ms at the most.
  found.forEach((frame, i) => {
    expect(frame / RATE).toBeLessThanOrEqual(at[i] + 0.001);
    expect(at[i] - frame / RATE).toBeLessThan(0.012);
  });
});

test('the softer of two strikes counts until more is asked of a rise; silence has none', () => {
  const audio = knocks([0.2, 0.7], 1.5, 4);
  for (let i = Math.round(0.7 * RATE); i < audio.data.length; i++) audio.data[i] *= 1;
  expect(strikesIn(audio, 3).length).toBeGreaterThanOrEqual(2);
  expect(strikesIn(audio, 30)).toHaveLength(1);
  expect(strikesIn({ rate: RATE, channels: 1, data: new Float32Array(RATE) })).toEqual([]);
});

test('pieces at strikes follow one another to the end', () => {
  const audio = knocks([0.1, 0.5, 0.9], 1.4);
  const pieces = piecesAtStrikes(audio);
  expect(pieces).toHaveLength(3);
  pieces.slice(1).forEach(({ start }, i) => expect(start).toBe(pieces[i].end));
  expect(pieces[2].end).toBe(audio.data.length);
});

test('pieces between silences hold what sounds, and no more', () => {
  const pieces = piecesBetweenSilences(knocks([0.2, 1.2], 2.4, 30), -40, 0.1);
  expect(pieces).toHaveLength(2);
  expect(pieces[0].start / RATE).toBeGreaterThan(0.18);
  expect(pieces[0].end / RATE).toBeLessThan(0.6);
  expect(pieces[1].start / RATE).toBeGreaterThan(1.18);
});

test('equal parts and cuts by hand cover the recording; cuts that lie too near are one', () => {
  expect(equalPieces(1000, 4)).toEqual([
    { start: 0, end: 250 },
    { start: 250, end: 500 },
    { start: 500, end: 750 },
    { start: 750, end: 1000 },
  ]);
  expect(equalPieces(1000, 999)).toHaveLength(128);
  expect(piecesAt([0, 44100, 44200, 20000], 88200, RATE)).toEqual([
    { start: 0, end: 20000 },
    { start: 20000, end: 44100 },
    { start: 44100, end: 88200 },
  ]);
  expect(piecesAt([], 88200, RATE)).toEqual([]);
});
