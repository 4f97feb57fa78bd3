import { type Controllers } from '../hands/controllers';
import { type LayerState } from '../notes/layerState';
import type { PlayedProgram } from '../program/program';
import type { Listening } from '../mix/mix';
import type { Stage } from './stage';
import { SoundingPatch } from './soundingPatch';

import { Bank } from './bank';

/** So many patches ring out beside the one that plays; the oldest beyond them is let go, and faded after a while. */
const MOST_RINGING = 4;
const LAST_RING_SECONDS = 2;
/** However fast patches are changed, no more than these are kept. */
const MOST_KEPT = 12;

/** The patch that plays and those that ring out, and what is kept from one program to the next. */
export class Patches {
  present: SoundingPatch | null = null;
  /** Those that ring out, the oldest first. */
  readonly ringing: SoundingPatch[] = [];
  readonly bank: Bank;
  private tempo = NaN;
  /** Ports at which a controller has said itself what zones it has. */
  private readonly saidZones = new Set<number>();
  private soloed: readonly string[] = [];
  /** Whether a layer of the present patch is soloed; one of another patch, or deleted, silences nobody. */
  private soloing = false;
  /** What is left out of the mix for comparing, and what is heard of it alone. */
  private without: { ids: readonly string[]; gainDb: number } = { ids: [], gainDb: 0 };
  private listening: Listening | null = null;
  private isWatched = false;

  constructor(
    private readonly controllers: Controllers,
    private readonly stage: Stage,
  ) {
    this.bank = new Bank(stage.pool, this);
  }

  /** Lets the mix be seen, in this program and those to come: every place has its level. */
  watch(isWatched: boolean): void {
    this.isWatched = isWatched;
    if (this.present) this.present.mix.meters.isLookedInto = isWatched;
  }

  /** Layers that are heard alone; none: all are. */
  solo(layerIds: readonly string[]): void {
    this.soloed = layerIds;
    this.findSolo();
  }

  hearWithout(without: { ids: readonly string[]; gainDb: number }): void {
    this.without = without;
    this.present?.mix.hearWithout(without.ids, without.gainDb);
  }

  listenTo(listening: Listening | null): void {
    this.listening = listening;
    this.present?.mix.listenTo(listening);
  }

  /** A tempo that holds instead of that of the patches; null: none. */
  setTempo(tempo: number | null): void {
    this.tempo = tempo ?? NaN;
    this.present?.setTempo(this.tempo);
  }

  /** A controller has said what zones it has. */
  setZones(port: number, lower: number, upper: number, bendRange: number): void {
    this.saidZones.add(port);
    this.controllers.setZones(port, lower, upper, bendRange);
  }

  /** Silence: notes end, what rings out is over. */
  panic(): void {
    const { present, ringing } = this;
    for (let r = 0; r < ringing.length; r++) {
      ringing[r].notes.panic();
      ringing[r].mix.silence(true);
    }
    present?.notes.panic();
    present?.mix.silence(false);
  }

  /**
   * Takes over a program. Of the same patch: held notes go on and follow the change, those of deleted layers fade,
   * movers go on. Of another patch: the old one rings out, moving as it did, until its
   * notes are let go, and macros and dots rest where the new patch puts them.
   */
  setProgram(program: PlayedProgram): void {
    const { present } = this;
    this.giveRoomsBack();
    if (present && present.program.patchId === program.patchId) present.follow(program);
    else {
      if (present) this.letRing(present);
      this.controllers.macros.fill(NaN);
      this.controllers.dots.fill(NaN);
      this.controllers.letGo.fill(0);
      this.present = new SoundingPatch(program, this.controllers, this.stage, this.bank.samples);
      this.present.setTempo(this.tempo);
    }
    for (let port = 0; port <= program.mpe.ports; port++)
      if (!this.saidZones.has(port))
        this.controllers.setZones(port, program.mpe.lower, program.mpe.upper, program.mpe.bendRange);
    if (program.combs) this.stage.pool.prepareCombs();
    this.bank.holdWaves(program);
    this.present!.findSamples(this.bank.samples);
    this.present!.notes.stand();
    this.present!.mix.hearWithout(this.without.ids, this.without.gainDb);
    this.present!.mix.listenTo(this.listening);
    this.present!.mix.meters.isLookedInto = this.isWatched;
    this.findSolo();
  }

  /** Rooms of effects that are in no chain any more. */
  private giveRoomsBack(): void {
    const used = new Set<Float32Array>();
    this.present?.mix.findRooms(used);
    for (const patch of this.ringing) patch.mix.findRooms(used);
    this.stage.rooms.keep((memory) => used.has(memory));
  }

  private letRing(patch: SoundingPatch): void {
    // What is silent by mute or solo stays so when nobody is left who could let it in.
    for (const layer of patch.layers) layer.shut = this.isShut(layer);
    for (const voice of this.stage.pool.all)
      if (voice.active && voice.layer.patch === patch && voice.layer.shut) voice.dismiss();
    patch.notes.sitDown();
    patch.ringOut();
    this.ringing.push(patch);
    this.forgetSilent();
    const beyond = this.ringing.length - MOST_RINGING;
    for (let i = 0; i < beyond; i++) {
      if (this.ringing[i].endsAt === Infinity)
        this.ringing[i].letGo(this.stage.clock.frame + LAST_RING_SECONDS * this.stage.rate);
      if (i < this.ringing.length - MOST_KEPT) this.ringing[i].endsAt = 0;
    }
  }

  /** Patches that have rung out are dropped. */
  forgetSilent(): void {
    const { ringing } = this;
    let kept = 0;
    for (let i = 0; i < ringing.length; i++) {
      if (ringing[i].isSounding) ringing[kept++] = ringing[i];
    }
    while (ringing.length > kept) ringing.pop();
  }

  findSolo(): void {
    this.soloing = this.present !== null && this.present.program.layers.some((layer) => this.soloed.includes(layer.id));
  }

  /** Muted, or left out by a solo. Layers of earlier patches, and deleted ones, are beyond both. */
  isShut({ program, deleted, shut, patch }: LayerState): boolean {
    return (
      shut || (!deleted && !patch.ringsOut && (!program.on || (this.soloing && !this.soloed.includes(program.id))))
    );
  }

  /** What paths make of themselves at this frame: arpeggios, strums, and the ends of their notes. */
  runPaths(): void {
    const { present, ringing } = this;
    if (present && present.notes.paths.nextFrame <= this.stage.clock.frame) {
      present.notes.paths.run();
    }
    for (let r = 0; r < ringing.length; r++)
      if (ringing[r].notes.paths.nextFrame <= this.stage.clock.frame) ringing[r].notes.paths.run();
  }

  get nextPathFrame(): number {
    let next = this.present ? this.present.notes.paths.nextFrame : Infinity;
    for (let r = 0; r < this.ringing.length; r++) next = Math.min(next, this.ringing[r].notes.paths.nextFrame);
    return next;
  }

  /** Whether the mix of a patch that sounds is changing: see {@link Mix.isChanging}. */
  get isChanging(): boolean {
    if (this.present?.mix.isChanging) return true;
    for (let r = 0; r < this.ringing.length; r++) if (this.ringing[r].mix.isChanging) return true;
    return false;
  }

  /** Whether a patch that sounds listens to what is made. */
  get follows(): boolean {
    if (this.present?.program.follows) return true;
    for (let r = 0; r < this.ringing.length; r++) if (this.ringing[r].program.follows) return true;
    return false;
  }
}
