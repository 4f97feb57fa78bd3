import { define } from '../space/parameter';
import { A, B, bendLine, C, HELD, SPAN_SECONDS, STAGE, VALUE, type MoverKind } from './mover';
import { amount, percent, seconds } from './parameters';

const DELAY = 0,
  ATTACK = 1,
  HOLD = 2,
  DECAY = 3,
  SUSTAIN = 4,
  RELEASE = 5,
  ATTACK_BEND = 6,
  DECAY_BEND = 7,
  RELEASE_BEND = 8,
  AMOUNT = 9;
const DONE = 5,
  RELEASING = 4,
  SUSTAINING = 3;

/**
 * Goes up when a note begins, stays while it is held and comes down when it ends, 0…1. A holds how far its stage has
 * come, B where the release began, C the value before its depth.
 */
export const envelope: MoverKind = {
  id: 'envelope',
  label: 'envelope',
  low: 0,
  help: 'Up when a note begins, down when it ends: delay, attack, hold, decay, sustain, release.',
  parameters: define({
    delay: seconds('delay', 0, 'Time before it sets out.', 0, 20),
    attack: seconds('attack', 0.1, 'Time from nothing to the top.', 0.001, 30),
    hold: seconds('hold', 0, 'Time at the top.', 0, 20),
    decay: seconds('decay', 0.6, 'Time from the top to where it stays.', 0.001, 30),
    sustain: percent('sustain', 40, 'Where it stays while a key is held.'),
    release: seconds('release', 0.4, 'Time from there to nothing once the note ends.', 0.001, 30),
    attackBend: percent('attack curve', 0, 'Above 0 quick at first, below 0 slow at first.', -100, 100),
    decayBend: percent('decay curve', 40, 'Above 0 quick at first, below 0 slow at first.', -100, 100),
    releaseBend: percent('release curve', 40, 'Above 0 quick at first, below 0 slow at first.', -100, 100),
    amount,
  }),
  begin(state, at) {
    state[at + STAGE] = -1;
    state[at + HELD] = 1;
  },
  advance(state, at, values, first, _spec, time) {
    if (state[at + HELD] === 0 && state[at + STAGE] < RELEASING) {
      state[at + STAGE] = RELEASING;
      state[at + A] = 0;
      state[at + B] = state[at + C];
    }
    let left = time[SPAN_SECONDS];
    // A span may see several short stages go by.
    for (let n = 0; n < 6 && left > 0 && state[at + STAGE] !== DONE && state[at + STAGE] !== SUSTAINING; n++) {
      const stage = state[at + STAGE];
      const lasts =
        values[
          first + (stage === -1 ? DELAY : stage === 0 ? ATTACK : stage === 1 ? HOLD : stage === 2 ? DECAY : RELEASE)
        ];
      const rest = lasts - state[at + A];
      if (left < rest) {
        state[at + A] += left;
        left = 0;
      } else {
        left -= rest > 0 ? rest : 0;
        state[at + A] = 0;
        state[at + STAGE] = stage + 1;
      }
    }
    const sustain = values[first + SUSTAIN] / 100;
    const stage = state[at + STAGE];
    if (stage === 0 || stage === 2 || stage === RELEASING) {
      scratch[0] = state[at + A] / values[first + (stage === 0 ? ATTACK : stage === 2 ? DECAY : RELEASE)];
      scratch[1] = values[first + (stage === 0 ? ATTACK_BEND : stage === 2 ? DECAY_BEND : RELEASE_BEND)] / 100;
      bendLine(scratch, 0, scratch, 1);
      state[at + C] =
        stage === 0 ? scratch[0] : stage === 2 ? 1 + (sustain - 1) * scratch[0] : state[at + B] * (1 - scratch[0]);
    } else state[at + C] = stage === 1 ? 1 : stage === SUSTAINING ? sustain : 0;
    state[at + VALUE] = state[at + C] * (values[first + AMOUNT] / 100);
  },
};

const scratch = new Float64Array(2);
