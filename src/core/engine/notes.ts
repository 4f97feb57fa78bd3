import type { Chance } from '../dsp/chance';
import type { PreparedSample } from '../dsp/sample';
import { CC } from '../music/midi';
import { gainOfDb } from '../music/pitch';
import { aimVoice } from './aim';
import { CHANNELS, type Controllers } from './controllers';
import { hears, RANDOMS } from './evaluate';
import type { LayerState } from './layerState';
import type { PlayedProgram } from './program';
import { gainOfZone, semitonesOfZone, Strikes } from './strike';
import { ANSWERS } from './tick';
import type { Voice } from './voice';
import type { VoicePool } from './voicePool';

/** Keys and pedals: who starts a voice, and who lets it go. */
export class Notes {
  /** What the program plays, by place; undefined while it has not arrived. */
  samples: (PreparedSample | undefined)[] = [];
  /** Zones that answered since the program came, as places in it: the last {@link ANSWERS}, and how many there were. */
  readonly answers = new Uint32Array(ANSWERS);
  answerCount = 0;
  private program: PlayedProgram | null = null;
  /** The layers of the program, in its order; others may follow. */
  private layers: readonly LayerState[] = [];
  private strikes: Strikes | null = null;
  private releaseStrikes: Strikes | null = null;
  private readonly voices: readonly Voice[];
  private readonly randoms = new Float64Array(RANDOMS);
  /** By channel and key: velocity of the last strike, and a bit for each layer whose pedal holds the note though its key is up. For release zones. */
  private readonly struck = new Uint8Array(CHANNELS * 128);
  private readonly held = new Int32Array(CHANNELS * 128);
  private births = 0;
  private strikeCount = 0;

  constructor(private readonly controllers: Controllers, private readonly pool: VoicePool, private readonly chance: Chance, private readonly rate: number) {
    this.voices = pool.all;
  }

  setProgram(program: PlayedProgram, layers: readonly LayerState[]): void {
    this.program = program;
    this.layers = layers;
    this.strikes = new Strikes(program.table, program.layers, this.chance);
    this.releaseStrikes = program.releaseTable && new Strikes(program.releaseTable, program.layers, this.chance);
    this.held.fill(0);
    this.answerCount = 0;
  }

  /** Lets go what a pedal held that its layer no longer listens to. */
  letGoDeaf(): void {
    for (const voice of this.voices) if (voice.active && voice.sustained && !voice.layer.program.receive.sustain) this.letGo(voice);
  }

  noteOn(channel: number, key: number, velocity: number): void {
    const { program, strikes } = this;
    if (!program || !strikes) return;
    this.struck[channel * 128 + key] = velocity;
    this.answer(strikes, channel, key, velocity, EVERY_LAYER);
  }

  /** Starts what answers a strike, or the end of a note, in the layers whose bits are set (those beyond the 32nd always count as set). */
  private answer(strikes: Strikes, channel: number, key: number, velocity: number, layerBits: number): void {
    for (let i = 0; i < RANDOMS; i++) this.randoms[i] = this.chance.share();
    strikes.strike(key, velocity);
    const strike = ++this.strikeCount;
    for (let i = 0; i < strikes.count; i++) {
      const layer = this.layers[strikes.layers[i]];
      const { program } = layer;
      if (program.channel !== 0 && program.channel !== channel) continue;
      if ((layerBits & bitOf(strikes.layers[i])) === 0 && strikes.layers[i] < 32) continue;
      this.startVoice(layer, strikes.zones[i], channel, key, velocity, strike);
    }
  }

  /** Bits of the layers whose sustain pedal is down. */
  private pedalBits(): number {
    const { program } = this;
    let bits = 0;
    for (let l = 0; program && l < program.layers.length && l < 32; l++) {
      const { receive, channel } = program.layers[l];
      if (receive.sustain && this.controllers.isDown(channel, CC.sustain)) bits |= bitOf(l);
    }
    return bits;
  }

  /** Notes whose keys are up end in the layers whose pedal has come up: their release zones answer. */
  private endHeldNotes(): void {
    const { releaseStrikes, held } = this;
    if (!releaseStrikes) return;
    const down = this.pedalBits();
    for (let at = 0; at < held.length; at++) {
      const ending = held[at] & ~down;
      if (ending === 0) continue;
      held[at] &= down;
      this.answer(releaseStrikes, at >> 7, at & 127, this.struck[at], ending);
    }
  }

