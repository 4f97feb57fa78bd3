import type { TimeMessage } from '../core/music/midi';
import type { EngineEvent } from '../core/engine/event';

/** Ticks of MIDI clock in a quarter (MIDI 1.0). */
const TICKS = 24;
const SILENT_MS = 1500;

/** Follows MIDI clock: the tempo of the last quarter, and the position from start, stop, continue and song position. */
export class ClockFollower {
  /** Quarters a minute; null: no clock runs. */
  tempo: number | null = null;
  private readonly times: number[] = [];
  private sixteenths = 0;
  private waits: ReturnType<typeof setTimeout> | undefined;

  constructor(private readonly send: (event: EngineEvent) => void, private readonly now: () => number = () => performance.now()) {}

  take(message: TimeMessage): void {
    switch (message.type) {
      case 'clock': this.tick(); break;
      case 'start': this.sixteenths = 0; this.send({ type: 'position', quarters: 0 }); break;
      case 'continue': this.send({ type: 'position', quarters: this.sixteenths / 4 }); break;
      case 'songPosition': this.sixteenths = message.sixteenths; break;
      case 'stop': break;
    }
  }

  private tick(): void {
    const now = this.now();
    const { times } = this;
    if (times.length > 0 && now - times[times.length - 1] > SILENT_MS) times.length = 0;
    times.push(now);
    if (times.length > TICKS + 1) times.shift();
    clearTimeout(this.waits);
    this.waits = setTimeout(() => this.lose(), SILENT_MS);
    if (times.length < TICKS + 1) return;
    const tempo = Math.round((60000 / (now - times[0])) * 10) / 10;
    if (!(tempo >= 20 && tempo <= 400) || tempo === this.tempo) return;
    this.tempo = tempo;
    this.send({ type: 'tempo', tempo });
  }

  /** The clock fell silent: the patch's own tempo holds again. */
  private lose(): void {
    this.times.length = 0;
    if (this.tempo === null) return;
    this.tempo = null;
    this.send({ type: 'tempo', tempo: null });
  }
}
