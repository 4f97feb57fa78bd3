import { Chance } from '../../dsp/chance';
import { StrikeChance } from '../notes/strikeChance';
import { dbOfGain, frequencyOfKey } from '../../music/pitch';
import { fromNormal, unitInPlace } from '../../rig/parameters';
import { LAYER_PARAMETERS } from '../../rig/layerParameters';
import { parseSource, type SourceId } from '../../space/source';
import { feltVelocity, gainOfVelocity } from '../program/touch';
import { addressOf, CHANNELS, Controllers, hearsAddress } from '../hands/controllers';
import { COUNTED, Counted } from '../hands/counted';
import { Evaluator } from '../moving/evaluate';
import { ALTERNATE, DRAWS, NOTE_STATE, RANDOMS, type NoteValues } from '../hands/noteValues';
import {
  MOVED_PARAMETERS,
  STRIKE_PARAMETERS,
  type Program,
  type ProgramLayer,
  type WindowSet,
} from '../program/program';
import { ChordMaker } from '../notes/chord';
import { isSilentKey } from '../../music/tunings';
import { gainOfZone, Strikes, tunedSemitonesOfZone } from '../notes/strike';
import {
  CHOICE,
  REVERSED,
  STRIKE_VALUES,
  TOUCH,
  TRANSPOSE,
  VELOCITY_TO_LEVEL,
  BEND_RANGE,
} from '../program/strikeValues';
import { readStrikeValues } from '../moving/readStrikeValues';

/**
 * One zone that answers a strike. `key` is the one at which it sounds, `gain` the product of the windows of zone and
 * layer, `semitones` the distance from the sample's own pitch; `values` holds every parameter of the layer that
 * something moves, in its unit, as it is at the strike.
 */
export interface Sounding {
  layer: number;
  zone: number;
  choice: number;
  key: number;
  sampleId: string;
  gain: number;
  gainDb: number;
  touchDb: number;
  semitones: number;
  /** Frequency of the fundamental in Hz, as it is tuned: of a sample, its root moved to where it sounds. */
  hz: number;
  pan: number;
  reversed: boolean;
  values: Record<string, number>;
}

export interface ResolveOptions {
  /** Source values set beforehand: cc.N, macro.N, bend, channelPressure, pressure, slide, xy.N.x, xy.N.y. */
  set?: ReadonlyMap<SourceId, number>;
  repeat?: number;
  seed?: number;
  /** MIDI channel 1…16 of the strikes, and number of the port they come by (0: none that the rig tells apart). */
  channel?: number;
  port?: number;
}

/**
 * What sounds for a strike, by the same tables, windows, routes and chance as the engine's, without any audio. One list
 * for each repetition.
 * Silent answers (gain 0) and muted layers are left out. Throws a RangeError for a source that cannot be set.
 */
