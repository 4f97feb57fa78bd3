import type { ControlId } from './control';
import type { Coding, ControlMove } from './controlReader';

export interface Learned {
  control: ControlId;
  channel: number;
  coding: Coding;
}

/** So far a continuous control must have gone before it is the one that is meant: hands rest on others. */
const FAR_ENOUGH = 0.06;

/**
 * Finds out what is being moved: buttons, pads and program changes at once, everything else by how far it goes. A CC
 * that repeats small numbers, or such around 64, is an encoder that counts.
 */
export class Learner {
  private readonly seen = new Map<string, { move: ControlMove; values: number[] }>();

  /** Takes a move; gives what was learned once that is sure. */
  take(move: ControlMove): Learned | undefined {
    const { control, channel } = move;
    if (control.startsWith('note.') || control.startsWith('program.'))
      return move.value > 0 ? { control, channel, coding: 'absolute' } : undefined;
    const key = `${channel} ${control}`;
    const entry = this.seen.get(key) ?? { move, values: [] };
    entry.values.push(move.value);
    this.seen.set(key, entry);
    const fine = control.startsWith('cc.') ? this.seen.get(`${channel} cc14.${control.slice(3)}`) : undefined;
    if (fine) return undefined;
    const coding = codingOf(control, entry.values);
    if (coding !== 'absolute')
      return entry.values.length >= 4 ? { control: `relative.${control.slice(3)}`, channel, coding } : undefined;
    return Math.max(...entry.values) - Math.min(...entry.values) >= FAR_ENOUGH && entry.values.length >= 3
      ? { control, channel, coding }
      : undefined;
  }

  /** What went farthest, where nobody moves anything any more; undefined where nothing was moved. */
  finish(): Learned | undefined {
    let best: Learned | undefined;
    let far = -1;
    for (const {
      move: { control, channel },
      values,
    } of this.seen.values()) {
      const coding = codingOf(control, values);
      const way = Math.max(...values) - Math.min(...values) + (control.startsWith('cc14.') ? 0.5 : 0);
      if (way <= far) continue;
      far = way;
      best =
        coding === 'absolute'
          ? { control, channel, coding }
          : { control: `relative.${control.slice(3)}`, channel, coding };
    }
    return best;
  }
}

function codingOf(control: ControlId, values: readonly number[]): Coding {
  if (!control.startsWith('cc.') || values.length < 2) return 'absolute';
  const numbers = values.map((value) => Math.round(value * 127));
  // A fader goes on to other numbers; an encoder says the same again, or turns between up and down.
  const repeats =
    numbers.some((number, i) => i > 0 && number === numbers[i - 1]) || new Set(numbers).size < numbers.length;
  if (!repeats) return 'absolute';
  if (numbers.every((number) => number !== 0 && (number <= 8 || number >= 120))) return 'twos';
  return numbers.every((number) => number !== 64 && number >= 56 && number <= 72) ? 'offset' : 'absolute';
}
