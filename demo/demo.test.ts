import { compile, touchTable, contextOf } from '../src/core/engine/program/compile';
import type { Engine } from '../src/core/engine/engine';
import { playTake } from '../src/core/engine/offline/playTake';
import { resolveStrikes } from '../src/core/engine/offline/resolve';
import { readTake } from '../src/core/formats/midiFile';
import { readWav, writeWav } from '../src/core/formats/wav';
import { loudnessOf, peakOf } from '../src/core/measure/loudness';
import { checkRig } from '../src/core/check';
import { thirdsOf } from '../src/core/measure/bands';
import { setlistOf, stepsOf } from '../src/core/rig/setlist';
import { dbOfGain, frequencyOfKey } from '../src/core/music/pitch';
import { makePlan } from '../src/core/mapping/plan';
import { shareOut } from '../src/core/mapping/velocities';
import { PLAN_DEFAULTS, type PlanFile } from '../src/core/mapping/planModel';
import { levelsOf } from '../src/core/measure/level';
import { pitchOf } from '../src/core/measure/pitch';
import { readRig } from '../src/core/rig/read';
import { fogSignal } from './instruments/fogSignal';
import { harbourBells } from './instruments/harbourBells';
import { built, hash, playerOf } from './played';
import { demoRig } from './rig';
import { demoTakes } from './takes';

const whole = built('build/demo/perigee-tide.wavicle', () => demoRig(hash));
const { rig, wavs } = whole;
const takes = demoTakes(rig);
const RATE = 48000;
const playing = playerOf(whole, RATE);
const engineFor = (patchId: string): Engine => playing(rig.patches.find(({ id }) => id === patchId)!);

test('the rig is a sound file with every sample, and the same every time', () => {
  expect(readRig(JSON.parse(JSON.stringify(rig)))).toEqual(rig);
  expect(rig.patches.map((patch) => patch.name)).toEqual([
    'Low Water',
    'Tern Colony',
    'Perigee',
    'Slack Tide',
    'Kelp Choir',
    'Marsh Bells',
    'Lantern Row',
    'First Light',
    'Undertow',
    'Neap Bass',
    'Spindrift',
    'Breakers',
  ]);
  expect(wavs.size).toBe(rig.samples.length);
  for (const [id, bytes] of wavs) expect(hash(bytes)).toBe(id);
  for (const { audio, root, loop } of harbourBells())
    expect(wavs.has(hash(writeWav(audio, { root, loop })))).toBe(true);
});

/**
 * The middle of the energy within 40 cents of a pitch, over one round of a loop: of wires and singers that sway and lie
 * a hair apart, and of strings that beat, it is their pitch.
 */
function middleHz(mono: Float32Array, rate: number, near: number): number {
  const count = mono.length;
  let weighted = 0,
    sum = 0;
  const [low, high] = [-40, 40].map((cents) => near * 2 ** (cents / 1200));
  for (let k = Math.ceil((low * count) / rate); k <= (high * count) / rate; k++) {
    let re = 0,
      im = 0;
    for (let i = 0; i < count; i++) {
      re += mono[i] * Math.cos((2 * Math.PI * k * i) / count);
      im += mono[i] * Math.sin((2 * Math.PI * k * i) / count);
    }
    weighted += (re * re + im * im) * k;
    sum += re * re + im * im;
  }
  return ((weighted / sum) * rate) / count;
}