export function resolveStrikes(
  program: Program,
  key: number,
  velocity: number,
  { set = new Map(), repeat = 1, seed = 1, channel = 1, port = 0 }: ResolveOptions = {},
): Sounding[][] {
  const controllers = new Controllers();
  const from = addressOf(port, channel);
  for (const [id, value] of set) setSource(controllers, id, value, key);
  const chance = new Chance(seed);
  const luck = new StrikeChance();
  const strikes = new Strikes(program.table, program.layers, luck, program.zones.count);
  const counted = new Counted(DRAWS);
  const evaluator = new Evaluator(program, controllers, counted, seed);
  const states = new Float64Array(NOTE_STATE);
  const values = new Float64Array(STRIKE_VALUES);
  const results: Sounding[][] = [];
  let births = 0;
  const chords: ChordMaker[] = [];
  for (let n = 0; n < repeat; n++) {
    const randoms = new Float64Array(DRAWS);
    luck.begin(chance, program.layers.length);
    luck.drawShared(randoms, -1);
    randoms[ALTERNATE] = n % 2;
    const note: NoteValues = {
      channel: from,
      key,
      velocity,
      releaseVelocity: 64,
      randoms,
      scatters: new Float64Array(RANDOMS),
      states,
      row: 0,
    };
    const look = (layer: ProgramLayer) => {
      luck.drawShared(randoms, layer.kept);
      luck.drawOwn(note.scatters, program.layers.indexOf(layer), layer.kept);
      evaluator.lookLayer(0, layer);
      evaluator.beginNote(layer, note, births + 1);
    };
    const recounted = counted.strike(from, key, velocity, randoms);
    evaluator.movers.strike(true);
    for (let way = 0; way < COUNTED.length; way++) if (recounted & (1 << way)) evaluator.movers.recount(way);
    evaluator.lookPatch(0, false);
    counted.lift(from, key);
    strikes.strike(key, velocity);
    const found: Found[] = [];
    const askOwn = (l: number, at: number, transpose: number | null, gain: number): void => {
      const layer = program.layers[l];
      note.key = at;
      look(layer);
      readStrikeValues(evaluator, layer, layer.voicings[0], values, changed);
      const felt =
        changed[TOUCH] === 0 || layer.fixed > 0
          ? layer.touch[velocity]
          : feltVelocity(velocity, values[TOUCH], layer.outLow, layer.outHigh);
      const moves = transpose ?? values[TRANSPOSE];
      const soundKey = Math.min(127, Math.max(0, at + moves));
      strikes.count = 0;
      layer.own!.forEach((table, choice) => {
        if (layer.morph || choice === Math.min(layer.own!.length - 1, Math.floor(values[CHOICE] * layer.own!.length)))
          strikes.strikeOwn(l, table, choice, soundKey, felt, false);
      });
      take(at, moves, felt, gain);
    };
    const take = (at: number, transpose: number | null, felt: number | null, gain: number): void => {
      for (let i = 0; i < strikes.count; i++) {
        const layer = program.layers[strikes.layers[i]];
        found.push({
          layer: strikes.layers[i],
          zone: strikes.zones[i],
          choice: strikes.choices[i],
          key: at,
          transpose: transpose ?? layer.transpose,
          felt: felt ?? layer.touch[velocity],
          gain,
        });
      }
    };
    take(key, null, null, 1);
    program.layers.forEach((layer, l) => {
      if (!layer.own || !hearsAddress(layer.channel, from)) return;
      if (!layer.path) {
        askOwn(l, key, null, 1);
        return;
      }
      // The windows are meant for the key as played; scale and chord make others of it.
      note.key = key;
      look(layer);
      const gain = evaluator.gainOf(layer.path.entry);
      if (gain === 0) return;
      readStrikeValues(evaluator, layer, layer.voicings[0], values, changed);
      const transpose = values[TRANSPOSE];
      const moved = Math.round(key + transpose);
      const snapped = moved < 0 || moved > 127 ? -1 : layer.path.snap ? layer.path.snap[moved] : moved;
      if (snapped < 0) return;
      const chord = (chords[l] ??= new ChordMaker());
      if (n === 0) chord.begin(layer.path.seed);
      chord.make(layer.path, snapped);
      for (let i = 0; i < chord.count; i++) askOwn(l, chord.keys[i] - transpose, transpose, gain);
    });
    const answers: Sounding[] = [];
    for (const { layer: l, zone, choice, key: at, transpose, felt, gain: entry } of found) {
      const layer = program.layers[l];
      if (!layer.on || !hearsAddress(layer.channel, from)) continue;
      const { zones } = program;
      note.key = at;
      look(layer);
      const windowsOf = zones.windowSets[zones.windowSet[zone]];
      const voicing = layer.voicings[zones.voicing[zone]];
      const soundKey = Math.min(127, Math.max(0, at + transpose));
      const moved = (id: (typeof MOVED_PARAMETERS)[number]) => {
        const p = MOVED_PARAMETERS.indexOf(id);
        return fromNormal(LAYER_PARAMETERS[id], evaluator.moved(voicing.baseNormals[p], layer.routes[p]));
      };
      const share = layer.morph
        ? Math.max(
            0,
            Math.cos((Math.PI / 2) * Math.min(1, Math.abs((moved('choice') / 100) * (layer.own!.length - 1) - choice))),
          )
        : 1;
      const gain =
        entry *
        gainOfSet(evaluator, layer.windows) *
        gainOfZone(zones, zone, soundKey, felt) *
        (windowsOf ? gainOfSet(evaluator, windowsOf) : 1) *
        (share < 1e-12 ? 0 : share);
      // A key that the tuning leaves out is silent; what does not follow the keys is not meant.
      if (zones.semitonesPerKey[zone] !== 0 && isSilentKey(layer.tuned, at + transpose)) continue;
      if (gain === 0) continue;
      births++;
      readStrikeValues(evaluator, layer, voicing, values, changed);
      const named: Record<string, number> = {};
      MOVED_PARAMETERS.forEach((id, p) => {
        if (layer.routes[p].length > 0) named[id] = moved(id);
      });
      STRIKE_PARAMETERS.forEach((id, p) => {
        if (changed[p] === 0 || (id === 'choice' && layer.morph)) return;
        evaluator.move(voicing.strikeNormals, p, layer.strikeRoutes[p], scratch);
        unitInPlace(LAYER_PARAMETERS[id], scratch, p);
        named[id] = scratch[p];
      });
      const reversed = values[REVERSED] >= 0.5 && zones.turned[zone] >= 0;
      const touchGain =
        changed[TOUCH] + changed[VELOCITY_TO_LEVEL] === 0
          ? voicing.velocityGain[velocity]
          : gainOfVelocity(felt, values[VELOCITY_TO_LEVEL]);
      const bend = layer.receive.bend ? controllers.bend[layer.channel] * values[BEND_RANGE] : 0;
      const semitones = tunedSemitonesOfZone(zones, zone, at + transpose, layer.tuned) + moved('tune') / 100 + bend;
      answers.push({
        layer: l,
        zone,
        choice,
        key: soundKey,
        sampleId: zones.sample[zone] < 0 ? '' : program.samples[zones.sample[zone]].sampleId,
        reversed,
        gain,
        gainDb: dbOfGain(gain),
        touchDb: dbOfGain(touchGain),
        semitones,
        hz: frequencyOfKey(zones.root[zone] + semitones),
        pan: Math.max(-1, Math.min(1, moved('pan') + zones.pan[zone])),
        values: named,
      });
    }
    note.key = key;
    results.push(answers);
  }
  return results;
}
interface Found {
  layer: number;
  zone: number;
  choice: number;
  key: number;
  transpose: number;
  felt: number;
  gain: number;
}
const scratch = new Float64Array(STRIKE_VALUES);
const changed = new Uint8Array(STRIKE_VALUES);

