import type { Chance } from '../../dsp/chance';
import { ALTERNATE, DRAWS, RANDOMS, type NoteValues } from '../hands/noteValues';
import { type ProgramLayer } from '../program/program';
import { StrikeChance } from '../notes/strikeChance';
import { STRIKE_VALUES } from '../program/strikeValues';
import { readStrikeValues } from '../moving/readStrikeValues';
import type { VoicePool } from '../voice/voicePool';
import { type NotesOwner, type Stage } from './stage';

/** The strike that is being answered: what a note would see, and what chance has drawn for it. */
export class Asking {
  readonly note: NoteValues;
  readonly luck = new StrikeChance();
  /** Seed of the last strike of keys. */
  lastSeed = 0;
  readonly randoms = new Float64Array(DRAWS).fill(1, ALTERNATE);
  readonly scatters = new Float64Array(RANDOMS);
  /** What was read for the voice that begins, and for the layers that find their zones themselves. */
  readonly values = new Float64Array(STRIKE_VALUES);
  readonly valuesMoved = new Uint8Array(STRIKE_VALUES);
  /** What strikes have in common is that of a layer which keeps another strike. */
  private keptShown = false;
  private readonly chance: Chance;
  private readonly pool: VoicePool;

  constructor(
    private readonly patch: NotesOwner,
    { pool, chance }: Stage,
  ) {
    this.chance = chance;
    this.pool = pool;
    this.note = {
      channel: 1,
      key: 60,
      velocity: 100,
      releaseVelocity: 64,
      randoms: this.randoms,
      scatters: this.scatters,
      states: pool.states,
      row: pool.askingRow,
    };
  }

  /** What is struck. */
  set(channel: number, key: number, velocity: number): void {
    this.note.channel = channel;
    this.note.key = key;
    this.note.velocity = velocity;
  }

  /** A strike of keys or of a path: every other one is another side. */
  count(): void {
    this.lastSeed = this.luck.seed;
    this.alternate();
  }
  alternate(): void {
    this.randoms[ALTERNATE] = 1 - this.randoms[ALTERNATE];
  }

  /** A strike begins: what its layers have in common is drawn. */
  begin(): void {
    this.luck.begin(this.chance, this.patch.program.layers.length);
    this.luck.drawShared(this.randoms, -1);
    this.keptShown = false;
  }

  /** Reads everything as the strike that is being answered finds it in a layer; its movers begin. */
  lookFor(program: ProgramLayer): void {
    const { evaluator } = this.patch;
    if (program.kept >= 0) this.luck.drawShared(this.randoms, program.kept);
    else if (this.keptShown) this.luck.drawShared(this.randoms, -1);
    this.keptShown = program.kept >= 0;
    this.luck.drawOwn(this.scatters, this.patch.program.layers.indexOf(program), program.kept);
    evaluator.lookLayer(0, program);
    evaluator.beginNote(program, this.note, program.kept >= 0 ? program.kept : this.pool.births + 1);
  }

  /** What the voices of a layer take from this strike. */
  readValues(program: ProgramLayer, voicing: ProgramLayer['voicings'][number]): void {
    readStrikeValues(this.patch.evaluator, program, voicing, this.values, this.valuesMoved);
  }
}