test('every instrument is in tune within 2 cents, singers and reeds that beat within 3', () => {
  for (const sound of rig.sounds.filter(
    (each) => each.kind === 'multisample' && each.id !== 'tin-kit' && !each.id.startsWith('hit-'),
  )) {
    for (const zone of sound.zones.filter((_, i) => i % 8 === 2)) {
      const { audio, root, loop } = readWav(wavs.get(zone.sampleId)!);
      expect(root).toBe(zone.root);
      expect(loop).toEqual(zone.loop && { start: zone.loop.start, end: zone.loop.end });
      const { data, channels, rate } = audio;
      const mono = Float32Array.from(
        { length: loop!.end - loop!.start },
        (_, i) => (data[(loop!.start + i) * channels] + data[(loop!.start + i) * channels + channels - 1]) / 2,
      );
      const hz = frequencyOfKey(zone.root);
      const cents = 1200 * Math.log2(middleHz(mono, rate, hz) / hz);
      const most = ['breath-choir', 'reed-bank'].includes(sound.id) ? 3 : 2;
      expect({ sound: sound.name, root, cents: Math.abs(cents) < most ? 'in tune' : cents }).toEqual({
        sound: sound.name,
        root,
        cents: 'in tune',
      });
    }
  }
});

test('loops have no seam: neither level nor slope steps more there than elsewhere', () => {
  for (const sound of rig.sounds) {
    for (const zone of sound.zones) {
      if (!zone.loop) continue;
      const {
        audio: { data, channels },
      } = readWav(wavs.get(zone.sampleId)!);
      const at = (frame: number) =>
        data[(frame < zone.loop!.end ? frame : frame - (zone.loop!.end - zone.loop!.start)) * channels];
      const bend = (frame: number) => Math.abs(at(frame + 1) - 2 * at(frame) + at(frame - 1));
      let usual = 0;
      for (let i = zone.loop.start + 2; i < zone.loop.end - 2; i++) usual = Math.max(usual, bend(i));
      expect(Math.max(bend(zone.loop.end - 1), bend(zone.loop.end))).toBeLessThanOrEqual(usual * 1.01 + 1e-4);
    }
  }
});

test('what has no loop begins and ends in silence, and decays', () => {
  for (const zone of rig.sounds.filter(({ id }) => id === 'tin-kit').flatMap((sound) => sound.zones)) {
    expect(zone.loop).toBeNull();
    const {
      audio: { data, channels, rate },
    } = readWav(wavs.get(zone.sampleId)!);
    expect(Math.abs(data[0])).toBeLessThan(0.01);
    expect(Math.abs(data[data.length - 1])).toBeLessThan(0.001);
    const part = (share: number) => {
      const from = Math.floor(share * (data.length / channels - rate / 10)) * channels;
      return peakOf([data.subarray(from, from + (rate / 10) * channels)]);
    };
    expect(part(0.8)).toBeLessThan(part(0));
  }
});

test('the felt is brighter the harder it is struck', () => {
  const brightness = (zone: (typeof rig.sounds)[0]['zones'][0]) => {
    const { data, rate } = readWav(wavs.get(zone.sampleId)!).audio;
    let slope = 0,
      level = 0;
    for (let i = 2; i < (40000 * rate) / 44100; i += 2) {
      slope += (data[i] - data[i - 2]) ** 2;
      level += data[i] ** 2;
    }
    return (slope / level) * (rate / 44100) ** 2;
  };
  const middle = rig.sounds[0].zones.filter((zone) => zone.root === 60).sort((a, b) => a.velocity.low - b.velocity.low);
  expect(middle.map((zone) => zone.velocity.low)).toEqual([
    1,
    ...shareOut(4)
      .slice(1)
      .map(({ low: velocity }) => touchTable({ curve: 0, outLow: 24, outHigh: 127, fixed: null })[velocity]),
  ]);
  const rises = middle.map(brightness);
  for (let d = 1; d < rises.length; d++) expect(rises[d]).toBeGreaterThan(rises[d - 1] * 1.2);
});

