import { newMover, newRoute } from '../../src/core/rig/defaults';
import { effect, far, layer, lfo, through, type Move, type Recipe } from './recipe';

/** Organs, strings, voices and brass. */

const PIPE = { velocityToLevel: 0, attack: 0.004, release: 0.12 } as const;

/** Eight drawbars: what each adds to the key in semitones, and its name by the length of an open pipe of that pitch in feet. */
const DRAWBARS = [
  ['16′', -12, 1],
  ['5⅓′', 7, 0.8],
  ['8′', 0, 1],
  ['4′', 12, 0.7],
  ['2⅔′', 19, 0.35],
  ['2′', 24, 0.3],
  ['1⅗′', 28, 0],
  ['1′', 36, 0.2],
] as const;
const wheel = (n: number, at: number): ReturnType<typeof layer> =>
  layer(
    n,
    `bar-${n + 1}`,
    'quay-wheels',
    DRAWBARS[n][0],
    { velocityToLevel: 0, attack: 0.002, release: 0.012, level: at },
    { transpose: DRAWBARS[n][1] },
  );
/** From silence to full: a bar drawn a step further is 3 dB louder, which is a tenth of all that a level has. */
const BAR_DEPTH = 0.7;

export const LONG: readonly Recipe[] = [
  {
    name: 'Drawn Pipes',
    family: 'organs',
    tempo: 76,
    notes: 'four ranks, each drawn by its macro · wheel: the swell box closes · pressure: the wind gives way',
    layers: [
      layer(0, 'eight', 'drawn-pipes', 'Eight foot', { ...PIPE, level: -4 }),
      layer(1, 'four', 'drawn-pipes', 'Four foot', { ...PIPE, level: -60 }, { transpose: 12 }),
      layer(2, 'twelfth', 'drawn-pipes', 'Twelfth', { ...PIPE, level: -60 }, { transpose: 19 }),
      layer(3, 'two', 'drawn-pipes', 'Two foot', { ...PIPE, level: -60 }, { transpose: 24 }),
    ],
    macros: [
      ['Four foot', 0.7, ['layer.four.level', 0.8]],
      ['Twelfth', 0.3, ['layer.twelfth.level', 0.72]],
      ['Two foot', 0.3, ['layer.two.level', 0.74]],
      ['Stone', 0.5, ['reverb.room.decay', 0.15], far('eight', 0.12), far('four', 0.12)],
    ],
    wheel: ['eight', 'four', 'twelfth', 'two'].map((id): Move => [`layer.${id}.cutoff`, -0.3]),
    pressure: ['eight', 'four', 'twelfth', 'two'].map((id): Move => [`layer.${id}.tune`, -0.008]),
    velocity: [['layer.eight.attack', -0.1]],
    space: { params: { kind: 1, decay: 4.5, size: 150, damping: 35 }, level: -12 },
    level: -1.5,
    phrase: 'hymn',
  },
  {
    name: 'Quay Wheels',
    family: 'organs',
    tempo: 104,
    notes:
      'eight drawbars on eight macros · wheel: the cabinet turns faster · pressure: driven · expression pedal: swell',
    layers: DRAWBARS.map((_, n) => wheel(n, -60)),
    macros: DRAWBARS.map(([name, , at], n) => [name, at, [`layer.bar-${n + 1}.level`, BAR_DEPTH] as Move] as const),
    wheel: [['rotary.cabinet.speed', 0.5]],
    pressure: [['tape.valve.drive', 0.3]],
    velocity: [['layer.bar-8.level', 0.02]],
    main: [
      effect('valve', 'tape', { drive: 6, wow: 0, flutter: 0, soft: 9000 }),
      effect('cabinet', 'rotary', { speed: 1 }),
    ],
    space: { params: { kind: 0, decay: 1.2 }, level: -22, from: ['bar-1', 'bar-3', 'bar-4'] },
    level: -5,
    phrase: 'comping',
  },
  {
    name: 'Wheels on Fire',
    family: 'organs',
    tempo: 112,
    notes:
      'four bars, driven hard into a cabinet · Drive · Turn: slow to fast · Top · wheel: turn · velocity: the click of the key',
    layers: [
      layer(0, 'sub', 'quay-wheels', 'Sub', { velocityToLevel: 0, release: 0.012, level: -13 }, { transpose: -12 }),
      layer(1, 'fifth', 'quay-wheels', 'Fifth', { velocityToLevel: 0, release: 0.012, level: -14 }, { transpose: 7 }),
      layer(2, 'ground', 'quay-wheels', 'Ground', { velocityToLevel: 0, release: 0.012, level: -12 }),
      layer(
        3,
        'click',
        'quay-wheels',
        'Click',
        { velocityToLevel: 60, decay: 0.18, sustain: -60, release: 0.05, level: -18 },
        { transpose: 24 },
      ),
    ],
    macros: [
      ['Drive', 0.5, ['saturation.valve.drive', 0.5]],
      ['Turn', 0, ['rotary.cabinet.speed', 0.5]],
      ['Top', 0.3, ['layer.click.level', 0.25], ['layer.click.sustain', 0.7]],
    ],
    wheel: [['rotary.cabinet.speed', 0.5]],
    pressure: [['saturation.valve.drive', 0.2]],
    main: [
      effect('valve', 'saturation', { drive: 10, curve: 1, tone: 6500 }),
      effect('cabinet', 'rotary', { speed: 1, distance: 25 }),
    ],
    space: { params: { kind: 3, decay: 1.6 }, level: -22, from: ['ground', 'fifth'] },
    level: -8.9,
    phrase: 'comping',
  },
  {
    name: 'Long Wire',
    family: 'strings',
    tempo: 60,
    notes:
      'wires bowed together · Bow: near to the bridge or far · Many: more of them · wheel: swells · pressure: brighter',
    layers: [
      layer(1, 'wire', 'bowed-wire', 'Wire', {
        velocityToLevel: 60,
        attack: 0.12,
        release: 0.7,
        cutoff: 4200,
        drift: 4,
      }),
      layer(6, 'many', 'bowed-wire', 'Others', {
        velocityToLevel: 60,
        attack: 0.3,
        release: 0.9,
        level: -60,
        tune: 9,
        cutoff: 3200,
        pan: -0.3,
      }),
    ],
    macros: [
      ['Bow', 0.4, ['layer.wire.cutoff', 0.2], ['layer.many.cutoff', 0.15]],
      ['Many', 0.4, ['layer.many.level', 0.75]],
      ['Hall', 0.45, far('wire', 0.2), far('many', 0.2), ['reverb.room.decay', 0.1]],
    ],
    wheel: [
      ['layer.wire.level', 0.04],
      ['layer.wire.cutoff', 0.12],
    ],
    pressure: [['layer.wire.cutoff', 0.2]],
    main: [effect('wide', 'chorus', { mix: 18, rate: 0.35, depth: 0.003, voices: 3 })],
    space: { params: { kind: 1, decay: 3.2, size: 140 }, level: -14 },
    level: -2.7,
    phrase: 'swells',
  },
  {
    name: 'Short Wire',
    family: 'strings',
    tempo: 116,
    notes: 'short strokes of the bow · Length · Bite · wheel: longer · pressure: brighter',
    layers: [
      layer(1, 'wire', 'bowed-wire', 'Wire', {
        velocityToLevel: 85,
        velocityTrack: 20,
        attack: 0.004,
        start: 12,
        decay: 0.35,
        sustain: -30,
        release: 0.22,
        cutoff: 2400,
      }),
    ],
    macros: [
      ['Length', 0.3, ['layer.wire.decay', 0.25], ['layer.wire.sustain', 0.15]],
      ['Bite', 0.4, ['layer.wire.cutoff', 0.2], ['onset.bite.attack', 0.3]],
      ['Hall', 0.4, far('wire', 0.25)],
    ],
    wheel: [['layer.wire.sustain', 0.5]],
    pressure: [['layer.wire.cutoff', 0.15]],
    main: [effect('bite', 'onset', { attack: 2 })],
    space: { params: { kind: 1, decay: 2.2 }, level: -14 },
    level: 1.2,
    phrase: 'stabs',
  },
  {
    name: 'Breath Choir',
    family: 'voices',
    tempo: 58,
    notes: 'five singers · Breath: more air · Vowel: darker or lighter · wheel: they swell · pressure: vibrato',
    layers: [
      through(
        layer(4, 'choir', 'breath-choir', 'Choir', { velocityToLevel: 55, attack: 0.14, release: 0.7, cutoff: 6500 }),
        effect('vowel', 'equaliser', {
          kind4: 5,
          frequency4: 650,
          gain4: 3,
          q4: 2,
          kind6: 5,
          frequency6: 2700,
          gain6: 2,
          q6: 2,
        }),
      ),
      layer(5, 'air', 'sea-floor', 'Air', { level: -60, velocityToLevel: 40, attack: 0.3, release: 0.8, lowCut: 1200 }),
    ],
    macros: [
      ['Breath', 0.2, ['layer.air.level', 0.62]],
      ['Vowel', 0.5, ['equaliser.vowel.frequency4', 0.12], ['equaliser.vowel.frequency6', 0.08]],
      ['Nave', 0.5, far('choir', 0.2), ['reverb.room.decay', 0.12]],
    ],
    wheel: [
      ['layer.choir.level', 0.05],
      ['layer.choir.cutoff', 0.1],
    ],
    pressure: [['layer.choir.vibratoDepth', 0.25]],
    space: { params: { kind: 1, decay: 4, size: 150 }, level: -13 },
    level: -6.5,
    phrase: 'hymn',
  },
  {
    name: 'Signal Horns',
    family: 'brass',
    tempo: 92,
    notes: 'horns in a row: harder is brighter · Blare · Mute · wheel: swells and brightens · pressure: vibrato',
    layers: [
      layer(3, 'horns', 'signal-horn', 'Horns', {
        velocityToLevel: 75,
        attack: 0.01,
        release: 0.16,
        cutoff: 3000,
        velocityTrack: 16,
      }),
    ],
    macros: [
      ['Blare', 0.4, ['layer.horns.cutoff', 0.3], ['saturation.bell.drive', 0.3]],
      ['Mute', 0, ['equaliser.mute.gain5', 0.25], ['equaliser.mute.frequency1', 0.35]],
      ['Hall', 0.4, far('horns', 0.25)],
    ],
    wheel: [
      ['layer.horns.level', 0.03],
      ['saturation.bell.drive', 0.2],
    ],
    pressure: [['layer.horns.vibratoDepth', 0.25]],
    main: [
      effect('bell', 'saturation', { drive: 2, curve: 1, mix: 50 }),
      effect('mute', 'equaliser', { kind1: 1, frequency1: 90, kind5: 5, frequency5: 1600, q5: 1.6 }),
    ],
    space: { params: { kind: 1, decay: 2.4 }, level: -15 },
    level: -1.3,
    phrase: 'stabs',
  },
  {
    name: 'Pier Brass',
    family: 'brass',
    tempo: 120,
    notes: 'oscillators that open as breath does · Open · Spread: how far apart · wheel: opens · pressure: swells',
    layers: [layer(3, 'brass', 'pier', 'Brass', { velocityToLevel: 60 })],
    macros: [
      ['Open', 0.4, ['layer.brass.cutoff', 0.25]],
      ['Spread', 0.3, ['layer.brass.osc2Cents', 0.006], ['chorus.wide.mix', 0.3]],
      ['Hall', 0.3, far('brass', 0.25)],
    ],
    wheel: [['layer.brass.cutoff', 0.25]],
    pressure: [
      ['layer.brass.cutoff', 0.15],
      ['layer.brass.level', 0.03],
    ],
    main: [effect('wide', 'chorus', { mix: 20, rate: 0.5 })],
    space: { params: { kind: 2, decay: 1.8 }, level: -17 },
    level: -5.4,
    phrase: 'stabs',
  },
  {
    name: 'Wire and Voices',
    family: 'pads',
    tempo: 64,
    notes:
      'wire and choir that change sides · Sides: how far · Pulse: in eighths · wheel: voices come · pressure: opens',
    layers: [
      layer(1, 'wire', 'bowed-wire', 'Wire', { velocityToLevel: 40, attack: 0.6, release: 1.8, cutoff: 2400 }),
      layer(4, 'voices', 'breath-choir', 'Voices', {
        velocityToLevel: 40,
        attack: 0.8,
        release: 2,
        level: -8,
        cutoff: 4200,
      }),
    ],
    macros: [
      ['Sides', 0.4],
      ['Pulse', 0.2, ['stepGate.pulse.mix', 0.8]],
      ['Open', 0.4, ['layer.wire.cutoff', 0.2], ['layer.voices.cutoff', 0.15]],
      ['Far', 0.5, far('wire', 0.2), far('voices', 0.2)],
    ],
    wheel: [['layer.voices.level', 0.12]],
    pressure: [['layer.wire.cutoff', 0.2]],
    movers: [
      lfo(1, 'Ebb', { rate: 0.11 }, { clock: 'hz' }),
      { ...newMover('wander', 1, 'Drift'), params: { rate: 0.3 } },
    ],
    routes: [
      { ...newRoute('ebb-wire', 'lfo.1', 'layer.wire.pan', 0.4), scaledBy: 'macro.1' },
      { ...newRoute('ebb-voices', 'lfo.1', 'layer.voices.pan', -0.4), scaledBy: 'macro.1' },
      newRoute('drift', 'wander.1', 'layer.wire.cutoff', 0.06),
    ],
    main: [effect('pulse', 'stepGate', { mix: 0, smooth: 0.03, length: 70 })],
    space: { params: { kind: 4, decay: 6, size: 140 }, level: -13 },
    level: -5.9,
    phrase: 'swells',
  },
];
