import { levelGain } from '../../core/rig/parameters';
import type { Rig } from '../../core/rig/schema';
import type { AudioHost } from '../../host/audioHost';

const LOWEST_DB = -60;

type Leaves = Pick<Rig, 'pairs' | 'click'>;
type Engine = Pick<AudioHost, 'setOutputs' | 'setClick' | 'hasPair' | 'state'>;

/** Where sound leaves this machine: pairs of outputs by name, and the click. */
export class Pairs {
  /** The click is on. */
  clicks = false;
  private leaves: Leaves | null = null;
  private channels: Readonly<Record<string, number>> = {};

  constructor(
    private readonly engine: Engine,
    private readonly tell: () => void,
  ) {}

  /** The pairs of the rig, or the channels that they have here, have changed. */
  follow(leaves: Leaves, channels: Readonly<Record<string, number>>): void {
    const { leaves: before } = this;
    if (before?.pairs === leaves.pairs && before.click === leaves.click && this.channels === channels) return;
    this.leaves = leaves;
    this.channels = channels;
    if (leaves.click.pair === null) this.clicks = false;
    this.say();
  }

  /** The channels of a pair here, counted in pairs from 0: as this machine says, else in the order of the rig. */
  channelsOf(id: string): number {
    const at = this.leaves?.pairs.findIndex((pair) => pair.id === id) ?? -1;
    return at < 0 ? 0 : (this.channels[this.leaves!.pairs[at].name] ?? at);
  }

  /** Pairs for which the device has no channels, by name: what goes there is heard in the first. None before sound runs. */
  get missing(): string[] {
    if (this.engine.state !== 'running') return [];
    return (this.leaves?.pairs ?? [])
      .filter(({ id }) => !this.engine.hasPair(this.channelsOf(id)))
      .map(({ name }) => name);
  }

  /** Whether the click is on and has no output here. */
  get isClickLost(): boolean {
    const pair = this.leaves?.click.pair ?? null;
    return (
      this.clicks && pair !== null && this.engine.state === 'running' && !this.engine.hasPair(this.channelsOf(pair))
    );
  }

  /** Turns the click on or off; false where no pair was chosen for it. */
  setClicks(on: boolean): boolean {
    if (on && (this.leaves?.click.pair ?? null) === null) return false;
    this.clicks = on;
    this.say();
    return true;
  }

  private say(): void {
    const { leaves } = this;
    if (!leaves) return;
    const { pair, level, beats, subdivision, sound } = leaves.click;
    this.engine.setOutputs(
      leaves.pairs.map(({ id }) => this.channelsOf(id)),
      pair === null ? null : this.channelsOf(pair),
    );
    this.engine.setClick(
      this.clicks ? { gain: levelGain(level, LOWEST_DB), beats, subdivision, wood: sound === 'wood' } : null,
    );
    this.tell();
  }

  /** The pair of channels of clicks that count in; those of the first pair where none was chosen. */
  get countsInAt(): number {
    return this.channelsOf(this.leaves?.click.pair ?? this.leaves?.pairs[0]?.id ?? '');
  }
}