test('the tins: four pads on the General MIDI keys, eight dynamics that differ in tone, three hits of each, none alike', () => {
  const { zones } = rig.sounds.find((sound) => sound.id === 'tin-kit')!;
  expect([...new Set(zones.map((zone) => zone.root))]).toEqual([36, 38, 42, 46]);
  expect(new Set(zones.map((zone) => zone.sampleId)).size).toBe(96);
  const brightness = (zone: (typeof zones)[0]) => {
    const { data } = readWav(wavs.get(zone.sampleId)!).audio;
    let slope = 0,
      level = 0;
    for (let i = 1; i < 12000; i++) {
      slope += (data[i] - data[i - 1]) ** 2;
      level += data[i] ** 2;
    }
    return slope / level;
  };
  for (const key of [36, 38, 42, 46]) {
    const pad = zones.filter((zone) => zone.root === key);
    expect(pad).toHaveLength(24);
    const soft = pad.filter((zone) => zone.velocity.low === 1).map(brightness);
    const hard = pad.filter((zone) => zone.velocity.high === 127).map(brightness);
    expect(Math.min(...hard)).toBeGreaterThan(Math.max(...soft));
  }
});

test('each patch resolves as its notes say', () => {
  const sounding = (patchId: string, key: number, velocity: number, wheel = 0) => {
    const patch = rig.patches.find((candidate) => candidate.id === patchId)!;
    const program = compile(patch, contextOf(rig));
    return resolveStrikes(program, key, velocity, { set: new Map([['cc.1', wheel]]) })[0].map(
      (answer) => [patch.layers[answer.layer].name, answer.gain] as const,
    );
  };
  for (let key = 0; key < 128; key++)
    expect(sounding('low-water', key, 90)).toEqual([[key <= 53 ? 'Hull Bass' : 'Felt Keys', 1]]);
  for (let key = 0; key < 128; key++)
    expect(sounding('tern-colony', key, 90).reduce((sum, [, gain]) => sum + gain * gain, 0)).toBeCloseTo(1, 6);
  expect(sounding('tern-colony', 64, 90)).toHaveLength(2);
  expect(sounding('perigee', 60, 20).map(([name]) => name)).toEqual(['Felt Keys']);
  expect(sounding('perigee', 60, 127).map(([name]) => name)).toEqual(['Harbour Bells']);
  expect(sounding('perigee', 60, 20, 127).map(([name]) => name)).toEqual(['Felt Keys', 'Bowed Wire']);
});

test('takes play at −21 LUFS and within 1 LU of each other, and never reach the limiter', () => {
  const loudness = rig.patches.map((patch) => {
    const engine = engineFor(patch.id);
    const { left, right } = playTake(engine, readTake(takes.get(`${patch.id}.mid`)!, patch.id), 1);
    expect(engine.limiter.lowestGain).toBe(1);
    return loudnessOf([left, right], RATE);
  });
  for (const lufs of loudness) expect(Math.abs(lufs + 21)).toBeLessThan(1);
  expect(Math.max(...loudness) - Math.min(...loudness)).toBeLessThan(1);
});

/** The first second of some keys struck together. */
function struck(patchId: string, keys: readonly number[], velocity: number, wheel: number) {
  const engine = engineFor(patchId);
  engine.handle({ type: 'controller', channel: 1, controller: 1, value: wheel });
  for (const key of keys) engine.handle({ type: 'noteOn', channel: 1, key, velocity });
  const left = new Float32Array(RATE);
  engine.process(left, new Float32Array(RATE), left.length);
  return { engine, left };
}

test('ten fingers at 127 are held by the limiter with 6 dB at the most', () => {
  for (const patch of rig.patches) {
    for (const keys of [
      [36, 40, 43, 48, 52, 55, 60, 64, 67, 72],
      [48, 52, 55, 60, 64, 67, 72, 76, 79, 84],
      [60, 61, 62, 63, 64, 65, 66, 67, 68, 69],
    ]) {
      const { engine } = struck(patch.id, keys, 127, 127);
      expect(dbOfGain(engine.limiter.lowestGain)).toBeGreaterThan(-6);
      expect(Math.max(engine.peakLeft, engine.peakRight)).toBeLessThanOrEqual(0.989);
    }
  }
});

