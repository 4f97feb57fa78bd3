import { expect, test } from '@playwright/test';
import { openLab } from '../bench/browser';
import type * as Lab from '../bench/lab';
import { PEAK_DB } from '../src/core/dsp/filter';
import { BAND_12, HIGH_12, LOW_12, NOTCH_12, PEAK } from '../src/core/space/filterKinds';

declare const lab: typeof Lab;

let close: () => void;
test.beforeEach(async ({ page }) => {
  close = await openLab(page);
});
test.afterEach(() => close());

interface Comparison {
  channels: 1 | 2;
  hz: number;
  cutoff: number;
  q: number;
  pan: number;
  filterKind?: number;
  type?: Lab.NativeVoice['type'];
}
/** Level in dB of a left and right channel, from 0.5 s to 1.5 s. */
const compare = async (page: import('@playwright/test').Page, job: Comparison) =>
  page.evaluate(
    async ({ channels, hz, cutoff, q, pan, filterKind, type, low12, peakDb }) => {
      const audio = lab.testTone(48000, 3, channels, hz);
      const dbOf = (samples: Float32Array) => {
        let power = 0;
        for (let i = 24000; i < 72000; i++) power += samples[i] * samples[i];
        return 10 * Math.log10(power / 48000 + 1e-20);
      };
      const ours = await lab.renderEngine({
        audio: [audio],
        seconds: 2,
        workletUrl: '/worklet.js',
        layer: { params: { cutoff, resonance: q, pan, level: -12, filterKind: filterKind ?? low12 } },
        events: [{ event: { type: 'noteOn', channel: 1, key: 60, velocity: 127 }, time: 0 }],
      });
      const theirs = await lab.renderNative(
        [{ audio, semitones: 0, cutoff, q, gain: 10 ** (-12 / 20), pan, type, peakDb }],
        2,
      );
      return { ours: [dbOf(ours.left), dbOf(ours.right)], theirs: [dbOf(theirs.left), dbOf(theirs.right)] };
    },
    { ...job, low12: LOW_12, peakDb: PEAK_DB },
  );

// Web Audio API: BiquadFilterNode (low-pass, Q in dB there) and StereoPannerNode of this very browser.
for (const [hz, cutoff, q] of [
  [300, 1000, 0.7071],
  [1000, 1000, 0.7071],
  [1000, 1000, 6],
  [4000, 1000, 1],
  [9000, 5000, 0.7071],
  [200, 250, 3],
] as const) {
  test(`the filter at ${cutoff} Hz, Q ${q}, agrees with BiquadFilterNode for ${hz} Hz`, async ({ page }) => {
    const { ours, theirs } = await compare(page, { channels: 1, hz, cutoff, q, pan: 0 });
    expect(ours[0] - theirs[0]).toBeCloseTo(0, 1);
  });
}

for (const [name, filterKind, type] of [
  ['high-pass', HIGH_12, 'highpass'],
  ['band-pass', BAND_12, 'bandpass'],
  ['notch', NOTCH_12, 'notch'],
  ['peak', PEAK, 'peaking'],
] as const) {
  test(`the ${name} agrees with BiquadFilterNode below, at and above its frequency`, async ({ page }) => {
    for (const [hz, cutoff, q] of [
      [300, 1000, 0.7071],
      [1100, 1000, 2],
      [4000, 1000, 1],
      [900, 5000, 0.7071],
    ] as const) {
      const { ours, theirs } = await compare(page, { channels: 1, hz, cutoff, q, pan: 0, filterKind, type });
      expect(ours[0] - theirs[0], `${hz} Hz through ${cutoff} Hz, Q ${q}`).toBeCloseTo(0, 1);
    }
  });
}

