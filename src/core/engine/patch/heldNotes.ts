import { CC } from '../../music/midi';
import { ADDRESSES } from '../hands/controllers';
import { COUNTED } from '../hands/counted';
import { CAUGHT, DOWN, SUSTAINED, type LayerState } from '../notes/layerState';
import { type Answering } from './answering';
import { type NotesOwner } from './stage';

/** The notes that keys and pedals hold in some layer, each at its address and key, and how they end. */
export class HeldNotes {
  /** By address and key: velocity of the last strike, which is that of the release zones. */
  readonly struck = new Uint8Array(ADDRESSES * 128);
  /** The notes that some layer still holds, as address · 128 + key, in order; the first {@link count} of them. */
  readonly going = new Int32Array(ADDRESSES * 128);
  count = 0;

  constructor(
    private readonly patch: NotesOwner,
    private readonly answering: Answering,
  ) {}

  add(at: number): void {
    const { going } = this;
    let i = this.count;
    while (i > 0 && going[i - 1] > at) i--;
    if (i > 0 && going[i - 1] === at) return;
    for (let n = this.count++; n > i; n--) going[n] = going[n - 1];
    going[i] = at;
  }

  private isHeldBy(layer: LayerState, pedal: number): boolean {
    const { receive, channel } = layer.program;
    return (
      (pedal === CC.sostenuto ? receive.sostenuto : receive.sustain) && this.patch.controllers.isDown(channel, pedal)
    );
  }

  /** A key goes up: its note ends in the layers where no pedal holds it, and their release zones answer. */
  endKey(channel: number, key: number): void {
    const at = channel * 128 + key;
    const { layers, program, counted } = this.patch;
    let anyEnds = false;
    let goesOn = false;
    for (let l = 0; l < program.layers.length; l++) {
      const layer = layers[l];
      const before = layer.held[at];
      layer.held[at] = (before & ~DOWN) | ((before & DOWN) !== 0 && this.isHeldBy(layer, CC.sustain) ? SUSTAINED : 0);
      layer.ending = before !== 0 && layer.held[at] === 0;
      anyEnds ||= layer.ending;
      goesOn ||= layer.held[at] !== 0;
    }
    if (!goesOn) this.dropGoing(at);
    const changed = counted.lift(channel, key);
    for (let way = 0; way < COUNTED.length; way++) if (changed & (1 << way)) this.patch.evaluator.movers.recount(way);
    if (anyEnds) this.answerEnd(at);
  }

  private dropGoing(at: number): void {
    const { going } = this;
    for (let i = 0; i < this.count; i++) {
      if (going[i] !== at) continue;
      this.count--;
      for (let n = i; n < this.count; n++) going[n] = going[n + 1];
      break;
    }
    if (this.count === 0) this.patch.evaluator.movers.allUp();
  }

  /** Notes end whose keys are up, in the layers whose pedals have come up. */
  endLifted(): void {
    const { layers, program } = this.patch;
    const { going } = this;
    for (let i = 0; i < this.count;) {
      const at = going[i];
      let anyEnds = false;
      let goesOn = false;
      for (let l = 0; l < program.layers.length; l++) {
        const layer = layers[l];
        const before = layer.held[at];
        layer.ending = false;
        if ((before & (SUSTAINED | CAUGHT)) !== 0) {
          if ((before & SUSTAINED) !== 0 && !this.isHeldBy(layer, CC.sustain)) layer.held[at] &= ~SUSTAINED;
          if ((before & CAUGHT) !== 0 && !this.isHeldBy(layer, CC.sostenuto)) layer.held[at] &= ~CAUGHT;
          layer.ending = layer.held[at] === 0;
          anyEnds ||= layer.ending;
        }
        goesOn ||= layer.held[at] !== 0;
      }
      if (goesOn) i++;
      else this.dropGoing(at);
      if (anyEnds) this.answerEnd(at);
    }
  }

  /** Notes are forgotten without an end that anything could answer. */
  forget(channel: number): void {
    for (const layer of this.patch.layers) layer.held.fill(0, channel * 128, channel * 128 + 128);
    for (let i = this.count - 1; i >= 0; i--) if (this.going[i] >> 7 === channel) this.dropGoing(this.going[i]);
    for (let key = 0; key < 128; key++) this.patch.counted.lift(channel, key);
  }

  /** The sostenuto pedal takes hold of the notes whose keys are down. */
  catch(): void {
    const { layers, program } = this.patch;
    for (let l = 0; l < program.layers.length; l++) {
      const layer = layers[l];
      if (!this.isHeldBy(layer, CC.sostenuto)) continue;
      for (let i = 0; i < this.count; i++)
        if ((layer.held[this.going[i]] & DOWN) !== 0) layer.held[this.going[i]] |= CAUGHT;
    }
  }

  /** Release zones answer the end of a note, in the layers where it ends just now. */
  private answerEnd(at: number): void {
    const { releaseStrikes } = this.answering;
    if (releaseStrikes) this.answering.answer(releaseStrikes, at >> 7, at & 127, this.struck[at], true, false);
  }
}
