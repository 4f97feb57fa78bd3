import type { Take } from './take';

/**
 * What every patch can be asked for, where it has no take of its own: a scale over its keys, and chords soft and hard.
 */
export function plainTake(keyLow: number, keyHigh: number): Take {
  const events: Take['events'] = [];
  const note = (at: number, key: number, velocity: number, seconds: number) =>
    events.push(
      { at, event: { type: 'noteOn', channel: 1, key, velocity } },
      { at: at + seconds, event: { type: 'noteOff', channel: 1, key, velocity: 64 } },
    );
  const from = Math.max(keyLow, 36);
  const to = Math.min(keyHigh, 84);
  for (let n = 0; n < 12; n++) note(n * 0.35, Math.round(from + ((to - from) * n) / 11), 60 + 5 * n, 0.4);
  [70, 100, 127].forEach((velocity, n) => {
    for (const key of [48, 55, 60, 64, 67])
      note(4.5 + n * 1.5, Math.min(keyHigh, Math.max(keyLow, key)), velocity, 1.4);
  });
  events.sort((a, b) => a.at - b.at);
  return { name: 'a scale and chords', seconds: 9.5, events };
}
