import { renderStems } from '../core/bounce/stems';
import { compile } from '../core/engine/program/compile';
import { Engine } from '../core/engine/engine';
import { playTake } from '../core/engine/offline/playTake';
import type { Prepared } from '../core/dsp/prepared';
import { takeFiles, type TakeFormat } from '../core/formats/takeFiles';
import type { Take } from '../core/music/take';
import type { Patch, Rig } from '../core/rig/schema';

export interface TakeJob {
  rig: Rig;
  patch: Patch;
  name: string;
  take: Pick<Take, 'seconds' | 'events'>;
  samples: { key: string; sample: Prepared }[];
  format: TakeFormat;
  stems: boolean;
}
export type TakeReply = { share: number } | { files: { path: string; bytes: Uint8Array }[] } | { problem: string };

const RATE = 48000;
const TAIL = 3;

/** Renders a take into files, away from the page. */
self.onmessage = async ({ data: { rig, patch, name, take, samples, format, stems } }: MessageEvent<TakeJob>) => {
  let reply: TakeReply;
  try {
    const there = new Map(samples.map(({ key, sample }) => [key, sample]));
    if (stems) {
      const rendered = renderStems(rig, patch, take, ({ key }) => there.get(key), {
        rate: RATE,
        tail: TAIL,
        told: (share) => {
          self.postMessage({ share } satisfies TakeReply);
          return true;
        },
      });
      reply = { files: await takeFiles(name, rendered, format, true, RATE) };
    } else {
      const engine = new Engine({ rate: RATE });
      for (const { key, sample } of samples) engine.addSample(key, sample);
      engine.setProgram(compile(patch, { sounds: rig.sounds, samples: rig.samples, ...rig.controllers, rate: RATE }));
      const whole = playTake(engine, { ...take, events: take.events.filter(({ to }) => !to) }, TAIL);
      reply = { files: await takeFiles(name, { whole, stems: [] }, format, false, RATE) };
    }
  } catch (error) {
    reply = { problem: error instanceof Error ? error.message : String(error) };
  }
  self.postMessage(reply, {
    transfer: 'files' in reply ? reply.files.map(({ bytes }) => bytes.buffer as ArrayBuffer) : [],
  });
};
