import type { PreparedSample } from '../../dsp/sample';
import { gainOfDb } from '../../music/pitch';
import { aimVoice } from '../voice/aim';
import { NOTE_STATE } from '../hands/noteValues';
import { type LayerState } from '../notes/layerState';
import { LEGATO } from '../program/compiledPath';
import { OF_INPUT, OF_SAMPLES, OF_SYNTH, type ProgramLayer } from '../program/program';
import { MOST_OWN_STRIKE } from '../program/ownValues';
import { aimOwn, readOwnStrike } from '../voice/aimOwn';
import type { ShapeTable } from '../voice/generators/grains';
import { DRAWN, shapePoints } from '../../sounds/grains/shapes';
import { isSilentKey, tunedBy } from '../../music/tunings';
import { gainOfZone, tunedSemitonesOfZone } from '../notes/strike';
import {
  DETUNE,
  GLIDE,
  PAN_CHANCE,
  PAN_KEYS,
  REVERSED,
  UNISON,
  UNISON_WIDTH,
  START,
  TOUCH,
  VELOCITY_TO_LEVEL,
} from '../program/strikeValues';
import { ANSWERS } from '../program/tick';
import { gainOfVelocity } from '../program/touch';
import { NOWHERE } from '../voice/struckNote';
import type { Voice } from '../voice/voice';
import type { VoicePool } from '../voice/voicePool';
import { type Asking } from './asking';
import { CUT_SECONDS, type NotesOwner, type Stage } from './stage';

/** How voices begin: for a zone that answers a strike, in its layer, as the strike finds everything. */
export class Starting {
  /** What the program plays, by place; undefined while it has not arrived. */
  samples: (PreparedSample | undefined)[] = [];
  /** Zones that answered since the program came, as places in it: the last {@link ANSWERS}, and how many there were. */
  readonly answers = new Uint32Array(ANSWERS);
  answerCount = 0;
  /** The note of a path that is being begun (0: none), and the gain of the windows that let it in. */
  made = 0;
  readonly madeGain = new Float64Array(1).fill(1);
  /** By layer that finds its zones itself: the transposition and the velocity that hold for the strike. */
  ownTransposes = new Float64Array(0);
  ownTouches = new Uint8Array(0);
  private readonly ownStrike = new Float64Array(MOST_OWN_STRIKE);
  /** By spec of the program: the shape that is drawn for its grains. */
  private drawn: ShapeTable[] = [];
  private readonly voices: readonly Voice[];
  private readonly pool: VoicePool;
  private readonly clock: Stage['clock'];

  constructor(
    private readonly patch: NotesOwner,
    { pool, clock }: Stage,
    private readonly asking: Asking,
  ) {
    this.pool = pool;
    this.voices = pool.all;
    this.clock = clock;
  }

  /** The patch has another program. */
  setProgram(): void {
    const { program } = this.patch;
    this.ownTransposes = new Float64Array(program.layers.length);
    this.ownTouches = new Uint8Array(program.layers.length);
    this.answerCount = 0;
    this.drawn = program.specs.map((spec) => shapePoints(DRAWN, spec.drawn));
  }

