import { launch, openLab } from './browser';
import { SYNTH_VOICE } from './kinds';
import { median, row } from './row';
import type * as Lab from './lab';

/** What the page that plays has of the laboratory. */
declare const lab: typeof Lab;

export async function engineAgainstNodes(): Promise<void> {
  const browser = await launch();
  try {
    const page = await browser.newPage();
    const close = await openLab(page);
    for (const [count, bar, channels] of [
      [64, 4, 1],
      [256, 8, 1],
      [64, 4, 2],
      [256, 8, 2],
    ] as const) {
      const runs = await page.evaluate(
        async ([voices, width]) => {
          const seconds = 3;
          const envelope = { attack: 0.01, decay: 2, sustain: 0.5 };
          const audio = Array.from({ length: 32 }, (_, i) => lab.testTone(48000, 7, width as 1 | 2, 200 + 17 * i));
          const keys = Array.from({ length: voices }, (_, i) => i % 32);
          const results: { engine: number; native: number; peak: number }[] = [];
          for (let round = 0; round < 3; round++) {
            const engine = await lab.renderEngine({
              audio,
              seconds,
              workletUrl: '/worklet.js',
              layer: {
                params: {
                  cutoff: 3000,
                  pan: 0.3,
                  level: -40,
                  attack: envelope.attack,
                  decay: envelope.decay,
                  sustain: -6.02,
                },
              },
              events: keys.map((key, i) => ({
                event: { type: 'noteOn', channel: 1 + (i >> 5), key, velocity: 100 },
                time: 0,
              })),
            });
            const native = await lab.renderNative(
              keys.map((key) => ({
                audio: audio[key],
                semitones: lab.semitonesOf(key),
                cutoff: 3000,
                q: Math.SQRT1_2,
                gain: 0.01,
                pan: 0.3,
                envelope,
              })),
              seconds,
            );
            results.push({
              engine: engine.ms,
              native: native.ms,
              peak: engine.left.reduce((a, b) => Math.max(a, Math.abs(b)), 0),
            });
          }
          return results;
        },
        [count, channels],
      );
      if (runs.some((run) => !(run.peak > 0.001))) throw new Error('the engine was silent: nothing was measured');
      const ratio = median(runs.map((run) => run.native / run.engine));
      row(
        `${count} ${channels === 1 ? 'mono' : 'stereo'} voices: times as fast as native nodes`,
        `${ratio.toFixed(2)} ×`,
        `${bar} ×`,
        ratio >= bar,
      );
      console.log(
        `        engine ${median(runs.map((run) => run.engine)).toFixed(0)} ms, nodes ${median(runs.map((run) => run.native)).toFixed(0)} ms`,
      );
    }
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
    close();
    row('event to first frame of sound', `${delay} frames`, '128 frames', delay >= 0 && delay <= 128);
  } finally {
    await browser.close();
  }
}

export async function synthAgainstNodes(): Promise<void> {
  const browser = await launch();
  try {
    const page = await browser.newPage();
    const close = await openLab(page);
    for (const [count, bar] of [
      [16, 4],
      [64, 6],
    ] as const) {
      const runs = await page.evaluate(
        async ([voices, params]) => {
          const seconds = 3;
          const keys = Array.from({ length: voices }, (_, i) => 36 + (i % 48));
          const results: { engine: number; native: number; peak: number }[] = [];
          for (let round = 0; round < 3; round++) {
            const engine = await lab.renderSynth(params, keys, seconds, '/worklet.js');
            const native = await lab.renderNativeSynth(keys, seconds);
            results.push({
              engine: engine.ms,
              native: native.ms,
              peak: engine.left.reduce((a, b) => Math.max(a, Math.abs(b)), 0),
            });
          }
          return results;
        },
        [count, SYNTH_VOICE] as const,
      );
      if (runs.some((run) => !(run.peak > 0.001))) throw new Error('the engine was silent: nothing was measured');
      const ratio = median(runs.map((run) => run.native / run.engine));
      row(
        `${count} synth voices: times as fast as native oscillators`,
        `${ratio.toFixed(2)} ×`,
        `${bar} ×`,
        ratio >= bar,
      );
      console.log(
        `        engine ${median(runs.map((run) => run.engine)).toFixed(0)} ms, nodes ${median(runs.map((run) => run.native)).toFixed(0)} ms`,
      );
    }
    close();
  } finally {
    await browser.close();
  }
}
