import { type Kernel } from '../dsp/kernel/kernel';
import { SPAN_QUARTERS, SPAN_SECONDS } from '../movers/mover';
import { CC, gainOfVolumeController } from '../music/midi';
import { fromNormal, levelGain, MAIN_PARAMETERS } from '../rig/parameters';
import { aimMoving, aimVoice } from './voice/aim';
import { aimOwn, aimOwnMoving } from './voice/aimOwn';
import { near, type LayerState, type Motion } from './notes/layerState';
import { areNumbers } from './moving/numbers';
import { type SoundingPatch } from './patch/soundingPatch';
import { LEAD, MOST_SPANS, TICK } from './program/tick';
import type { Voice } from './voice/voice';
import { type VoicePool } from './voice/voicePool';

import type { Outputs } from './mix/outputs';
import type { Patches } from './patch/patches';

/**
 * What comes out of a place of the mix (`layer.ID`, `group.ID`, `pool.ID`; `main` is what goes into the limiter),
 * written left and right in turn, round and round; `at` is where the next frame comes.
 */
export interface Scope {
  place: string;
  ring: Float32Array;
  at: number;
}

/** Time constant with which every moved value nears its target. */
const SMOOTHING_SECONDS = 0.006;

/** Makes the sound of a run: voice by voice, layer by layer, through the mix of each patch. */
export class Rendering {
  /** Voices that sounded in the last span, and the most there ever were. */
  voiceCount = 0;
  mostVoices = 0;
  /**
   * What made no numbers and was put to rest: how often, and which it was last (the id of a layer or an effect, or
   * `main`).
   */
  faultCount = 0;
  lastFault = '';
  private readonly voices: readonly Voice[];
  private runFrames = 0;

  /** By turn: the span of the run in which the voices whose turn it is are led; −1: none is. */
  readonly leadSpans = new Int8Array(LEAD);
  readonly motion: Motion = {
    spans: 0,
    frames: new Uint8Array(MOST_SPANS),
    smoothing: new Float64Array(TICK + 1),
    main: new Float64Array(MOST_SPANS + 1),
    target: 0.5,
  };
  private readonly target = new Float64Array(1);

  constructor(
    private readonly patches: Patches,
    private readonly kernel: Kernel,
    pool: VoicePool,
    private readonly rate: number,
    private readonly clock: { readonly frame: number },
  ) {
    this.voices = pool.all;
    for (let n = 1; n <= TICK; n++) this.motion.smoothing[n] = 1 - Math.exp(-n / (SMOOTHING_SECONDS * rate));
  }

  renderRun(outputs: Outputs, runFrames: number): void {
    const { voices } = this;
    const left = outputs.left[outputs.to[0]],
      right = outputs.right[outputs.to[0]];
    const { present, ringing } = this.patches;
    const faults = this.faultCount;
    this.runFrames = runFrames;
    outputs.clear(runFrames);
    if (present) clearCounts(present);
    for (let r = 0; r < ringing.length; r++) clearCounts(ringing[r]);
    let count = 0;
    for (let v = 0; v < voices.length; v++) {
      const voice = voices[v];
      if (!voice.active) continue;
      count++;
      const { layer } = voice;
      layer.voices[layer.voiceCount++] = v;
    }
    if (count > this.mostVoices) this.mostVoices = count;
    this.voiceCount = 0;
    if (present) this.renderPatch(present, outputs);
    for (let r = 0; r < ringing.length; r++) this.renderPatch(ringing[r], outputs);
    if (ringing.length > 0) this.patches.forgetSilent();
    for (let s = 0; s < this.scopes.length; s++) this.show(this.scopes[s], left, right);
    if (!areAllNumbers(outputs, runFrames)) {
      // Neither a voice nor an effect: then what stands between them.
      outputs.clear(runFrames);
      if (present) present.stand();
      for (let r = 0; r < ringing.length; r++) ringing[r].stand();
      this.tellFault('main');
    }
    // What was put to rest and plays by itself, nobody strikes again.
    if (present && this.faultCount !== faults) present.notes.stand();
    if (present?.program.follows) this.listen(present, left, right);
    for (let r = 0; r < ringing.length; r++) if (ringing[r].program.follows) this.listen(ringing[r], left, right);
  }