  start(l: number, zone: number, choice: number, strike: number): void {
    const { patch, pool } = this;
    const { values } = this.asking;
    const { channel, key, velocity } = this.asking.note;
    const { evaluator } = patch;
    const { zones } = patch.program;
    const layer = patch.layers[l];
    const { program } = layer;
    const transpose = program.own ? this.ownTransposes[l] : program.transpose;
    const felt = program.own ? this.ownTouches[l] : program.touch[velocity];
    const soundKey = Math.min(127, Math.max(0, key + transpose));
    // A key that the tuning leaves out is silent; what does not follow the keys is not meant.
    if (zones.semitonesPerKey[zone] !== 0 && isSilentKey(program.tuned, key + transpose)) return;
    const own = zones.windowSet[zone] < 0 ? null : zones.windowSets[zones.windowSet[zone]];
    this.asking.lookFor(program);
    const windowsGain =
      this.madeGain[0] *
      gainOfZone(zones, zone, soundKey, felt) *
      evaluator.gainOf(program.windows.atStrike) *
      (own ? evaluator.gainOf(own.atStrike) : 1);
    // What can never sound does nothing to anybody; what is silent for now takes nobody's place.
    if (
      windowsGain === 0 ||
      evaluator.isShutFor(program.windows.followed) ||
      (own && evaluator.isShutFor(own.followed))
    )
      return;
    const silent =
      layer.gain === 0 ||
      evaluator.gainOf(program.windows.followed) === 0 ||
      (own !== null && evaluator.gainOf(own.followed) === 0);
    if (program.choke > 0 && strike !== this.chokedAt) this.chokePads(program, strike);
    if (zones.chokeGroup[zone] >= 0) this.choke(layer, zones.chokeGroup[zone], strike);
    const voicing = program.voicings[zones.voicing[zone]];
    this.asking.readValues(program, voicing);
    const isTurned = values[REVERSED] >= 0.5 && zones.turned[zone] >= 0;
    const sample =
      zones.kind[zone] === OF_SYNTH || zones.kind[zone] === OF_INPUT
        ? null
        : this.samples[isTurned ? zones.turned[zone] : zones.sample[zone]];
    if (sample === undefined || (silent && channel !== NOWHERE && pool.isFull)) return;
    const count = Math.max(1, Math.round(values[UNISON]));
    for (let n = 0; n < count; n++) {
      const voice = pool.take(strike, layer, program.limit);
      if (!voice) return;
      this.begin(
        voice,
        sample,
        l,
        zone,
        choice,
        strike,
        isTurned,
        windowsGain,
        count > 1 ? (2 * n) / (count - 1) - 1 : 0,
        count,
      );
    }
    this.answers[this.answerCount++ % ANSWERS] = zone;
  }

  /** Notes that were struck anew go on where those stand that they take the place of. */
  goOn(layer: LayerState, channel: number, key: number, strike: number): void {
    for (const voice of this.voices) {
      if (!voice.active || voice.layer !== layer || voice.strike !== strike) continue;
      for (const old of this.voices) {
        if (
          !old.active ||
          old.layer !== layer ||
          old.strike === strike ||
          old.channel !== channel ||
          old.key !== key ||
          old.released
        )
          continue;
        voice.goOnFrom(old, CUT_SECONDS);
        break;
      }
    }
  }

