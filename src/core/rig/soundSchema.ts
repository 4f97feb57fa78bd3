import { array, mixed, object } from 'yup';
import { DRAWN_POINTS } from '../sounds/grains/shapes';
import { OSCILLATORS } from '../sounds/synth/parameters';
import { type LayerParameterId, SOUND_KINDS, ZONE_PARAMETERS, type ZoneParameterId } from './parameters';
import { LAYER_PARAMETERS } from './layerParameters';
import {
  flag,
  id,
  keyWindowSchema,
  list,
  notAbove,
  num,
  oneOf,
  params,
  shown,
  text,
  velocityWindowSchema,
  whole,
  windowSchema,
} from './schemaFields';

/**
 * What of the written format a sound is: zones of samples, waves of oscillators, the shape of grains; and samples
 * themselves.
 */

export const loopSchema = object({
  start: whole(0, 2 ** 31, 'First frame of the loop.').test('order', notAbove('end', true)),
  end: whole(1, 2 ** 31, 'The frame after the last one of the loop.'),
  crossfade: whole(0, 2 ** 31, 'Frames before the end that are blended with those before the start.'),
  until: oneOf(
    ['end', 'release'],
    'How long it repeats: to the end of the note, or while the key is held, the rest of the sample after that.',
  ),
});

export const chokeSchema = object({
  group: whole(0, 2 ** 31, 'The choke group the zone belongs to; null: none.').nullable(),
  by: whole(0, 2 ** 31, 'A strike of a zone of this choke group ends it; null: none does.').nullable(),
  fade: oneOf(['fast', 'release'], 'How it ends: at once without a click, or with its release.'),
});

export const zoneSchema = object({
  sampleId: id('The sample it plays.'),
  root: whole(0, 127, 'Key at which the sample plays at its own pitch.'),
  tune: num(-1200, 1200, 'Cents added to the pitch.'),
  pitchPerKey: num(
    -1200,
    1200,
    'Cents that each key above the root adds: 100 follows the keys, 0 always plays at its own pitch.',
  ),
  gain: num(-96, 48, 'dB added to the level.'),
  pan: num(-1, 1, 'Place between left (−1) and right (1).'),
  key: keyWindowSchema,
  velocity: velocityWindowSchema,
  windows: array(list(windowSchema))
    .required('is missing')
    .meta({ doc: 'Further windows, on controllers, chance and the like.' }),
  start: whole(0, 2 ** 31, 'First frame played.'),
  end: whole(1, 2 ** 31, 'The frame after the last one played.')
    .nullable()
    .meta({ doc: 'The frame after the last one played; null: to the end.' }),
  reverse: flag('Played from its end to its start.'),
  loop: loopSchema
    .nullable()
    .defined('is missing')
    .meta({ doc: 'What is repeated while the note lasts; null: nothing.' }),
  playback: oneOf(['while-held', 'full-length'], 'Whether the release of the key ends it.'),
  trigger: oneOf(['attack', 'release'], 'Whether it sounds when a key goes down, or when the note ends.'),
  alternate: whole(
    0,
    999,
    'Its turn among the alternates that meet on a key and velocity; null: always sounds.',
  ).nullable(),
  turns: whole(
    1,
    1000,
    'Turns in its round where not all of them sound; null: as many as there are alternates.',
  ).nullable(),
  choke: chokeSchema.nullable().defined('is missing').meta({ doc: 'Which strikes end it; null: none.' }),
  fadeIn: num(0, 60, 'Seconds in which it comes in from silence.'),
  fadeOut: num(0, 60, 'Seconds before the end of its sample in which it goes to silence.'),
  params: params<ZoneParameterId>(
    ZONE_PARAMETERS,
    'Its own values of parameters, in their units. They hold where the layer leaves the parameter at its default.',
  ),
});

/** Parameters of a layer that a sound may bring with it. */
export const SOUND_PARAMETERS = Object.keys(LAYER_PARAMETERS).filter(
  (each) => each !== 'transpose' && each !== 'touch',
);

export const wavesSchema = object({
  table: text('The row of waves: one that comes with the application, or the id of a sample.', 80),
  length: whole(0, 2 ** 20, 'Of a sample: frames of each wave; 0: found by its length.'),
});
export const isDrawn = (value: unknown): boolean =>
  Array.isArray(value) && value.length <= DRAWN_POINTS && value.every((x) => typeof x === 'number' && x >= 0 && x <= 1);

export const soundSchema = object({
  id: id('Never changes.'),
  name: text('What people call it.'),
  kind: oneOf(
    SOUND_KINDS,
    'What sort of sound it is: samples, oscillators, samples in grains, or what comes in from outside.',
  ),
  notes: text('What its maker has to say.', 4000),
  params: params<LayerParameterId>(
    SOUND_PARAMETERS,
    'Values that come with it, in their units. They hold where the layer leaves the parameter at its default.',
  ),
  waves: array(list(wavesSchema))
    .required('is missing')
    .length(OSCILLATORS, `are not ${OSCILLATORS}`)
    .meta({ doc: 'Of a synth: the waves of each oscillator.' }),
  shape: mixed<readonly number[]>()
    .required('is missing')
    .meta({
      doc: `Of grains: the heights of the shape that is drawn, from its beginning to its end, at most ${DRAWN_POINTS}, 0 … 1; empty: none is.`,
    })
    .test(
      'shape',
      (value, context) =>
        isDrawn(value) || context.createError({ message: `${shown(value)} are not the heights of a shape` }),
    ),
  tags: array(text('A word for finding it.', 40))
    .required('is missing')
    .max(12, 'has more than 12 tags')
    .meta({ doc: 'Words for finding it.' }),
  favourite: flag('It is among those that are looked for first.'),
  alternation: oneOf(['in-turn', 'random', 'shuffled'], 'How one of several alternates is chosen.'),
  zones: array(list(zoneSchema)).required('is missing'),
});

export const sampleSchema = object({
  id: id('SHA-256 of its WAV file, in hexadecimal.'),
  name: text('The file’s name as it came in.'),
  rate: num(1000, 768000, 'Frames in a second.'),
  channels: whole(1, 2, '1 mono, 2 stereo.'),
  frames: whole(0, 2 ** 31, 'Length.'),
});
