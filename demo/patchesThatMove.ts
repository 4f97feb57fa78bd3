import { patternOf, type ArpeggioOrder } from '../src/core/music/arpeggios';
import { NOTE_VALUES, noteValue } from '../src/core/music/time';
import { newMover, newPatch, newPath, newRoute } from '../src/core/rig/defaults';
import { spreadOverPad, updatePad } from '../src/core/rig/edits/pads';
import type { Layer, Patch } from '../src/core/rig/schema';
import { FILTER_KINDS } from '../src/core/space/filterKinds';
import { layer, FELT, WIRE } from './patches';

/**
 * Four layers around a pad whose dot wanders, each with a list of sounds; one macro morphs along two of the lists,
 * another draws from the others at each strike.
 */
export function slackTide(): Patch {
  const listed = (made: Layer, list: readonly string[], morph: boolean): Layer => ({
    ...made,
    list: [...list],
    morph,
    showsName: !morph,
  });
  const patch: Patch = {
    ...newPatch('slack-tide', 'Slack Tide'),
    tempo: 60,
    notes: 'the dot wanders · wheel: how far · Current: along the lists · Scatter: which of them, each strike',
    layers: [
      listed(
        layer(5, 'reeds', 'reed-bank', 'Reeds', {
          level: -2.9,
          attack: 0.25,
          release: 1.2,
          cutoff: 5200,
          velocityToLevel: 60,
        }),
        ['reed-bank', 'bowed-wire'],
        true,
      ),
      listed(layer(1, 'wire', 'bowed-wire', 'Wire', { ...WIRE, level: -1.9 }), ['bowed-wire', 'reed-bank'], true),
      listed(
        layer(2, 'bells', 'harbour-bells', 'Bells', { level: -5.2, release: 2.5, cutoff: 4800, velocityToLevel: 70 }),
        ['harbour-bells', 'felt-keys'],
        false,
      ),
      listed(
        layer(3, 'felt', 'felt-keys', 'Felt', { ...FELT, level: 0.4 }),
        ['felt-keys', 'harbour-bells', 'felt-keys'],
        false,
      ),
    ],
    macros: [
      { number: 1, name: 'Drift', value: 0.35, style: 'strip' },
      { number: 2, name: 'Current', value: 0, style: 'strip' },
      { number: 3, name: 'Scatter', value: 0, style: 'strip' },
      { number: 4, name: 'Open', value: 0.6, style: 'strip' },
    ],
    movers: [{ ...newMover('wander', 1, 'Haze'), params: { rate: 0.2 } }],
    routes: [
      newRoute('speed', 'macro.1', 'xy.1.speed', 0.5),
      newRoute('far', 'cc.1', 'xy.1.radius', 0.4),
      newRoute('reeds-along', 'macro.2', 'layer.reeds.choice', 1),
      newRoute('wire-along', 'macro.2', 'layer.wire.choice', 1),
      { ...newRoute('bells-draw', 'scatter.1', 'layer.bells.choice', 1), scaledBy: 'macro.3' },
      { ...newRoute('felt-draw', 'scatter.2', 'layer.felt.choice', 1), scaledBy: 'macro.3' },
      newRoute('open-reeds', 'macro.4', 'layer.reeds.cutoff', 0.12),
      newRoute('open-wire', 'macro.4', 'layer.wire.cutoff', 0.12),
      newRoute('haze', 'wander.1', 'layer.wire.pan', 0.25),
    ],
  };
  const made = spreadOverPad(patch, ['reeds', 'wire', 'felt', 'bells'], 'Four Waters')!;
  return updatePad(made.patch, 1, { motion: 'wander', params: { speed: 0.08, radius: 0.35 } });
}