/** Share in dB of the energy of a third of a second from `hz` up, by a Fourier transform under a Hann window. */
function shareAbove(x: Float32Array, hz: number): number {
  const count = 8192;
  let high = 0,
    all = 0;
  const window = Float64Array.from(
    { length: count },
    (_, i) => x[i + 64] * (0.5 - 0.5 * Math.cos((2 * Math.PI * i) / count)),
  );
  // Parseval: the energy of everything is that of the samples; only the bins from `hz` up are worked out, every eighth
  // of them.
  for (const value of window) all += value * value * count;
  for (let bin = Math.ceil((hz * count) / RATE); bin < count / 2; bin += 8) {
    let re = 0,
      im = 0;
    for (let i = 0; i < count; i++) {
      re += window[i] * Math.cos((2 * Math.PI * bin * i) / count);
      im += window[i] * Math.sin((2 * Math.PI * bin * i) / count);
    }
    high += 8 * 2 * (re * re + im * im);
  }
  return 10 * Math.log10(high / all);
}

test.each([
  ['Felt Keys', 'low-water', 72, -52, -90],
  ['Harbour Bells', 'perigee', 61, -60, -90],
  ['Reed Bank', 'lantern-row', 60, -48, -60],
  ['the shut tin', 'lantern-row', 42, -14, -50],
  ['the lid', 'lantern-row', 38, -14, -70],
] as const)(
  'hard strikes of %s carry energy from 12 kHz up, soft ones stay soft, 18 to 32 dB below',
  (_, patch, key, hardDb, softDb) => {
    const soft = struck(patch, [key], 8, 0).left;
    const hard = struck(patch, [key], 127, 0).left;
    expect(shareAbove(hard, 12000)).toBeGreaterThan(hardDb);
    expect(shareAbove(soft, 12000)).toBeLessThan(softDb);
    if (patch === 'perigee') return;
    const level = (x: Float32Array) =>
      10 * Math.log10(x.subarray(0, RATE / 2).reduce((sum, value) => sum + value * value, 0));
    expect(level(hard) - level(soft)).toBeGreaterThan(18);
    expect(level(hard) - level(soft)).toBeLessThan(32);
  },
);

test('the folder for trying out is planned as its names tell: five notes, two dynamics that differ in level, two takes of each', () => {
  const recordings = fogSignal();
  const files = recordings.map(({ name, audio }): PlanFile => ({
    path: name,
    sampleId: name,
    frames: audio.data.length,
    levelDb: levelsOf(audio).lufs,
    root: null,
    tuneCents: 0,
    loop: null,
  }));
  const plan = makePlan(files, PLAN_DEFAULTS);
  expect(plan.rows.every((row) => row.placed)).toBe(true);
  expect(plan.warnings).toEqual([]);
  expect(plan.dynamics).toEqual(['soft', 'hard']);
  expect([...new Set(plan.rows.map((row) => row.root))].sort((a, b) => a - b)).toEqual([36, 41, 46, 51, 56]);
  expect(plan.rows.filter((row) => row.alternate === 1)).toHaveLength(10);
  const byEar = makePlan(
    files.map((file, i) => ({ ...file, pitch: pitchOf(recordings[i].audio) })),
    { ...PLAN_DEFAULTS, layout: 'pitch' },
  );
  expect(byEar.rows.map((row) => row.root)).toEqual(plan.rows.map((row) => row.root));
}, 60_000);

test('the rules find nothing in it that is sure', () =>
  expect(checkRig(rig).filter(({ grade }) => grade === 'sure')).toEqual([]));