for (const channels of [1, 2] as const) {
  test(`the panner agrees with StereoPannerNode for ${channels === 1 ? 'mono' : 'stereo'} samples`, async ({
    page,
  }) => {
    for (const pan of [-1, -0.6, 0, 0.25, 1]) {
      const { ours, theirs } = await compare(page, { channels, hz: 500, cutoff: 8000, q: 0.7071, pan });
      for (const side of [0, 1]) expect(Math.max(ours[side], -100) - Math.max(theirs[side], -100)).toBeCloseTo(0, 1);
    }
  });
}

test('an event sounds within one render quantum', async ({ page }) => {
  const delay = await page.evaluate(async () => {
    const data = new Float32Array(48000).fill(0.5);
    const { left } = await lab.renderEngine({
      audio: [{ rate: 48000, channels: 1, data }],
      seconds: 1,
      workletUrl: '/worklet.js',
      events: [{ event: { type: 'noteOn', channel: 1, key: 60, velocity: 127 }, time: 0.5 }],
    });
    return left.findIndex((x) => x !== 0) - 24000;
  });
  expect(delay).toBeGreaterThanOrEqual(0);
  expect(delay).toBeLessThanOrEqual(128);
});

test('without a filter the voice is the sample itself', async ({ page }) => {
  const difference = await page.evaluate(async () => {
    const audio = lab.testTone(48000, 2, 1, 440);
    const { left } = await lab.renderEngine({
      audio: [audio],
      seconds: 1,
      workletUrl: '/worklet.js',
      layer: { params: { pan: -1 } },
      events: [{ event: { type: 'noteOn', channel: 1, key: 60, velocity: 127 }, time: 0 }],
    });
    let worst = 0;
    for (let i = 4800; i < 40000; i++) worst = Math.max(worst, Math.abs(left[i] - audio.data[i - 80]));
    return worst;
  });
  expect(difference).toBeLessThan(1e-4);
});

test('eight channels: places go to the pairs that are mapped, the click to its own, and the first pair keeps its bits', async ({
  page,
}) => {
  const { alone, eight } = await page.evaluate(async () => {
    const run = {
      audio: [lab.testTone(48000, 3, 1, 440)],
      seconds: 2,
      workletUrl: '/worklet.js',
      layer: { params: { level: -12 } },
      events: [{ event: { type: 'noteOn' as const, channel: 1, key: 60, velocity: 127 }, time: 0.5 }],
    };
    const connections = ['phones', 'drummer'].map((id) => ({
      id: `to-${id}`,
      kind: 'send' as const,
      from: 'layer.layer',
      to: `pair.${id}`,
      level: id === 'phones' ? 0 : -20,
      on: true,
      tap: 'after' as const,
    }));
    const sound = { gain: 0.25, beats: 4, subdivision: 1, wood: false };
    const outputs = { pairs: ['hall', 'phones', 'drummer'], map: [0, 3, 1], click: 2, sound };
    const rms = (x: Float32Array) => Math.sqrt(x.reduce((sum, each) => sum + each * each, 0) / x.length);
    const one = await lab.renderEngine(run);
    const { channels } = await lab.renderEngine({ ...run, patch: { connections }, outputs });
    const peakBefore = (x: Float32Array) =>
      x.subarray(0, 20000).reduce((most, each) => Math.max(most, Math.abs(each)), 0);
    return {
      alone: rms(one.left),
      eight: channels.map((channel) => ({ level: rms(channel), before: peakBefore(channel) })),
    };
  });
  const db = (channel: number, to: number) => 20 * Math.log10(eight[channel].level / to);
  for (const side of [0, 1]) {
    expect(db(side, alone)).toBeCloseTo(0, 3);
    // Pair 1 of the channels is the drummer, pair 3 the phones.
    expect(db(2 + side, alone)).toBeCloseTo(-20, 1);
    expect(db(6 + side, alone)).toBeCloseTo(0, 1);
    // The click is heard before any note, and nowhere else.
    expect(eight[4 + side].before).toBeGreaterThan(0.1);
    for (const other of [0, 2, 6]) expect(eight[other + side].before).toBe(0);
  }
});
