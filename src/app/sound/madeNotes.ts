import { unpackMade } from '../../core/engine/offline/made';
import { ANSWERS } from '../../core/engine/program/tick';
import type { AudioHost } from '../../host/audioHost';
import type { MidiOutputs } from '../../host/midiOutputs';
import { METER } from '../../host/protocol';
import type { Meters } from './meters';
import type { Programs } from './programs';

/** How often notes for outputs are passed on. */
const SEND_MS = 4;

type Engine = Pick<AudioHost, 'meters' | 'engineSerial'>;
type Outputs = Pick<MidiOutputs, 'letGo' | 'note'>;

/** The notes that paths make of what is played: lit on the keys, and passed on to outputs. */
export class MadeNotes {
  /** Keys at which paths make notes sound, with the layer that does. */
  readonly keys = new Map<number, number>();
  private of = -1;
  private seen = 0;
  private sending: ReturnType<typeof setInterval> | undefined;

  constructor(
    private readonly engine: Engine,
    private readonly playing: Pick<Programs, 'program' | 'patch'>,
    private readonly meters: Pick<Meters, 'isPresent'>,
    private readonly outputs: Outputs,
    private readonly tell: () => void,
  ) {}

  /** Notes for outputs are passed on whether anybody looks at the page or not. */
  sendsOut(any: boolean): void {
    clearInterval(this.sending);
    this.sending = any
      ? setInterval(() => {
          if (this.read()) this.tell();
        }, SEND_MS)
      : undefined;
  }

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
      const path = this.playing.patch?.layers[layer]?.path;
      if (path && path.output !== '') this.outputs.note(path.output, path.outputChannel, key, velocity);
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