  /** Starts one voice of a zone; `place` −1…1 is its place among `count` that play together. */
  private begin(
    voice: Voice,
    sample: PreparedSample | null,
    l: number,
    zone: number,
    choice: number,
    strike: number,
    isTurned: boolean,
    windowsGain: number,
    place: number,
    count: number,
  ): void {
    const { patch, pool } = this;
    const { values, valuesMoved, luck } = this.asking;
    const { channel, key, velocity } = this.asking.note;
    const { evaluator } = patch;
    const { zones } = patch.program;
    const layer = patch.layers[l];
    const { program } = layer;
    const transpose = program.own ? this.ownTransposes[l] : program.transpose;
    const felt = program.own ? this.ownTouches[l] : program.touch[velocity];
    const own = zones.windowSet[zone] < 0 ? null : zones.windowSets[zones.windowSet[zone]];
    const voicing = program.voicings[zones.voicing[zone]];
    voice.layer = layer;
    voice.receive = program.receive;
    voice.made = this.made;
    voice.voicing = voicing;
    voice.channel = channel;
    voice.key = key;
    voice.velocity = velocity;
    voice.releaseVelocity = 64;
    voice.randoms.set(this.asking.randoms);
    voice.scatters.set(this.asking.scatters);
    if (program.ofNote.length > 0 && patch.program.movers.length > 0)
      pool.states.copyWithin(voice.row, pool.askingRow, pool.askingRow + NOTE_STATE);
    voice.zone = zone;
    voice.born = ++pool.births;
    voice.strike = strike;
    voice.fullLength = zones.fullLength[zone] === 1;
    voice.chokedBy = zones.chokedBy[zone];
    voice.chokedFast = zones.chokedFast[zone] === 1;
    voice.zoneGain = (windowsGain * gainOfDb(zones.gainDb[zone])) / Math.sqrt(count);
    voice.zoneWindows = own && own.followed.length > 0 ? own.followed : null;
    voice.zoneWindowsGain[0] = 1;
    voice.zonePan =
      zones.pan[zone] +
      values[UNISON_WIDTH] * (count > 1 ? place : 0) +
      values[PAN_CHANCE] * (values[PAN_CHANCE] > 0 ? luck.draws.signed() : 0) +
      (values[PAN_KEYS] * (key + transpose - 64)) / 44;
    voice.transpose = transpose;
    voice.zoneSemitones =
      tunedSemitonesOfZone(zones, zone, key + transpose, program.tuned) +
      (count > 1 ? (place * values[DETUNE]) / 200 : 0);
    voice.strikeValues.set(values);
    voice.strikeMoved.set(valuesMoved);
    voice.touchMoved = valuesMoved[TOUCH] + valuesMoved[VELOCITY_TO_LEVEL] > 0;
    voice.touchGain = voice.touchMoved
      ? gainOfVelocity(felt, values[VELOCITY_TO_LEVEL])
      : voicing.velocityGain[velocity];
    voice.morphs = program.morph ? program.own!.length : 1;
    voice.morph = choice;
    voice.sway.begin(luck.draws);
    if (values[GLIDE] > 0 && !Number.isNaN(layer.lastKey) && program.path?.playing !== LEGATO)
      voice.sway.glideFrom(
        (layer.lastKey -
          key -
          transpose +
          tunedBy(program.tuned, layer.lastKey) -
          tunedBy(program.tuned, key + transpose)) *
          zones.semitonesPerKey[zone],
        this.glideSeconds(voice, Math.abs(layer.lastKey - key - transpose)),
      );
    if (!voice.take(zones.kind[zone])) return;
    aimVoice(voice, evaluator, patch.controllers);
    voice.waited[1] = this.clock.frame;
    // The next span looks again: more may happen before it.
    voice.epoch = -1;
    const first = isTurned ? zones.frames[zone] - zones.end[zone] : zones.start[zone];
    const end = isTurned ? zones.frames[zone] - zones.start[zone] : zones.end[zone];
    const start = values[START] === 0 ? first : Math.floor(first + values[START] * Math.max(0, end - first - 1));
    const kind = zones.kind[zone];
    if (kind !== OF_SAMPLES) {
      aimOwn(voice, evaluator);
      readOwnStrike(evaluator, program, kind, voicing.own!, this.ownStrike);
      if (kind === OF_SYNTH)
        voice.startSynth(
          this.ownStrike,
          patch.program.specs[zones.spec[zone]].waves,
          luck.draws,
          program.ownRoutes[kind]?.aside ?? false,
        );
      else if (kind === OF_INPUT) voice.startInput();
      else voice.startGrains(sample!, start, end, this.ownStrike, this.drawn[zones.spec[zone]], luck.draws);
      if (zones.fadeIn[zone] > 0) voice.comeIn(zones.fadeIn[zone]);
      return;
    }
    voice.start(sample!, start, end, zones.fadeOut[zone]);
    if (zones.fadeIn[zone] > 0) voice.comeIn(zones.fadeIn[zone]);
    if (zones.loopEnd[zone] > 0) {
      const { frames, loopStart, loopEnd } = zones;
      voice.loopWhileSounding(
        isTurned ? frames[zone] - loopEnd[zone] : loopStart[zone],
        isTurned ? frames[zone] - loopStart[zone] : loopEnd[zone],
        zones.loopCrossfade[zone],
        zones.loopUntilRelease[zone] === 1,
      );
    }
  }

  /** A strike of a choke group ends what this group ends in the same layer, but nothing of the strike itself. */
  private choke(layer: LayerState, group: number, strike: number): void {
    for (const voice of this.voices) {
      if (!voice.active || voice.layer !== layer || voice.chokedBy !== group || voice.strike === strike) continue;
      if (voice.chokedFast) voice.dismiss();
      else this.endVoice(voice);
    }
  }

  /** A strike of a pad ends what sounds of the others that share its number. */
  private chokePads({ pad, choke }: ProgramLayer, strike: number): void {
    this.chokedAt = strike;
    for (const voice of this.voices) {
      if (!this.isMine(voice) || voice.isStanding || voice.strike === strike) continue;
      const { program } = voice.layer;
      if (program.choke === choke && program.pad !== pad) voice.dismiss();
    }
  }
  private chokedAt = -1;

  /** How long a glide over some semitones takes. */
  glideSeconds({ strikeValues, layer }: Voice, semitones: number): number {
    return layer.program.glideByRate ? (strikeValues[GLIDE] * semitones) / 12 : strikeValues[GLIDE];
  }

  isMine(voice: Voice): boolean {
    return voice.active && voice.layer.patch === this.patch;
  }

  /** Ends a voice with its release, held or not. */
  endVoice(voice: Voice): void {
    voice.letEnd();
    this.patch.evaluator.releaseNote(voice);
  }
}