/** Four bands, each an arpeggio of its own in one scale, that breathe in time: a chord held anywhere is enough. */
export function firstLight(): Patch {
  const arpeggio = (pattern: string, order: ArpeggioOrder): Layer['path'] => ({
    ...newPath(),
    scale: { on: true, name: 'dorian', root: 2, outside: 'nearest' },
    arpeggio: { on: true, order, pattern: patternOf(pattern), hold: false, start: 'beat' },
  });
  const band = (hz: number, q: number) => ({
    filterKind: FILTER_KINDS.indexOf('off'),
    filter2Kind: FILTER_KINDS.indexOf('band-pass 12 dB'),
    cutoff2: hz,
    resonance2: q,
  });
  const patch: Patch = {
    ...newPatch('first-light', 'First Light'),
    tempo: 96,
    notes: 'hold a chord: four bands go through it in D Dorian · wheel: denser · Dawn opens the bands',
    layers: [
      {
        ...layer(0, 'ground', 'hull-bass', 'Ground', {
          level: -0.5,
          attack: 0.01,
          decay: 3,
          sustain: -12,
          release: 0.3,
          cutoff: 900,
          velocityToLevel: 60,
          arpRate: noteValue('1/4'),
          arpGate: 95,
        }),
        transpose: -12,
        path: arpeggio('X-ox', 'up'),
      },
      {
        ...layer(5, 'reeds', 'reed-bank', 'Reeds', {
          ...band(700, 0.6),
          level: 4.5,
          attack: 0.03,
          release: 0.4,
          velocityToLevel: 60,
          pan: -0.35,
          arpRate: noteValue('1/8'),
          arpGate: 80,
          arpSwing: 56,
        }),
        path: arpeggio('Xo.x o-x.', 'up-down'),
      },
      {
        ...layer(3, 'felt', 'felt-keys', 'Felt', {
          ...band(1800, 0.7),
          level: -4.6,
          release: 0.3,
          velocityToLevel: 60,
          pan: 0.35,
          arpRate: noteValue('1/16'),
          arpGate: 60,
          arpSwing: 56,
        }),
        path: arpeggio('x.oX .x^. xo.x .?o.', 'as-played'),
      },
      {
        ...layer(2, 'bells', 'harbour-bells', 'Bells', {
          ...band(4200, 0.7),
          level: 0.4,
          release: 1.8,
          velocityToLevel: 60,
          arpRate: noteValue('1/8 triplet'),
          arpGate: 150,
          arpOctaves: 2,
          panChance: 60,
        }),
        transpose: 12,
        path: { ...arpeggio('x..?..o..', 'random'), seed: 7 },
      },
    ],
    macros: [{ number: 1, name: 'Dawn', value: 0.35, style: 'strip' }],
    movers: [
      { ...newMover('lfo', 1, 'Breath'), shape: 'sine', params: { length: noteValue('2/1') } },
      { ...newMover('lfo', 2, 'Counter'), shape: 'sine', params: { length: noteValue('2/1'), phase: 50 } },
    ],
    routes: [
      newRoute('breathe-reeds', 'lfo.1', 'layer.reeds.level', 0.06),
      newRoute('breathe-felt', 'lfo.2', 'layer.felt.level', 0.06),
      newRoute('breathe-band', 'lfo.1', 'layer.reeds.cutoff2', 0.05),
      newRoute('counter-band', 'lfo.2', 'layer.felt.cutoff2', 0.05),
      newRoute('dawn-reeds', 'macro.1', 'layer.reeds.cutoff2', 0.1),
      newRoute('dawn-felt', 'macro.1', 'layer.felt.cutoff2', 0.1),
      newRoute('dawn-bells', 'macro.1', 'layer.bells.level', 0.08),
      newRoute(
        'denser',
        'cc.1',
        'layer.reeds.arpRate',
        (noteValue('1/16') - noteValue('1/8')) / (NOTE_VALUES.length - 1),
      ),
    ],
  };
  return patch;
}

/**
 * Wires frozen in short loops that sweep through their recordings, two an octave apart with ranges a little different;
 * a bass below.
 */
export function undertow(): Patch {
  const patch: Patch = {
    ...newPatch('undertow', 'Undertow'),
    tempo: 92,
    notes: 'wheel: Sweep moves the loops · foot: Freeze makes them short · Pull: from quarters to eighths',
    layers: [
      layer(1, 'low', 'bowed-wire', 'Wire below', {
        level: -3.2,
        attack: 0.08,
        release: 0.9,
        cutoff: 3000,
        velocityToLevel: 70,
        loopPosition: -18,
      }),
      {
        ...layer(4, 'high', 'bowed-wire', 'Wire above', {
          level: -8.7,
          attack: 0.12,
          release: 0.9,
          cutoff: 4200,
          velocityToLevel: 70,
          loopPosition: -15,
          pan: 0.2,
        }),
        transpose: 12,
      },
      {
        ...layer(0, 'bass', 'hull-bass', 'Hull Bass', {
          level: -9,
          attack: 0.01,
          decay: 5,
          sustain: -12,
          release: 0.2,
          cutoff: 1800,
          velocityToLevel: 70,
        }),
        windows: layer(0, '', '', '', {}).windows.map((window) =>
          window.source === 'key' ? { ...window, high: 52, fadeOut: 5 } : window,
        ),
      },
    ],
    macros: [
      { number: 1, name: 'Sweep', value: 0.3, style: 'strip' },
      { number: 2, name: 'Freeze', value: 0.4, style: 'strip' },
      { number: 3, name: 'Pull', value: 0, style: 'latched' },
    ],
    movers: [
      {
        ...newMover('steps', 1, 'Stones'),
        values: [0, 0.4, -0.3, 0.7, 0.1, -0.6, 0.5, -0.1],
        params: { length: noteValue('1/4'), glide: 25 },
      },
      { ...newMover('lfo', 1, 'Swell'), shape: 'triangle', params: { length: noteValue('2/1') } },
    ],
    routes: [
      newRoute('sweep-low', 'macro.1', 'layer.low.loopPosition', 0.16),
      newRoute('sweep-high', 'macro.1', 'layer.high.loopPosition', 0.13),
      newRoute('freeze-low', 'macro.2', 'layer.low.loopLength', -0.55),
      newRoute('freeze-high', 'macro.2', 'layer.high.loopLength', -0.5),
      newRoute('stones', 'steps.1', 'layer.low.loopPosition', 0.03),
      newRoute('swell', 'lfo.1', 'layer.high.loopPosition', 0.04),
      newRoute('swell-cut', 'lfo.1', 'layer.low.cutoff', 0.07),
      newRoute('pull', 'macro.3', 'steps.1.length', (noteValue('1/8') - noteValue('1/4')) / 17),
      newRoute('wheel-sweep', 'cc.1', 'macro.1', 0.7),
      newRoute('foot-freeze', 'cc.4', 'macro.2', 0.5),
    ],
  };
  return patch;
}
