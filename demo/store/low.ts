import { newMover, newRoute } from '../../src/core/rig/defaults';
import { noteValue } from '../../src/core/music/time';
import { effect, far, layer, legato, lfo, through, type Recipe } from './recipe';

/** Basses and leads: one note at a time. */

export const LOW: readonly Recipe[] = [
  {
    name: 'Hull Bass',
    family: 'basses',
    tempo: 88,
    notes: 'a struck hull, sliding where keys overlap · Thumb: rounder · Growl · wheel: growl · pressure: opens',
    layers: [
      through(
        legato(
          layer(0, 'hull', 'hull-bass', 'Hull', {
            velocityToLevel: 70,
            velocityTrack: 30,
            cutoff: 2600,
            release: 0.12,
          }),
          0.05,
        ),
        effect('growl', 'saturation', { drive: 4, curve: 1, mix: 60 }),
        effect('even', 'compressor', { threshold: -24, ratio: 4, attack: 0.015, release: 0.16, makeup: 4 }),
      ),
    ],
    macros: [
      ['Thumb', 0.3, ['layer.hull.cutoff', -0.25]],
      ['Growl', 0.3, ['saturation.growl.drive', 0.5]],
    ],
    wheel: [['saturation.growl.drive', 0.4]],
    pressure: [['layer.hull.cutoff', 0.15]],
    level: 2.6,
    phrase: 'bass',
  },
  {
    name: 'Keel',
    family: 'basses',
    tempo: 80,
    notes: 'round and low · Knock: how it begins · Open · wheel: opens · pressure: wavers',
    layers: [legato(layer(2, 'keel', 'keel', 'Keel', { velocityToLevel: 60 }), 0.06)],
    macros: [
      ['Knock', 0.35, ['layer.keel.envelopeToCutoff', 0.3]],
      ['Open', 0.3, ['layer.keel.cutoff', 0.25]],
    ],
    wheel: [['layer.keel.cutoff', 0.2]],
    pressure: [['layer.keel.vibratoDepth', 0.2]],
    level: -0.3,
    phrase: 'bass',
  },
  {
    name: 'Bilge',
    family: 'basses',
    tempo: 126,
    notes: 'a filter that rings and closes · Ring · Open · Snap: how fast it closes · wheel: opens · velocity: accents',
    layers: [
      through(
        legato(layer(7, 'bilge', 'bilge', 'Bilge', { velocityToLevel: 60, velocityTrack: 36 }), 0.045),
        effect('drive', 'saturation', { drive: 5, mix: 60 }),
      ),
    ],
    macros: [
      ['Ring', 0.4, ['layer.bilge.resonance', 0.3]],
      ['Open', 0.3, ['layer.bilge.cutoff', 0.25]],
      ['Snap', 0.5, ['layer.bilge.decay', -0.2]],
    ],
    wheel: [['layer.bilge.cutoff', 0.25]],
    pressure: [['layer.bilge.resonance', 0.2]],
    level: 3,
    phrase: 'bass',
  },
  {
    name: 'Masthead',
    family: 'leads',
    tempo: 108,
    notes: 'saws for a tune, sliding · Open · Echo · wheel: vibrato · pressure: opens and swells',
    layers: [
      through(
        legato(layer(3, 'mast', 'masthead', 'Masthead', { velocityToLevel: 45 }), 0.06),
        effect('echo', 'echo', {
          note: noteValue('1/8 dotted'),
          feedback: 28,
          mix: 16,
          way: 1,
          lowCut: 350,
          highCut: 4800,
        }),
      ),
    ],
    macros: [
      ['Open', 0.4, ['layer.mast.cutoff', 0.25]],
      ['Echo', 0.3, ['echo.echo.mix', 0.35]],
      ['Hall', 0.3, far('mast', 0.25)],
    ],
    wheel: [['layer.mast.vibratoDepth', 0.25]],
    pressure: [
      ['layer.mast.cutoff', 0.2],
      ['layer.mast.level', 0.03],
    ],
    space: { params: { kind: 1, decay: 2 }, level: -18 },
    level: -1,
    phrase: 'lead',
  },
  {
    name: 'Whistle Buoy',
    family: 'leads',
    tempo: 74,
    notes: 'a whistle with breath · Breath · Vibrato · wheel: vibrato that strays · pressure: louder',
    layers: [legato(layer(5, 'whistle', 'whistle', 'Whistle', { velocityToLevel: 50 }), 0.09)],
    macros: [
      ['Breath', 0.35, ['layer.whistle.noiseLevel', 0.3]],
      ['Vibrato', 0.15, ['layer.whistle.vibratoDepth', 0.25]],
      ['Hall', 0.5, far('whistle', 0.25)],
    ],
    wheel: [],
    pressure: [['layer.whistle.level', 0.05]],
    movers: [
      lfo(1, 'Sway', { rate: 5.4 }, { clock: 'hz', reach: 'note' }),
      { ...newMover('wander', 1, 'Stray'), params: { rate: 1.5 } },
    ],
    routes: [
      { ...newRoute('sway', 'lfo.1', 'layer.whistle.tune', 0.014), scaledBy: 'cc.1' },
      { ...newRoute('stray', 'wander.1', 'layer.whistle.tune', 0.008), scaledBy: 'cc.1' },
    ],
    space: { params: { kind: 4, decay: 4 }, level: -14 },
    level: -10.4,
    phrase: 'lead',
  },
  {
    name: 'Shear',
    family: 'leads',
    tempo: 118,
    notes: 'one wave torn by another · Tear: how far · Echo · wheel: tears · pressure: tears and opens',
    layers: [
      through(
        legato(layer(6, 'shear', 'shear', 'Shear', { velocityToLevel: 50 }), 0.03),
        effect('echo', 'echo', { note: noteValue('1/8'), feedback: 24, mix: 14, lowCut: 400, highCut: 5200 }),
      ),
    ],
    macros: [
      ['Tear', 0.3, ['layer.shear.osc1Cents', 0.25]],
      ['Echo', 0.3, ['echo.echo.mix', 0.3]],
      ['Hall', 0.25, far('shear', 0.25)],
    ],
    wheel: [['layer.shear.osc1Cents', 0.25]],
    pressure: [
      ['layer.shear.osc1Cents', 0.15],
      ['layer.shear.cutoff', 0.1],
    ],
    space: { params: { kind: 2, decay: 1.6 }, level: -18 },
    level: 1.9,
    phrase: 'lead',
  },
];
