import type { EngineEvent } from '../../../core/engine/hands/event';

const PEDALS: ReadonlySet<number> = new Set([64, 66, 67, 69]);
const DOWN = 64;
const keyOf = (channel: number, key: number): number => 128 * channel + key;

/**
 * What was held on the machine that is gone when this one took over. It goes on; who plays here for the first time lets go
 * of all of it that is not held here as well, so that nothing hangs although its keys will never be seen to rise.
 */
export class Handover {
  /** Keys that are down here, as this machine's own controllers say. */
  private readonly here = new Set<number>();
  private readonly pedalsHere = new Set<number>();
  private readonly there = new Map<number, EngineEvent>();

  /** What hands do at this machine, whether it is heard or not. */
  played(event: EngineEvent): void {
    follow(this.here, this.pedalsHere, event);
  }

  /** What the other machine has played. */
  told(event: EngineEvent): void {
    if (event.type === 'panic') this.there.clear();
    else if (event.type === 'noteOn') this.there.set(keyOf(event.channel, event.key), liftOf(event));
    else if (event.type === 'noteOff') this.there.delete(keyOf(event.channel, event.key));
    else if (event.type === 'controller' && PEDALS.has(event.controller)) {
      const at = -keyOf(event.channel, event.controller) - 1;
      if (event.value >= DOWN) this.there.set(at, { ...event, value: 0 });
      else this.there.delete(at);
    }
  }

  /** Whether something goes on that nobody here holds. */
  get goesOn(): boolean {
    return this.strangers().length > 0;
  }

  /** What lets go of all that nobody here holds; after this nothing of it is left. */
  letGo(): EngineEvent[] {
    const events = this.strangers();
    this.there.clear();
    return events;
  }

  private strangers(): EngineEvent[] {
    return [...this.there]
      .filter(([at]) => (at >= 0 ? !this.here.has(at) : !this.pedalsHere.has(-at - 1)))
      .map(([, event]) => event);
  }
}

const liftOf = ({ port, channel, key }: Extract<EngineEvent, { type: 'noteOn' }>): EngineEvent => ({
  type: 'noteOff',
  channel,
  key,
  velocity: 64,
  ...(port === undefined ? {} : { port }),
});

function follow(keys: Set<number>, pedals: Set<number>, event: EngineEvent): void {
  if (event.type === 'noteOn') keys.add(keyOf(event.channel, event.key));
  else if (event.type === 'noteOff') keys.delete(keyOf(event.channel, event.key));
  else if (event.type === 'controller' && PEDALS.has(event.controller)) {
    const at = keyOf(event.channel, event.controller);
    if (event.value >= DOWN) pedals.add(at);
    else pedals.delete(at);
  }
}