  /**
   * What the voices of a layer made is no number: nothing of it is heard in this run, and those that did it end. Where
   * none can be told from the others, all of them do.
   */
  private heal(layer: LayerState): void {
    const { kernel, voices } = this;
    kernel.clearBus();
    let found = false;
    for (let v = 0; v < layer.voiceCount; v++) {
      const voice = voices[layer.voices[v]];
      if (!voice.active || voice.isSound) continue;
      voice.cut();
      found = true;
    }
    if (!found)
      for (let v = 0; v < layer.voiceCount; v++) if (voices[layer.voices[v]].active) voices[layer.voices[v]].cut();
    this.tellFault(layer.program.id);
  }

  private tellFault(id: string): void {
    this.faultCount++;
    this.lastFault = id;
  }

  private renderPatch(patch: SoundingPatch, outputs: Outputs): void {
    const { kernel, motion, voices } = this;
    const { spans, frames, smoothing, main } = motion;
    const { evaluator, layers, program, mix } = patch;
    patch.advance(spans, frames);
    const plain = mix.isPlain;
    const moves = program.shared.length > 0 && program.main.routes.length > 0;
    this.aimMain(patch, moves ? 1 : 0);
    main[0] = Number.isNaN(patch.mainGain) ? this.target[0] : patch.mainGain;
    for (let s = 0; s < spans; s++) {
      if (moves && s > 0) this.aimMain(patch, s + 1);
      main[s + 1] = near(main[s], this.target[0], smoothing[frames[s]]);
    }
    patch.mainGain = main[spans];
    for (let l = 0; l < layers.length; l++) {
      const layer = layers[l];
      motion.target = this.gainTarget(layer);
      layer.approach(motion);
      if (layer.voiceCount > 0) {
        kernel.clearBus();
        const itMoves = layer.program.moves;
        if (!layer.deleted && (itMoves || layer.epoch !== patch.epoch)) {
          for (let s = 0; s < (itMoves ? spans : 1); s++) evaluator.lookLayer(s + 1, layer.program);
          layer.epoch = patch.epoch;
        }
        for (let v = 0; v < layer.voiceCount; v++) this.renderVoice(voices[layer.voices[v]], patch, itMoves);
        if (!areNumbers(kernel.bus, kernel.busRight, 0, this.runFrames)) this.heal(layer);
      }
      // What an edit took away goes out as it is, until it has ended.
      if (plain || layer.deleted)
        layer.mixInto(kernel, outputs.left[outputs.to[0]], outputs.right[outputs.to[0]], motion);
      else mix.feed(layer, l, kernel, this.runFrames);
    }
    if (!plain) {
      const readsRows = program.shared.length > 0;
      const looks = patch.mixEpoch !== patch.epoch;
      if (looks && !readsRows) evaluator.look(null, null);
      patch.mixEpoch = patch.epoch;
      mix.run(layers, evaluator, motion, readsRows, looks, patch.times, outputs);
      if (mix.faults.count > 0) {
        this.tellFault(mix.faults.last);
        mix.faults.count = 0;
      }
    }
    if (program.shared.length > 0) evaluator.carryOver(spans);
  }

  /**
   * Lets the mix be seen: every place has its level, and what comes out of the places named is written to their rings.
   * Empty: nobody looks.
   */
  watch(scopes: Scope[]): void {
    this.scopes = scopes;
    this.patches.watch(scopes.length > 0);
  }
  private scopes: Scope[] = [];

  private show(scope: Scope, left: Float32Array, right: Float32Array): void {
    const { ring } = scope;
    const place = scope.place === 'main' ? null : (this.patches.present?.mix.placeNamed(scope.place) ?? null);
    const silent = scope.place !== 'main' && !place?.sounds;
    const fromLeft = place ? place.outLeft : left;
    const fromRight = place ? place.outRight : right;
    let at = scope.at;
    for (let i = 0; i < this.runFrames; i++) {
      ring[at] = silent ? 0 : fromLeft[i];
      ring[at + 1] = silent ? 0 : fromRight[i];
      at = at + 2 >= ring.length ? 0 : at + 2;
    }
    scope.at = at;
  }

