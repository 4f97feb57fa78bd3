import type { EngineEvent } from '../../core/engine/hands/event';

type Place = Extract<EngineEvent, { type: 'listen' }>['to'];

/** What is put before the ears instead of the whole: layers alone, one thing of the mix, the sound without effects. */
export class Ears {
  /** Ids of the layers that are heard alone; empty: all are. */
  soloed: readonly string[] = [];
  /** The one thing of the mix that is heard; null: everything. */
  listening: Place = null;
  /** Effects, connections, places or all effects (`*`) that are left out, with a gain in dB that makes up for it. */
  without: { ids: readonly string[]; gainDb: number } = { ids: [], gainDb: 0 };
  /** How many voices may sound, where the machine is at its limit; null: as many as the patch allows. */
  voicesAllowed: number | null = null;

  constructor(
    private readonly send: (event: EngineEvent) => void,
    private readonly tell: () => void,
  ) {}

  setSoloed(layerIds: readonly string[]): void {
    this.soloed = layerIds;
    this.send({ type: 'solo', layerIds });
    this.tell();
  }

  /** Puts one thing of the mix alone before the ears; null: everything. */
  listenTo(to: Place): void {
    if (JSON.stringify(to) === JSON.stringify(this.listening)) return;
    this.listening = to;
    this.send({ type: 'listen', to });
    this.tell();
  }

  /** Leaves effects, connections, places or all effects (`*`) out, with a gain in dB that makes up for it. */
  hearWithout(ids: readonly string[], gainDb: number): void {
    this.without = { ids, gainDb };
    this.send({ type: 'without', ids, gainDb });
    this.tell();
  }

  /** Lets so many voices sound; null: as many as the patch allows, once the engine is told. */
  allow(voices: number | null): void {
    this.voicesAllowed = voices;
    this.send({ type: 'voices', most: voices });
  }

  /** Everything as it stands here, for an engine that another page has led. */
  begin(): void {
    this.send({ type: 'solo', layerIds: this.soloed });
    this.send({ type: 'listen', to: this.listening });
    this.send({ type: 'voices', most: this.voicesAllowed });
    this.send({ type: 'without', ...this.without });
  }

  /** An engine that begins must know of them. */
  again(): void {
    if (this.listening) this.send({ type: 'listen', to: this.listening });
    if (this.voicesAllowed !== null) this.send({ type: 'voices', most: this.voicesAllowed });
    if (this.without.ids.length > 0) this.send({ type: 'without', ...this.without });
  }
}
