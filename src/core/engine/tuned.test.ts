import { prepareSample, type Audio } from '../dsp/sample';
import { EQUAL, TEMPERAMENTS, type Tuning } from '../music/tunings';
import { frequencyOfKey } from '../music/pitch';
import { pitchOf } from '../measure/pitch';
import { COMB_FEEDBACK } from '../space/filterKinds';
import type { Layer, Patch, RigPitch, Sound, Zone } from '../rig/schema';
import { markAt, newEffect, newLayer, newPatch, newSound, newZone } from '../rig/defaults';
import { RATE, start, TONE, type Setup } from '../../../tests/kit/engine';
import { compile } from './program/compile';
import { Engine } from './engine';
import { prepare } from '../formats/prepare';
import { resolveStrikes } from './offline/resolve';

/** A sine of 480 Hz that is recorded on key 60: what it sounds at tells how a key is tuned. */
const ZONE: Partial<Zone>[] = [{ root: 60, key: { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' } }];
const pitch = (a4: number, tuning: Partial<Tuning> = {}): RigPitch => ({ a4, tuning: { ...EQUAL, ...tuning } });

/** The frequency of what is heard in a second, by how often it rises through nothing. */
function hzOf(samples: Float32Array, from = 4800): number {
  let first = -1,
    last = -1,
    count = 0;
  for (let i = from + 1; i < samples.length; i++) {
    if (!(samples[i - 1] < 0 && samples[i] >= 0)) continue;
    const at = i - samples[i] / (samples[i] - samples[i - 1]);
    if (first < 0) first = at;
    else count++;
    last = at;
  }
  return (count * RATE) / (last - first);
}
const heard = (engine: Engine, key: number): Float32Array => {
  engine.handle({ type: 'noteOn', channel: 1, key, velocity: 127 });
  const left = new Float32Array(RATE);
  engine.process(left, new Float32Array(RATE), RATE);
  return left;
};
const played = (setup: Setup, key: number) => hzOf(heard(start({ audio: TONE, zones: ZONE, ...setup }), key));
const cents = (a: number, b: number) => 1200 * Math.log2(a / b);

test.each([
  [69, 442],
  [60, 415],
  [84, 466],
])('key %i at an A of %i Hz: a sample goes along', (key, a4) => {
  const plain = played({}, key);
  expect(cents(played({ pitch: pitch(a4) }, key), plain)).toBeCloseTo(1200 * Math.log2(a4 / 440), 1);
});

test('a patch has a concert pitch of its own: the rig’s does not matter to it', () => {
  const own = played({ pitch: pitch(430), patch: { a4: 442 } }, 69);
  expect(own).toBeCloseTo(played({ pitch: pitch(442) }, 69), 6);
  expect(cents(own, played({ pitch: pitch(430) }, 69))).toBeCloseTo(cents(442, 430), 1);
});

test('in quarter-comma meantone a sample plays a pure third; each key is where the table has it', () => {
  const meantone = pitch(440, { scale: 'meantone' });
  expect(cents(played({ pitch: meantone }, 64), played({ pitch: meantone }, 60))).toBeCloseTo(386.31, 1);
  const { degrees } = TEMPERAMENTS.find(({ id }) => id === 'meantone')!;
  for (const key of [61, 63, 66, 68, 70])
    expect(cents(played({ pitch: meantone }, key), played({ pitch: meantone }, 60))).toBeCloseTo(degrees[key - 61], 1);
});

test('a patch has a tuning of its own, a layer another; a layer that stays, stays', () => {
  const rig = pitch(442, { scale: 'meantone' });
  const just: Tuning = { ...EQUAL, scale: 'just' };
  expect(
    cents(played({ pitch: rig, patch: { tuning: just } }, 67), played({ pitch: rig, patch: { tuning: just } }, 60)),
  ).toBeCloseTo(701.96, 1);
  const own = { tuning: { ...EQUAL, scale: 'pythagorean' } };
  expect(cents(played({ pitch: rig, layers: [own] }, 64), played({ pitch: rig, layers: [own] }, 60))).toBeCloseTo(
    407.82,
    1,
  );
  expect(played({ pitch: rig, layers: [{ staysEqual: true }] }, 64)).toBeCloseTo(played({}, 64), 3);
});

test('what does not follow the keys follows no tuning', () => {
  const drum = [{ ...ZONE[0], pitchPerKey: 0 }];
  expect(played({ zones: drum, pitch: pitch(415, { scale: 'just' }) }, 64)).toBeCloseTo(480, 2);
});

test('the key that sounds is the one that is tuned: transposed, made by a path, glided to', () => {
  const just = pitch(440, { scale: 'just' });
  const up = [{ transpose: 4 }];
  expect(cents(played({ pitch: just, layers: up }, 60), played({ pitch: just }, 60))).toBeCloseTo(386.31, 1);
  const { path } = newLayer('', '', '', markAt(0));
  const legato: Partial<Layer>[] = [{ path: { ...path, playing: 'legato' }, params: { glide: 0.05 } }];
  const engine = start({ audio: TONE, zones: ZONE, pitch: just, layers: legato });
  heard(engine, 60);
  expect(cents(hzOf(heard(engine, 64), 24000), played({ pitch: just }, 60))).toBeCloseTo(386.31, 1);
});

test('keys that a mapping leaves out are silent, in the engine and in what is resolved', () => {
  const mapping = {
    size: 2,
    first: 0,
    last: 127,
    middle: 60,
    reference: 60,
    referenceHz: 261.6255653,
    octave: 2,
    keys: [0, null],
  };
  const setup = { pitch: pitch(440, { scale: 'own', degrees: [200, 400], mapping }) };
  expect(Math.max(...heard(start({ audio: TONE, zones: ZONE, ...setup }), 61))).toBe(0);
  expect(Math.max(...heard(start({ audio: TONE, zones: ZONE, ...setup }), 62))).toBeGreaterThan(0.1);
});

test('a legato glide to a key that a mapping leaves out stays where it is, and stays finite', () => {
  const mapping = { size: 2, first: 0, last: 127, middle: 60, reference: 60, referenceHz: 261.6, octave: 2 };
  const every = { ...mapping, keys: [0, null] };
  const { path } = newLayer('', '', '', markAt(0));
  const layers: Partial<Layer>[] = [{ path: { ...path, playing: 'legato' }, params: { glide: 0.05 } }];
  const tuned = pitch(440, { scale: 'own', degrees: [200, 400], mapping: every });
  const engine = start({ audio: TONE, zones: ZONE, pitch: tuned, layers });
  const before = hzOf(heard(engine, 60));
  const after = heard(engine, 61);
  expect(after.every(Number.isFinite)).toBe(true);
  expect(hzOf(after, 24000)).toBeCloseTo(before, 2);
});

test('a comb of a voice sounds at its key as it is tuned', () => {
  const click: Audio = {
    rate: RATE,
    channels: 1,
    data: Float32Array.from({ length: RATE }, (_, i) => (i < 2 ? 0.5 : 0)),
  };
  const comb = { filterKind: COMB_FEEDBACK, cutoff: frequencyOfKey(60), keyTrack: 100, resonance: 18, combDamping: 0 };
  const ringing = (a4: number) => {
    const engine = start({ audio: click, zones: ZONE, pitch: pitch(a4), layers: [{ params: comb }] });
    return pitchOf({ rate: RATE, channels: 1, data: heard(engine, 57).slice(4800, 24000) })!.hz;
  };
  expect(Math.abs(cents(ringing(415), ringing(440)) - cents(415, 440))).toBeLessThan(3);
});

/** A patch of one synth or of grains, and what is resolved of it. */
function programOf(sound: Sound, more: Partial<Patch>, tuned: RigPitch) {
  const patch = {
    ...newPatch('p', 'p'),
    layers: [{ ...newLayer('l', 'l', sound.id, markAt(0)), params: sound.params }],
    ...more,
  };
  const samples = [{ id: 'w', name: 'w', rate: RATE, channels: 1, frames: TONE.data.length }];
  return compile(patch, { sounds: [sound], samples, keyLow: 0, keyHigh: 127, pitch: tuned });
}
const SINE: Sound = {
  ...newSound('sine', 'Sine'),
  kind: 'synth',
  params: { osc1Shape: 4, osc1Level: -6, osc2Level: -60, osc3Level: -60 },
};

test.each([57, 69, 76])('a synth is tuned as a sample is, and what is resolved tells its frequency: key %i', (key) => {
  for (const tuned of [pitch(442), pitch(415, { scale: 'werckmeister-3' }), pitch(440, { stretch: 100 })]) {
    const program = programOf(SINE, {}, tuned);
    const engine = new Engine({ rate: RATE });
    for (const request of program.samples) engine.addSample(request.key, prepare(request));
    engine.setProgram(program);
    const hz = hzOf(heard(engine, key));
    const [[answer]] = resolveStrikes(program, key, 127);
    expect(Math.abs(cents(hz, answer.hz))).toBeLessThan(0.3);
    if (tuned.a4 === 442) expect(answer.hz).toBeCloseTo(frequencyOfKey(key) * (442 / 440), 6);
  }
});

test('effects that are tuned to keys go along: a ring with a sine on the key of the note', () => {
  const sound: Sound = { ...newSound('s', 's', [{ ...newZone('w', 60), ...ZONE[0] }]) };
  const ring = { ...newEffect('ring', 'ring'), params: { mix: 100, tuning: 1 } };
  const lowest = (a4: number): number => {
    const layers = [{ ...newLayer('l', 'l', 's', markAt(0)), effects: [ring] }];
    const program = programOf(sound, { layers }, pitch(a4));
    const engine = new Engine({ rate: RATE });
    // A steady tone of 480 Hz times the sine of the key: its sum and difference.
    for (const request of program.samples)
      engine.addSample(request.key, prepareSample(TONE, request.loop, request.levels));
    engine.setProgram(program);
    const samples = heard(engine, 60);
    // Its square root of products: the two lines lie at |t ± k|; the mean of their distances is 2k.
    const power = (hz: number) => {
      let re = 0,
        im = 0;
      for (let i = 9600; i < RATE; i++) {
        re += samples[i] * Math.cos((2 * Math.PI * hz * i) / RATE);
        im += samples[i] * Math.sin((2 * Math.PI * hz * i) / RATE);
      }
      return re * re + im * im;
    };
    const ratio = a4 / 440;
    return power(480 * ratio - frequencyOfKey(60) * ratio) / power(480 * ratio - frequencyOfKey(60));
  };
  // At 430 Hz the difference is where the tuned key has it, and not where the untuned one would.
  expect(lowest(430)).toBeGreaterThan(10);
});