  /** Takes a voice through the run, or to its end. */
  private renderVoice(voice: Voice, patch: SoundingPatch, itMoves: boolean): void {
    const { spans, frames, smoothing } = this.motion;
    const { layer } = voice;
    const { evaluator } = patch;
    const follows = !layer.deleted;
    if (follows && voice.epoch !== patch.epoch) {
      voice.epoch = patch.epoch;
      evaluator.lookNote(1, layer.program, voice);
      aimVoice(voice, evaluator, patch.controllers);
      aimOwn(voice, evaluator);
    }
    // Each voice in its turn, so that the work is spread evenly.
    const leadSpan = this.leadSpans[voice.n & (LEAD - 1)];
    for (let s = 0, at = 0; s < spans; at += frames[s++]) {
      if (!voice.active) return;
      if (s === leadSpan && (itMoves || voice.trembles || voice.follows))
        this.leadVoice(voice, patch, s, at, itMoves && follows);
      voice.render(at, frames[s], smoothing, layer.isHeard(s));
    }
    this.voiceCount++;
  }

  /** Looks at what moves a voice, and sets it on its way there. */
  private leadVoice(voice: Voice, patch: SoundingPatch, s: number, at: number, itMoves: boolean): void {
    voice.waited[0] = (this.clock.frame + at + this.motion.frames[s] - voice.waited[1]) / this.rate;
    voice.waited[1] = this.clock.frame + at + this.motion.frames[s];
    if (itMoves) {
      const { evaluator } = patch;
      patch.setTime(s);
      evaluator.time[SPAN_QUARTERS] *= voice.waited[0] / evaluator.time[SPAN_SECONDS];
      evaluator.time[SPAN_SECONDS] = voice.waited[0];
      evaluator.advanceNote(s + 1, voice.layer.program, voice);
      aimMoving(voice, evaluator);
      aimOwnMoving(voice, evaluator);
    }
    if (voice.trembles) voice.tremble();
    if (voice.follows) voice.followEnvelope();
    voice.lead();
  }

  /** What followers hear in the next span: each layer of the patch, and the whole. */
  private listen({ layers, program, evaluator }: SoundingPatch, left: Float32Array, right: Float32Array): void {
    const { levels } = evaluator;
    for (let l = 0; l < program.layers.length; l++) levels[l] = layers[l].level;
    let peak = 0;
    for (let i = 0; i < this.runFrames; i++) peak = Math.max(peak, Math.abs(left[i]), Math.abs(right[i]));
    levels[levels.length - 1] = peak;
  }

  private gainTarget(layer: LayerState): number {
    const { program, patch } = layer;
    const { cc } = patch.controllers;
    if (this.patches.isShut(layer)) return 0;
    if (!program.receive.expression) return 1;
    const row = program.channel * 128;
    return gainOfVolumeController(cc[row + CC.volume]) * gainOfVolumeController(cc[row + CC.expression]);
  }

  /**
   * Where the main level of a patch is heading, by its readings at the end of a span; without anything that moves by
   * itself, by what the hands do now.
   */
  private aimMain({ program, evaluator }: SoundingPatch, row: number): void {
    const { baseNormal, routes } = program.main;
    if (routes.length > 0) {
      if (program.shared.length > 0) evaluator.readRow(row);
      else evaluator.look(null, null);
    }
    this.target[0] = levelGain(
      fromNormal(MAIN_PARAMETERS.level, evaluator.moved(baseNormal, routes)),
      MAIN_PARAMETERS.level.low,
    );
  }
}

function areAllNumbers(outputs: Outputs, frames: number): boolean {
  for (let pair = 0; pair < outputs.count; pair++)
    if (!areNumbers(outputs.left[pair], outputs.right[pair], 0, frames)) return false;
  return true;
}

function clearCounts({ layers }: SoundingPatch): void {
  for (let l = 0; l < layers.length; l++) layers[l].voiceCount = 0;
}