/** Keys of all the samples that may answer a strike, whatever the controllers and alternates do. */
export function samplesOfStrike(
  { table, zones, sampleKeys, layers, waveKeys }: Program,
  key: number,
  velocity: number,
): string[] {
  const cell = table.cellOf[key * 128 + velocity];
  // Oscillators may answer everywhere.
  const found = new Set<string>(waveKeys);
  const add = (zone: number) => {
    if (zones.sample[zone] >= 0) found.add(sampleKeys[zones.sample[zone]]);
  };
  for (let i = table.slotStart[table.cellStart[cell]]; i < table.slotStart[table.cellStart[cell + 1]]; i++)
    add(table.slotZone[i]);
  // Where a layer finds its zones itself, those of its first sound at the key as it is are the likeliest.
  for (const { own, transpose } of layers) {
    const at = Math.min(127, Math.max(0, key + transpose));
    if (own) for (let i = own[0].keyStart[at]; i < own[0].keyStart[at + 1]; i++) add(own[0].zone[i]);
  }
  return [...found];
}

const gainOfSet = (evaluator: Evaluator, { atStrike, followed }: WindowSet): number =>
  evaluator.gainOf(atStrike) * evaluator.gainOf(followed);

/** A source is put there on every channel: whoever asks does not know which of them a layer hears. */
function setSource(controllers: Controllers, id: SourceId, value: number, key: number): void {
  const source = parseSource(id);
  if (!source) throw new RangeError(`"${id}" names no source`);
  if (!(value >= source.low && value <= source.high))
    throw new RangeError(`${id}: ${value} is outside ${source.low} to ${source.high}`);
  switch (source.kind) {
    case 'cc':
      for (let channel = 1; channel < CHANNELS; channel++) controllers.setController(channel, source.index, value);
      break;
    case 'slide':
      for (let channel = 1; channel < CHANNELS; channel++) controllers.setController(channel, 74, value);
      break;
    case 'xyX':
    case 'xyY': {
      // The other of the two stays in the middle until it is set as well.
      const at = 2 * source.index;
      for (let axis = 0; axis < 2; axis++)
        if (Number.isNaN(controllers.dots[at + axis])) controllers.dots[at + axis] = 0.5;
      controllers.dots[at + (source.kind === 'xyX' ? 0 : 1)] = value;
      break;
    }
    case 'macro':
      controllers.macros[source.index] = value;
      break;
    case 'bend':
      for (let channel = 1; channel < CHANNELS; channel++) controllers.setBend(channel, value);
      break;
    case 'channelPressure':
      for (let channel = 1; channel < CHANNELS; channel++) controllers.setChannelPressure(channel, value);
      break;
    case 'pressure':
      for (let channel = 1; channel < CHANNELS; channel++) controllers.setKeyPressure(channel, key, value);
      break;
    default:
      throw new RangeError(`${id} cannot be set: it comes with each strike`);
  }
}
