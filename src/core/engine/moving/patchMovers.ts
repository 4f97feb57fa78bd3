import { MOVERS } from '../../movers';
import { HELD, INPUT, MOST_PARAMETERS, PHASE, SEED, seedOf, STATE_SIZE, VALUE } from '../../movers/mover';
import { COUNTED } from '../hands/counted';
import { NOTE_STATE } from '../hands/noteValues';
import { type CompiledMover } from '../program/program';

/** Readings at the end of each span of a run; the first row is where the run before ended. */

/** The movers of a patch at work, and those of notes as the notes that count have them. */
export class PatchMovers {
  /** A strike: movers of the patch that begin with it begin anew, or with the first of a phrase. */
  strike(firstOfPhrase: boolean): void {
    const { movers } = this;
    for (let m = 0; m < movers.length; m++) {
      const mover = movers[m];
      if (mover.ofNote) continue;
      const { begins } = mover.spec;
      this.states[m * STATE_SIZE + HELD] = 1;
      if (begins === 'strike' || (begins === 'phrase' && firstOfPhrase))
        beginMover(mover, this.states, m * STATE_SIZE, m * MOST_PARAMETERS, this.params);
    }
  }

  /** The note that counts in one way is another one, or it is struck again. */
  recount(way: number): void {
    const { movers } = this;
    for (let m = 0; m < movers.length; m++)
      if (movers[m].ofNote)
        beginMover(movers[m], this.states, (1 + way) * NOTE_STATE + m * STATE_SIZE, m * MOST_PARAMETERS, this.params);
  }

  /** No key is held any more. */
  allUp(): void {
    for (let m = 0; m < this.movers.length; m++)
      for (let set = 0; set <= COUNTED.length; set++) this.states[set * NOTE_STATE + m * STATE_SIZE + HELD] = 0;
  }

  /** What a mover of the patch gives now. */
  value(place: number): number {
    return this.states[place * STATE_SIZE + VALUE];
  }

  /** How far it has come in its rounds. */
  phase(place: number): number {
    return this.states[place * STATE_SIZE + PHASE];
  }

  /** Puts a mover of the patch where another engine has it, for pictures. */
  show(place: number, value: number): void {
    this.states[place * STATE_SIZE + VALUE] = value;
  }
  /**
   * Movers of the patch, and those of notes as the notes that count have them: a set of states for each way of
   * counting.
   */
  readonly states = new Float64Array((1 + COUNTED.length) * NOTE_STATE);
  /** Parameters of movers in their units, as they are for all, and for the note that is looked at. */
  readonly params: Float64Array;

  constructor(
    private readonly movers: readonly CompiledMover[],
    seed: number,
  ) {
    this.params = new Float64Array(movers.length * MOST_PARAMETERS);
    movers.forEach((mover, m) => this.params.set(mover.rests, m * MOST_PARAMETERS));
    for (let set = 0; set <= COUNTED.length; set++) {
      for (let m = 0; m < movers.length; m++) {
        const at = set * NOTE_STATE + m * STATE_SIZE;
        this.states[at + SEED] = seedOf(seed, movers[m].number * 64 + movers[m].kind * 8 + set);
        // A mover that each note has for itself waits for one that counts.
        if (!movers[m].ofNote || set > 0) beginMover(movers[m], this.states, at, m * MOST_PARAMETERS, this.params);
        if (set > 0) this.states[at + HELD] = 0;
      }
    }
  }

  /** Goes on where others left off, mover by mover. */
  takeOver(other: PatchMovers): void {
    const before = new Map(other.movers.map((mover, m) => [mover.id, m]));
    this.movers.forEach((mover, m) => {
      const old = before.get(mover.id);
      if (old === undefined || other.movers[old].ofNote !== mover.ofNote) return;
      for (let set = 0; set <= COUNTED.length; set++) {
        const from = set * NOTE_STATE + old * STATE_SIZE;
        this.states.set(other.states.subarray(from, from + STATE_SIZE), set * NOTE_STATE + m * STATE_SIZE);
      }
    });
  }

  /** What the transport leads begins with it. */
  restart(): void {
    for (let m = 0; m < this.movers.length; m++) {
      const mover = this.movers[m];
      if (!mover.ofNote && mover.spec.begins === 'beat')
        beginMover(mover, this.states, m * STATE_SIZE, m * MOST_PARAMETERS, this.params);
    }
  }
}

/** Begins a mover: nothing is left of its state but its seed and what it hears. */
export function beginMover(
  mover: CompiledMover,
  states: Float64Array,
  at: number,
  first: number,
  params: Float64Array,
): void {
  const seed = states[at + SEED];
  const input = states[at + INPUT];
  for (let n = 0; n < STATE_SIZE; n++) states[at + n] = 0;
  states[at + SEED] = seed;
  states[at + INPUT] = input;
  states[at + HELD] = 1;
  MOVERS[mover.kind].begin(states, at, params, first, mover.spec);
}