  private startVoice(layer: LayerState, zone: number, channel: number, key: number, velocity: number, strike: number): void {
    const { zones } = this.program!;
    if (zones.chokeGroup[zone] >= 0) this.choke(layer, zones.chokeGroup[zone], strike);
    const sample = this.samples[zones.sample[zone]];
    if (!sample) return;
    const { program } = layer;
    const soundKey = Math.min(127, Math.max(0, key + program.transpose));
    const zoneGain = gainOfZone(zones, zone, soundKey, program.touch[velocity]) * gainOfDb(zones.gainDb[zone]);
    const voice = this.pool.take();
    voice.layer = layer;
    voice.voicing = program.voicings[zones.voicing[zone]];
    voice.channel = channel;
    voice.key = key;
    voice.velocity = velocity;
    voice.releaseVelocity = 64;
    voice.randoms.set(this.randoms);
    voice.zone = zone;
    voice.born = ++this.births;
    voice.strike = strike;
    voice.fullLength = zones.fullLength[zone] === 1;
    voice.chokedBy = zones.chokedBy[zone];
    voice.chokedFast = zones.chokedFast[zone] === 1;
    voice.zoneGain = zoneGain;
    voice.zoneWindows = zones.windowSet[zone] < 0 ? null : zones.windowSets[zones.windowSet[zone]];
    voice.zoneWindowsGain[0] = 1;
    voice.zonePan = zones.pan[zone];
    voice.zoneSemitones = semitonesOfZone(zones, zone, key + program.transpose);
    aimVoice(voice, this.controllers);
    // The next span looks again: more may happen before it.
    voice.epoch = -1;
    if (zoneGain === 0 || layer.evaluator!.gainOf(program.windows, true) === 0) return;
    if (voice.zoneWindows && layer.evaluator!.gainOf(voice.zoneWindows) === 0) return;
    voice.start(sample, zones.start[zone], zones.end[zone], this.rate);
    if (zones.loopEnd[zone] > 0) voice.loopWhileSounding(zones.loopStart[zone], zones.loopEnd[zone], zones.loopCrossfade[zone], zones.loopUntilRelease[zone] === 1);
    this.answers[this.answerCount++ % ANSWERS] = zone;
  }

  /** A strike of a choke group ends what this group ends in the same layer, but nothing of the strike itself. */
  private choke(layer: LayerState, group: number, strike: number): void {
    for (const voice of this.voices) {
      if (!voice.active || voice.layer !== layer || voice.chokedBy !== group || voice.strike === strike) continue;
      if (voice.chokedFast) voice.dismiss(this.rate);
      else voice.letEnd();
    }
  }

  noteOff(channel: number, key: number, velocity: number): void {
    const at = channel * 128 + key;
    if (this.releaseStrikes && this.struck[at] > 0) {
      this.held[at] = this.pedalBits();
      this.answer(this.releaseStrikes, channel, key, this.struck[at], ~this.held[at]);
    }
    for (const voice of this.voices) {
      if (!voice.active || !voice.keyDown || voice.key !== key || voice.channel !== channel) continue;
      voice.releaseVelocity = velocity;
      this.liftKey(voice);
    }
  }

  private liftKey(voice: Voice): void {
    const { program } = voice.layer;
    voice.keyDown = false;
    voice.sustained = program.receive.sustain && this.controllers.isDown(program.channel, CC.sustain);
    this.letGo(voice, voice.sustained);
  }

  /** Releases a voice that neither its key nor a pedal holds. */
  private letGo(voice: Voice, sustained = false): void {
    voice.sustained = sustained;
    if (!voice.keyDown && !sustained && !voice.caught && !voice.released) voice.release();
  }

  control(channel: number, controller: number, value: number): void {
    const { controllers } = this;
    switch (controller) {
      case CC.allSoundOff:
        for (const voice of this.voices) if (voice.active && voice.channel === channel) voice.dismiss(this.rate);
        break;
      case CC.allNotesOff:
        for (const voice of this.voices) if (voice.active && voice.channel === channel && voice.keyDown) this.liftKey(voice);
        break;
      case CC.resetControllers:
        controllers.reset(channel);
        this.liftPedals();
        break;
      default: {
        const catching = controller === CC.sostenuto && value >= 64 && !controllers.isDown(channel, CC.sostenuto);
        controllers.setController(channel, controller, value);
        if (catching) {
          for (const voice of this.voices) {
            if (voice.active && voice.keyDown && listens(voice, channel) && hears(voice.layer.program, controller)) voice.caught = true;
          }
        } else if (controller === CC.sustain || controller === CC.sostenuto) this.liftPedals();
      }
    }
  }

  /** Lets go what pedals held that are up by now. */
  private liftPedals(): void {
    this.endHeldNotes();
    for (const voice of this.voices) {
      if (!voice.active || (!voice.sustained && !voice.caught)) continue;
      const { channel } = voice.layer.program;
      if (!this.controllers.isDown(channel, CC.sostenuto)) voice.caught = false;
      this.letGo(voice, voice.sustained && this.controllers.isDown(channel, CC.sustain));
    }
  }

  panic(): void {
    this.held.fill(0);
    for (let channel = 0; channel <= 16; channel++) this.controllers.reset(channel);
    for (const voice of this.voices) {
      if (!voice.active) continue;
      voice.keyDown = voice.sustained = voice.caught = false;
      voice.dismiss(this.rate);
    }
  }
}

const EVERY_LAYER = -1;
const bitOf = (layer: number): number => 1 << layer;

const listens = (voice: Voice, channel: number): boolean => voice.layer.program.channel === 0 || voice.layer.program.channel === channel;

