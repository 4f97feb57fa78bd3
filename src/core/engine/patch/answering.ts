import { hearsAddress } from '../hands/controllers';
import { COUNTED } from '../hands/counted';
import { type LayerPath } from '../notes/layerPath';
import { Strikes } from '../notes/strike';
import { CHOICE, TOUCH, TRANSPOSE } from '../program/strikeValues';
import { feltVelocity } from '../program/touch';
import type { VoicePool } from '../voice/voicePool';
import { type Asking } from './asking';
import { type Starting } from './starting';
import { type NotesOwner, type Stage } from './stage';

/** What answers a strike, and the end of a note: which zones of which layers. */
export class Answering {
  strikes!: Strikes;
  /** What answers ends; null where nothing does. */
  releaseStrikes: Strikes | null = null;
  private readonly pool: VoicePool;

  constructor(
    private readonly patch: NotesOwner,
    { pool }: Stage,
    private readonly asking: Asking,
    private readonly starting: Starting,
  ) {
    this.pool = pool;
  }

  /** The patch has another program. */
  setProgram(): void {
    const { program } = this.patch;
    const { luck } = this.asking;
    this.strikes = new Strikes(program.table, program.layers, luck, program.zones.count);
    this.releaseStrikes =
      program.releaseTable && new Strikes(program.releaseTable, program.layers, luck, program.zones.count);
  }

  /** Starts what answers a strike, or the end of a note in the layers where it ends just now. */
  answer(
    strikes: Strikes,
    channel: number,
    key: number,
    velocity: number,
    atEnd: boolean,
    firstOfPhrase: boolean,
  ): void {
    const { asking, patch } = this;
    const { evaluator, layers, program } = patch;
    asking.begin();
    asking.set(channel, key, velocity);
    if (!atEnd) {
      asking.count();
      const changed = patch.counted.strike(channel, key, velocity, asking.randoms);
      if (program.movers.length > 0) {
        evaluator.movers.strike(firstOfPhrase);
        for (let way = 0; way < COUNTED.length; way++) if (changed & (1 << way)) evaluator.movers.recount(way);
      }
      if (program.shared.length > 0) evaluator.lookPatch(0, false);
    }
    strikes.strike(key, velocity);
    for (let l = 0; l < program.layers.length; l++) {
      if (
        program.layers[l].own &&
        !program.layers[l].path &&
        (atEnd ? layers[l].ending : this.isOn(program.layers[l].channel, channel))
      )
        this.findOwn(strikes, l, key, velocity, atEnd, NONE, 0);
    }
    const strike = ++this.pool.strikeCount;
    for (let i = 0; i < strikes.count; i++) {
      const l = strikes.layers[i];
      if (atEnd ? layers[l].ending : this.isOn(layers[l].program.channel, channel))
        this.starting.start(l, strikes.zones[i], strikes.choices[i], strike);
    }
    if (!atEnd)
      for (let l = 0; l < program.layers.length; l++)
        if (!program.layers[l].path && this.isOn(program.layers[l].channel, channel))
          layers[l].lastKey = key + program.layers[l].transpose;
  }

  /** A layer finds its zones itself: in the sound, at the key and at the velocity that hold for this strike. */
  findOwn(
    strikes: Strikes,
    l: number,
    key: number,
    velocity: number,
    atEnd: boolean,
    transposes: Float64Array,
    note: number,
  ): void {
    const program = this.patch.program.layers[l];
    const { values, valuesMoved } = this.asking;
    const own = program.own!;
    this.asking.lookFor(program);
    this.asking.readValues(program, program.voicings[0]);
    this.starting.ownTransposes[l] = program.path ? transposes[note] : values[TRANSPOSE];
    this.starting.ownTouches[l] =
      valuesMoved[TOUCH] === 0 || program.fixed > 0
        ? program.touch[velocity]
        : feltVelocity(velocity, values[TOUCH], program.outLow, program.outHigh);
    const soundKey = Math.min(127, Math.max(0, key + this.starting.ownTransposes[l]));
    if (program.morph)
      for (let n = 0; n < own.length; n++)
        strikes.strikeOwn(l, own[n], n, soundKey, this.starting.ownTouches[l], atEnd);
    else {
      const { picked } = this.patch.layers[l];
      const choice =
        picked >= 0 && picked < own.length ? picked : Math.min(own.length - 1, Math.floor(values[CHOICE] * own.length));
      strikes.strikeOwn(l, own[choice], choice, soundKey, this.starting.ownTouches[l], atEnd);
    }
  }

  /**
   * Whether a layer hears what comes from an address; a finger of an expressive controller is heard where its zone is.
   */
  isOn(listening: number, from: number): boolean {
    const master = this.patch.controllers.masterOf[from];
    return hearsAddress(listening, from) || (master > 0 && hearsAddress(listening, master));
  }

  /** One layer answers as if it were struck again, and no other; gives the number of the strike. */
  again(l: number, channel: number, key: number, velocity: number): number {
    const { strikes, asking } = this;
    asking.set(channel, key, velocity);
    asking.begin();
    strikes.count = 0;
    if (this.patch.program.layers[l].own) this.findOwn(strikes, l, key, velocity, false, NONE, 0);
    else strikes.strike(key, velocity);
    const strike = ++this.pool.strikeCount;
    for (let n = 0; n < strikes.count; n++)
      if (strikes.layers[n] === l) this.starting.start(l, strikes.zones[n], strikes.choices[n], strike);
    return strike;
  }

  /** A layer answers a note of its path, or its end. */
  answerPath(strikes: Strikes, path: LayerPath, note: number, atEnd: boolean): void {
    const l = path.layer;
    const { starting } = this;
    const { key, velocity } = this.asking.note;
    strikes.count = 0;
    starting.made = atEnd ? 0 : path.serials[note];
    starting.madeGain[0] = path.gains[note];
    this.findOwn(strikes, l, key, velocity, atEnd, path.transposes, note);
    const strike = ++this.pool.strikeCount;
    for (let i = 0; i < strikes.count; i++) starting.start(l, strikes.zones[i], strikes.choices[i], strike);
    starting.made = 0;
    starting.madeGain[0] = 1;
  }
}

const NONE = new Float64Array(1);
