import { unpackMade } from '../../core/engine/offline/made';
import { ANSWERS } from '../../core/engine/program/tick';
import type { AudioHost } from '../../host/audioHost';
import type { MidiOutputs } from '../../host/midiOutputs';
import { METER } from '../../host/protocol';
import type { Meters } from './meters';
import type { Programs } from './programs';

type Engine = Pick<AudioHost, 'meters' | 'engineSerial'>;
type Outputs = Pick<MidiOutputs, 'letGo' | 'note'>;

/** The notes that paths make of what is played: lit on the keys, and passed on to outputs. */
export class MadeNotes {
  /** Keys at which paths make notes sound, with the layer that does. */
  readonly keys = new Map<number, number>();
  private of = -1;
  private seen = 0;

  constructor(
    private readonly engine: Engine,
    private readonly playing: Pick<Programs, 'program' | 'patch' | 'rig'>,
    private readonly meters: Pick<Meters, 'isPresent'>,
    private readonly outputs: Outputs,
  ) {}

  /** Takes in what paths have made since the last time; true where anything has changed. */
  read(): boolean {
    const { meters } = this.engine;
    if (!this.playing.program || !this.meters.isPresent) return false;
    const count = meters[METER.madeCount];
    if (count < this.seen || this.of !== this.engine.engineSerial) return this.beginAnew(count);
    const from = Math.max(this.seen, count - ANSWERS);
    // More at once than can be told: ends may be among what was missed, and nothing may hang.
    if (from > this.seen) this.outputs.letGo();
    for (let n = from; n < count; n++) {
      const { layer, key, velocity } = unpackMade(meters[METER.made + (n % ANSWERS)]);
      const id = this.playing.patch?.layers[layer]?.path.instrument ?? null;
      const instrument = id === null ? undefined : this.playing.rig?.instruments.find((each) => each.id === id);
      if (instrument) this.outputs.note(instrument.output, instrument.channel, key, velocity);
      if (velocity > 0) this.keys.set(key, layer);
      else this.keys.delete(key);
    }
    this.seen = count;
    return from < count;
  }

  /** Another engine, or another count: what sounded of the one before is let go. */
  private beginAnew(count: number): boolean {
    this.of = this.engine.engineSerial;
    this.seen = count;
    this.outputs.letGo();
    if (this.keys.size === 0) return false;
    this.keys.clear();
    return true;
  }
}
