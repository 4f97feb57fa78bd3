import { ANSWERS } from './program/tick';
import type { Voice } from './voice/voice';

import { KNOB_PARAMETERS } from '../rig/parameters';
import type { Patches } from './patch/patches';

/** What an engine tells of itself, for pictures and for whoever sends on what paths make. */
export class Readings {
  private readonly noAnswers = new Uint32Array(ANSWERS);

  constructor(
    private readonly patches: Patches,
    private readonly voices: readonly Voice[],
  ) {}

  /** Notes that paths made, as {@link Notes.madeNotes} has them, and how many there were. */
  get madeNotes(): Uint32Array {
    return this.patches.present ? this.patches.present.notes.paths.madeNotes : this.noAnswers;
  }
  /** The frames at which they were made. */
  get madeFrames(): Float64Array | null {
    return this.patches.present ? this.patches.present.notes.paths.madeFrames : null;
  }
  get madeCount(): number {
    return this.patches.present ? this.patches.present.notes.paths.madeCount : 0;
  }

  /** Seed of the chances of the last strike: a layer that keeps it has the same at every strike. */
  get strikeSeed(): number {
    return this.patches.present ? this.patches.present.notes.lastSeed : 0;
  }

  /** Zones that answered since the program came, as places in it: the last few, and how many there were. */
  get answers(): Uint32Array {
    return this.patches.present ? this.patches.present.notes.starting.answers : this.noAnswers;
  }
  get answerCount(): number {
    return this.patches.present ? this.patches.present.notes.starting.answerCount : 0;
  }

  /** Voices of each layer of the present patch in the last run. */
  readVoices(into: Float32Array, at: number, most: number): void {
    for (let l = 0; l < most; l++)
      into[at + l] =
        this.patches.present && l < this.patches.present.layers.length ? this.patches.present.layers[l].voiceCount : 0;
  }

  /** Level of a layer since it was last asked, as the greatest sample; 0 for a layer that is not there. */
  takeLayerPeak(index: number): number {
    const { present } = this.patches;
    if (!present || index >= present.program.layers.length) return 0;
    const { peak } = present.layers[index];
    present.layers[index].peak = 0;
    return peak;
  }

  /**
   * Where everything is that moves by itself, for pictures: value and rounds of each mover from `movers` on, x and y of
   * each dot from `pads` on, position and tempo from `transport` on.
   */
  readMovement(into: Float32Array, movers: number, pads: number, transport: number): void {
    const { present } = this.patches;
    if (!present) return;
    const { evaluator, program } = present;
    let newest: Voice | null = null;
    for (let v = 0; v < this.voices.length; v++) {
      const voice = this.voices[v];
      if (voice.active && voice.layer.patch === present && (!newest || voice.born > newest.born)) newest = voice;
    }
    for (let m = 0; m < program.movers.length; m++) {
      if (program.movers[m].ofNote && !newest) continue;
      into[movers + 2 * m] = program.movers[m].ofNote ? evaluator.noteValue(newest!, m) : evaluator.movers.value(m);
      into[movers + 2 * m + 1] = program.movers[m].ofNote ? evaluator.notePhase(newest!, m) : evaluator.movers.phase(m);
    }
    for (let p = 0; p < program.pads.length; p++) {
      into[pads + 2 * p] = evaluator.pads[p].dot[0];
      into[pads + 2 * p + 1] = evaluator.pads[p].dot[1];
    }
    into[transport] = present.position;
    into[transport + 1] = Number.isNaN(present.tempo) ? program.tempo : present.tempo;
  }

  /**
   * Where the values of instruments outside stand now, from a place on: 0 … 127, in the order of the patch. Without
   * anything that moves by itself, by what the hands do now.
   */
  readKnobs(into: Float32Array, at: number): void {
    const { present } = this.patches;
    if (!present) return;
    const { evaluator, program } = present;
    const { rests, routes, moves } = program.knobs;
    if (moves && program.shared.length > 0) evaluator.readRow(0);
    else if (moves) evaluator.look(null, null);
    for (let k = 0; k < rests.length; k++) {
      const share = moves ? evaluator.moved(rests[k], routes[k]) : rests[k];
      into[at + k] = Math.round(KNOB_PARAMETERS.value.high * share);
    }
  }

  /**
   * Where grains are that sound now, for pictures: from `at` on, for each one its voice (a number that stays while the
   * note does), key, place in its recording as a share, and height; as many as fit before
   * `end`. Gives how many.
   */
  readGrains(into: Float32Array, at: number, end: number): number {
    let to = at;
    for (let v = 0; v < this.voices.length; v++) {
      const voice = this.voices[v];
      if (voice.active) to = voice.showGrains(into, to, end);
    }
    return (to - at) / 4;
  }

  /** By layer, from a place on: the step at which its arpeggio is; −1: it does not run. */
  readSteps(into: Float32Array, at: number, count: number): void {
    const { present } = this.patches;
    for (let l = 0; l < count; l++)
      into[at + l] = present && l < present.program.layers.length ? (present.layers[l].path?.stepNow ?? -1) : -1;
  }

  /** Levels of places and connections, and what effects tell of themselves: see `Mix`. */
  readMix(
    into: Float32Array,
    placesAt: number,
    mostPlaces: number,
    connectionsAt: number,
    mostConnections: number,
    effectsAt: number,
    mostEffects: number,
    stride: number,
  ): void {
    if (!this.patches.present) return;
    this.patches.present.mix.meters.readLevels(into, placesAt, mostPlaces, connectionsAt, mostConnections);
    this.patches.present.mix.meters.readEffects(into, effectsAt, mostEffects, stride);
  }

  /** Loudness of the places of the mix: see `Mix`. */
  readPowers(into: Float32Array, at: number, most: number): void {
    this.patches.present?.mix.meters.readPowers(into, at, most);
  }
}