describe('the show', () => {
  const show = readTake(takes.get('show-perigee-tide.mid')!, 'show');
  const steps = stepsOf(rig, setlistOf(rig));
  test('has every patch in order, notes for the player, a song of two patches, a pause, and a tempo for each', () => {
    expect(steps.flatMap(({ patch }) => (patch ? [patch.id] : []))).toEqual(rig.patches.map(({ id }) => id));
    expect(
      setlistOf(rig)
        .entries.filter(({ kind }) => kind !== 'pause')
        .every(({ notes, tempo }) => notes !== '' && tempo !== null),
    ).toBe(true);
    expect(setlistOf(rig).entries.filter(({ patches }) => patches.length === 2).length).toBeGreaterThan(0);
    expect(setlistOf(rig).entries.some(({ kind }) => kind === 'pause')).toBe(true);
  });
  test('its take is three minutes, goes to each step once, and holds keys across each change', () => {
    expect(show.seconds).toBeGreaterThan(175);
    expect(show.seconds).toBeLessThan(195);
    const changes = show.events.filter(({ event }) => event.type === 'program');
    expect(changes.map(({ event }) => (event as { program: number }).program)).toEqual(
      steps.flatMap(({ patch }, n) => (patch ? [n] : [])),
    );
    const held = new Map<number, number>();
    const across: number[] = [];
    for (const { at, event } of show.events) {
      if (event.type === 'program') across.push([...held.values()].reduce((sum, n) => sum + n, 0));
      else if (event.type === 'noteOn') held.set(event.key, 1);
      else if (event.type === 'noteOff') held.delete(event.key);
      expect(at).toBeGreaterThanOrEqual(0);
    }
    // A kit's strokes are short; everywhere else something is held.
    expect(across.slice(1).filter((count) => count > 0).length).toBeGreaterThanOrEqual(8);
    expect(held.size).toBe(0);
  });
  test('a lighter patch, with two thirds of the voices, is as loud within 1 LU and the same within 3 dB in thirds of octaves', () => {
    for (const id of ['slack-tide', 'undertow']) {
      const take = readTake(takes.get(`${id}.mid`)!, id);
      const heavy = {
        ...take,
        events: [
          { at: 0, event: { type: 'controller' as const, channel: 1, controller: 64, value: 127 } },
          ...take.events,
        ],
      };
      const play = (most: number | null) => {
        const engine = engineFor(id);
        if (most !== null) engine.handle({ type: 'voices', most });
        const { left, right } = playTake(engine, heavy, 1);
        return {
          voices: engine.mostVoices,
          lufs: loudnessOf([left, right], RATE),
          thirds: thirdsOf([left, right], RATE),
        };
      };
      const whole = play(null);
      const lighter = play(Math.round(whole.voices * 0.67));
      expect(whole.voices).toBeGreaterThan(50);
      expect(lighter.voices).toBeLessThan(whole.voices * 0.75);
      expect(Math.abs(lighter.lufs - whole.lufs)).toBeLessThan(1);
      const top = Math.max(...whole.thirds);
      expect(
        Math.max(...whole.thirds.map((level, i) => (level > top - 45 ? Math.abs(level - lighter.thirds[i]) : 0))),
      ).toBeLessThan(3);
    }
  }, 120_000);
});

test('in Spindrift the fog says what comes in, as far as Speak is up; else nothing of it is heard', () => {
  const heard = (speak: number, voice: number): number => {
    const engine = engineFor('spindrift');
    engine.handle({ type: 'macro', number: 3, value: speak });
    for (const key of [50, 57, 62]) engine.handle({ type: 'noteOn', channel: 1, key, velocity: 100 });
    const frames = 2 * RATE;
    const [left, right] = [new Float32Array(frames), new Float32Array(frames)];
    // A vowel: a buzz of 110 Hz.
    const input = Float32Array.from({ length: frames }, (_, i) => voice * (((i * 110) / RATE) % 1) - voice / 2);
    engine.process(left, right, frames, [], input, input);
    return dbOfGain(Math.sqrt(left.subarray(RATE).reduce((sum, x) => sum + x * x, 0) / RATE));
  };
  expect(heard(0, 0.5)).toBeCloseTo(heard(0, 0), 6);
  expect(heard(1, 0.5) - heard(1, 0)).toBeGreaterThan(20);
  expect(Math.abs(heard(1, 0.5) - heard(0, 0))).toBeLessThan(14);
});
