import { noteValue } from '../../src/core/music/time';
import { patternOf } from '../../src/core/music/arpeggios';
import type { Layer } from '../../src/core/rig/schema';
import { effect, far, layer, through, type Recipe } from './recipe';

/** Keyboards that are struck, plucked and blown, and mallets. */
const FELT = { velocityToLevel: 80, velocityTrack: 30 } as const;
/** Goes through the held keys by itself. */
const rolling = (made: Layer): Layer => ({
  ...made,
  path: {
    ...made.path,
    arpeggio: { on: true, order: 'as-played', pattern: patternOf('x'), hold: false, start: 'key' },
  },
});
const TINES = { velocityToLevel: 75, velocityTrack: 20 } as const;

export const KEYS: readonly Recipe[] = [
  {
    name: 'Quay Grand',
    family: 'struck keys',
    tempo: 72,
    notes: 'open strings · Bright · Room: how far away · wheel: strings that sound along · pressure: the room grows',
    layers: [
      through(
        layer(0, 'grand', 'felt-keys', 'Grand', { ...FELT, cutoff: 15000 }),
        effect('tone', 'equaliser', { kind4: 5, frequency4: 320, gain4: -2, kind7: 4, frequency7: 3800, gain7: 4 }),
      ),
      layer(1, 'halo', 'felt-keys', 'Halo', {
        ...FELT,
        level: -60,
        attack: 0.4,
        release: 3,
        lowCut: 300,
        cutoff: 3200,
      }),
    ],
    macros: [
      ['Bright', 0.5, ['layer.grand.cutoff', -0.25], ['equaliser.tone.gain7', 0.12]],
      ['Room', 0.3, far('grand', 0.25), ['reverb.room.decay', 0.12]],
    ],
    wheel: [['layer.halo.level', 0.75]],
    pressure: [['reverb.room.decay', 0.15]],
    space: { params: { kind: 1, decay: 2.2, size: 110 }, level: -19 },
    level: 1.8,
    phrase: 'ballad',
  },
  {
    name: 'Night Felt',
    family: 'struck keys',
    tempo: 62,
    notes: 'soft and close, on worn tape · Felt: how thick · Tape: how worn · wheel: darker · pressure: wavers',
    layers: [
      through(
        layer(5, 'felt', 'felt-keys', 'Felt', { ...FELT, cutoff: 2400, velocityTrack: 18 }),
        effect('tape', 'tape', { wow: 18, flutter: 10, soft: 7000, drive: 5, hiss: -78 }),
      ),
    ],
    macros: [
      ['Felt', 0.5, ['layer.felt.cutoff', -0.2]],
      ['Tape', 0.3, ['tape.tape.wow', 0.5], ['tape.tape.drive', 0.3]],
      ['Room', 0.25, far('felt', 0.25)],
    ],
    wheel: [['layer.felt.cutoff', -0.18]],
    pressure: [['tape.tape.wow', 0.5]],
    space: { params: { kind: 0, decay: 1.1, size: 70 }, level: -18 },
    level: 3.5,
    phrase: 'ballad',
  },
  {
    name: 'Tide Tines',
    family: 'struck keys',
    tempo: 84,
    notes:
      'tines that lean from side to side · Lean: how far · Bark: how they are driven · wheel: faster · pressure: wah',
    layers: [
      through(
        layer(2, 'tines', 'tide-tines', 'Tines', { ...TINES, cutoff: 12000 }),
        effect('drive', 'saturation', { drive: 4, curve: 1, mix: 60 }),
        effect('lean', 'tremolo', { rate: 4.2, depth: 35, apart: 50 }),
      ),
    ],
    macros: [
      ['Lean', 0.35, ['tremolo.lean.depth', 0.5]],
      ['Bark', 0.3, ['saturation.drive.drive', 0.4], ['layer.tines.velocityTrack', 0.15]],
      ['Room', 0.25, far('tines', 0.25)],
    ],
    wheel: [['tremolo.lean.rate', 0.25]],
    pressure: [['layer.tines.cutoff', -0.3]],
    space: { params: { kind: 2, decay: 1.6 }, level: -20 },
    level: 3.6,
    phrase: 'comping',
  },
  {
    name: 'Rope Reeds',
    family: 'struck keys',
    tempo: 96,
    notes: 'struck reeds that bark when played hard · Bark · Waver: tremolo · wheel: waver · pressure: darker',
    layers: [
      through(
        layer(6, 'reeds', 'rope-reeds', 'Reeds', { velocityToLevel: 70, velocityTrack: 24, cutoff: 9000, lowCut: 70 }),
        effect('bark', 'saturation', { drive: 6, curve: 1, mix: 70, tone: 7000 }),
        effect('waver', 'tremolo', { rate: 5.6, depth: 20 }),
      ),
    ],
    macros: [
      ['Bark', 0.35, ['saturation.bark.drive', 0.45]],
      ['Waver', 0.25, ['tremolo.waver.depth', 0.6]],
      ['Room', 0.2, far('reeds', 0.25)],
    ],
    wheel: [['tremolo.waver.depth', 0.5]],
    pressure: [['layer.reeds.cutoff', -0.2]],
    space: { params: { kind: 3, decay: 1.3 }, level: -20 },
    level: 1.5,
    phrase: 'comping',
  },
  {
    name: 'Quill Box',
    family: 'plucked keys',
    tempo: 100,
    notes:
      'two choirs of strings, plucked · Octave: the higher choir · Lute: strings damped · wheel: the octave · velocity: how sharp',
    layers: [
      layer(4, 'eight', 'quill-box', 'Lower choir', { velocityToLevel: 30, velocityTrack: 12, cutoff: 14000 }),
      layer(7, 'four', 'quill-box', 'Octave choir', { velocityToLevel: 30, level: -16 }, { transpose: 12 }),
    ],
    macros: [
      ['Octave', 0.25, ['layer.four.level', 0.2]],
      ['Lute', 0, ['layer.eight.cutoff', -0.35], ['layer.four.cutoff', -0.35]],
      ['Room', 0.35, far('eight', 0.2), far('four', 0.2)],
    ],
    wheel: [['layer.four.level', 0.16]],
    pressure: [['layer.eight.cutoff', -0.2]],
    space: { params: { kind: 0, decay: 1.3, size: 90 }, level: -17 },
    level: -3.9,
    phrase: 'arpeggio',
  },
  {
    name: 'Line Harp',
    family: 'plucked keys',
    tempo: 76,
    notes:
      'lines that ring on after the key · Ring: how long · Echo · wheel: a fifth above answers · pressure: brighter',
    layers: [
      through(
        layer(4, 'line', 'quill-box', 'Line', {
          velocityToLevel: 80,
          cutoff: 3200,
          velocityTrack: 30,
          release: 2.2,
          attack: 0.003,
        }),
        effect('echo', 'echo', {
          note: noteValue('1/8 dotted'),
          feedback: 36,
          mix: 20,
          way: 1,
          lowCut: 300,
          highCut: 5200,
        }),
      ),
      layer(
        2,
        'fifth',
        'lamp-bars',
        'Fifth',
        { velocityToLevel: 80, level: -60, release: 2, cutoff: 4000 },
        { transpose: 19 },
      ),
    ],
    macros: [
      ['Ring', 0.5, ['layer.line.release', 0.15]],
      ['Echo', 0.3, ['echo.echo.mix', 0.3], ['echo.echo.feedback', 0.15]],
      ['Room', 0.4, far('line', 0.25), far('fifth', 0.25)],
    ],
    wheel: [['layer.fifth.level', 0.7]],
    pressure: [['layer.line.cutoff', 0.2]],
    space: { params: { kind: 1, decay: 3.2 }, level: -16 },
    level: 2.1,
    phrase: 'arpeggio',
  },
  {
    name: 'Bellows',
    family: 'blown keys',
    tempo: 88,
    notes:
      'reeds on bellows: expression pedal or pressure blow harder · Draw: a second rank, an octave up · Beat: reeds apart · wheel: vibrato',
    layers: [
      layer(5, 'low', 'reed-bank', 'Reeds', { velocityToLevel: 45, attack: 0.03, release: 0.14, cutoff: 5200 }),
      layer(
        6,
        'high',
        'reed-bank',
        'Octave',
        { velocityToLevel: 45, attack: 0.04, release: 0.14, level: -20 },
        { transpose: 12 },
      ),
    ],
    macros: [
      ['Draw', 0.2, ['layer.high.level', 0.25]],
      ['Beat', 0.2, ['layer.low.detune', 0.2], ['layer.high.tune', 0.006]],
      ['Room', 0.2, far('low', 0.2), far('high', 0.2)],
    ],
    wheel: [
      ['layer.low.vibratoDepth', 0.2],
      ['layer.high.vibratoDepth', 0.2],
    ],
    pressure: [
      ['layer.low.cutoff', 0.15],
      ['layer.low.level', 0.04],
    ],
    space: { params: { kind: 0, decay: 1, size: 80 }, level: -18 },
    level: -2.5,
    phrase: 'hymn',
  },
  {
    name: 'Drift Bars',
    family: 'mallets',
    tempo: 108,
    notes:
      'bars of driftwood · Mallet: soft to hard · Roll: strikes again and again while held · wheel: roll · pressure: brighter',
    layers: [
      layer(7, 'bars', 'drift-bars', 'Bars', { velocityToLevel: 85, level: 4, velocityTrack: 20, cutoff: 480 }),
      rolling(
        layer(3, 'roll', 'drift-bars', 'Roll', {
          velocityToLevel: 85,
          level: -60,
          cutoff: 6000,
          arpRate: noteValue('1/32'),
          arpGate: 100,
        }),
      ),
    ],
    macros: [
      ['Mallet', 0.4, ['layer.bars.cutoff', 0.3], ['layer.bars.velocityTrack', 0.1]],
      ['Roll', 0, ['layer.roll.level', 0.7]],
      ['Room', 0.35, far('bars', 0.25)],
    ],
    wheel: [['layer.roll.level', 0.6]],
    pressure: [['layer.bars.cutoff', 0.18]],
    space: { params: { kind: 1, decay: 1.8 }, level: -17 },
    level: 3.5,
    phrase: 'mallets',
  },
  {
    name: 'Lamp Bars',
    family: 'mallets',
    tempo: 92,
    notes: 'bars of metal, pedal lets them ring · Fans: they turn · Speed · wheel: fans · pressure: darker',
    layers: [
      through(
        layer(3, 'bars', 'lamp-bars', 'Bars', { velocityToLevel: 85, velocityTrack: 20, cutoff: 14000 }),
        effect('fans', 'tremolo', { rate: 4.6, depth: 25, apart: 25 }),
      ),
    ],
    macros: [
      ['Fans', 0.3, ['tremolo.fans.depth', 0.6]],
      ['Speed', 0.4, ['tremolo.fans.rate', 0.2]],
      ['Room', 0.35, far('bars', 0.25)],
    ],
    wheel: [['tremolo.fans.depth', 0.5]],
    pressure: [['layer.bars.cutoff', -0.2]],
    space: { params: { kind: 2, decay: 2.4 }, level: -17 },
    level: 3.6,
    phrase: 'mallets',
  },
];
